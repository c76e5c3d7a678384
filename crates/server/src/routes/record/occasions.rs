//! A player's sessions by what they tell of over time.

use crate::http::problem::Problem;
use crate::routes::shots::balls::{StoredBall, sessions_balls};
use std::collections::{BTreeMap, BTreeSet, HashMap};
use tally_core::physics::club::Club;
use tally_core::record::benchmark::BenchmarkSetting;
use tally_core::record::series::{FOLLOWED, Occasion, Series, series_of};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::zone::date_in;
use tally_store::Store;
use tally_store::session::sessions::{Session, SessionFilter};
use uuid::Uuid;

/// The sessions that a player's record is made of, earliest first.
pub struct Recorded {
    /// The sessions.
    pub sessions: Vec<Session>,
    /// What each tells of.
    pub occasions: Vec<Occasion>,
    /// With what each was hit.
    pub settings: Vec<BenchmarkSetting>,
    /// Kept values whatever they were hit for, by club and value, session by session.
    pub kept: BTreeMap<(Club, Quantity), Vec<Vec<f64>>>,
}

/// Reads them.
pub async fn recorded(
    store: &Store,
    school: Uuid,
    player: Uuid,
    rules: &HouseRules,
) -> Result<Recorded, Problem> {
    let filter = SessionFilter {
        player: Some(player),
        ..SessionFilter::default()
    };
    let sessions = store.sessions_filtered(school, &filter).await?;
    let mut read = sessions_balls(store, school, sessions, rules).await?;
    read.sort_by_key(|(session, _)| session.started_at);
    let mut devices: Vec<Uuid> = Vec::new();
    let mut kept: BTreeMap<(Club, Quantity), Vec<Vec<f64>>> = BTreeMap::new();
    let mut occasions = Vec::new();
    let n = read.len();
    for (place, (session, balls)) in read.iter().enumerate() {
        let mut values: BTreeMap<(Series, Club, Quantity), Vec<f64>> = BTreeMap::new();
        for stored in balls.iter().filter(|stored| stored.ball.kept()) {
            let (ball, plan) = (&stored.ball, &stored.plan);
            let series = series_of(session.purpose, &plan.label, plan.full_effort);
            for quantity in FOLLOWED {
                let Some(value) = ball.counted(quantity, rules) else {
                    continue;
                };
                let all = kept.entry((ball.club, quantity));
                all.or_insert_with(|| vec![vec![]; n])[place].push(value);
                if let Some(series) = series {
                    let of = values.entry((series, ball.club, quantity));
                    of.or_default().push(value);
                }
            }
        }
        let device = device_of(balls).map_or(0, |id| place_of(&mut devices, id));
        occasions.push(Occasion {
            date: date_in(session.started_at, &session.zone),
            device,
            values,
        });
    }
    let names = names_of(store, school).await?;
    let settings = read
        .iter()
        .map(|(session, balls)| setting(&names, session, balls, rules.interval_level));
    Ok(Recorded {
        settings: settings.collect(),
        sessions: read.into_iter().map(|(session, _)| session).collect(),
        occasions,
        kept,
    })
}

/// The device that told of most balls.
fn device_of(balls: &[StoredBall]) -> Option<Uuid> {
    let mut told: BTreeMap<Uuid, usize> = BTreeMap::new();
    for device in balls.iter().filter_map(|stored| stored.device) {
        *told.entry(device).or_default() += 1;
    }
    told.into_iter().max_by_key(|(_, n)| *n).map(|(id, _)| id)
}

fn place_of(devices: &mut Vec<Uuid>, id: Uuid) -> usize {
    devices.iter().position(|d| *d == id).unwrap_or_else(|| {
        devices.push(id);
        devices.len() - 1
    })
}

/// The names of the school's devices.
pub async fn names_of(store: &Store, school: Uuid) -> Result<HashMap<Uuid, String>, Problem> {
    let devices = store.devices(school).await?.into_iter();
    Ok(devices.map(|device| (device.id, device.name)).collect())
}

/// With what a session's balls were hit.
pub fn setting(
    names: &HashMap<Uuid, String>,
    session: &Session,
    balls: &[StoredBall],
    interval_level: f64,
) -> BenchmarkSetting {
    let read_by = balls.iter().filter_map(|stored| names.get(&stored.device?));
    let devices: BTreeSet<&String> = read_by.collect();
    let kept = balls.iter().filter(|stored| stored.ball.kept()).count();
    let kind = balls.iter().find_map(|stored| stored.plan.gear.ball);
    BenchmarkSetting {
        ball: kind.unwrap_or(session.ball),
        place: session.place.clone(),
        devices: devices.into_iter().cloned().collect(),
        balls: kept,
        set_aside: balls.len() - kept,
        interval_level,
    }
}
