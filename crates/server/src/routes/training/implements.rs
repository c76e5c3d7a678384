//! What a school's players swing.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path, Query};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::http::StatusCode;
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::training::implement::{Implement, ImplementKind};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::sentence::Sentence;
use tally_core::vocabulary::text::text_within;
use tally_core::vocabulary::units::Dimension;
use tally_store::Store;
use tally_store::training::implements::StoredImplement;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// An implement.
#[derive(Serialize, ToSchema)]
struct ImplementView {
    id: Uuid,
    /// Whose; the school's when absent.
    player: Option<Uuid>,
    #[serde(flatten)]
    implement: Implement,
    /// Its mass as a share of the player's driver, or of a usual one.
    share: Option<f64>,
    /// What to think of before it is swung at full effort.
    concern: Option<Sentence>,
}

/// Whose implements.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Whose {
    /// The player who is to swing them; all of the school's when it is not given.
    player: Option<Uuid>,
}

/// An implement to add or to correct.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewImplement {
    /// Whose; the school's when absent.
    player: Option<Uuid>,
    name: String,
    /// `lighter`, `heavier`, `counterweighted`, `own_driver` or `club`.
    kind: String,
    /// Mass, in `g`, `kg`, `oz` or `lb`.
    mass: Option<Given>,
    length: Option<Given>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(implements))
        .routes(routes!(save_implement, drop_implement))
}

/// Mass of a player's driver, kg, where the bag tells it.
pub async fn driver_kg(store: &Store, school: Uuid, player: Uuid) -> Result<Option<f64>, Problem> {
    let bag = store.bag(school, player).await?;
    let driver = bag.iter().rev().find(|club| club.club == Club::Driver);
    Ok(driver.and_then(|club| club.mass_kg))
}

/// What can be swung, by name.
#[utoipa::path(get, path = "/implements", params(Whose), responses((status = OK, body = Vec<ImplementView>), Problem))]
async fn implements(
    coach: Coach,
    Query(whose): Query<Whose>,
) -> Result<Json<Vec<ImplementView>>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let driver = match whose.player {
        Some(player) => {
            store.player(school, player).await?;
            driver_kg(store, school, player).await?
        }
        None => None,
    };
    let rules = store.house_rules(school).await?;
    let there = store.implements(school, whose.player).await?;
    let each = |stored: StoredImplement| ImplementView {
        share: stored.implement.share(driver),
        concern: stored.implement.concern(driver, &rules),
        id: stored.id,
        player: stored.player_id,
        implement: stored.implement,
    };
    Ok(Json(there.into_iter().map(each).collect()))
}

/// Adds an implement, or corrects kind, mass and length of one that is there.
#[utoipa::path(put, path = "/implements/{implement}", params(("implement" = Uuid, Path)), request_body = NewImplement, responses((status = NO_CONTENT), Problem))]
async fn save_implement(
    coach: Coach,
    Path(id): Path<Uuid>,
    Body(new): Body<NewImplement>,
) -> Result<StatusCode, Problem> {
    let mass = new.mass.map(|mass| mass.kilograms("mass", 0.05..=3.0));
    let length = new
        .length
        .map(|length| length.within(Dimension::ClubLength, "length", 0.3..=1.5));
    let implement = Implement {
        name: text_within("name", &new.name, 40)?,
        kind: ImplementKind::from_key("kind", &new.kind)?,
        mass_kg: mass.transpose()?,
        length_m: length.transpose()?,
    };
    let saved = StoredImplement {
        id,
        player_id: new.player,
        implement,
    };
    let (store, school) = (coach.store(), coach.school());
    store.save_implement(school, &saved).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes an implement out of use; what was swung with it stays.
#[utoipa::path(delete, path = "/implements/{implement}", params(("implement" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn drop_implement(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().drop_implement(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}
