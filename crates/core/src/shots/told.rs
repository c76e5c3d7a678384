//! What a reading tells of a shot, worked out once: its launch, where that flies in the
//! air of the day, and the launch that its delivery and strike give. Whatever judges the
//! shot reads from here, so that no launch is flown twice.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::physics::flight::{Flight, fly};
use crate::physics::impact::{Delivery, strike};
use crate::physics::launch::Launch;
use crate::shots::reading::{Provenance, Reading};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::quantity::Quantity;

/// What a reading tells of a shot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Told {
    /// Its launch, when it has ball speed, launch angle and spin within the model's domain.
    pub launch: Option<Launch>,
    /// Whether a value of that launch was only calculated.
    pub calculated: bool,
    /// Whether its spin was.
    pub calculated_spin: bool,
    /// Where that launch flies.
    pub flight: Option<Flight>,
    /// The launch that its delivery and its place on the face give.
    pub struck: Option<Launch>,
}

impl Told {
    /// Works out what `reading` of a shot with `club` tells.
    ///
    /// ```
    /// use tally_core::physics::{club::Club, conditions::Conditions};
    /// use tally_core::shots::reading::{Provenance, Reading};
    /// use tally_core::shots::told::Told;
    /// use tally_core::vocabulary::quantity::Quantity;
    /// let mut reading = Reading::default();
    /// for (quantity, si) in [
    ///     (Quantity::BallSpeed, 53.2),
    ///     (Quantity::LaunchAngle, 13.2),
    ///     (Quantity::SpinRate, 4080.0),
    /// ] {
    ///     reading.set(quantity, si, Provenance::Measured);
    /// }
    /// let told = Told::of(&reading, Club::Wood5, &Conditions::REFERENCE);
    /// assert!((150.0..165.0).contains(&told.flight.unwrap().carry));
    /// assert_eq!(told.struck, None); // Nothing is known of the delivery.
    /// ```
    pub fn of(reading: &Reading, club: Club, conditions: &Conditions) -> Told {
        let launched = launch_of(reading).ok();
        let flight = launched.and_then(|(launch, _)| fly(&launch, conditions).ok());
        Told {
            launch: launched
                .map(|(launch, _)| launch)
                .filter(|launch| launch.check().is_ok()),
            calculated: launched.is_some_and(|(_, calculated)| calculated),
            calculated_spin: is_calculated(reading, Quantity::SpinRate),
            flight,
            struck: delivery_of(reading).and_then(|d| strike(&d, &club.head()).ok()),
        }
    }
}

impl Told {
    /// Where its launch flies, when that rests on nothing which the house does not count:
    /// what is worked out from a calculated spin judges no shot and gives no advice.
    pub fn believed_flight(&self, rules: &HouseRules) -> Option<&Flight> {
        let believed = !self.calculated_spin || rules.counts_calculated_spin();
        self.flight.as_ref().filter(|_| believed)
    }
}

/// Whether a device only worked this value out.
pub(crate) fn is_calculated(reading: &Reading, quantity: Quantity) -> bool {
    let value = reading.value(quantity);
    value.is_some_and(|value| value.from == Provenance::Calculated)
}

/// Why there is no expectation.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum NoExpectation {
    /// The reading lacks a value that the school needs.
    #[error("no {0} in the reading")]
    Missing(&'static str),
    /// A value lies outside the model's domain.
    #[error(transparent)]
    OutOfDomain(#[from] Invalid),
}

/// The launch in a reading, and whether a value of it was only calculated. Direction
/// and axis count as zero when the device gives none.
///
/// # Errors
/// [`NoExpectation`] without ball speed, launch angle or spin rate.
pub fn launch_of(reading: &Reading) -> Result<(Launch, bool), NoExpectation> {
    let needed = |quantity, name| reading.value(quantity).ok_or(NoExpectation::Missing(name));
    let speed = needed(Quantity::BallSpeed, "ball speed")?;
    let launch = needed(Quantity::LaunchAngle, "launch angle")?;
    let spin = needed(Quantity::SpinRate, "spin rate")?;
    let calculated = [speed, launch, spin]
        .iter()
        .any(|v| v.from == Provenance::Calculated);
    let launch = Launch {
        ball_speed: speed.si,
        launch_angle_deg: launch.si,
        launch_direction_deg: reading.get(Quantity::LaunchDirection).unwrap_or(0.0),
        spin_rate_rpm: spin.si,
        spin_axis_deg: reading.get(Quantity::SpinAxis).unwrap_or(0.0),
    };
    Ok((launch, calculated))
}

/// The delivery in a reading, when it also tells where the ball met the face: without
/// that, a mishit could look like a misreading.
fn delivery_of(reading: &Reading) -> Option<Delivery> {
    let value = |quantity| reading.get(quantity);
    Some(Delivery {
        impact_toe: value(Quantity::ImpactToe)?,
        impact_high: value(Quantity::ImpactHigh)?,
        club_path_deg: value(Quantity::ClubPath).unwrap_or_default(),
        face_angle_deg: value(Quantity::FaceAngle).unwrap_or_default(),
        ..Delivery::straight(
            value(Quantity::ClubSpeed)?,
            value(Quantity::AngleOfAttack)?,
            value(Quantity::DynamicLoft)?,
        )
    })
}
