//! How far a shot should have carried.
//!
//! Three schools. **By club speed**: what the house expects of a club speed
//! ([`HouseRules::carry_of`]), a share of the furthest or its own factor times the speed,
//! scaled from reference air to the air of the day by our flight model. **By launch**: the flight model from the ball's own speed, launch
//! and spin, in the air of the day. **By the player's own line**: [`crate::statistics::own_line`].

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::{FLIGHT_ERROR, SWING_ERROR, fly};
use crate::shots::reading::{Provenance, Reading};
use crate::shots::told::{NoExpectation, Told, launch_of};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::quantity::Quantity;
use rayon::prelude::*;
use serde::Serialize;
use std::collections::{HashMap, HashSet};
use utoipa::ToSchema;

/// The carry a shot should have had, and what that rests on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Expected {
    /// Expected carry, m.
    pub carry: f64,
    /// Standard error of it by the model, m; none where the coach's own factor gave it.
    pub model_error: f64,
    /// Whether a value that the device only calculated went into it.
    pub rests_on_calculated: bool,
}

/// How much further the same sound strike carries in these conditions than in
/// reference air, with a ball as warm as they are.
///
/// # Errors
/// [`Invalid`] outside the flight model's domain.
pub fn air_ratio(club: Club, club_speed: f64, conditions: &Conditions) -> Result<f64, Invalid> {
    let launch = club.reference_launch(club_speed);
    let warmed = launch.at(conditions.liveliness() * launch.ball_speed);
    if warmed == launch && conditions.air()? == Conditions::REFERENCE.air()? {
        // It is the same flight.
        launch.check()?;
        return Ok(1.0);
    }
    Ok(fly(&warmed, conditions)?.carry / fly(&launch, &Conditions::REFERENCE)?.carry)
}

/// Expected carry from club speed by the house, for each of these readings.
///
/// # Errors
/// For each: [`NoExpectation`] without a club speed, or with one outside the model's domain.
pub fn by_club_speed<'a>(
    readings: impl Iterator<Item = &'a Reading> + Clone,
    club: Club,
    conditions: &Conditions,
    rules: &HouseRules,
) -> Vec<Result<Expected, NoExpectation>> {
    // A device tells speeds in steps, so many balls share one: each is flown once.
    let speeds = readings.clone().filter_map(|r| r.get(Quantity::ClubSpeed));
    let speeds: HashSet<u64> = speeds.map(f64::to_bits).collect();
    let ratios: HashMap<u64, Result<f64, Invalid>> = speeds
        .into_par_iter()
        .map(|bits| (bits, air_ratio(club, f64::from_bits(bits), conditions)))
        .collect();
    let ours = rules.factors[club as usize].is_none();
    let expected = |reading: &Reading| {
        let speed = reading
            .value(Quantity::ClubSpeed)
            .ok_or(NoExpectation::Missing("club speed"))?;
        let carry = rules.carry_of(club, speed.si) * ratios[&speed.si.to_bits()].clone()?;
        Ok(Expected {
            carry,
            model_error: if ours { SWING_ERROR * carry } else { 0.0 },
            rests_on_calculated: speed.from == Provenance::Calculated,
        })
    };
    readings.map(expected).collect()
}

/// Expected carry from ball speed, launch and spin by the flight model.
///
/// ```
/// use tally_core::physics::conditions::Conditions;
/// use tally_core::shots::{expected_carry::by_launch, reading::{Provenance, Reading}};
/// use tally_core::vocabulary::quantity::Quantity;
/// let mut reading = Reading::default();
/// reading.set(Quantity::BallSpeed, 53.2, Provenance::Measured);
/// reading.set(Quantity::LaunchAngle, 13.2, Provenance::Measured);
/// let told = by_launch(&reading, &Conditions::REFERENCE).unwrap_err();
/// assert_eq!(told.to_string(), "no spin rate in the reading");
/// reading.set(Quantity::SpinRate, 4080.0, Provenance::Calculated);
/// assert!(by_launch(&reading, &Conditions::REFERENCE)?.rests_on_calculated);
/// # Ok::<(), tally_core::shots::told::NoExpectation>(())
/// ```
///
/// # Errors
/// [`NoExpectation`] without one of the three, or outside the model's domain.
pub fn by_launch(reading: &Reading, conditions: &Conditions) -> Result<Expected, NoExpectation> {
    let (launch, rests_on_calculated) = launch_of(reading)?;
    let carry = fly(&launch, conditions)?.carry;
    Ok(Expected {
        carry,
        model_error: FLIGHT_ERROR * carry,
        rests_on_calculated,
    })
}

/// The same from what was worked out already.
pub(crate) fn by_flight(told: &Told) -> Option<Expected> {
    told.flight.map(|flight| Expected {
        carry: flight.carry,
        model_error: FLIGHT_ERROR * flight.carry,
        rests_on_calculated: told.calculated,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::{MPH, YARD};

    fn reading(values: &[(Quantity, f64)]) -> Reading {
        let mut reading = Reading::default();
        for (quantity, si) in values {
            reading.set(*quantity, *si, Provenance::Measured);
        }
        reading
    }

    fn one(reading: &Reading, club: Club, conditions: &Conditions, rules: &HouseRules) -> Expected {
        let all = by_club_speed([reading].into_iter(), club, conditions, rules);
        all.into_iter().next().unwrap().unwrap()
    }

    #[test]
    fn the_house_factor_times_speed_is_the_carry_in_reference_air() {
        let ninety = reading(&[(Quantity::ClubSpeed, 90.0 * MPH)]);
        let rules = HouseRules::default().with_factor(Club::Iron6, 2.0 * YARD / MPH);
        let expected = one(&ninety, Club::Iron6, &Conditions::REFERENCE, &rules);
        assert!((expected.carry / YARD - 180.0).abs() < 1e-9);
    }

    #[test]
    fn the_same_speed_is_expected_to_go_further_high_up() {
        let fast = reading(&[(Quantity::ClubSpeed, 105.0 * MPH)]);
        let high = Conditions {
            altitude_m: 1140.0,
            ..Conditions::REFERENCE
        };
        let rules = HouseRules::default();
        let low = one(&fast, Club::Driver, &Conditions::REFERENCE, &rules);
        assert!(one(&fast, Club::Driver, &high, &rules).carry > low.carry);
    }

    #[test]
    fn balls_of_one_speed_are_expected_the_same_and_one_without_is_told_alone() {
        let speed = Quantity::ClubSpeed;
        let readings = [
            reading(&[(speed, 45.0)]),
            reading(&[]),
            reading(&[(speed, 38.0)]),
            reading(&[(speed, 45.0)]),
        ];
        let high = Conditions {
            altitude_m: 800.0,
            ..Conditions::REFERENCE
        };
        let rules = HouseRules::default();
        let all = by_club_speed(readings.iter(), Club::Driver, &high, &rules);
        let alone = one(&readings[2], Club::Driver, &high, &rules);
        assert_eq!(all[2], Ok(alone));
        assert_eq!(all[0], all[3]);
        assert!(all[0].as_ref().unwrap().carry > alone.carry);
        assert_eq!(all[1], Err(NoExpectation::Missing("club speed")));
    }

    #[test]
    fn a_reading_without_spin_says_so() {
        let bare = reading(&[(Quantity::BallSpeed, 60.0), (Quantity::LaunchAngle, 12.0)]);
        let refused = by_launch(&bare, &Conditions::REFERENCE).unwrap_err();
        assert_eq!(refused.to_string(), "no spin rate in the reading");
    }

    #[test]
    fn calculated_spin_is_carried_along_as_a_warning() {
        let mut radar = reading(&[(Quantity::BallSpeed, 60.0), (Quantity::LaunchAngle, 12.0)]);
        radar.set(Quantity::SpinRate, 2600.0, Provenance::Calculated);
        assert!(
            by_launch(&radar, &Conditions::REFERENCE)
                .unwrap()
                .rests_on_calculated
        );
    }
}
