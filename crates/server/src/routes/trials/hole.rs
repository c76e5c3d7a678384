//! Which shot on this hole, by a player's own patterns.

use crate::guard::compute::{compute, large};
use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::routes::trials::comparisons::{SetAsked, SetsRead, sets};
use crate::state::App;
use axum::Json;
use serde::Deserialize;
use std::ops::RangeInclusive;
use tally_core::trials::hole::{
    Choice, Criterion, CrossTrouble, Hole, HoleReport, SideTrouble, TroubleKind, hole,
};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::units::Dimension;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// A hole as it is typed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HoleAsked {
    /// Tee to the hole.
    length: Given,
    fairway_width: Given,
    left: Option<SideAsked>,
    right: Option<SideAsked>,
    across: Option<AcrossAsked>,
}

/// Trouble along one side.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SideAsked {
    kind: TroubleKind,
    /// Where it begins, from the middle of the fairway.
    from: Given,
}

/// Trouble across the line of play.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct AcrossAsked {
    kind: TroubleKind,
    /// Where it begins, from the tee.
    from: Given,
    /// Where it ends.
    to: Given,
}

/// A hole and the choices to weigh on it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct HoleQuestion {
    hole: HoleAsked,
    /// What the coach looks for; expected strokes when absent.
    criterion: Option<Criterion>,
    /// Efforts or clubs with their balls.
    choices: Vec<SetAsked>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(weigh_on_hole))
}

/// Weighs a player's efforts or clubs on a hole.
#[utoipa::path(post, path = "/players/{player}/hole", params(("player" = Uuid, Path)), request_body = HoleQuestion, responses((status = OK, body = HoleReport), Problem))]
async fn weigh_on_hole(
    coach: Coach,
    Path(player): Path<Uuid>,
    Body(asked): Body<HoleQuestion>,
) -> Result<Json<HoleReport>, Problem> {
    let school = coach.school();
    let on = asked.hole.check()?;
    let rules = coach.store().house_rules(school).await?;
    coach.store().player(school, player).await?;
    let _turn = large(school).await?;
    let SetsRead { sets, looks, .. } =
        sets(coach.store(), school, player, &asked.choices, &rules).await?;
    let hit = sets.iter().map(|set| set.balls.len()).sum();
    let rules = rules.looked_at(looks, hit);
    let choices: Vec<Choice> = sets
        .into_iter()
        .map(|set| Choice {
            label: set.label,
            balls: set.balls,
        })
        .collect();
    let criterion = asked.criterion.unwrap_or_default();
    let report = compute(coach.school(), move || {
        hole(&on, &choices, criterion, &rules)
    })
    .await??;
    Ok(Json(report))
}

impl HoleAsked {
    /// The hole in internal units.
    ///
    /// # Errors
    /// Every field that cannot be used, in the unit it was given in.
    pub fn check(&self) -> Result<Hole, Vec<Invalid>> {
        let mut errors = Vec::new();
        let mut keep = |field: &str, given: &Given, range: RangeInclusive<f64>| {
            given
                .within(Dimension::Distance, field, range)
                .unwrap_or_else(|why| {
                    errors.push(why);
                    0.0
                })
        };
        let mut hole = Hole {
            length: keep("hole.length", &self.length, Hole::LENGTH),
            fairway_width: keep(
                "hole.fairway_width",
                &self.fairway_width,
                Hole::FAIRWAY_WIDTH,
            ),
            left: None,
            right: None,
            across: None,
        };
        let mut side = |field: &str, side: &Option<SideAsked>| {
            side.as_ref().map(|side| SideTrouble {
                kind: side.kind,
                from: keep(field, &side.from, hole.side_from()),
            })
        };
        let sides = [
            side("hole.left.from", &self.left),
            side("hole.right.from", &self.right),
        ];
        hole.across = self.across.as_ref().map(|across| {
            let from = keep("hole.across.from", &across.from, hole.across_from());
            CrossTrouble {
                kind: across.kind,
                from,
                to: keep("hole.across.to", &across.to, Hole::across_to(from)),
            }
        });
        [hole.left, hole.right] = sides;
        if errors.is_empty() {
            Ok(hole)
        } else {
            Err(errors)
        }
    }
}
