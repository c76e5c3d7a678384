//! How a shot stands in the figures: in them, left out by the coach, or waiting.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::shots::doubt::{Doubt, doubts_told};
use crate::shots::mark::Decision;
use crate::shots::reading::Reading;
use crate::shots::told::Told;
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

/// A shot judged: what its reading tells, what is doubted of it, and how it stands.
#[derive(Debug, Clone, PartialEq)]
pub struct Judged {
    /// What its reading tells.
    pub told: Told,
    /// Why it is doubted; told even when the coach keeps it.
    pub doubts: Vec<Doubt>,
    /// How it stands in the figures.
    pub standing: Standing,
}

impl Judged {
    /// Judges a reading of a shot hit with `club` in `conditions`.
    ///
    /// ```
    /// use tally_core::physics::{club::Club, conditions::Conditions};
    /// use tally_core::shots::{mark::Decision, reading::Reading, standing::{Judged, Standing}};
    /// use tally_core::verdicts::house_rules::HouseRules;
    /// let (here, rules) = (Conditions::REFERENCE, HouseRules::default());
    /// let judge = |decision| Judged::of(&Reading::default(), decision, Club::Driver, &here, &rules);
    /// assert_eq!(judge(None).standing, Standing::Kept);
    /// assert_eq!(judge(Some(Decision::SetAside)).standing, Standing::SetAside);
    /// ```
    pub fn of(
        reading: &Reading,
        decision: Option<Decision>,
        club: Club,
        conditions: &Conditions,
        rules: &HouseRules,
    ) -> Judged {
        let told = Told::of(reading, club, conditions);
        let doubts = doubts_told(reading, &told, rules);
        let standing = match decision {
            Some(Decision::Keep) => Standing::Kept,
            Some(Decision::SetAside) => Standing::SetAside,
            None if doubts.is_empty() => Standing::Kept,
            None => Standing::Doubtful,
        };
        Judged {
            told,
            doubts,
            standing,
        }
    }
}

/// How a shot hit in `conditions` stands in the figures.
pub fn standing(shot: &Shot, club: Club, conditions: &Conditions, rules: &HouseRules) -> Standing {
    Judged::of(&shot.reading, shot.decision, club, conditions, rules).standing
}
