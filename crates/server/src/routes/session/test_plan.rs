//! How many balls a test needs.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::routes::session::acts::build_of;
use crate::routes::session::prepare::DAY;
use crate::routes::shots::balls::sessions_balls;
use crate::state::App;
use axum::Json;
use chrono::Utc;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use tally_core::physics::club::Club;
use tally_core::session::bounds::within_bounds;
use tally_core::session::plan::{PlannedBlock, with_balls};
use tally_core::session::test_plan::{BallsNeeded, balls_needed, spread_within};
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// The difference that a coach wants to see.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct TestAsked {
    /// Key of the club.
    club: String,
    /// The value that decides.
    quantity: Quantity,
    /// The difference that matters; the house's margin when absent.
    difference: Option<Given>,
    /// The plan as it stands, to be given as many balls as it takes.
    #[serde(default)]
    blocks: Vec<PlannedBlock>,
}

/// The balls it takes.
#[derive(Serialize, ToSchema)]
struct TestPlanned {
    quantity: Quantity,
    /// Balls of each way; absent when the player's spread is not known yet.
    needed: Option<BallsNeeded>,
    /// Kept balls that the spread was taken from.
    from_balls: usize,
    /// The plan with these balls, shared by the blocks of each label.
    planned: Vec<PlannedBlock>,
    /// Most balls that are advised.
    most: usize,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(plan_test))
}

/// Balls of each way that show a difference, given the player's spread so far.
#[utoipa::path(post, path = "/players/{player}/test-plan", params(("player" = Uuid, Path)), request_body = TestAsked, responses((status = OK, body = TestPlanned), Problem))]
async fn plan_test(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(asked): Body<TestAsked>,
) -> Result<Json<TestPlanned>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let club = Club::from_key("club", &asked.club)?;
    let build = build_of(&coach.store().player(school, player).await?);
    let dimension = asked.quantity.dimension();
    let difference = match &asked.difference {
        Some(given) => given.of(dimension, "difference")?,
        None => rules.margin(asked.quantity),
    };
    let latest = coach
        .store()
        .sessions_with_club(school, player, club, None, 1)
        .await?;
    let latest = sessions_balls(coach.store(), school, latest, &rules).await?;
    let mut values: BTreeMap<Uuid, Vec<f64>> = BTreeMap::new();
    for stored in latest.into_iter().flat_map(|(_, balls)| balls) {
        let of_block = values.entry(stored.block).or_default();
        if stored.ball.kept() && stored.ball.club == club {
            of_block.extend(stored.ball.counted(asked.quantity, &rules));
        }
    }
    let values: Vec<Vec<f64>> = values.into_values().collect();
    let since = Utc::now() - DAY;
    let today = coach.store().swings_since(school, player, since).await?;
    let known = spread_within(&values, dimension.grain());
    let needed = known
        .map(|known| balls_needed(difference, &known, &rules))
        .transpose()?;
    Ok(Json(TestPlanned {
        quantity: asked.quantity,
        needed,
        planned: needed
            .and_then(|needed| needed.each)
            .map(|each| within_bounds(with_balls(&asked.blocks, each), build, today, &rules).0)
            .unwrap_or_default(),
        from_balls: known.map_or(0, |known| known.balls),
        most: rules.most_more_balls(),
    }))
}
