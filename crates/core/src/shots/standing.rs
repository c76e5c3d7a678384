//! How a shot stands in the figures: in them, left out by the coach, or waiting.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::shots::doubt::{Doubt, doubts};
use crate::shots::mark::Decision;
use crate::shots::reading::Reading;
use crate::verdicts::house_rules::HouseRules;
use serde::Serialize;
use utoipa::ToSchema;

/// How a shot stands in the figures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// In the figures.
    Kept,
    /// Left out by the coach.
    SetAside,
    /// Left out until the coach decides.
    Doubtful,
}

/// One shot as the session holds it.
#[derive(Debug, Clone, PartialEq)]
pub struct Shot {
    /// What the device reported.
    pub reading: Reading,
    /// The coach's latest decision, if any.
    pub decision: Option<Decision>,
}

/// How a shot hit in `conditions` stands in the figures.
pub fn standing(shot: &Shot, club: Club, conditions: &Conditions, rules: &HouseRules) -> Standing {
    standing_with(
        shot.decision,
        &doubts(&shot.reading, club, conditions, rules),
    )
}

pub(crate) fn standing_with(decision: Option<Decision>, doubts: &[Doubt]) -> Standing {
    match decision {
        Some(Decision::Keep) => Standing::Kept,
        Some(Decision::SetAside) => Standing::SetAside,
        None if doubts.is_empty() => Standing::Kept,
        None => Standing::Doubtful,
    }
}
