//! `amber-tally simulate`: a virtual golfer in front of simulated devices.

use crate::intake::device_client::{ClientError, DeviceClient, hello};
use chrono::{SubsecRound, Utc};
use clap::Args;
use std::time::Duration;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::tags::Tags;
use tally_core::shots::device::DeviceKind;
use tally_core::training::house_protocols::house_protocols;
use tally_core::training::protocol::Protocol;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_formats::device_line::ShotLine;
use tally_sim::golfer::{GOLFERS, Golfer};
use tally_sim::monitor::{Monitor, trace_of};
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
    /// How many shots; with a protocol, as many as it asks for when left out.
    #[arg(long)]
    shots: Option<u32>,
    /// Swings without a ball by one of our protocols, such as overspeed or strength: its sets
    /// in order, as the session of a run asks for them.
    #[arg(long, value_parser = protocol)]
    protocol: Option<Protocol>,
    /// Level of the protocol, from 1.
    #[arg(long, default_value_t = 1)]
    level: usize,
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

fn protocol(name: &str) -> Result<Protocol, String> {
    let all: Vec<Protocol> = house_protocols().into_iter().map(|(_, one)| one).collect();
    let key = |one: &Protocol| one.name.to_lowercase().replace(' ', "-");
    let names: Vec<String> = all.iter().map(key).collect();
    let found = all.into_iter().find(|one| key(one) == name.to_lowercase());
    found.ok_or_else(|| {
        format!(
            "there is no protocol {name:?}; choose from {}",
            names.join(", ")
        )
    })
}

/// Shots of a simulation that nobody numbered.
const USUAL_SHOTS: u32 = 20;

impl Simulate {
    /// What each swing is of: as the sets of the protocol follow each other, or the same
    /// throughout.
    fn swings(&self) -> Result<Vec<PlannedBlock>, Invalid> {
        let plain = || PlannedBlock {
            club: Some(self.club),
            ..PlannedBlock::new("Stock", 1)
        };
        let Some(protocol) = &self.protocol else {
            let shots = self.shots.unwrap_or(USUAL_SHOTS);
            return Ok((0..shots).map(|_| plain()).collect());
        };
        let levels = protocol.levels.len();
        let level = self
            .level
            .checked_sub(1)
            .and_then(|at| protocol.levels.get(at));
        let level = level.ok_or_else(|| {
            let problem = format!("is no level of {}", protocol.name);
            Invalid::new("level", self.level, problem, format!("give 1 to {levels}"))
        })?;
        let sets = level.sets.iter().map(|set| set.block());
        let swings = sets.flat_map(|block| vec![block.clone(); block.balls as usize]);
        let most = self.shots.map_or(usize::MAX, |shots| shots as usize);
        Ok(swings.take(most).collect())
    }
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
    let swings = wanted.swings()?;
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
    let before = if wanted.cold { 0 } else { WARM };
    let mut practice = Practice::new(wanted.golfer, conditions, before, wanted.seed);
    let last = swings.len();
    for (plan, sequence) in swings.iter().zip(1..) {
        let time = Utc::now().trunc_subsecs(3);
        let effort = Some(wanted.effort);
        let readings = practice.do_as_asked(plan, wanted.club, effort, &wanted.monitor);
        for (device, reading) in devices.iter_mut().zip(readings) {
            let Some(reading) = reading else {
                continue;
            };
            let shot = ShotLine {
                sequence,
                time,
                tags: Tags::default(),
                reading,
                unread: Default::default(),
            };
            let trace = trace_of(&shot.reading);
            let stored = device.send(&shot).await?;
            if let Some(trace) = trace {
                device.send_trace(sequence, &trace).await?;
            }
            let again = if stored.again { " (again)" } else { "" };
            println!("{sequence} stored as {}{again}", stored.shot);
        }
        if (sequence as usize) < last {
            tokio::time::sleep(Duration::from_secs_f64(wanted.pace_s)).await;
        }
    }
    Ok(())
}
