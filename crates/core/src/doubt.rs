//! Whether a reading can be believed.
//!
//! A doubted shot is left out of the figures until the coach decides; the reason is
//! always given. Checks so far: a smash factor above what the rules of golf let a
//! club give, and a measured carry that its own launch cannot explain.

use crate::air::Conditions;
use crate::expected_carry;
use crate::house_rules::HouseRules;
use crate::quantity::Quantity;
use crate::reading::{Provenance, Reading};
use crate::sentence::Sentence;
use crate::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// A reason not to believe a reading.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Doubt {
    /// The value that is doubted.
    pub quantity: Quantity,
    /// Why, in a sentence.
    pub reason: Sentence,
}

/// Every reason to doubt `reading`; empty when there is none.
pub fn doubts(reading: &Reading, conditions: &Conditions, rules: &HouseRules) -> Vec<Doubt> {
    [
        impossible_smash(reading, rules),
        unexplained_carry(reading, conditions, rules),
    ]
    .into_iter()
    .flatten()
    .collect()
}

fn impossible_smash(reading: &Reading, rules: &HouseRules) -> Option<Doubt> {
    let ball = reading.get(Quantity::BallSpeed)?;
    let club = reading.get(Quantity::ClubSpeed)?;
    let smash = ball / club;
    (smash > rules.smash_limit).then(|| Doubt {
        quantity: Quantity::SmashFactor,
        reason: Sentence::of("Ball speed over club speed is ")
            .figure(smash, Dimension::Ratio)
            .words("; no legal club gives more than ")
            .figure(rules.smash_limit, Dimension::Ratio)
            .words(". One of the two speeds is misread."),
    })
}

fn unexplained_carry(
    reading: &Reading,
    conditions: &Conditions,
    rules: &HouseRules,
) -> Option<Doubt> {
    let carry = reading.value(Quantity::Carry)?;
    if carry.from == Provenance::Entered {
        return None;
    }
    let expected = expected_carry::by_launch(reading, conditions).ok()?;
    let off = (carry.si - expected.carry).abs();
    (off > rules.carry_mismatch * expected.carry).then(|| Doubt {
        quantity: Quantity::Carry,
        reason: Sentence::of("The device says ")
            .figure(carry.si, Dimension::Distance)
            .words(", but this ball speed, launch and spin fly ")
            .figure(expected.carry, Dimension::Distance)
            .words(". Launch, spin or carry is misread."),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{MPH, Units, YARD};

    fn reading(club_mph: f64, ball_mph: f64, spin: f64, carry_yd: f64) -> Reading {
        let mut reading = Reading::default();
        for (quantity, si) in [
            (Quantity::ClubSpeed, club_mph * MPH),
            (Quantity::BallSpeed, ball_mph * MPH),
            (Quantity::LaunchAngle, 12.0),
            (Quantity::SpinRate, spin),
            (Quantity::Carry, carry_yd * YARD),
        ] {
            reading.set(quantity, si, Provenance::Measured);
        }
        reading
    }

    fn reasons(reading: &Reading) -> Vec<String> {
        doubts(reading, &Conditions::REFERENCE, &HouseRules::default())
            .iter()
            .map(|d| d.reason.show(Units::MphYd))
            .collect()
    }

    #[test]
    fn a_sound_shot_is_believed() {
        assert_eq!(
            reasons(&reading(101.0, 150.0, 2600.0, 234.0)),
            Vec::<String>::new()
        );
    }

    #[test]
    fn a_ball_too_fast_for_its_club_is_doubted_in_words() {
        let said = reasons(&reading(90.0, 150.0, 2600.0, 234.0));
        assert_eq!(said.len(), 1);
        assert!(
            said[0].contains("1.67") && said[0].contains("1.52"),
            "{}",
            said[0]
        );
    }

    #[test]
    fn a_carry_its_launch_cannot_fly_is_doubted() {
        let said = reasons(&reading(101.0, 150.0, 2600.0, 150.0));
        assert!(said[0].starts_with("The device says 150 yd"), "{}", said[0]);
    }

    #[test]
    fn a_carry_paced_out_by_the_coach_is_not_doubted() {
        let mut paced = reading(101.0, 150.0, 2600.0, 150.0);
        paced.set(Quantity::Carry, 150.0 * YARD, Provenance::Entered);
        assert_eq!(reasons(&paced), Vec::<String>::new());
    }
}
