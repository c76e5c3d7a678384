//! What is done in a session beside hitting: answers, ticks, holds, pauses.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use chrono::{Datelike, Utc};
use serde::{Deserialize, Serialize};
use tally_core::session::acts::SessionAct;
use tally_core::session::warm_up::{GROWN, Movement, cautions};
use tally_core::verdicts::build::Build;
use tally_core::vocabulary::invalid::Invalid;
use tally_store::school::players::Player;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use crate::routes::session::sessions::{SessionView, Viewed, view};

/// An act to record.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewAct {
    /// Made by the sender.
    id: Uuid,
    act: SessionAct,
}

/// What Warm up shows.
#[derive(Serialize, ToSchema)]
struct WarmUpView {
    session: SessionView,
    /// The school's list.
    movements: Vec<Movement>,
    /// What to be careful about, the gravest first.
    cautions: Vec<&'static str>,
}

/// How old a player is or becomes this year, when that is known.
pub fn age_of(player: &Player) -> Option<i32> {
    player.born.map(|born| Utc::now().year() - born)
}

/// What a player's body can be asked for.
pub fn build_of(player: &Player) -> Build {
    Build::growing(age_of(player).is_some_and(|age| age < GROWN))
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(record_act))
        .routes(routes!(warm_up))
}

/// Records an act; recording it again changes nothing.
#[utoipa::path(post, path = "/sessions/{session}/acts", params(("session" = Uuid, Path)), request_body = NewAct, responses((status = CREATED), Problem))]
async fn record_act(
    coach: Coach,
    Path(session): Path<Uuid>,
    Body(new): Body<NewAct>,
) -> Result<StatusCode, Problem> {
    new.act.check()?;
    if matches!(new.act, SessionAct::GoOn { .. }) {
        let player = view(&coach, session).await?.player;
        if build_of(&player).grows() {
            let problem = "is not for players who still grow";
            let remedy = "stop here, or go on with easy swings";
            return Err(Invalid::new("act", "go_on", problem, remedy).into());
        }
    }
    coach
        .store()
        .record_act(coach.school(), session, coach.id(), new.id, &new.act)
        .await?;
    Ok(StatusCode::CREATED)
}

/// The Warm up station of a session.
#[utoipa::path(get, path = "/sessions/{session}/warm-up", params(("session" = Uuid, Path)), responses((status = OK, body = WarmUpView), Problem))]
async fn warm_up(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<WarmUpView>, Problem> {
    let Viewed { view, player, .. } = view(&coach, id).await?;
    let age = age_of(&player);
    Ok(Json(WarmUpView {
        movements: coach.store().warm_up_list(coach.school()).await?,
        cautions: cautions(view.progress.readiness.as_ref(), age),
        session: view,
    }))
}
