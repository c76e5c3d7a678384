//! What the coach does with a shot: set it aside, keep it, withdraw either, mark the
//! strike.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::shots::mark::{MarkKind, Reason};
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::text::lines_within;
use tally_store::base::keys::Key;
use tally_store::shots::session_shots::Mark;
use tally_store::shots::shot_edits::NewMark;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// What to do with the shot.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
enum Act {
    /// Leave it out of the figures.
    SetAside {
        reason: Reason,
        /// In the coach's words; needed when the reason is `other`.
        #[serde(default)]
        note: String,
    },
    /// Let it stand, whatever doubts there are.
    Keep,
    /// Take back the last decision.
    Withdraw,
    /// It was struck here: 7 8 9 is high on the face, 1 2 3 low, as on a number pad.
    Strike { cell: i16 },
}

/// A mark to make.
#[derive(Debug, Deserialize, ToSchema)]
struct Making {
    /// Made by the sender.
    id: Uuid,
    act: Act,
}

/// Where a shot is to go.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Move {
    /// Made by the sender.
    id: Uuid,
    /// A block of the session that was begun.
    block: Uuid,
}

/// A mark that was made.
#[derive(Serialize, ToSchema)]
pub struct MarkView {
    pub id: Uuid,
    pub made_at: DateTime<Utc>,
    pub kind: MarkKind,
    pub reason: Option<Reason>,
    pub note: String,
    pub strike: Option<i16>,
}

impl From<Mark> for MarkView {
    fn from(mark: Mark) -> Self {
        Self {
            id: mark.id,
            made_at: mark.made_at,
            kind: mark.kind,
            reason: mark.reason.map(|Key(reason)| reason),
            note: mark.note,
            strike: mark.strike,
        }
    }
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(mark_shot))
        .routes(routes!(move_shot))
}

/// Marks a shot.
#[utoipa::path(
    post,
    path = "/sessions/{session}/shots/{shot}/marks",
    params(("session" = Uuid, Path), ("shot" = Uuid, Path)),
    request_body = Making,
    responses((status = CREATED, body = MarkView), Problem)
)]
async fn mark_shot(
    coach: Coach,
    Path((session, shot)): Path<(Uuid, Uuid)>,
    Body(making): Body<Making>,
) -> Result<(StatusCode, Json<MarkView>), Problem> {
    let mark = making.check()?;
    let made = coach
        .store()
        .mark_shot(coach.school(), session, shot, coach.id(), &mark)
        .await?;
    Ok((StatusCode::CREATED, Json(made.into())))
}

/// Gives a shot to another block of its session.
#[utoipa::path(
    put,
    path = "/sessions/{session}/shots/{shot}/block",
    params(("session" = Uuid, Path), ("shot" = Uuid, Path)),
    request_body = Move,
    responses((status = NO_CONTENT), Problem)
)]
async fn move_shot(
    coach: Coach,
    Path((session, shot)): Path<(Uuid, Uuid)>,
    Body(wanted): Body<Move>,
) -> Result<StatusCode, Problem> {
    coach
        .store()
        .move_shot(
            coach.school(),
            session,
            shot,
            coach.id(),
            wanted.id,
            wanted.block,
        )
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

impl Making {
    fn check(self) -> Result<NewMark, Invalid> {
        let mut mark = NewMark {
            id: self.id,
            kind: MarkKind::Keep,
            reason: None,
            note: String::new(),
            strike: None,
            made_at: None,
        };
        match self.act {
            Act::Keep => {}
            Act::Withdraw => mark.kind = MarkKind::Withdraw,
            Act::Strike { cell } => {
                within("cell", f64::from(cell), 1.0..=9.0, "")?;
                mark.kind = MarkKind::Strike;
                mark.strike = Some(cell);
            }
            Act::SetAside { reason, note } => {
                mark.kind = MarkKind::SetAside;
                mark.reason = Some(reason);
                if matches!(reason, Reason::Other) || !note.trim().is_empty() {
                    mark.note = lines_within("note", &note, 500)?;
                }
            }
        }
        Ok(mark)
    }
}
