//! The Read station of a session.

use super::compute;
use super::sessions::{SessionView, view};
use super::shots::MarkView;
use crate::app::App;
use crate::coach::Coach;
use crate::extract::Path;
use crate::problem::Problem;
use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use serde::Serialize;
use tally_core::club::Club;
use tally_core::house_rules::HouseRules;
use tally_core::read::{self, Decision, Question, Report};
use tally_core::reading::Reading;
use tally_store::shots::{Mark, Shot};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A session with its shots and what they say.
#[derive(Serialize, ToSchema)]
struct SessionRead {
    session: SessionView,
    /// In hitting order; `report.shots` stands in the same order.
    shots: Vec<ShotView>,
    report: Report,
}

/// A shot as stored.
#[derive(Serialize, ToSchema)]
struct ShotView {
    id: Uuid,
    /// From 1, in hitting order.
    number: usize,
    block: Uuid,
    hit_at: DateTime<Utc>,
    device: String,
    reading: Reading,
    /// Latest strike marked on the face, as on a number pad.
    strike: Option<i16>,
    /// What the coach did with it, in order.
    marks: Vec<MarkView>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(read_session))
}

/// Reads a session.
#[utoipa::path(get, path = "/sessions/{session}/read", params(("session" = Uuid, Path)), responses((status = OK, body = SessionRead), Problem))]
async fn read_session(
    coach: Coach,
    Path(id): Path<Uuid>,
    State(app): State<App>,
) -> Result<Json<SessionRead>, Problem> {
    let (stored, session) = view(&app, &coach, id).await?;
    let shots = app.store.session_shots(coach.school(), id).await?;
    let asked = as_asked(&shots);
    let club = Club::from_key("club", &stored.club)?;
    let player = first_name(&session.player_name).to_owned();
    let report = compute(move || {
        read::read(&Question {
            player: &player,
            club,
            conditions: stored.conditions(),
            rules: HouseRules::default(),
            shots: &asked,
        })
    })
    .await;
    let shots = shots.into_iter().zip(1..).map(ShotView::from).collect();
    Ok(Json(SessionRead {
        session,
        shots,
        report,
    }))
}

/// Stored shots as core reads them.
pub(super) fn as_asked(shots: &[Shot]) -> Vec<read::Shot> {
    shots
        .iter()
        .map(|shot| read::Shot {
            reading: shot.reading.clone(),
            decision: decision(&shot.marks),
        })
        .collect()
}

/// The decision that counts: the latest one that was not taken back.
fn decision(marks: &[Mark]) -> Option<Decision> {
    marks
        .iter()
        .rev()
        .find(|mark| mark.kind != "strike")
        .and_then(|mark| match mark.kind.as_str() {
            "set_aside" => Some(Decision::SetAside),
            "keep" => Some(Decision::Keep),
            _ => None,
        })
}

fn first_name(name: &str) -> &str {
    name.split_whitespace().next().unwrap_or(name)
}

impl From<(Shot, usize)> for ShotView {
    fn from((shot, number): (Shot, usize)) -> Self {
        Self {
            id: shot.id,
            number,
            block: shot.block_id,
            hit_at: shot.hit_at,
            device: shot.device,
            reading: shot.reading,
            strike: shot.marks.iter().rev().find_map(|mark| mark.strike),
            marks: shot.marks.into_iter().map(MarkView::from).collect(),
        }
    }
}
