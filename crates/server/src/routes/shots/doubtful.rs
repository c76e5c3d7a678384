//! The list of readings that wait for the coach's decision.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::Query;
use crate::http::problem::Problem;
use crate::routes::shots::balls::{Waiting, waiting_in};
use crate::routes::shots::figures::figures_of;
use crate::state::App;
use axum::Json;
use chrono::{DateTime, Utc};
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::shots::doubt::Doubt;
use tally_core::shots::reading::Reading;
use tally_store::session::sessions::Session;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// The readings that wait, session by session.
#[derive(Serialize, ToSchema)]
struct DoubtfulList {
    /// Whose, where one player's were asked for.
    player_name: Option<String>,
    /// Latest sessions that were looked through.
    looked_through: usize,
    /// Whether there was enough to decide in these, and earlier ones were not looked through.
    more: bool,
    sessions: Vec<DoubtfulSession>,
}

/// A session with readings that wait.
#[derive(Serialize, ToSchema)]
struct DoubtfulSession {
    session: Uuid,
    player_name: String,
    started_at: DateTime<Utc>,
    zone: String,
    shots: Vec<DoubtfulShot>,
}

/// A reading that waits.
#[derive(Serialize, ToSchema)]
struct DoubtfulShot {
    shot: Uuid,
    /// From 1, in hitting order.
    number: usize,
    club: Club,
    /// Names of the devices that reported it.
    devices: Vec<String>,
    reading: Reading,
    doubts: Vec<Doubt>,
}

/// Whose readings.
#[derive(Deserialize, IntoParams)]
struct Whose {
    /// The player; all of the school's where none is named.
    player: Option<Uuid>,
}

/// Sessions that are looked at at once, as most have nothing that waits: for many more PostgreSQL
/// may read all that there are.
const AT_A_TIME: usize = 50;
/// How many readings that wait are enough for a list.
const ENOUGH: usize = 40;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(doubtful))
}

/// The doubtful readings of the latest sessions, of the school or of a player, latest first.
#[utoipa::path(get, path = "/doubtful", params(Whose), responses((status = OK, body = DoubtfulList), Problem))]
async fn doubtful(coach: Coach, Query(whose): Query<Whose>) -> Result<Json<DoubtfulList>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let rules = store.house_rules(school).await?;
    let most = rules.doubtful_sessions();
    let (player_name, latest) = match whose.player {
        Some(player) => {
            let name = store.player(school, player).await?.name;
            let all = store.player_sessions(school, player).await?;
            let latest = all.into_iter().map(|(session, _)| session);
            let most = usize::try_from(most).unwrap_or(usize::MAX);
            (Some(name), latest.take(most).collect())
        }
        None => (None, store.latest_sessions(school, most).await?),
    };
    let (mut looked_through, mut enough) = (0, 0);
    let mut with: Vec<Session> = Vec::new();
    'looking: for some in latest.chunks(AT_A_TIME) {
        let known = figures_of(store, school, some, &rules).await?;
        for session in some {
            if enough >= ENOUGH {
                break 'looking;
            }
            looked_through += 1;
            let waiting = known.get(&session.id).map_or(0, |kept| kept.waiting);
            if waiting > 0 {
                enough += waiting;
                with.push(session.clone());
            }
        }
    }
    let hit = store.hit_sessions(school, with).await?;
    let waiting = compute(coach.school(), move || {
        let waiting = hit.into_par_iter().map(|hit| {
            let shots: Vec<_> = waiting_in(&hit, &rules).map(doubtful_shot).collect();
            (hit.session, shots)
        });
        let waiting = waiting.filter(|(_, shots)| !shots.is_empty());
        waiting.collect::<Vec<_>>()
    })
    .await?;
    let shown: Vec<Uuid> = waiting
        .iter()
        .map(|(session, _)| session.player_id)
        .collect();
    let names = store.names_of_players(school, &shown).await?;
    let sessions = waiting.into_iter().map(|(session, shots)| DoubtfulSession {
        session: session.id,
        player_name: names.get(&session.player_id).cloned().unwrap_or_default(),
        started_at: session.started_at,
        zone: session.zone,
        shots,
    });
    let sessions = sessions.collect();
    let more = looked_through < latest.len();
    coach.has_seen(&shown).await?;
    Ok(Json(DoubtfulList {
        player_name,
        looked_through,
        more,
        sessions,
    }))
}

fn doubtful_shot(waiting: Waiting<'_>) -> DoubtfulShot {
    let shot = waiting.shot;
    DoubtfulShot {
        shot: shot.id,
        number: waiting.number,
        club: waiting.club,
        doubts: waiting.judged.doubts,
        devices: shot.sources.iter().map(|s| s.device.to_string()).collect(),
        reading: shot.reading.clone(),
    }
}
