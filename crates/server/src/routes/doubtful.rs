//! The list of readings that wait for the coach's decision.

use super::compute;
use super::read::{as_read, club_of};
use crate::app::App;
use crate::coach::Coach;
use crate::problem::Problem;
use axum::Json;
use chrono::{DateTime, Utc};
use serde::Serialize;
use tally_core::club::Club;
use tally_core::doubt::{Doubt, doubts};
use tally_core::read::{Standing, standing};
use tally_core::reading::Reading;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// The readings that wait, session by session.
#[derive(Serialize, ToSchema)]
struct DoubtfulList {
    /// Latest sessions that were looked through.
    looked_through: usize,
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

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(doubtful))
}

/// The doubtful readings of the latest sessions, latest first.
#[utoipa::path(get, path = "/doubtful", responses((status = OK, body = DoubtfulList), Problem))]
async fn doubtful(coach: Coach) -> Result<Json<DoubtfulList>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let latest = coach
        .store()
        .latest_sessions(school, rules.doubtful_sessions())
        .await?;
    let names = coach.store().player_names(school).await?;
    let looked_through = latest.len();
    let mut sessions = Vec::new();
    let mut shown = Vec::new();
    for session in latest {
        let (_, blocks) = coach.store().session(school, session.id).await?;
        let shots = coach.store().session_shots(school, session.id).await?;
        let (own, conditions) = (Club::from_key("club", &session.club)?, session.conditions());
        let waiting: Vec<DoubtfulShot> = compute(move || {
            let numbered = shots.into_iter().zip(1..);
            numbered
                .filter_map(|(shot, number)| {
                    let club = club_of(&shot, &blocks, own);
                    let stands = standing(&as_read(&shot), club, &conditions, &rules);
                    (stands == Standing::Doubtful).then(|| DoubtfulShot {
                        shot: shot.id,
                        number,
                        club,
                        doubts: doubts(&shot.reading, club, &conditions, &rules),
                        devices: shot.sources.into_iter().map(|s| s.device).collect(),
                        reading: shot.reading,
                    })
                })
                .collect()
        })
        .await;
        if !waiting.is_empty() {
            shown.push(session.player_id);
            sessions.push(DoubtfulSession {
                session: session.id,
                player_name: names.get(&session.player_id).cloned().unwrap_or_default(),
                started_at: session.started_at,
                zone: session.zone,
                shots: waiting,
            });
        }
    }
    coach.has_seen(&shown).await?;
    Ok(Json(DoubtfulList {
        looked_through,
        sessions,
    }))
}
