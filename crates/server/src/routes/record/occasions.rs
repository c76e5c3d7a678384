//! A player's sessions by what they tell of over time.

use crate::guard::answers::Asked;
use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::routes::shots::balls::{StoredBall, balls_in, swings_in};
use rayon::prelude::*;
use std::cmp::Reverse;
use std::collections::{BTreeMap, BTreeSet, HashMap};
use tally_core::record::benchmark::BenchmarkSetting;
use tally_core::record::figures::{SessionFigures, session_figures};
use tally_core::record::series::Occasion;
use tally_core::session::purpose::Purpose;
use tally_core::shots::swung::Swung;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::zone::date_in;
use tally_store::Store;
use tally_store::record::figures::KeptFigures;
use tally_store::session::sessions::{Session, SessionFilter};
use tally_store::shots::hit_sessions::HitSession;
use uuid::Uuid;

/// The sessions that a player's record is made of, earliest first.
pub struct Recorded {
    /// The sessions.
    pub sessions: Vec<Session>,
    /// What each gives.
    pub occasions: Vec<Occasion>,
    /// With what each was hit.
    pub settings: Vec<BenchmarkSetting>,
    /// Devices of which an offset is known, by name.
    pub corrected: BTreeSet<String>,
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
    let mut sessions = store.sessions_filtered(school, &filter).await?;
    sessions.sort_by_key(|session| session.started_at);
    let mut kept = figures_of(store, school, &sessions, rules).await?;
    let known = store.devices(school).await?;
    let corrected = known.iter().filter(|device| !device.offsets.is_empty());
    let corrected = corrected.map(|device| device.name.clone()).collect();
    let names = known.into_iter().map(|device| (device.id, device.name));
    let names: HashMap<Uuid, String> = names.collect();
    let (mut devices, mut heads): (Vec<Uuid>, Vec<Uuid>) = Default::default();
    let (mut occasions, mut settings) = (Vec::new(), Vec::new());
    for session in &sessions {
        let given = kept.remove(&session.id).unwrap_or_default();
        let figures = given.figures.unwrap_or_default();
        settings.push(setting(session, &names, &given.devices, &figures, rules));
        let device = given.devices.first();
        occasions.push(Occasion {
            date: date_in(session.started_at, &session.zone),
            device: device.map_or(0, |id| place_of(&mut devices, *id)),
            indoors: session.indoors,
            head: session.bag_club_id.map(|id| place_of(&mut heads, id)),
            figures,
        });
    }
    Ok(Recorded {
        sessions,
        occasions,
        settings,
        corrected,
    })
}

/// What some sessions give: what was counted before is taken, the rest is counted and kept.
pub async fn figures_of(
    store: &Store,
    school: Uuid,
    sessions: &[Session],
    rules: &HouseRules,
) -> Result<HashMap<Uuid, KeptFigures>, Problem> {
    let ids: Vec<Uuid> = sessions.iter().map(|session| session.id).collect();
    let mark = store.figures_mark(school, rules).await?;
    let mut known = store.kept_figures(school, &ids, mark).await?;
    let uncounted = |session: &&Session| {
        let known = known.get(&session.id);
        known.is_none_or(|kept| kept.figures.is_none())
    };
    let uncounted: Vec<Session> = sessions.iter().filter(uncounted).cloned().collect();
    // A few at a time: a first look at a long record holds no more than a part of its shots.
    for some in uncounted.chunks(AT_ONCE) {
        let hit = store.hit_sessions(school, some.to_vec()).await?;
        let by = *rules;
        let changes: Vec<i64> = hit
            .iter()
            .map(|hit| known.get(&hit.session.id).map_or(0, |kept| kept.changes))
            .collect();
        let counted: Vec<(Uuid, KeptFigures)> = compute(school, move || {
            let each = hit.par_iter().zip(changes);
            each.map(|(hit, changes)| (hit.session.id, count(hit, changes, &by)))
                .collect()
        })
        .await?;
        // Offsets that changed meanwhile may be in some of the balls and not in others.
        if store.figures_mark(school, rules).await? == mark {
            store.keep_figures(school, mark, &counted).await?;
        }
        known.extend(counted);
    }
    Ok(known)
}

/// Sessions whose shots are counted at once.
const AT_ONCE: usize = 100;

fn count(hit: &HitSession, changes: i64, rules: &HouseRules) -> KeptFigures {
    let balls = balls_in(hit, rules, 0);
    let swings = swings_in(hit, rules).into_iter();
    // Gentle work tells of no speed.
    let swings = swings.filter(|s| !s.gentle).map(|s| (s.swung, s.speed));
    KeptFigures {
        changes,
        figures: Some(given_by(&balls, hit.session.purpose, swings, rules)),
        devices: devices_of(&balls),
    }
}

/// What balls and swings of a session give.
pub fn given_by(
    balls: &[StoredBall],
    purpose: Purpose,
    swings: impl IntoIterator<Item = (Swung, f64)>,
    rules: &HouseRules,
) -> SessionFigures {
    let each = balls.iter().map(|stored| (&stored.ball, &*stored.plan));
    session_figures(purpose, each, swings, rules)
}

/// The devices that told of balls, those of most balls first.
pub fn devices_of(balls: &[StoredBall]) -> Vec<Uuid> {
    let mut told: BTreeMap<Uuid, usize> = BTreeMap::new();
    for device in balls.iter().filter_map(|stored| stored.device) {
        *told.entry(device).or_default() += 1;
    }
    let mut devices: Vec<(Uuid, usize)> = told.into_iter().collect();
    devices.sort_by_key(|(_, n)| Reverse(*n));
    devices.into_iter().map(|(id, _)| id).collect()
}

fn place_of(met: &mut Vec<Uuid>, id: Uuid) -> usize {
    met.iter().position(|d| *d == id).unwrap_or_else(|| {
        met.push(id);
        met.len() - 1
    })
}

/// The names of the school's devices.
pub async fn names_of(store: &Store, school: Uuid) -> Result<HashMap<Uuid, String>, Problem> {
    let devices = store.devices(school).await?.into_iter();
    Ok(devices.map(|device| (device.id, device.name)).collect())
}

/// With what the balls of a session were hit that gave these figures.
pub fn setting(
    session: &Session,
    names: &HashMap<Uuid, String>,
    devices: &[Uuid],
    figures: &SessionFigures,
    rules: &HouseRules,
) -> BenchmarkSetting {
    let named: BTreeSet<&String> = devices.iter().filter_map(|id| names.get(id)).collect();
    BenchmarkSetting {
        ball: figures.ball.unwrap_or(session.ball),
        place: session.place.clone(),
        indoors: session.indoors,
        devices: named.into_iter().cloned().collect(),
        balls: figures.kept,
        set_aside: figures.set_aside + figures.doubted,
        interval_level: rules.interval_level,
    }
}

/// A question about a player's record, with all that makes its answer another one; to be counted
/// before anything is read, so that what changes meanwhile is another answer's.
pub async fn asked(
    coach: &Coach,
    player: Uuid,
    rules: &HouseRules,
    question: String,
) -> Result<Asked, Problem> {
    let (store, school) = (coach.store(), coach.school());
    Ok(Asked {
        school,
        coach: coach.id(),
        player,
        changes: store.player_changes(school, player).await?,
        mark: store.figures_mark(school, rules).await?,
        question,
    })
}
