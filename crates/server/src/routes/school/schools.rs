//! The school, and where things stand in it.

use crate::http::coach::Coach;
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use serde::Serialize;
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
    OpenApiRouter::new().routes(routes!(school))
}

/// The school.
#[utoipa::path(get, path = "/school", responses((status = OK, body = School), Problem))]
async fn school(coach: Coach, State(app): State<App>) -> Result<Json<School>, Problem> {
    let in_progress = coach.store().sessions_in_progress(coach.school()).await?;
    Ok(Json(School {
        name: coach.school_name().to_owned(),
        coach: coach.name().to_owned(),
        intake: app.intake.to_string(),
        in_progress: in_progress
            .into_iter()
            .map(|s| InProgress {
                session: s.id,
                player: s.player_id,
            })
            .collect(),
    }))
}
