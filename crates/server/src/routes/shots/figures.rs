//! What each session gives, counted once and kept as long as nothing in it changes.

use crate::guard::compute::compute;
use crate::http::problem::Problem;
use crate::routes::shots::balls::{StoredBall, balls_in, swings_in, waiting_in};
use rayon::prelude::*;
use std::cmp::Reverse;
use std::collections::{BTreeMap, HashMap};
use tally_core::record::figures::{SessionFigures, session_figures};
use tally_core::session::purpose::Purpose;
use tally_core::shots::swung::Swung;
use tally_core::verdicts::house_rules::HouseRules;
use tally_store::Store;
use tally_store::record::figures::KeptFigures;
use tally_store::session::sessions::Session;
use tally_store::shots::hit_sessions::HitSession;
use uuid::Uuid;

/// Sessions whose shots are counted at once.
const AT_ONCE: usize = 100;

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

fn count(hit: &HitSession, changes: i64, rules: &HouseRules) -> KeptFigures {
    let balls = balls_in(hit, rules, 0);
    let swings = swings_in(hit, rules).into_iter();
    // Gentle work tells of no speed.
    let swings = swings.filter(|s| !s.gentle).map(|s| (s.swung, s.speed));
    KeptFigures {
        changes,
        figures: Some(given_by(&balls, hit.session.purpose, swings, rules)),
        devices: devices_of(&balls),
        waiting: waiting_in(hit, rules).count(),
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
