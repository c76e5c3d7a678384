//! A player's sessions by what they tell of over time.

use crate::guard::answers::Asked;
use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::routes::shots::figures::figures_of;
use std::collections::{BTreeSet, HashMap};
use tally_core::record::benchmark::BenchmarkSetting;
use tally_core::record::figures::SessionFigures;
use tally_core::record::series::Occasion;
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::zone::date_in;
use tally_store::Store;
use tally_store::session::sessions::{Session, SessionFilter};
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
