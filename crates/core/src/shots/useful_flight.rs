//! Whether a shot is a useful flight, whatever its distance.
//!
//! A long shot that is low, delofted or hooking holds no green: it is told apart from
//! a good one. Each check is a house rule. Values that no device gave come from the
//! flight of the shot's own launch.

use crate::physics::club::Club;
use crate::physics::flight::Flight;
use crate::shots::reading::Reading;
use crate::shots::told::is_calculated;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// What a check finds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CheckKind {
    /// Not high enough for the club speed.
    Apex,
    /// Not steep enough to hold a green.
    LandingAngle,
    /// Delofted.
    DynamicLoft,
    /// Less spin than the club should give at this speed.
    Spin,
    /// Curves far to the left.
    CurvesLeft,
    /// Curves far to the right.
    CurvesRight,
}

/// How a check is worded: "low: apex 62 ft, at least 80".
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct CheckWord {
    /// Which.
    pub key: CheckKind,
    /// What such a flight is.
    #[schema(value_type = String)]
    pub label: &'static str,
    /// What was looked at.
    #[schema(value_type = String)]
    pub of: &'static str,
    /// The kind of thing that it is.
    pub dimension: Dimension,
    /// Whether what is wanted is the least or the most.
    #[schema(value_type = String)]
    pub limit: &'static str,
}

impl CheckKind {
    /// All of them, in the order they are told.
    pub const ALL: [CheckKind; 6] = [
        CheckKind::Apex,
        CheckKind::LandingAngle,
        CheckKind::DynamicLoft,
        CheckKind::Spin,
        CheckKind::CurvesLeft,
        CheckKind::CurvesRight,
    ];

    /// How it is worded.
    pub fn word(self) -> CheckWord {
        const LEAST: &str = "at least";
        const MOST: &str = "at most";
        let (label, of, dimension, limit) = match self {
            CheckKind::Apex => ("low", "apex", Dimension::Height, LEAST),
            CheckKind::LandingAngle => ("flat", "lands at", Dimension::Angle, LEAST),
            CheckKind::DynamicLoft => ("delofted", "dynamic loft", Dimension::Angle, LEAST),
            CheckKind::Spin => ("little spin", "spin", Dimension::Spin, LEAST),
            CheckKind::CurvesLeft => ("curves left", "spin axis", Dimension::Angle, MOST),
            CheckKind::CurvesRight => ("curves right", "spin axis", Dimension::Angle, MOST),
        };
        CheckWord {
            key: self,
            label,
            of,
            dimension,
            limit,
        }
    }
}

/// A check that a shot fails. Thousands are told at once: the words are the check's.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Failed {
    /// Which.
    pub check: CheckKind,
    /// What was found, internal units; of a curve, to its side.
    pub found: f64,
    /// What is wanted at least, or at most.
    pub wanted: f64,
}

/// Every check that `reading` fails; a check whose values are missing fails nothing.
/// `flight` is that of the reading's own launch, when it has one.
pub fn failed(
    reading: &Reading,
    flight: Option<&Flight>,
    club: Club,
    rules: &HouseRules,
) -> Vec<Failed> {
    let own = |of: fn(&Flight) -> f64| flight.map(of);
    let speed = reading.get(Quantity::ClubSpeed);
    let apex = reading.get(Quantity::Apex).or(own(|f| f.apex));
    let landing = reading.get(Quantity::LandingAngle);
    let landing = landing.or(own(|f| f.landing_angle_deg));
    let usual = speed.map(|s| (club.reference_delivery(s), club.reference_launch(s)));
    let into_green = club >= Club::Hybrid;
    let mut found = Vec::new();
    let mut fail = |check, found_there, wanted| {
        found.push(Failed {
            check,
            found: found_there,
            wanted,
        });
    };
    if let (Some(apex), Some(speed)) = (apex, speed)
        && club >= Club::Iron3
        && apex < rules.apex_per_speed * speed
    {
        fail(CheckKind::Apex, apex, rules.apex_per_speed * speed);
    }
    if let Some(angle) = landing
        && into_green
        && angle < rules.landing_least_deg
    {
        fail(CheckKind::LandingAngle, angle, rules.landing_least_deg);
    }
    if let (Some(loft), Some((delivery, _))) = (reading.get(Quantity::DynamicLoft), usual) {
        let least = delivery.dynamic_loft_deg - rules.delofted_deg;
        if loft < least {
            fail(CheckKind::DynamicLoft, loft, least);
        }
    }
    // A spin that was only calculated is no fault of the flight.
    let spun = |quantity| {
        let believed = !is_calculated(reading, quantity) || rules.counts_calculated_spin();
        reading.get(quantity).filter(|_| believed)
    };
    if let (Some(spin), Some((_, launch))) = (spun(Quantity::SpinRate), usual) {
        let least = launch.spin_rate_rpm * (1.0 - rules.spin_share);
        if into_green && spin < least {
            fail(CheckKind::Spin, spin, least);
        }
    }
    if let Some(axis) = spun(Quantity::SpinAxis)
        && axis.abs() > rules.curve_most_deg
    {
        let side = if axis < 0.0 {
            CheckKind::CurvesLeft
        } else {
            CheckKind::CurvesRight
        };
        fail(side, axis.abs(), rules.curve_most_deg);
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::conditions::Conditions;
    use crate::shots::reading::Provenance;
    use crate::shots::told::Told;
    use crate::vocabulary::units::{FOOT, MPH, Units};

    fn iron(values: &[(Quantity, f64)]) -> Vec<String> {
        let mut reading = Reading::default();
        reading.set(Quantity::ClubSpeed, 80.0 * MPH, Provenance::Measured);
        for (quantity, si) in values {
            reading.set(*quantity, *si, Provenance::Measured);
        }
        let rules = HouseRules::default();
        let told = Told::of(&reading, Club::Iron6, &Conditions::REFERENCE);
        failed(&reading, told.flight.as_ref(), Club::Iron6, &rules)
            .iter()
            .map(|f| {
                let CheckWord {
                    label,
                    of,
                    dimension,
                    limit,
                    ..
                } = f.check.word();
                let found = dimension.show(f.found, Units::MphYd);
                let wanted = dimension.show(f.wanted, Units::MphYd);
                format!("{label}: {of} {found}, {limit} {wanted}")
            })
            .collect()
    }

    #[test]
    fn an_iron_that_flies_lower_than_its_speed_is_low() {
        assert_eq!(iron(&[(Quantity::Apex, 85.0 * FOOT)]), Vec::<String>::new());
        assert_eq!(
            iron(&[(Quantity::Apex, 62.0 * FOOT)]),
            ["low: apex 62 ft, at least 80 ft"]
        );
    }

    #[test]
    fn a_delofted_hook_is_named_by_both() {
        let told = iron(&[(Quantity::DynamicLoft, 12.0), (Quantity::SpinAxis, -18.0)]);
        assert!(told[0].starts_with("delofted: dynamic loft 12"), "{told:?}");
        assert!(told[1].starts_with("curves left: spin axis 18"), "{told:?}");
    }

    #[test]
    fn a_sound_strike_passes_and_missing_values_fail_nothing() {
        assert!(iron(&[]).is_empty());
        let sound = Club::Iron6.reference_launch(92.0 * MPH);
        let told = iron(&[
            (Quantity::ClubSpeed, 92.0 * MPH),
            (Quantity::BallSpeed, sound.ball_speed),
            (Quantity::LaunchAngle, sound.launch_angle_deg),
            (Quantity::SpinRate, sound.spin_rate_rpm),
        ]);
        assert!(told.is_empty(), "{told:?}");
    }
}
