//! The launch and spin of a session's shots on a map of distance.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::reach::launch_spin::{self, LaunchSpin, NoMap};
use tally_core::shots::ball::opening_club;
use tally_core::shots::standing::standing;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::Units;
use tally_store::shots::session_shots::Shot;
use utoipa::{IntoParams, ToSchema};
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

/// The map of a session, and which shots lie on it.
#[derive(Serialize, ToSchema)]
struct SessionMap {
    #[serde(flatten)]
    drawn: LaunchSpin,
    /// The club's shots in hitting order, which the places on the map count in: whoever read
    /// the session a moment earlier or later finds them by these.
    of: Vec<Uuid>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(session_launch_spin))
}

/// The map of a session.
#[utoipa::path(get, path = "/sessions/{session}/launch-spin", params(("session" = Uuid, Path), Drawn), responses((status = OK, body = SessionMap), Problem))]
async fn session_launch_spin(
    coach: Coach,
    Path(id): Path<Uuid>,
    Query(drawn): Query<Drawn>,
) -> Result<Json<SessionMap>, Problem> {
    let mut hit = coach.store().hit_session(coach.school(), id).await?;
    hit.leave_out_swings();
    let rules = coach.store().house_rules(coach.school()).await?;
    let windows = coach
        .store()
        .target_windows(coach.school(), hit.session.player_id)
        .await?;
    let clubs = hit.clubs();
    let club = match drawn.club {
        Some(key) => Club::from_key("club", &key)?,
        None => opening_club(hit.session.club, &clubs),
    };
    let mut clubs = clubs.into_iter();
    hit.shots.retain(|_| clubs.next() == Some(club));
    let of: Vec<Uuid> = hit.shots.iter().map(|shot| shot.id).collect();
    let saved = windows.into_iter().find(|(of, _)| *of == club);
    let told = compute(coach.school(), move || {
        let conditions = hit.session.conditions();
        let asked: Vec<_> = hit.shots.iter().map(Shot::in_play).collect();
        let standing: Vec<_> = asked
            .iter()
            .map(|shot| (shot, standing(shot, club, &conditions, &rules)))
            .collect();
        let step = drawn.units.contour_step();
        let saved = saved.map(|(_, window)| window);
        launch_spin::launch_spin(&standing, club, &conditions, &rules, saved, step)
    })
    .await?;
    match told {
        Ok(drawn) => Ok(Json(SessionMap { drawn, of })),
        Err(NoMap::Invalid(invalid)) => Err(invalid.into()),
        Err(why @ NoMap::NoShots) => Err(Problem::new(
            StatusCode::CONFLICT,
            "Nothing to draw",
            why.to_string(),
        )),
    }
}
