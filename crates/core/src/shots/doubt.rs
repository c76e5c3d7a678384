//! Whether a reading can be believed.
//!
//! A doubted shot is left out of the figures until the coach decides; the reason is
//! always given. Checks: a smash factor above what the rules of golf let a club give;
//! a carry, or a curve, that its own launch cannot explain; a ball speed, a spin or a
//! spin axis that its own delivery and strike cannot give. A check whose values are
//! missing, or rest on a spin that was only calculated, doubts nothing: what was measured
//! is not lost to a value that was guessed.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::Flight;
use crate::physics::launch::Launch;
use crate::shots::reading::{Provenance, Reading};
use crate::shots::told::{Told, is_calculated};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
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

/// Every reason to doubt `reading` of a shot with `club`; empty when there is none.
///
/// ```
/// use tally_core::physics::{club::Club, conditions::Conditions};
/// use tally_core::shots::{doubt::doubts, reading::{Provenance, Reading}};
/// use tally_core::verdicts::house_rules::HouseRules;
/// use tally_core::vocabulary::quantity::Quantity;
/// let mut reading = Reading::default();
/// reading.set(Quantity::ClubSpeed, 40.0, Provenance::Measured);
/// reading.set(Quantity::BallSpeed, 66.0, Provenance::Measured);
/// let found = doubts(&reading, Club::Driver, &Conditions::REFERENCE, &HouseRules::default());
/// assert_eq!(found[0].quantity, Quantity::SmashFactor); // 1.65 is more than any club gives.
/// ```
pub fn doubts(
    reading: &Reading,
    club: Club,
    conditions: &Conditions,
    rules: &HouseRules,
) -> Vec<Doubt> {
    doubts_told(reading, &Told::of(reading, club, conditions), rules)
}

/// The same from what was worked out already.
pub(crate) fn doubts_told(reading: &Reading, told: &Told, rules: &HouseRules) -> Vec<Doubt> {
    let flight = told.believed_flight(rules);
    let struck = told.struck.as_ref();
    [
        impossible_smash(reading, rules),
        flight.and_then(|flight| unexplained_carry(reading, flight, rules)),
        flight.and_then(|flight| unexplained_curve(reading, flight, rules)),
        struck.and_then(|launch| unexplained_ball_speed(reading, launch, rules)),
        struck.and_then(|launch| unexplained_spin(reading, launch, rules)),
        struck.and_then(|launch| unexplained_axis(reading, launch, rules)),
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

fn unexplained_carry(reading: &Reading, flight: &Flight, rules: &HouseRules) -> Option<Doubt> {
    let carry = reading.value(Quantity::Carry)?;
    if carry.from == Provenance::Entered {
        return None;
    }
    let off = (carry.si - flight.carry).abs();
    (off > rules.carry_mismatch * flight.carry).then(|| Doubt {
        quantity: Quantity::Carry,
        reason: Sentence::of("The device says ")
            .figure(carry.si, Dimension::Distance)
            .words(", but this ball speed, launch and spin fly ")
            .figure(flight.carry, Dimension::Distance)
            .words(". Launch, spin or carry is misread."),
    })
}

/// Whether a device only worked out this spin, and the house does not count such.
fn only_calculated(reading: &Reading, spin: Quantity, rules: &HouseRules) -> bool {
    is_calculated(reading, spin) && !rules.counts_calculated_spin()
}

fn unexplained_curve(reading: &Reading, flight: &Flight, rules: &HouseRules) -> Option<Doubt> {
    let side = reading.value(Quantity::Side)?;
    if only_calculated(reading, Quantity::SpinAxis, rules) {
        return None;
    }
    reading.get(Quantity::LaunchDirection)?;
    reading.get(Quantity::SpinAxis)?;
    if side.from != Provenance::Measured {
        return None;
    }
    let off = (side.si - flight.side).abs();
    (off > rules.side_mismatch * flight.carry).then(|| Doubt {
        quantity: Quantity::SpinAxis,
        reason: Sentence::of("The ball was seen to land ")
            .words(side_words(side.si))
            .figure(side.si.abs(), Dimension::Distance)
            .words(", but this direction and spin axis curve it to ")
            .words(side_words(flight.side))
            .figure(flight.side.abs(), Dimension::Distance)
            .words(". Direction, axis or side is misread, or the wind is not noted."),
    })
}

fn side_words(side: f64) -> &'static str {
    if side < 0.0 { "left by " } else { "right by " }
}

fn unexplained_ball_speed(reading: &Reading, launch: &Launch, rules: &HouseRules) -> Option<Doubt> {
    let ball = reading.value(Quantity::BallSpeed)?;
    let off = (ball.si - launch.ball_speed).abs();
    (off > rules.ball_speed_mismatch * launch.ball_speed).then(|| Doubt {
        quantity: Quantity::BallSpeed,
        reason: Sentence::of("Ball speed ")
            .figure(ball.si, Dimension::Speed)
            .words(" does not fit this club speed and strike, which give about ")
            .figure(launch.ball_speed, Dimension::Speed)
            .words("."),
    })
}

fn unexplained_spin(reading: &Reading, launch: &Launch, rules: &HouseRules) -> Option<Doubt> {
    let spin = reading.value(Quantity::SpinRate)?;
    if only_calculated(reading, Quantity::SpinRate, rules) {
        return None;
    }
    let off = (spin.si - launch.spin_rate_rpm).abs();
    (off > rules.spin_mismatch * launch.spin_rate_rpm).then(|| Doubt {
        quantity: Quantity::SpinRate,
        reason: Sentence::of("Spin ")
            .figure(spin.si, Dimension::Spin)
            .words(" is far from the ")
            .figure(launch.spin_rate_rpm, Dimension::Spin)
            .words(" that this spin loft and strike give."),
    })
}

fn unexplained_axis(reading: &Reading, launch: &Launch, rules: &HouseRules) -> Option<Doubt> {
    let axis = reading.get(Quantity::SpinAxis)?;
    if only_calculated(reading, Quantity::SpinAxis, rules) {
        return None;
    }
    reading.get(Quantity::ClubPath)?;
    reading.get(Quantity::FaceAngle)?;
    ((axis - launch.spin_axis_deg).abs() > rules.axis_mismatch_deg).then(|| Doubt {
        quantity: Quantity::SpinAxis,
        reason: Sentence::of("Spin axis ")
            .figure(axis, Dimension::Angle)
            .words(" does not fit this face, path and heel or toe strike, which tilt it to ")
            .figure(launch.spin_axis_deg, Dimension::Angle)
            .words("."),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::flight::fly;
    use crate::physics::impact::{Delivery, strike};
    use crate::vocabulary::units::{MPH, Units, YARD};

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
        doubts(
            reading,
            Club::Driver,
            &Conditions::REFERENCE,
            &HouseRules::default(),
        )
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

    /// A driver's reading with all that a camera can tell, as the models give it.
    fn whole() -> Reading {
        let delivery = Delivery {
            club_path_deg: 2.0,
            face_angle_deg: 0.5,
            impact_toe: 0.012,
            impact_high: 0.003,
            ..Delivery::straight(101.0 * MPH, 1.0, 14.0)
        };
        let launch = strike(&delivery, &Club::Driver.head()).unwrap();
        let flight = fly(&launch, &Conditions::REFERENCE).unwrap();
        let mut reading = Reading::default();
        for (quantity, si) in [
            (Quantity::ClubSpeed, delivery.club_speed),
            (Quantity::AngleOfAttack, delivery.angle_of_attack_deg),
            (Quantity::DynamicLoft, delivery.dynamic_loft_deg),
            (Quantity::ClubPath, delivery.club_path_deg),
            (Quantity::FaceAngle, delivery.face_angle_deg),
            (Quantity::ImpactToe, delivery.impact_toe),
            (Quantity::ImpactHigh, delivery.impact_high),
            (Quantity::BallSpeed, launch.ball_speed),
            (Quantity::LaunchAngle, launch.launch_angle_deg),
            (Quantity::LaunchDirection, launch.launch_direction_deg),
            (Quantity::SpinRate, launch.spin_rate_rpm),
            (Quantity::SpinAxis, launch.spin_axis_deg),
            (Quantity::Carry, flight.carry),
            (Quantity::Side, flight.side),
        ] {
            reading.set(quantity, si, Provenance::Measured);
        }
        reading
    }

    fn doubted(change: impl FnOnce(&mut Reading)) -> Vec<Quantity> {
        let mut reading = whole();
        change(&mut reading);
        doubts(
            &reading,
            Club::Driver,
            &Conditions::REFERENCE,
            &HouseRules::default(),
        )
        .into_iter()
        .map(|d| d.quantity)
        .collect()
    }

    fn set(quantity: Quantity, si: f64) -> impl FnOnce(&mut Reading) {
        move |reading| reading.set(quantity, si, Provenance::Measured)
    }

    #[test]
    fn a_shot_that_agrees_with_itself_is_believed() {
        assert_eq!(doubted(|_| ()), []);
    }

    #[test]
    fn spin_that_the_delivery_cannot_give_is_doubted() {
        let spin = whole().get(Quantity::SpinRate).unwrap();
        assert!(doubted(set(Quantity::SpinRate, 0.45 * spin)).contains(&Quantity::SpinRate));
    }

    #[test]
    fn an_axis_against_the_gear_effect_is_doubted() {
        let axis = whole().get(Quantity::SpinAxis).unwrap();
        assert!(doubted(set(Quantity::SpinAxis, axis + 25.0)).contains(&Quantity::SpinAxis));
    }

    #[test]
    fn a_curve_that_was_not_seen_is_doubted() {
        let side = whole().get(Quantity::Side).unwrap();
        assert_eq!(
            doubted(set(Quantity::Side, side + 40.0)),
            [Quantity::SpinAxis]
        );
    }

    #[test]
    fn a_ball_too_slow_for_its_strike_is_doubted_and_a_mishit_is_not() {
        let ball = whole().get(Quantity::BallSpeed).unwrap();
        assert!(doubted(set(Quantity::BallSpeed, 0.8 * ball)).contains(&Quantity::BallSpeed));
        // Without the strike it may have been a mishit.
        let blind = doubted(|reading| {
            reading.0.remove(&Quantity::ImpactToe);
            reading.0.remove(&Quantity::Carry);
            set(Quantity::BallSpeed, 0.8 * ball)(reading);
        });
        assert!(!blind.contains(&Quantity::BallSpeed), "{blind:?}");
    }
}
