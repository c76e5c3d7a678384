//! `amber-tally simulate`: a virtual golfer in front of simulated devices.

use crate::intake::device_client::{ClientError, DeviceClient, hello};
use chrono::{SubsecRound, Utc};
use clap::Args;
use std::time::Duration;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::shots::device::DeviceKind;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_formats::device_line::ShotLine;
use tally_sim::golfer::{GOLFERS, Golfer};
use tally_sim::monitor::Monitor;
use tally_sim::practice::Practice;
use uuid::Uuid;

/// Swings after which a golfer is warm.
const WARM: u32 = 12;

/// What to simulate.
#[derive(Debug, Args)]
pub struct Simulate {
    /// Host and port of the server's intake.
    #[arg(long, default_value = "127.0.0.1:8091")]
    server: String,
    /// Session to send to; the device's own, or the one in progress, when left out.
    #[arg(long)]
    session: Option<Uuid>,
    /// Who swings: ilse, dov, petra, bram, ayla or niko.
    #[arg(long, default_value = "dov", value_parser = golfer)]
    golfer: Golfer,
    /// Key of the club they swing, such as driver, wood5 or iron7.
    #[arg(long, default_value = "driver", value_parser = club)]
    club: Club,
    /// What watches them; give it twice for two devices on the same swings.
    #[arg(long, value_parser = monitor, default_value = "radar")]
    monitor: Vec<Monitor>,
    /// Secret of each device, in the same order; the demo school's when left out.
    #[arg(long)]
    token: Vec<String>,
    /// How many shots.
    #[arg(long, default_value_t = 20)]
    shots: u32,
    /// Seconds from shot to shot.
    #[arg(long, default_value_t = 4.0, value_parser = pace)]
    pace_s: f64,
    /// Effort of each swing, where 1 is the stock swing.
    #[arg(long, default_value_t = 1.0, value_parser = effort)]
    effort: f64,
    /// Begin cold, so that the first swings are slower.
    #[arg(long)]
    cold: bool,
    /// Seed of the swings; the same seed swings the same.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Height of the place above the sea, m.
    #[arg(long, default_value_t = 1140.0)]
    altitude_m: f64,
    /// Temperature, °C.
    #[arg(long, default_value_t = 13.0, allow_negative_numbers = true)]
    temperature_c: f64,
}

/// Why the simulation stopped.
#[derive(Debug, thiserror::Error)]
pub enum SimulateError {
    /// The place is impossible.
    #[error(transparent)]
    Place(#[from] Invalid),
    /// A shot could not be sent.
    #[error(transparent)]
    Client(#[from] ClientError),
    /// Not every device has a secret.
    #[error(
        "{monitors} devices have {tokens} secrets; give --token once for each --monitor, or not at all"
    )]
    Tokens {
        /// Devices.
        monitors: usize,
        /// Secrets.
        tokens: usize,
    },
}

fn monitor(name: &str) -> Result<Monitor, String> {
    let kind = DeviceKind::speaking("monitor", &name.replace('-', "_"));
    let monitor = kind.map(Monitor::of_kind).map_err(|e| e.to_string())?;
    monitor.ok_or_else(|| format!("there is no simulated {name:?}"))
}

fn golfer(name: &str) -> Result<Golfer, String> {
    let names = GOLFERS.map(|g| g.name).join(", ");
    GOLFERS
        .into_iter()
        .find(|g| g.name == name)
        .ok_or_else(|| format!("there is no golfer {name:?}; choose from {names}"))
}

fn club(key: &str) -> Result<Club, String> {
    Club::from_key("club", key).map_err(|e| e.to_string())
}

fn pace(text: &str) -> Result<f64, String> {
    match text.parse::<f64>() {
        Ok(pace) if (0.0..=3600.0).contains(&pace) => Ok(pace),
        _ => Err("give seconds from 0 to 3600".to_owned()),
    }
}

fn effort(text: &str) -> Result<f64, String> {
    match text.parse::<f64>() {
        Ok(effort) if (0.2..=1.3).contains(&effort) => Ok(effort),
        _ => Err("give an effort from 0.2 to 1.3".to_owned()),
    }
}

/// Swings, sends what each device reports, and waits for its acknowledgement; what was
/// not acknowledged is sent again over a new connection.
///
/// # Errors
/// [`SimulateError`].
pub async fn run(wanted: Simulate) -> Result<(), SimulateError> {
    let conditions = Conditions {
        altitude_m: wanted.altitude_m,
        temperature_c: wanted.temperature_c,
        ..Conditions::REFERENCE
    };
    conditions.air()?;
    let tokens: Vec<String> = if wanted.token.is_empty() {
        wanted.monitor.iter().map(|d| d.demo_token()).collect()
    } else {
        wanted.token
    };
    if tokens.len() != wanted.monitor.len() {
        return Err(SimulateError::Tokens {
            monitors: wanted.monitor.len(),
            tokens: tokens.len(),
        });
    }
    let mut devices: Vec<DeviceClient> = wanted
        .monitor
        .iter()
        .zip(tokens)
        .map(|(monitor, token)| {
            DeviceClient::new(&wanted.server, hello(*monitor, token, wanted.session))
        })
        .collect();
    let swings = if wanted.cold { 0 } else { WARM };
    let mut practice = Practice::new(wanted.golfer, conditions, swings, wanted.seed);
    for sequence in 1..=i64::from(wanted.shots) {
        let time = Utc::now().trunc_subsecs(3);
        let readings = practice.swing(wanted.club, wanted.effort, &wanted.monitor);
        for (device, reading) in devices.iter_mut().zip(readings) {
            let shot = ShotLine {
                sequence,
                time,
                reading,
            };
            let stored = device.send(&shot).await?;
            let again = if stored.again { " (again)" } else { "" };
            println!("{sequence} stored as {}{again}", stored.shot);
        }
        if sequence < i64::from(wanted.shots) {
            tokio::time::sleep(Duration::from_secs_f64(wanted.pace_s)).await;
        }
    }
    Ok(())
}
