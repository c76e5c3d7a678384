//! The school, and where things stand in it.

use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::http::watch::VERSION;
use crate::made_up::{self, Moved};
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::Utc;
use serde::Serialize;
use tally_store::StoreError;
use tokio::task::JoinHandle;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// The school as its coach sees it first.
#[derive(Serialize, ToSchema)]
struct School {
    /// Its name.
    name: String,
    /// The coach's name.
    coach: String,
    /// Host and port that devices connect to.
    intake: String,
    /// What the program that answers is.
    version: &'static str,
    /// Sessions in progress, latest first.
    in_progress: Vec<InProgress>,
}

/// A session in progress.
#[derive(Serialize, ToSchema)]
struct InProgress {
    session: Uuid,
    player: Uuid,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(school))
        .routes(routes!(add_made_up_players, drop_made_up_players))
}

/// The school.
#[utoipa::path(get, path = "/school", responses((status = OK, body = School), Problem))]
async fn school(coach: Coach, State(app): State<App>) -> Result<Json<School>, Problem> {
    let in_progress = coach.store().sessions_in_progress(coach.school()).await?;
    Ok(Json(School {
        name: coach.school_name().to_owned(),
        coach: coach.name().to_owned(),
        intake: app.intake.to_string(),
        version: VERSION,
        in_progress: in_progress
            .into_iter()
            .map(|s| InProgress {
                session: s.id,
                player: s.player_id,
            })
            .collect(),
    }))
}

/// Puts made-up players with their sessions into a school that has none, to try with; what is
/// there of them already is not put in twice.
#[utoipa::path(post, path = "/school/made-up-players", responses((status = CREATED), Problem))]
async fn add_made_up_players(coach: Coach) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store().for_long(), coach.school());
    if store.has_players(school).await? && !made_up::are_in(&store, school).await? {
        let why = "the school has players of its own; made-up ones are for a school without any";
        return Err(StoreError::Conflict(why.to_owned()).into());
    }
    coach.store().let_go();
    let who = coach.who().clone();
    // On its own, so that it is whole even when the browser goes away.
    let moved = Moved::to_now(Utc::now());
    whole(tokio::spawn(async move {
        made_up::load(&store, &who, moved, false).await
    }))
    .await?;
    Ok(StatusCode::CREATED)
}

/// Takes the made-up players out again, with all that was hit and decided with them.
#[utoipa::path(delete, path = "/school/made-up-players", responses((status = NO_CONTENT), Problem))]
async fn drop_made_up_players(coach: Coach) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store().for_long(), coach.school());
    if !made_up::are_in(&store, school).await? {
        return Ok(StatusCode::NO_CONTENT);
    }
    coach.store().let_go();
    whole(tokio::spawn(async move {
        made_up::take_out(&store, school).await
    }))
    .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What became of work that goes on without the browser.
async fn whole(work: JoinHandle<Result<(), StoreError>>) -> Result<(), Problem> {
    match work.await {
        Ok(done) => Ok(done?),
        Err(error) => {
            tracing::error!(%error, "made-up players");
            Err(Problem::ours())
        }
    }
}
