//! The made-up players of an invented school, with their devices and all that they hit: for
//! the demo school, and for a school that tries the application before it has any of its own.

mod training;

use crate::http::token::Token;
use chrono::{DateTime, Datelike, Duration, NaiveDate, NaiveTime, Utc};
use tally_core::physics::club::Club;
use tally_core::school::access::children_born_after;
use tally_core::session::acts::SessionAct;
use tally_core::session::plan::{Known, PlannedBlock, propose};
use tally_core::session::tags::Tags;
use tally_core::session::warm_up::Readiness;
use tally_core::shots::mark::MarkKind;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::MPH;
use tally_sim::golfer::Golfer;
use tally_sim::monitor::{Monitor, trace_of};
use tally_sim::scenario::{
    BAGS, CHECK_INS, DemoClub, DemoPlayer, DemoSession, JUNIOR_GROUP, JUNIORS, JUNIORS_FROM,
    PLAYERS,
};
use tally_store::base::keys::Key;
use tally_store::base::signed_in::SignedIn;
use tally_store::record::goals::Goal;
use tally_store::school::groups::Group;
use tally_store::school::players::Player;
use tally_store::school::privacy::Consent;
use tally_store::session::bag::BagClub;
use tally_store::session::blocks::Block;
use tally_store::session::sessions::Session;
use tally_store::shots::devices::Greeting;
use tally_store::shots::shot_edits::NewMark;
use tally_store::shots::shot_intake::NewShot;
use tally_store::trials::decisions::NewDecision;
use tally_store::{Store, StoreError};
use uuid::{Builder, Uuid};

/// Time from one demo shot to the next, s.
const PACE_S: i64 = 42;
/// The plateau's time zone.
const ZONE: &str = "Europe/Vienna";

/// When the last that happens in the scenario is over.
const LATEST: &str = "2026-04-18T15:00:00Z";
/// The day on which the demo school began.
pub(crate) const DEMO_DAY: &str = "2026-01-02T08:00:00Z";

/// How far the days of the scenario are moved.
#[derive(Debug, Clone, Copy)]
pub struct Moved {
    /// Those of sessions.
    sessions: Duration,
    /// Those of training, so that there is some on the last day.
    training: Duration,
}

impl Moved {
    /// Not at all.
    pub const NOT: Moved = Moved {
        sessions: Duration::zero(),
        training: Duration::zero(),
    };

    /// So that the last day is this one.
    pub fn to(day: NaiveDate) -> Moved {
        let by = Duration::days((day - time(LATEST).date_naive()).num_days());
        Moved {
            sessions: by,
            training: by,
        }
    }

    /// So that all of it is over by now: sessions end when they have come to their hour; who
    /// trains today does so all day.
    pub fn to_now(now: DateTime<Utc>) -> Moved {
        Moved {
            sessions: Duration::days((now - time(LATEST)).num_days()),
            ..Moved::to(now.date_naive())
        }
    }
}

/// Loads the players, their groups, devices and what they train with into a school. Every
/// identifier comes from the scenario, so that a load that was cut short is taken up again and
/// nothing is stored twice. With `secrets`, devices take the secrets that `amber-tally simulate`
/// knows, which everybody may read: none for a school of real players.
///
/// # Errors
/// [`StoreError`].
pub async fn load(
    store: &Store,
    coach: &SignedIn,
    moved: Moved,
    secrets: bool,
) -> Result<(), StoreError> {
    let school = coach.school_id;
    load_devices(store, school, secrets).await?;
    for (player, number) in everyone() {
        load_player(store, coach, player, number, moved.sessions).await?;
    }
    let of = JUNIORS_FROM..JUNIORS_FROM + JUNIORS.len() as u64;
    let group = Group {
        id: group(),
        name: JUNIOR_GROUP.to_owned(),
        players: of.map(|number| identifier(DEMO_DAY, number, 0)).collect(),
    };
    store.save_group(school, &group).await?;
    load_rest(store, coach, moved.sessions).await?;
    training::load(store, coach, moved.training).await
}

/// Whether any of the made-up players is in a school that is not the demo's own.
///
/// # Errors
/// [`StoreError`].
pub async fn are_in(store: &Store, school: Uuid) -> Result<bool, StoreError> {
    let all: Vec<Uuid> = everyone()
        .map(|(_, number)| identifier(DEMO_DAY, number, 0))
        .collect();
    Ok(store.has_any_of(school, &all).await? && !store.is_demo(school).await?)
}

/// Takes the made-up players out of a school with all that was hit, decided and planned with
/// them since, and their devices unless shots of others came in by them.
///
/// # Errors
/// [`StoreError`].
pub async fn take_out(store: &Store, school: Uuid) -> Result<(), StoreError> {
    let gone = |done: Result<(), StoreError>| match done {
        Err(StoreError::NotFound(_)) => Ok(()),
        other => other,
    };
    gone(store.drop_group(school, group()).await)?;
    for (_, number) in everyone() {
        let id = identifier(DEMO_DAY, number, 0);
        gone(store.erase_player(school, id).await.map(drop))?;
    }
    for id in training::implements() {
        store.erase_implement(school, id).await?;
    }
    for (_, monitor) in DEVICES {
        store.drop_unused_device(school, device_of(monitor)).await?;
    }
    Ok(())
}

/// Every player with their number.
fn everyone() -> impl Iterator<Item = (&'static DemoPlayer, u64)> {
    PLAYERS
        .iter()
        .zip(0..)
        .chain(JUNIORS.iter().zip(JUNIORS_FROM..))
}

/// The juniors' group.
fn group() -> Uuid {
    identifier(DEMO_DAY, 3000, 0)
}

/// The devices, with what each of them is.
const DEVICES: [(&str, Monitor); 4] = [
    ("Deck radar", Monitor::Radar),
    ("Barn camera", Monitor::Camera),
    ("Hand radar", Monitor::HandRadar),
    ("Barn force plate", Monitor::ForcePlate),
];

async fn load_player(
    store: &Store,
    coach: &SignedIn,
    player: &DemoPlayer,
    number: u64,
    moved: Duration,
) -> Result<(), StoreError> {
    let school = coach.school_id;
    let id = identifier(DEMO_DAY, number, 0);
    let stored = Player {
        id,
        name: player.name.to_owned(),
        born: Some(player.born),
        left_handed: player.left_handed,
        aim: player.aim.to_owned(),
        height_m: Some(player.height_m),
        mass_kg: player.mass_kg,
        level: Some(Key(player.level)),
    };
    store.add_player(school, &stored).await?;
    if player.born > children_born_after(time(DEMO_DAY).year()) {
        let consent = Consent {
            guardian: "Esme Tarrant".to_owned(),
            given_on: Some((time(DEMO_DAY) + moved).date_naive()),
        };
        store.save_consent(school, id, &consent).await?;
    }
    let check_ins = CHECK_INS.iter().filter(|(of, _)| *of as u64 == number);
    let check_ins = check_ins.flat_map(|(_, sessions)| sessions.iter());
    let with_club = check_ins.map(|session| (session, in_bag(number, session)));
    let held = player.sessions.iter().map(|session| (session, None));
    load_bag(store, school, number, moved).await?;
    for (session, club) in held.chain(with_club) {
        load_session(store, coach, player, (id, club), session, moved).await?;
    }
    Ok(())
}

async fn load_session(
    store: &Store,
    coach: &SignedIn,
    player: &DemoPlayer,
    (player_id, bag_club_id): (Uuid, Option<Uuid>),
    session: &DemoSession,
    moved: Duration,
) -> Result<(), StoreError> {
    let school = coach.school_id;
    let conditions = session.conditions();
    let start = time(session.start) + moved;
    let id = identifier(session.start, session.seed, 1);
    let mut stored = Session {
        club: session.club,
        place: session.place.to_owned(),
        bag_club_id,
        indoors: Some(session.indoors()),
        ..Session::begun(id, player_id, session.purpose, ZONE, start)
    };
    stored.set_conditions(&conditions);
    let planned = plan_of(session, &player.golfer);
    let block = |(plan, at): (_, i32)| Block::planned(block_of(session, at as usize), id, at, plan);
    let blocks: Vec<Block> = planned.iter().zip(0..).map(block).collect();
    store.add_session(school, &stored, &blocks).await?;

    let shots = hit_all(store, school, player, session, id, moved).await?;
    for (i, reason) in session.set_aside {
        let (shot, hit_at) = shots[*i];
        let mark = NewMark {
            id: identifier(session.start, session.seed, 1000 + *i as u64),
            kind: MarkKind::SetAside,
            reason: Some(*reason),
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
    let end = start + Duration::seconds(PACE_S * (shots.len() as i64 + 4));
    store.end_session(school, id, Some(end)).await
}

/// The block of a session, by its place.
fn block_of(session: &DemoSession, place: usize) -> Uuid {
    identifier(session.start, session.seed, 100 + place as u64)
}

/// Stores every shot of a session, block by block; answers which and when they were.
async fn hit_all(
    store: &Store,
    school: Uuid,
    player: &DemoPlayer,
    session: &DemoSession,
    id: Uuid,
    moved: Duration,
) -> Result<Vec<(Uuid, DateTime<Utc>)>, StoreError> {
    let start = time(session.start) + moved;
    let mut sequence = 0;
    let mut shots = Vec::new();
    let second = session.second_readings(&player.golfer);
    for (i, readings) in session.readings(&player.golfer).into_iter().enumerate() {
        store.begin_block(school, id, block_of(session, i)).await?;
        let new = readings.into_iter().map(|reading| {
            sequence += 1;
            NewShot {
                device_id: device_of(session.monitor),
                run: format!("demo {}", session.seed),
                sequence,
                session_id: id,
                hit_at: start + Duration::seconds(PACE_S * sequence),
                tags: Tags::default(),
                reading,
                unread: Default::default(),
                pair_window_s: 0.5,
            }
        });
        let new: Vec<NewShot> = new.collect();
        let stored = store.store_shots(school, &new).await?;
        for (new, stored) in new.iter().zip(stored) {
            shots.push((stored.shot, new.hit_at));
            if let Some(trace) = trace_of(&new.reading) {
                let of = (new.device_id, new.run.as_str(), new.sequence);
                store.store_trace(school, of, &trace).await?;
            }
        }
        if let (Some(also), Some(readings)) = (session.also, second.get(i)) {
            let too = new.into_iter().zip(readings).map(|(new, reading)| NewShot {
                device_id: device_of(also),
                reading: reading.clone(),
                ..new
            });
            store.store_shots(school, &too.collect::<Vec<_>>()).await?;
        }
    }
    Ok(shots)
}

/// What was planned: the purpose's own blocks where the scenario hits them, and what is
/// still to come of a session under way.
fn plan_of(session: &DemoSession, golfer: &Golfer) -> Vec<PlannedBlock> {
    let hit = session.blocks.iter();
    let mut planned: Vec<PlannedBlock> = hit
        .map(|(label, balls, ..)| {
            let club = session.club_of(label);
            PlannedBlock {
                club: (club != session.club).then_some(club),
                ..PlannedBlock::new(*label, *balls as u32)
            }
        })
        .collect();
    let rules = HouseRules::default();
    let usual = golfer.speed_share * session.club.reference_club_speed();
    let known = Known {
        club: session.club,
        bag: &[],
        usual_speed: session.tested.then_some(usual),
        best_speed: None,
        club_length_m: None,
        window: None,
        rules: &rules,
    };
    let proposed = propose(session.purpose, &known);
    let as_proposed = planned.len() <= proposed.len()
        && planned
            .iter()
            .zip(&proposed)
            .all(|(a, b)| a.label == b.label);
    if session.tested && as_proposed {
        planned = proposed;
    }
    planned
}

/// The demo's device of a kind.
fn device_of(monitor: Monitor) -> Uuid {
    identifier(DEMO_DAY, 1000 + monitor as u64, 0)
}

/// The school's devices.
async fn load_devices(store: &Store, school: Uuid, secrets: bool) -> Result<(), StoreError> {
    for (name, monitor) in DEVICES {
        let id = device_of(monitor);
        let digest = secrets.then(|| Token::sent(&monitor.demo_token()).digest());
        let digest = digest.as_ref().map(|digest| &digest[..]);
        store
            .add_device(school, id, name, monitor.kind(), digest, false)
            .await?;
        let said = Greeting {
            kind: monitor.kind(),
            measures: monitor.measures().iter().copied().collect(),
            calculates: monitor.calculates().iter().copied().collect(),
            clock_ahead_s: None,
        };
        let no_session = Uuid::nil();
        let since = store.greet_device(school, id, no_session, &said).await?;
        store.device_left(school, id, no_session, since).await?;
    }
    Ok(())
}

fn bag_club(player: u64, number: u64) -> Uuid {
    identifier(DEMO_DAY, 2000 + player * 10 + number, 0)
}

/// The club of a player's bag that a session was hit with, where it can be but one.
fn in_bag(player: u64, session: &DemoSession) -> Option<Uuid> {
    let held = time(session.start).date_naive();
    let then = |club: &&DemoClub| {
        (club.player, club.club) == (player, session.club)
            && day(club.from) <= held
            && club.until.is_none_or(|until| held < day(until))
    };
    let mut then = BAGS.iter().filter(then);
    let (club, other) = (then.next()?, then.next());
    other.is_none().then(|| bag_club(player, club.number))
}

async fn load_bag(
    store: &Store,
    school: Uuid,
    player: u64,
    moved: Duration,
) -> Result<(), StoreError> {
    let begins = |text: &str| day(text).and_time(NaiveTime::MIN).and_utc() + moved;
    for of in BAGS.iter().filter(|of| of.player == player) {
        let player_id = identifier(DEMO_DAY, player, 0);
        let club = BagClub {
            id: bag_club(player, of.number),
            player_id,
            club: of.club,
            head: of.head.to_owned(),
            loft_deg: Some(of.loft_deg),
            length_m: Some(of.length_m),
            mass_kg: None,
            flex: String::new(),
            added_at: begins(of.from),
        };
        store.add_to_bag(school, &club).await?;
        if let Some(until) = of.until {
            let at = begins(until);
            store.take_from_bag(school, player_id, club.id, at).await?;
        }
    }
    Ok(())
}

/// What the coach decided: player and session by place, in which words, and when to look
/// again.
const DECISIONS: [(usize, usize, &str, &str); 2] = [
    (
        1,
        1,
        "Full swings on every tee but the third, 70 % there. Look again with more balls.",
        "2026-05-09",
    ),
    (
        2,
        1,
        "Keep the quiet start for the irons this spring.",
        "2026-05-02",
    ),
];

/// Bram's bad nights, by the seed of the session after them: sleep, and how sore he was.
const NIGHTS: [(u64, u8, u8); 4] = [(4003, 2, 0), (4008, 2, 1), (4013, 1, 0), (4017, 1, 2)];

/// A hold for pain, and what else the scenario has beside shots.
async fn load_rest(store: &Store, coach: &SignedIn, moved: Duration) -> Result<(), StoreError> {
    let school = coach.school_id;
    for (player, session, words, recheck_on) in DECISIONS {
        let of = &PLAYERS[player];
        let made_in = &of.sessions[session];
        let decision = NewDecision {
            id: identifier(made_in.start, made_in.seed, 6000),
            player_id: identifier(DEMO_DAY, player as u64, 0),
            session_id: Some(identifier(made_in.start, made_in.seed, 1)),
            words: words.to_owned(),
            verdict: String::new(),
            address: String::new(),
            recheck_on: Some(day(recheck_on) + moved),
        };
        store.decide(school, coach.coach_id, &decision).await?;
    }
    // Bram wants to swing at 128 mph by the summer.
    let goal = Goal {
        club: Club::Driver,
        quantity: Quantity::ClubSpeed,
        value: 128.0 * MPH,
        by_day: Some(day("2026-06-20") + moved),
    };
    let bram = identifier(DEMO_DAY, 3, 0);
    store.set_goal(school, bram, goal).await?;
    // Petra said before her session that her hip hurt; the coach lifted the hold later.
    let petra = &PLAYERS[2].sessions[0];
    let session = identifier(petra.start, petra.seed, 1);
    let told = SessionAct::Readiness(Readiness {
        sleep: 3,
        soreness: 1,
        hard_exercise: false,
        pain: true,
        note: "left hip, when turning through".to_owned(),
    });
    let bram = CHECK_INS.iter().find(|(player, _)| *player == 3);
    for session in bram.map_or(&[][..], |(_, sessions)| sessions) {
        let (sleep, soreness) = NIGHTS
            .iter()
            .find(|(seed, ..)| *seed == session.seed)
            .map_or((4, 0), |(_, sleep, soreness)| (*sleep, *soreness));
        let told = SessionAct::Readiness(Readiness {
            sleep,
            soreness,
            hard_exercise: false,
            pain: false,
            note: String::new(),
        });
        let of = identifier(session.start, session.seed, 1);
        let id = identifier(session.start, session.seed, 5000);
        store
            .record_act(school, of, coach.coach_id, id, &told)
            .await?;
    }
    let skipped = SessionAct::SkipWarmUp;
    for (part, act) in [(5000, told), (5001, skipped)] {
        let id = identifier(petra.start, petra.seed, part);
        store
            .record_act(school, session, coach.coach_id, id, &act)
            .await?;
    }
    Ok(())
}

/// A version 7 identifier that is the same in every load.
pub(crate) fn identifier(start: &str, seed: u64, part: u64) -> Uuid {
    let mut random = [0; 10];
    random[..8].copy_from_slice(&(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ part).to_be_bytes());
    random[8..].copy_from_slice(&[0xA7, 0x11]);
    let millis = time(start).timestamp_millis();
    Builder::from_unix_timestamp_millis(millis.unsigned_abs(), &random).into_uuid()
}

fn day(text: &str) -> NaiveDate {
    text.parse().expect("the scenario's days are dates")
}

fn time(text: &str) -> DateTime<Utc> {
    text.parse().expect("the scenario's times are RFC 3339")
}
