//! What the demo school trains with, and a programme half-way through.

use super::{DEMO_DAY, PLAYERS, ZONE, device_of, identifier};
use chrono::{DateTime, Duration, NaiveTime, Utc};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::bounds::Swings;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::tags::Tags;
use tally_core::training::calendar::{DayFor, PlannedDay, lay_out};
use tally_core::training::levels::{RunDone, level_now};
use tally_core::training::programme::Programme;
use tally_core::verdicts::build::Build;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::zone::{moment_of, zone};
use tally_sim::golfer::Golfer;
use tally_sim::monitor::Monitor;
use tally_sim::practice::Practice;
use tally_sim::scenario::training::{self as scenario, IMPLEMENTS, MISSED, OF_PLAYER};
use tally_sim::scenario::{BARN, PLATEAU_M};
use tally_store::base::signed_in::SignedIn;
use tally_store::session::blocks::Block;
use tally_store::session::sessions::Session;
use tally_store::shots::shot_intake::NewShot;
use tally_store::training::implements::StoredImplement;
use tally_store::training::runs::Run;
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// Time from swing to swing of a set, and between two sets, s.
const PACES_S: [i64; 2] = [12, 60];

/// Loads it.
///
/// # Errors
/// [`StoreError`].
pub(super) async fn load(
    store: &Store,
    coach: &SignedIn,
    moved: Duration,
) -> Result<(), StoreError> {
    let school = coach.school_id;
    for (told, id) in IMPLEMENTS.into_iter().zip(implements()) {
        let saved = StoredImplement {
            id,
            player_id: None,
            implement: scenario::implement(told),
        };
        store.save_implement(school, &saved).await?;
    }
    let player = identifier(DEMO_DAY, OF_PLAYER as u64, 0);
    let programme = scenario::programme(moved, ZONE);
    let id = identifier(DEMO_DAY, 4100, 0);
    store
        .lay_programme(school, coach.coach_id, player, id, &programme)
        .await?;
    let stored = store.programme(school, player).await?;
    let stored = stored.ok_or(StoreError::NotFound("programme"))?;
    let acts = scenario::acts(&programme);
    for (act, number) in acts.iter().zip(4101..) {
        let id = identifier(DEMO_DAY, number, 0);
        store
            .change_programme(school, coach.coach_id, &stored, id, act)
            .await?;
    }
    let today = (super::time(super::LATEST) + moved).date_naive();
    let mut done: Vec<(Uuid, RunDone)> = Vec::new();
    for day in lay_out(&programme, &acts) {
        let since = (day.date - programme.begins).num_days();
        let DayFor::Protocol { protocol } = day.day_for else {
            continue;
        };
        if day.date >= today || day.away.is_some() || since == MISSED {
            continue;
        }
        let of: Vec<RunDone> = done
            .iter()
            .filter(|(of, _)| *of == protocol)
            .map(|(_, run)| *run)
            .collect();
        let held = store.protocol(school, protocol).await?.protocol;
        let level = level_now(&of, held.levels.len(), programme.progression, day.date).level;
        let rules = HouseRules::default();
        let build = Build::Trained.after(done.len() as i64, rules.beginner_sessions);
        let (blocks, _) = held.blocks(level, day.lighter, build, Swings::default(), &rules);
        let run = Run {
            session_id: identifier(DEMO_DAY, 4200 + day.place as u64, 0),
            protocol_id: protocol,
            level: level as i32,
            lighter: day.lighter,
            programme_id: Some(id),
            place: Some(day.place as i32),
        };
        let mut session = Session {
            place: BARN.to_owned(),
            indoors: Some(true),
            ..Session::begun(
                run.session_id,
                player,
                held.purpose(level),
                ZONE,
                begins(&programme, &day),
            )
        };
        session.set_conditions(&barn());
        swing_all(store, school, session, &run, &blocks, &day, since).await?;
        let whole = RunDone {
            on: day.date,
            level,
            whole: true,
            stopped: false,
        };
        done.push((protocol, whole));
    }
    Ok(())
}

/// What is swung, in the order of the scenario.
pub(super) fn implements() -> impl Iterator<Item = Uuid> {
    (4000..)
        .take(IMPLEMENTS.len())
        .map(|number| identifier(DEMO_DAY, number, 0))
}

/// The air of the barn in these weeks.
fn barn() -> Conditions {
    Conditions {
        altitude_m: PLATEAU_M,
        temperature_c: 12.0,
        ..Conditions::REFERENCE
    }
}

/// When a session began: at the programme's hour, there.
fn begins(programme: &Programme, day: &PlannedDay) -> DateTime<Utc> {
    let at = programme.at.unwrap_or(NaiveTime::MIN);
    match zone("zone", &programme.zone) {
        Ok(there) => moment_of(day.date, at, there),
        Err(_) => day.date.and_time(at).and_utc(),
    }
}

/// Holds a session: every swing comes in as from the radar.
async fn swing_all(
    store: &Store,
    school: Uuid,
    session: Session,
    run: &Run,
    plans: &[PlannedBlock],
    day: &PlannedDay,
    since: i64,
) -> Result<(), StoreError> {
    let (id, start) = (session.id, session.started_at);
    let block = |(plan, at): (&PlannedBlock, i32)| {
        let of = identifier(DEMO_DAY, 4200 + day.place as u64, 100 + at as u64);
        Block::planned(of, id, at, plan)
    };
    let blocks: Vec<Block> = plans.iter().zip(0..).map(block).collect();
    store.add_session(school, &session, &blocks).await?;
    store.save_run(school, run).await?;
    let usual = PLAYERS[OF_PLAYER].golfer;
    let golfer = Golfer {
        speed_share: usual.speed_share * scenario::form(since, day.place),
        ..usual
    };
    let seed = 9000 + day.place as u64;
    let mut practice = Practice::new(golfer, barn(), 12, seed);
    let (mut sequence, mut at) = (0, start);
    for plan in plans {
        let mut swung = Vec::new();
        for _ in 0..plan.balls {
            let watched = [Monitor::HandRadar];
            let seen = practice.do_as_asked(plan, Club::Driver, None, &watched);
            let Some(reading) = seen.into_iter().flatten().next() else {
                continue;
            };
            sequence += 1;
            at += Duration::seconds(PACES_S[0]);
            swung.push(NewShot {
                device_id: device_of(Monitor::HandRadar),
                run: format!("training {}", day.place),
                sequence,
                session_id: id,
                hit_at: at,
                tags: Tags::default(),
                reading,
                unread: Default::default(),
                pair_window_s: 0.5,
            });
        }
        store.store_shots(school, &swung).await?;
        at += Duration::seconds(PACES_S[1]);
    }
    store.end_session(school, id, Some(at)).await
}
