//! Numeric goals of a player.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::state::App;
use axum::http::StatusCode;
use chrono::NaiveDate;
use serde::Deserialize;
use tally_core::physics::club::Club;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment::day;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::record::goals::Goal;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A value to be reached by the average.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct GoalSet {
    /// The value.
    value: Given,
    /// The day by which.
    by: Option<NaiveDate>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(set_goal, drop_goal))
}

/// Sets a goal in place of any before with that club and value.
#[utoipa::path(put, path = "/players/{player}/goals/{club}/{quantity}", params(("player" = Uuid, Path), ("club" = String, Path), ("quantity" = String, Path)), request_body = GoalSet, responses((status = NO_CONTENT), Problem))]
async fn set_goal(
    coach: Coach,
    Path((player, club, quantity)): Path<(Uuid, String, String)>,
    Body(set): Body<GoalSet>,
) -> Result<StatusCode, Problem> {
    let (club, quantity) = named(&club, &quantity)?;
    let dimension = quantity.dimension();
    let goal = Goal {
        club,
        quantity,
        value: set.value.within(dimension, "value", quantity.range())?,
        by_day: set.by.map(|by| day("by", by)).transpose()?,
    };
    let store = coach.store();
    store.set_goal(coach.school(), player, goal).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Drops a goal.
#[utoipa::path(delete, path = "/players/{player}/goals/{club}/{quantity}", params(("player" = Uuid, Path), ("club" = String, Path), ("quantity" = String, Path)), responses((status = NO_CONTENT), Problem))]
async fn drop_goal(
    coach: Coach,
    Path((player, club, quantity)): Path<(Uuid, String, String)>,
) -> Result<StatusCode, Problem> {
    let (club, quantity) = named(&club, &quantity)?;
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    store.drop_goal(school, player, club, quantity).await?;
    Ok(StatusCode::NO_CONTENT)
}

fn named(club: &str, quantity: &str) -> Result<(Club, Quantity), Problem> {
    Ok((
        Club::from_key("club", club)?,
        Quantity::from_key("quantity", quantity)?,
    ))
}
