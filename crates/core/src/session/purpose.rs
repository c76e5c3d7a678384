//! Why a session is held, and which numbers it shows.

use crate::physics::club::Club;
use crate::session::label::{Felt, felt, without_turn};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::Dimension;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The purpose of a session.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Hash,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Purpose {
    /// Where the player stands.
    Benchmark,
    /// How far this club should go.
    ExpectedCarry,
    /// Higher or lower, with more or less spin.
    LaunchAndSpin,
    /// Carry against deliberate steps of club speed.
    SpeedLadder,
    /// Speed and spread against the effort felt.
    EffortLadder,
    /// One way against another.
    Comparison,
    /// Swinging faster than ever, by intent.
    SpeedDay,
    /// Ground force before and after drills.
    Force,
    /// Every club of the bag.
    BagGapping,
    /// Which length of club suits.
    ClubLength,
    /// A movement is worked on.
    Technique,
    /// Sets of a protocol, mostly without a ball.
    Training,
}

impl Keyed for Purpose {
    const KIND: &'static str = "a purpose";
}

/// What is told of shots whose purpose is not.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Hint<'a> {
    /// Labels of their blocks, each once.
    pub labels: Vec<&'a str>,
    /// Their clubs, each once.
    pub clubs: Vec<Club>,
    /// The values there are.
    pub quantities: Vec<Quantity>,
    /// Whether implements were swung without a ball.
    pub swung: bool,
}

impl Hint<'_> {
    /// Whether the blocks of one club name more than one way of hitting.
    fn several_ways(&self) -> bool {
        let mut ways: Vec<&str> = self.labels.iter().map(|l| without_turn(l)).collect();
        ways.sort_unstable();
        ways.dedup();
        ways.len() > 1 && self.clubs.len() <= 1
    }
}

/// A way to look at a session in Decide.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Analysis {
    /// Sets held against each other.
    Comparison,
    /// What each felt effort gives and costs.
    Effort,
    /// What each step of speed is worth.
    SpeedLadder,
    /// What warming up did.
    WarmUp,
}

struct Row {
    purpose: Purpose,
    label: &'static str,
    about: &'static str,
    shown: &'static [Quantity],
}

/// In the order they are offered.
static ROWS: [Row; 12] = {
    use Quantity as Q;
    const fn row(
        purpose: Purpose,
        label: &'static str,
        about: &'static str,
        shown: &'static [Quantity],
    ) -> Row {
        Row {
            purpose,
            label,
            about,
            shown,
        }
    }
    [
        row(
            Purpose::Benchmark,
            "Benchmark",
            "Where the player stands today, to come back to",
            &[Q::ClubSpeed, Q::BallSpeed, Q::Carry],
        ),
        row(
            Purpose::ExpectedCarry,
            "Expected carry",
            "Whether this club goes as far as its speed should send it",
            &[Q::Carry, Q::ClubSpeed, Q::SmashFactor],
        ),
        row(
            Purpose::LaunchAndSpin,
            "Launch and spin",
            "Move launch and spin into the window",
            &[Q::LaunchAngle, Q::SpinRate, Q::Carry],
        ),
        row(
            Purpose::SpeedLadder,
            "Speed ladder",
            "What each step of speed is worth in carry",
            &[Q::ClubSpeed, Q::Carry, Q::Side],
        ),
        row(
            Purpose::EffortLadder,
            "Effort ladder",
            "What each felt effort gives, and costs in spread",
            &[Q::ClubSpeed, Q::Carry, Q::Side],
        ),
        row(
            Purpose::Comparison,
            "Comparison",
            "One way against another, in balanced order",
            &[Q::Carry, Q::Side, Q::ClubSpeed],
        ),
        row(
            Purpose::SpeedDay,
            "Speed day",
            "Faster than before, ball flight ignored",
            &[Q::ClubSpeed, Q::BallSpeed],
        ),
        row(
            Purpose::Force,
            "Force before and after",
            "What drills change in ground force",
            &[
                Q::ClubSpeed,
                Q::VerticalForceLead,
                Q::VerticalPeak,
                Q::Torque,
            ],
        ),
        row(
            Purpose::BagGapping,
            "Bag gapping",
            "Every club's carry, and the gaps between",
            &[Q::Carry, Q::ClubSpeed, Q::Side],
        ),
        row(
            Purpose::ClubLength,
            "Club length",
            "Which length the player swings best",
            &[Q::ClubSpeed, Q::HandSpeed],
        ),
        row(
            Purpose::Technique,
            "Technique",
            "A movement, by what it delivers; speed is not shown",
            &[Q::AngleOfAttack, Q::DynamicLoft, Q::ClubPath, Q::FaceAngle],
        ),
        row(
            Purpose::Training,
            "Training",
            "Sets of a protocol; a swing's speed is no club's",
            &[Q::ClubSpeed],
        ),
    ]
};

impl Purpose {
    fn row(self) -> &'static Row {
        let row = &ROWS[self as usize];
        debug_assert_eq!(row.purpose, self, "rows stand in the order of the enum");
        row
    }

    /// The name on screen.
    pub fn label(self) -> &'static str {
        self.row().label
    }

    /// What it answers, in a line.
    pub fn about(self) -> &'static str {
        self.row().about
    }

    /// The one to four numbers that it shows while shots are hit, the greatest first;
    /// others would distract.
    pub fn shown(self) -> &'static [Quantity] {
        self.row().shown
    }

    /// The purpose that shots from elsewhere seem to have been hit for: by what was
    /// measured, how their blocks are called and how many clubs there are.
    ///
    /// ```
    /// use tally_core::session::purpose::{Hint, Purpose};
    /// use tally_core::vocabulary::quantity::Quantity;
    /// let mut told = Hint {
    ///     labels: vec!["Stock", "50 %", "80 %"],
    ///     quantities: vec![Quantity::ClubSpeed, Quantity::Carry],
    ///     ..Hint::default()
    /// };
    /// assert_eq!(Purpose::likely(&told), Purpose::EffortLadder);
    /// told.labels.clear();
    /// assert_eq!(Purpose::likely(&told), Purpose::Benchmark);
    /// ```
    pub fn likely(told: &Hint<'_>) -> Purpose {
        use Quantity as Q;
        let has = |wanted: &[Q]| wanted.iter().any(|q| told.quantities.contains(q));
        let named = |is: &dyn Fn(&str) -> bool| told.labels.iter().filter(|l| is(l)).count();
        let share = |label: &str| matches!(felt(label), Some(Felt::Share(_)));
        let step = |label: &str| label.to_lowercase().starts_with("step ");
        let words = |wanted: &[&str]| {
            let all = |label: &&&str| wanted.iter().all(|w| label.to_lowercase().contains(w));
            told.labels.iter().filter(all).count() > 0
        };
        let flown = has(&[Q::Carry, Q::Total, Q::LaunchAngle]);
        let forced = |q: &&Quantity| {
            matches!(
                q.dimension(),
                Dimension::BodyWeight
                    | Dimension::Force
                    | Dimension::Torque
                    | Dimension::TorquePerMass
                    | Dimension::Moment
            )
        };
        if told.quantities.iter().any(|q| forced(&q)) {
            Purpose::Force
        } else if told.swung {
            Purpose::Training
        } else if has(&[Q::HandSpeed]) {
            Purpose::ClubLength
        } else if named(&share) >= 2 {
            Purpose::EffortLadder
        } else if named(&step) >= 2 {
            Purpose::SpeedLadder
        } else if told.clubs.len() >= 3 {
            Purpose::BagGapping
        } else if words(&["launch", "spin"]) {
            Purpose::LaunchAndSpin
        } else if !flown {
            Purpose::SpeedDay
        } else if told.several_ways() {
            Purpose::Comparison
        } else {
            Purpose::Benchmark
        }
    }

    /// What its Decide station opens with.
    pub fn decides_by(self) -> Analysis {
        match self {
            Purpose::EffortLadder => Analysis::Effort,
            Purpose::SpeedLadder => Analysis::SpeedLadder,
            Purpose::Benchmark | Purpose::ExpectedCarry | Purpose::BagGapping => Analysis::WarmUp,
            Purpose::LaunchAndSpin
            | Purpose::Comparison
            | Purpose::SpeedDay
            | Purpose::Force
            | Purpose::ClubLength
            | Purpose::Technique
            | Purpose::Training => Analysis::Comparison,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_purpose_is_found_by_its_key_which_is_its_json_name() {
        for (i, row) in ROWS.iter().enumerate() {
            assert_eq!(row.purpose as usize, i, "{}", row.purpose.key());
            assert_eq!(
                Purpose::from_key("purpose", row.purpose.key()),
                Ok(row.purpose)
            );
            let json = serde_json::to_string(&row.purpose).unwrap();
            assert_eq!(json, format!("\"{}\"", row.purpose.key()));
        }
    }

    #[test]
    fn each_shows_one_to_four_numbers() {
        assert!(Purpose::all().all(|p| (1..=4).contains(&p.shown().len())));
    }

    #[test]
    fn an_unknown_purpose_lists_the_known_ones() {
        let refused = Purpose::from_key("purpose", "fun").unwrap_err();
        assert!(
            refused
                .remedy
                .starts_with("use one of benchmark, expected_carry")
        );
    }
}
