//! `amber-tally demo`: the invented school, into a database of its own.

use chrono::{DateTime, Duration, Utc};
use clap::Args;
use tally_core::quantity::Quantity;
use tally_sim::monitor::Monitor;
use tally_sim::scenario::{COACH, DemoPlayer, DemoSession, PLAYERS, SCHOOL};
use tally_store::players::Player;
use tally_store::school::SignedIn;
use tally_store::sessions::{Block, Session};
use tally_store::shots::{NewMark, NewShot};
use tally_store::{Store, StoreError};
use uuid::{Builder, Uuid};

/// Time from one demo shot to the next, s.
const PACE_S: i64 = 42;
/// The plateau's time zone.
const ZONE: &str = "Europe/Vienna";

/// Where to load the demo.
#[derive(Debug, Args)]
pub struct Demo {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
}

/// Loads the demo school, unless it is there.
///
/// # Errors
/// [`StoreError`]; a school of the coach's own is left alone.
pub async fn run(demo: Demo) -> Result<(), StoreError> {
    let store = Store::open(&demo.database_url).await?;
    load(&store).await
}

/// Loads the demo school into an open store, unless it is there.
///
/// # Errors
/// [`StoreError`].
pub async fn load(store: &Store) -> Result<(), StoreError> {
    let coach = store.found_school("Demo loading", COACH).await?;
    // The name is given last, so a load that was cut short is taken up again; every
    // identifier comes from the scenario, so nothing is stored twice.
    if coach.school == SCHOOL {
        return Ok(());
    }
    for (i, player) in PLAYERS.iter().enumerate() {
        load_player(store, &coach, player, i as u64).await?;
    }
    store.rename_school(&coach, SCHOOL, COACH).await
}

async fn load_player(
    store: &Store,
    coach: &SignedIn,
    player: &DemoPlayer,
    number: u64,
) -> Result<(), StoreError> {
    let school = coach.school_id;
    let id = identifier("2026-01-02T08:00:00Z", number, 0);
    let stored = Player {
        id,
        name: player.name.to_owned(),
        born: Some(player.born),
        left_handed: player.left_handed,
        aim: player.aim.to_owned(),
    };
    store.add_player(school, &stored).await?;
    for session in player.sessions {
        load_session(store, coach, player, id, session).await?;
    }
    Ok(())
}

async fn load_session(
    store: &Store,
    coach: &SignedIn,
    player: &DemoPlayer,
    player_id: Uuid,
    session: &DemoSession,
) -> Result<(), StoreError> {
    let school = coach.school_id;
    let conditions = session.conditions();
    let start = time(session.start);
    let id = identifier(session.start, session.seed, 1);
    let stored = Session {
        id,
        player_id,
        purpose: session.purpose.to_owned(),
        club: session.club.key().to_owned(),
        place: session.place.to_owned(),
        altitude_m: conditions.altitude_m,
        temperature_c: conditions.temperature_c,
        humidity_pct: conditions.humidity_pct,
        pressure_hpa: None,
        started_at: start,
        zone: ZONE.to_owned(),
        ended_at: None,
    };
    let block = |i: usize| identifier(session.start, session.seed, 100 + i as u64);
    let first = Block {
        id: block(0),
        session_id: id,
        position: 0,
        label: session.blocks[0].0.to_owned(),
    };
    store.add_session(school, &stored, &first).await?;
    let (name, kind) = match session.monitor {
        Monitor::Radar => ("Deck radar", "radar"),
        Monitor::Camera => ("Barn camera", "camera"),
    };
    let device_id = store.greet_device(school, name, kind).await?;

    let mut sequence = 0;
    let mut shots = Vec::new();
    for (i, readings) in session.readings(&player.golfer).into_iter().enumerate() {
        if i > 0 {
            store
                .add_block(school, id, block(i), session.blocks[i].0)
                .await?;
        }
        for reading in readings {
            sequence += 1;
            let new = NewShot {
                device_id,
                run: format!("demo {}", session.seed),
                sequence,
                session_id: id,
                hit_at: start + Duration::seconds(PACE_S * sequence),
                reading,
            };
            debug_assert!(new.reading.get(Quantity::Carry).is_some());
            shots.push((store.store_shot(school, &new).await?.shot, new.hit_at));
        }
    }
    for (i, reason) in session.set_aside {
        let (shot, hit_at) = shots[*i];
        let mark = NewMark {
            id: identifier(session.start, session.seed, 1000 + *i as u64),
            kind: "set_aside",
            reason: Some(reason),
            note: String::new(),
            strike: None,
            made_at: Some(hit_at + Duration::seconds(11)),
        };
        store
            .mark_shot(school, id, shot, coach.coach_id, &mark)
            .await?;
    }
    if session.open {
        return Ok(());
    }
    let end = start + Duration::seconds(PACE_S * (sequence + 4));
    store.end_session(school, id, Some(end)).await
}

/// A version 7 identifier that is the same in every load.
fn identifier(start: &str, seed: u64, part: u64) -> Uuid {
    let mut random = [0; 10];
    random[..8].copy_from_slice(&(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ part).to_be_bytes());
    random[8..].copy_from_slice(&[0xA7, 0x11]);
    let millis = time(start).timestamp_millis();
    Builder::from_unix_timestamp_millis(millis.unsigned_abs(), &random).into_uuid()
}

fn time(text: &str) -> DateTime<Utc> {
    text.parse().expect("the scenario's times are RFC 3339")
}
