//! House rules: every threshold and factor, ours beside the coach's own.

use crate::http::coach::Coach;
use crate::http::extract::{Body, Path};
use crate::http::given::Given;
use crate::http::problem::Problem;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::record::reference_levels::{self, ReferenceLevel};
use tally_core::session::warm_up::{self, Movement};
use tally_core::verdicts::house_rules::{HouseRules, RULES, Rule, RuleKind, accept};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::playing_level::PlayingLevel;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Dimension;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// All house rules.
#[derive(Serialize, ToSchema)]
struct HouseRulesView {
    rules: Vec<RuleView>,
    /// Every change so far, latest first.
    changes: Vec<ChangeView>,
    /// What to do before hitting.
    warm_up: Vec<Movement>,
    /// Whether that list is ours.
    warm_up_is_ours: bool,
    /// What players of an age and a level usually reach.
    reference_levels: Vec<ReferenceLevel>,
    /// Whether that list is ours.
    reference_levels_are_ours: bool,
}

/// One rule.
#[derive(Serialize, ToSchema)]
struct RuleView {
    key: String,
    group: String,
    label: String,
    kind: RuleKind,
    /// Our value, internal units.
    ours: f64,
    /// The value that counts.
    value: f64,
    /// Whether that is the coach's own.
    changed: bool,
    /// Why ours is what it is.
    source: String,
    /// What the school's own players show, where enough of them do.
    seen: Option<SeenInSchool>,
}

/// What the school's own players show.
#[derive(Clone, Copy, Serialize, ToSchema)]
struct SeenInSchool {
    /// Internal units.
    value: f64,
    /// Players who tell.
    players: i64,
}

/// Players from which on it is told what they show.
const PLAYERS: i64 = 5;

/// A change of a rule.
#[derive(Serialize, ToSchema)]
struct ChangeView {
    key: String,
    /// Its new value, internal units; absent: ours again.
    value: Option<f64>,
    changed_at: DateTime<Utc>,
    coach: String,
}

/// A rule's new value.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct RuleChange {
    /// Made by the sender.
    id: Uuid,
    /// In a unit that the rule's kind takes; absent takes ours again.
    given: Option<Given>,
}

/// The school's own warm-up list.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct WarmUpList {
    /// Made by the sender.
    id: Uuid,
    /// Absent takes our list again.
    movements: Option<Vec<Movement>>,
}

/// What players of an age and a level usually reach.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct GivenReference {
    /// Key of a club.
    club: String,
    /// Which value.
    quantity: Quantity,
    from_age: i32,
    to_age: i32,
    level: PlayingLevel,
    value: Given,
    /// Where that comes from.
    source: String,
}

/// The school's own reference levels.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct GivenReferences {
    /// Made by the sender.
    id: Uuid,
    /// Absent takes our list again.
    levels: Option<Vec<GivenReference>>,
}

impl GivenReference {
    fn read(self, place: usize, errors: &mut Vec<Invalid>) -> Option<ReferenceLevel> {
        let field = |name: &str| format!("levels[{place}].{name}");
        let club = Club::from_key(&field("club"), &self.club);
        let value = self.value.of(self.quantity.dimension(), &field("value"));
        let (club, value) = match (club, value) {
            (Ok(club), Ok(value)) => (club, value),
            (club, value) => {
                errors.extend(club.err().into_iter().chain(value.err()));
                return None;
            }
        };
        Some(ReferenceLevel {
            club,
            quantity: self.quantity,
            from_age: self.from_age,
            to_age: self.to_age,
            level: self.level,
            value,
            source: self.source,
        })
    }
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(house_rules))
        .routes(routes!(change_rule))
        .routes(routes!(save_warm_up_list))
        .routes(routes!(save_reference_levels))
}

/// Every rule, ours beside the coach's own, with its history.
#[utoipa::path(get, path = "/house-rules", responses((status = OK, body = HouseRulesView), Problem))]
async fn house_rules(
    State(app): State<App>,
    coach: Coach,
) -> Result<Json<HouseRulesView>, Problem> {
    let school = coach.school();
    let rules = coach.store().house_rules(school).await?;
    let changes = coach.store().rule_changes(school).await?;
    let warm_up = coach.store().warm_up_list(school).await?;
    let reference_levels = coach.store().reference_levels(school).await?;
    // Of the whole school, whoever asks: nobody is named.
    let (middle, players) = app.store.for_school(school).strays(school).await?;
    let middle = middle.filter(|_| players >= PLAYERS);
    let strays = middle.map(|value| SeenInSchool { value, players });
    let plain = RULES.iter().map(|rule: &Rule| {
        let value = rules.get(rule.key).unwrap_or(rule.default);
        RuleView {
            key: rule.key.to_owned(),
            group: rule.group.to_owned(),
            label: rule.label.to_owned(),
            kind: rule.kind,
            ours: rule.default,
            changed: value != rule.default,
            value,
            source: rule.source.to_owned(),
            seen: strays.filter(|_| rule.key == "days_to_balls"),
        }
    });
    let factors = Club::all().map(|club| {
        let ours = HouseRules::default().house_factor(club);
        let value = rules.house_factor(club);
        RuleView {
            key: format!("factor_{}", club.key()),
            group: "House factors".to_owned(),
            label: club.label().to_owned(),
            kind: RuleKind::Of(Dimension::CarryPerSpeed),
            ours,
            changed: value != ours,
            value,
            source: "A solid share of the furthest at a sound player's speed; where you set none, the share of the furthest at each speed is asked for, not a factor times the speed."
                .to_owned(),
            seen: None,
        }
    });
    Ok(Json(HouseRulesView {
        rules: plain.chain(factors).collect(),
        changes: changes
            .into_iter()
            .map(|change| ChangeView {
                key: change.key,
                value: change.value,
                changed_at: change.changed_at,
                coach: change.coach,
            })
            .collect(),
        warm_up_is_ours: warm_up == warm_up::usual(),
        reference_levels_are_ours: reference_levels == reference_levels::ours(),
        reference_levels,
        warm_up,
    }))
}

/// Changes a rule, or takes ours again. What shows it is computed anew.
#[utoipa::path(put, path = "/house-rules/{key}", params(("key" = String, Path)), request_body = RuleChange, responses((status = NO_CONTENT), Problem))]
async fn change_rule(
    coach: Coach,
    Path(key): Path<String>,
    Body(change): Body<RuleChange>,
) -> Result<StatusCode, Problem> {
    let value = match &change.given {
        Some(given) => Some(accept(&key, given.number(&key)?, &given.unit)?),
        None => None,
    };
    let mut rules = coach.store().house_rules(coach.school()).await?;
    rules.set(&key, value)?;
    coach
        .store()
        .change_rule(coach.school(), coach.id(), change.id, &key, value)
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Saves the school's warm-up list, or takes ours again.
#[utoipa::path(put, path = "/warm-up-list", request_body = WarmUpList, responses((status = NO_CONTENT), Problem))]
async fn save_warm_up_list(
    coach: Coach,
    Body(list): Body<WarmUpList>,
) -> Result<StatusCode, Problem> {
    if let Some(movements) = &list.movements {
        warm_up::check(movements)?;
    }
    coach
        .store()
        .save_warm_up_list(
            coach.school(),
            coach.id(),
            list.id,
            list.movements.as_deref(),
        )
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Saves the school's reference levels, or takes ours again.
#[utoipa::path(put, path = "/reference-levels", request_body = GivenReferences, responses((status = NO_CONTENT), Problem))]
async fn save_reference_levels(
    coach: Coach,
    Body(given): Body<GivenReferences>,
) -> Result<StatusCode, Problem> {
    let mut errors = Vec::new();
    let levels = given.levels.map(|levels| {
        let rows = levels.into_iter().enumerate();
        let read = rows.filter_map(|(place, row)| row.read(place, &mut errors));
        read.collect::<Vec<ReferenceLevel>>()
    });
    if !errors.is_empty() {
        return Err(errors.into());
    }
    if let Some(levels) = &levels {
        reference_levels::check(levels)?;
    }
    coach
        .store()
        .save_reference_levels(coach.school(), coach.id(), given.id, levels.as_deref())
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
