//! The bests to beat.

use crate::guard::compute::compute;
use crate::http::coach::Coach;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::routes::record::occasions::recorded;
use crate::state::App;
use axum::Json;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::record::records::records;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Which records are wanted.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct WithClub {
    /// Key of a club.
    club: String,
    /// The session in which they are to be beaten: it and later ones set none.
    before: Option<Uuid>,
}

/// The best of a value.
#[derive(Serialize, ToSchema)]
struct BestSoFar {
    quantity: Quantity,
    /// The best, internal units.
    best: f64,
    /// Kept balls it is the best of.
    n: usize,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(player_records))
}

/// The best of each value that a player reached with a club.
#[utoipa::path(get, path = "/players/{player}/records", params(("player" = Uuid, Path), WithClub), responses((status = OK, body = Vec<BestSoFar>), Problem))]
async fn player_records(
    coach: Coach,
    Path(player): Path<Uuid>,
    Query(wanted): Query<WithClub>,
) -> Result<Json<Vec<BestSoFar>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    store.player(school, player).await?;
    let club = Club::from_key("club", &wanted.club)?;
    let rules = store.house_rules(school).await?;
    let read = recorded(store, school, player, &rules).await?;
    let until = match wanted.before {
        Some(id) => {
            let place = read.sessions.iter().position(|session| session.id == id);
            place.unwrap_or(read.sessions.len())
        }
        None => read.sessions.len(),
    };
    let told = compute(school, move || records(&read.occasions[..until])).await?;
    let told = told.into_iter().filter(|told| told.of.club == Some(club));
    let told = told.map(|told| BestSoFar {
        quantity: told.of.quantity,
        best: told.record.best,
        n: told.record.n,
    });
    Ok(Json(told.collect()))
}
