//! `amber-tally simulate`: a virtual golfer in front of a simulated device.

use chrono::{SubsecRound, Utc};
use clap::{Args, ValueEnum};
use rand_pcg::Pcg64;
use rand_pcg::rand_core::SeedableRng;
use std::time::Duration;
use tally_core::air::Conditions;
use tally_core::club::Club;
use tally_core::invalid::Invalid;
use tally_formats::device_line::{Answer, DeviceKind, Hello, ShotLine, write_hello, write_shot};
use tally_sim::golfer::{GOLFERS, Golfer};
use tally_sim::monitor::Monitor;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader, Lines};
use tokio::net::TcpStream;
use tokio::net::tcp::{OwnedReadHalf, OwnedWriteHalf};
use uuid::Uuid;

/// Connections tried for one shot before giving up.
const TRIES: u32 = 20;

/// Which device to play.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Device {
    /// Follows the ball by radar.
    Radar,
    /// Photographs impact.
    Camera,
}

/// What to simulate.
#[derive(Debug, Args)]
pub struct Simulate {
    /// Host and port of the server's intake.
    #[arg(long, default_value = "127.0.0.1:8091")]
    server: String,
    /// Session to send to; the one in progress when left out.
    #[arg(long)]
    session: Option<Uuid>,
    /// Who swings: ilse, dov, petra, bram, ayla or niko.
    #[arg(long, default_value = "dov", value_parser = golfer)]
    golfer: Golfer,
    /// Key of the club they swing, such as driver, wood5 or iron7.
    #[arg(long, default_value = "driver", value_parser = club)]
    club: Club,
    /// What watches them.
    #[arg(long, value_enum, default_value_t = Device::Radar)]
    monitor: Device,
    /// Name the device gives.
    #[arg(long, default_value = "Practice device")]
    name: String,
    /// How many shots.
    #[arg(long, default_value_t = 20)]
    shots: u32,
    /// Seconds from shot to shot.
    #[arg(long, default_value_t = 4.0, value_parser = pace)]
    pace_s: f64,
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
    /// Nobody answers.
    #[error("cannot reach the intake at {server}: {source}; is the server running?")]
    Unreachable {
        /// The address.
        server: String,
        /// Why.
        source: std::io::Error,
    },
    /// The server refused a line.
    #[error("the server refused it: {field} {problem}; {remedy}")]
    Refused {
        /// Field at fault.
        field: String,
        /// What is wrong.
        problem: String,
        /// What to do.
        remedy: String,
    },
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

/// Swings, sends each shot, and waits for its acknowledgement; what was not
/// acknowledged is sent again over a new connection.
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
    let monitor = match wanted.monitor {
        Device::Radar => Monitor::Radar,
        Device::Camera => Monitor::Camera,
    };
    let hello = Hello {
        device: wanted.name.clone(),
        kind: match wanted.monitor {
            Device::Radar => DeviceKind::Radar,
            Device::Camera => DeviceKind::Camera,
        },
        run: Uuid::now_v7().to_string(),
        session: wanted.session,
        measures: monitor.measures().iter().copied().collect(),
        calculates: monitor.calculates().iter().copied().collect(),
    };
    let mut rng = Pcg64::seed_from_u64(wanted.seed);
    let mut line = None;
    for sequence in 1..=i64::from(wanted.shots) {
        let truth = wanted.golfer.swing(wanted.club, &conditions, &mut rng);
        let shot = ShotLine {
            sequence,
            time: Utc::now().trunc_subsecs(3),
            reading: monitor.watch(&truth, &mut rng),
        };
        send(&wanted.server, &hello, &shot, &mut line).await?;
        if sequence < i64::from(wanted.shots) {
            tokio::time::sleep(Duration::from_secs_f64(wanted.pace_s)).await;
        }
    }
    Ok(())
}

/// A connection that has been welcomed.
struct Conversation {
    answers: Lines<BufReader<OwnedReadHalf>>,
    out: OwnedWriteHalf,
}

async fn send(
    server: &str,
    hello: &Hello,
    shot: &ShotLine,
    line: &mut Option<Conversation>,
) -> Result<(), SimulateError> {
    let mut tries = 0;
    loop {
        let said = async {
            if line.is_none() {
                *line = Some(connect(server, hello).await?);
            }
            match line.as_mut() {
                Some(open) => say(open, &write_shot(shot)).await,
                None => Err(Trouble::Line(std::io::ErrorKind::NotConnected.into())),
            }
        };
        match said.await {
            Ok(Answer::Ack {
                sequence,
                shot,
                again,
            }) => {
                println!(
                    "{sequence} stored as {shot}{}",
                    if again { " (again)" } else { "" }
                );
                return Ok(());
            }
            Ok(_) => return Ok(()),
            Err(Trouble::Refused(refused)) => return Err(refused),
            Err(Trouble::Line(source)) => {
                *line = None;
                tries += 1;
                if tries >= TRIES || (tries == 1 && shot.sequence == 1) {
                    return Err(SimulateError::Unreachable {
                        server: server.to_owned(),
                        source,
                    });
                }
                eprintln!("the line broke ({source}); connecting again");
                tokio::time::sleep(Duration::from_secs(1)).await;
            }
        }
    }
}

enum Trouble {
    Line(std::io::Error),
    Refused(SimulateError),
}

async fn connect(server: &str, hello: &Hello) -> Result<Conversation, Trouble> {
    let stream = TcpStream::connect(server).await.map_err(Trouble::Line)?;
    stream.set_nodelay(true).map_err(Trouble::Line)?;
    let (read, out) = stream.into_split();
    let mut conversation = Conversation {
        answers: BufReader::new(read).lines(),
        out,
    };
    say(&mut conversation, &write_hello(hello)).await?;
    Ok(conversation)
}

/// Says a line and hears its answer.
async fn say(conversation: &mut Conversation, line: &str) -> Result<Answer, Trouble> {
    conversation
        .out
        .write_all(line.as_bytes())
        .await
        .map_err(Trouble::Line)?;
    let heard = conversation
        .answers
        .next_line()
        .await
        .map_err(Trouble::Line)?;
    let heard = heard.ok_or_else(|| Trouble::Line(std::io::ErrorKind::UnexpectedEof.into()))?;
    match serde_json::from_str(&heard) {
        Ok(Answer::Error {
            field,
            problem,
            remedy,
            ..
        }) => Err(Trouble::Refused(SimulateError::Refused {
            field,
            problem,
            remedy,
        })),
        Ok(answer) => Ok(answer),
        Err(error) => Err(Trouble::Line(error.into())),
    }
}
