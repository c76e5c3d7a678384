//! The launch and spin of a session's shots on a map of distance.

use super::compute;
use super::read::{as_asked, club_of};
use crate::app::App;
use crate::coach::Coach;
use crate::extract::{Path, Query};
use crate::problem::Problem;
use axum::Json;
use axum::http::StatusCode;
use serde::Deserialize;
use tally_core::club::Club;
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
    /// Key of the club, when several were hit; the session's own when absent.
    club: Option<String>,
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
) -> Result<Json<LaunchSpin>, Problem> {
    let (session, blocks) = coach.store().session(coach.school(), id).await?;
    let rules = coach.store().house_rules(coach.school()).await?;
    let mut shots = coach.store().session_shots(coach.school(), id).await?;
    let windows = coach
        .store()
        .target_windows(coach.school(), session.player_id)
        .await?;
    let own = Club::from_key("club", &session.club)?;
    let club = match drawn.club {
        Some(key) => Club::from_key("club", &key)?,
        None => own,
    };
    shots.retain(|shot| club_of(shot, &blocks, own) == club);
    let saved = windows.into_iter().find(|(key, _)| key == club.key());
    let told = compute(move || {
        let conditions = session.conditions();
        let asked = as_asked(&shots);
        let standing: Vec<_> = asked
            .iter()
            .map(|shot| (shot, standing(shot, club, &conditions, &rules)))
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
