//! The launch and spin of a session's shots on a map of distance.

use super::compute;
use super::read::as_asked;
use crate::app::App;
use crate::coach::Coach;
use crate::extract::{Path, Query};
use crate::problem::Problem;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use serde::Deserialize;
use tally_core::club::Club;
use tally_core::house_rules::HouseRules;
use tally_core::launch_spin::{self, LaunchSpin, NoMap};
use tally_core::read::standing;
use tally_core::units::Units;
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// How a map is drawn.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Drawn {
    /// The coach's units: contour lines stand at round numbers of them.
    units: Units,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(session_launch_spin))
}

/// The map of a session.
#[utoipa::path(get, path = "/sessions/{session}/launch-spin", params(("session" = Uuid, Path), Drawn), responses((status = OK, body = LaunchSpin), Problem))]
async fn session_launch_spin(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(drawn): Query<Drawn>,
    State(app): State<App>,
) -> Result<Json<LaunchSpin>, Problem> {
    let (session, _) = app.store.session(coach.school(), id).await?;
    let shots = app.store.session_shots(coach.school(), id).await?;
    let windows = app
        .store
        .target_windows(coach.school(), session.player_id)
        .await?;
    let saved = windows.into_iter().find(|(club, _)| *club == session.club);
    let club = Club::from_key("club", &session.club)?;
    let told = compute(move || {
        let (conditions, rules) = (session.conditions(), HouseRules::default());
        let asked = as_asked(&shots);
        let standing: Vec<_> = asked
            .iter()
            .map(|shot| (shot, standing(shot, &conditions, &rules)))
            .collect();
        let step = drawn.units.contour_step();
        let saved = saved.map(|(_, window)| window);
        launch_spin::launch_spin(&standing, club, &conditions, &rules, saved, step)
    })
    .await;
    told.map(Json).map_err(|why| match why {
        NoMap::Invalid(invalid) => invalid.into(),
        NoMap::NoShots => Problem::new(StatusCode::CONFLICT, "Nothing to draw", why.to_string()),
    })
}
