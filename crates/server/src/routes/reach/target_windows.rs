//! The launch and spin that a player aims for with a club.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::reach::launch_spin::TargetWindow;
use tally_core::vocabulary::keyed::Keyed;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A target window with its club.
#[derive(Serialize, ToSchema)]
struct SavedWindow {
    club: Club,
    window: TargetWindow,
}

/// The launch about which a window is saved; it is as wide as the house calls sound.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewWindow {
    /// Launch angle, deg.
    launch_angle_deg: f64,
    /// Spin rate, rpm.
    spin_rate_rpm: f64,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(target_windows))
        .routes(routes!(save_target_window, forget_target_window))
}

/// A player's target windows.
#[utoipa::path(get, path = "/players/{player}/target-windows", params(("player" = Uuid, Path)), responses((status = OK, body = Vec<SavedWindow>), Problem))]
async fn target_windows(
    coach: Coach,
    Path(player): Path<Uuid>,
) -> Result<Json<Vec<SavedWindow>>, Problem> {
    coach.store().player(coach.school(), player).await?;
    let windows = coach.store().target_windows(coach.school(), player).await?;
    let saved = windows
        .into_iter()
        .map(|(club, window)| SavedWindow { club, window });
    Ok(Json(saved.collect()))
}

/// Saves a target window in place of any before.
#[utoipa::path(put, path = "/players/{player}/target-windows/{club}", params(("player" = Uuid, Path), ("club" = String, Path)), request_body = NewWindow, responses((status = OK, body = TargetWindow), Problem))]
async fn save_target_window(
    coach: Coach,
    Path((player, club)): Path<(Uuid, String)>,
    Body(new): Body<NewWindow>,
) -> Result<Json<TargetWindow>, Problem> {
    let club = Club::from_key("club", &club)?;
    let rules = coach.store().house_rules(coach.school()).await?;
    let window = TargetWindow::about(new.launch_angle_deg, new.spin_rate_rpm, &rules)?;
    coach
        .store()
        .save_target_window(coach.school(), player, club, window)
        .await?;
    Ok(Json(window))
}

/// Forgets a target window.
#[utoipa::path(delete, path = "/players/{player}/target-windows/{club}", params(("player" = Uuid, Path), ("club" = String, Path)), responses((status = NO_CONTENT), Problem))]
async fn forget_target_window(
    coach: Coach,
    Path((player, club)): Path<(Uuid, String)>,
) -> Result<StatusCode, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let club = Club::from_key("club", &club)?;
    store.forget_target_window(school, player, club).await?;
    Ok(StatusCode::NO_CONTENT)
}
