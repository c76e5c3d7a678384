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
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// What is checked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CheckKind {
    /// High enough for the club speed.
    Apex,
    /// Steep enough to hold a green.
    LandingAngle,
    /// Not delofted.
    DynamicLoft,
    /// Spin that the club should give at this speed.
    Spin,
    /// Not curving far.
    Curve,
}

/// A check that a shot fails.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Failed {
    /// Which.
    pub check: CheckKind,
    /// What was found against what is wanted.
    pub sentence: Sentence,
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
    let mut fail = |check, sentence| found.push(Failed { check, sentence });
    if let (Some(apex), Some(speed)) = (apex, speed)
        && club >= Club::Iron3
        && apex < rules.apex_per_speed * speed
    {
        let least = rules.apex_per_speed * speed;
        let said = against("low: apex ", apex, least, Dimension::Height);
        fail(CheckKind::Apex, said);
    }
    if let Some(angle) = landing
        && into_green
        && angle < rules.landing_least_deg
    {
        let said = against(
            "flat: lands at ",
            angle,
            rules.landing_least_deg,
            Dimension::Angle,
        );
        fail(CheckKind::LandingAngle, said);
    }
    if let (Some(loft), Some((delivery, _))) = (reading.get(Quantity::DynamicLoft), usual) {
        let least = delivery.dynamic_loft_deg - rules.delofted_deg;
        if loft < least {
            fail(
                CheckKind::DynamicLoft,
                against("delofted: dynamic loft ", loft, least, Dimension::Angle),
            );
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
            fail(
                CheckKind::Spin,
                against("little spin: ", spin, least, Dimension::Spin),
            );
        }
    }
    if let Some(axis) = spun(Quantity::SpinAxis)
        && axis.abs() > rules.curve_most_deg
    {
        fail(CheckKind::Curve, curves(axis, rules.curve_most_deg));
    }
    found
}

fn curves(axis: f64, most: f64) -> Sentence {
    let side = if axis < 0.0 { "left" } else { "right" };
    Sentence::of(format!("curves {side}: spin axis "))
        .figure(axis, Dimension::Angle)
        .words(", at most ")
        .bare(most, Dimension::Angle)
}

fn against(words: &str, value: f64, least: f64, dimension: Dimension) -> Sentence {
    Sentence::of(words)
        .figure(value, dimension)
        .words(", at least ")
        .bare(least, dimension)
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
            .map(|f| f.sentence.show(Units::MphYd))
            .collect()
    }

    #[test]
    fn an_iron_that_flies_lower_than_its_speed_is_low() {
        assert_eq!(iron(&[(Quantity::Apex, 85.0 * FOOT)]), Vec::<String>::new());
        assert_eq!(
            iron(&[(Quantity::Apex, 62.0 * FOOT)]),
            ["low: apex 62 ft, at least 80"]
        );
    }

    #[test]
    fn a_delofted_hook_is_named_by_both() {
        let told = iron(&[(Quantity::DynamicLoft, 12.0), (Quantity::SpinAxis, -18.0)]);
        assert!(
            told[0].starts_with("delofted") && told[1].starts_with("curves left"),
            "{told:?}"
        );
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
