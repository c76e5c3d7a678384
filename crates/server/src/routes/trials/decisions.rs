//! What was decided for players, and what is due to be looked at again.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::moment::day;
use tally_core::vocabulary::text::{lines_within, own_path};
use tally_store::trials::decisions::{Decision, NewDecision};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A decision.
#[derive(Serialize, ToSchema)]
pub struct DecisionView {
    id: Uuid,
    player: Uuid,
    session: Option<Uuid>,
    /// In the coach's words.
    words: String,
    /// The verdict it rests on, as it was read.
    verdict: String,
    /// Where that stands in the application.
    address: String,
    recheck_on: Option<NaiveDate>,
    decided_at: DateTime<Utc>,
    /// Whether it was looked at again, or dropped.
    done: bool,
}

impl From<Decision> for DecisionView {
    fn from(decision: Decision) -> Self {
        Self {
            id: decision.id,
            player: decision.player_id,
            session: decision.session_id,
            words: decision.words,
            verdict: decision.verdict,
            // What was kept before only paths were is not to be followed.
            address: own_path("address", &decision.address, LONGEST_ADDRESS).unwrap_or_default(),
            recheck_on: decision.recheck_on,
            decided_at: decision.decided_at,
            done: decision.done_at.is_some(),
        }
    }
}

/// Longest address of a decision, characters.
const LONGEST_ADDRESS: usize = 4000;

/// A decision to keep.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct DecisionToKeep {
    /// Made by the sender.
    id: Uuid,
    words: String,
    /// When to look again.
    recheck_on: Option<NaiveDate>,
    /// The session it is made in.
    session: Option<Uuid>,
    /// The verdict it rests on, as it is read.
    #[serde(default)]
    verdict: String,
    /// Where that stands: a path of the application.
    #[serde(default)]
    address: String,
}

/// Whether a decision is done with.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct DoneWith {
    done: bool,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(decisions, decide))
        .routes(routes!(set_done))
}

/// A player's decisions, latest first.
#[utoipa::path(get, path = "/players/{player}/decisions", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<DecisionView>), Problem))]
async fn decisions(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<Json<Vec<DecisionView>>, Problem> {
    coach.store().player(coach.school(), player).await?;
    let decisions = coach.store().decisions(coach.school(), player).await?;
    Ok(Json(
        decisions.into_iter().map(DecisionView::from).collect(),
    ))
}

/// Keeps a decision in the player's record; keeping it again changes nothing.
#[utoipa::path(post, path = "/players/{player}/decisions", params(("player" = Uuid, Path)), request_body = DecisionToKeep, responses((status = CREATED), Problem))]
async fn decide(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(new): Body<DecisionToKeep>,
) -> Result<StatusCode, Problem> {
    let new = new.check(player)?;
    coach
        .store()
        .decide(coach.school(), coach.id(), &new)
        .await?;
    Ok(StatusCode::CREATED)
}

/// Notes that a decision was looked at again, or takes that back.
#[utoipa::path(put, path = "/decisions/{decision}/done", params(("decision" = Uuid, Path)), request_body = DoneWith, responses((status = NO_CONTENT), Problem))]
async fn set_done(
    coach: Coach,
    Path(decision): Path<Uuid>,
    Body(with): Body<DoneWith>,
) -> Result<StatusCode, Problem> {
    let done_at = with.done.then(Utc::now);
    coach
        .store()
        .decision_done(coach.school(), decision, done_at)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

impl DecisionToKeep {
    fn check(self, player: Uuid) -> Result<NewDecision, Vec<Invalid>> {
        let mut errors = Vec::new();
        let words = lines_within("words", &self.words, 1000)
            .map_err(|why| errors.push(why))
            .unwrap_or_default();
        let mut noted = |checked: Result<String, Invalid>| {
            checked.map_err(|why| errors.push(why)).unwrap_or_default()
        };
        let verdict = match self.verdict.as_str() {
            "" => String::new(),
            verdict => noted(lines_within("verdict", verdict, 1000)),
        };
        let address = match self.address.as_str() {
            "" => String::new(),
            address => noted(own_path("address", address, LONGEST_ADDRESS)),
        };
        if let Some(Err(why)) = self.recheck_on.map(|on| day("recheck_on", on)) {
            errors.push(why);
        }
        if !errors.is_empty() {
            return Err(errors);
        }
        Ok(NewDecision {
            id: self.id,
            player_id: player,
            session_id: self.session,
            words,
            verdict,
            address,
            recheck_on: self.recheck_on,
        })
    }
}
