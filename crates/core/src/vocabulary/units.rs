//! Which unit a quantity is shown in, and how units convert.
//!
//! Everything inside is SI (angles in degrees, spin in rpm). A coach chooses one
//! of three [`Units`]; nothing stored ever depends on that choice. The factors are
//! the exact international definitions of 1959 (yard = 0.9144 m).

use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Metres in a yard.
pub const YARD: f64 = 0.9144;
/// Metres in a foot.
pub const FOOT: f64 = 0.3048;
/// One inch, m.
pub const INCH: f64 = 0.0254;
/// Standard gravity, m/s²: the force of a kilogram, N.
pub const STANDARD_GRAVITY: f64 = 9.806_65;
/// The weight of a pound, N.
pub const POUND_WEIGHT: f64 = 0.453_592_37 * STANDARD_GRAVITY;
/// Metres per second in a mile an hour.
pub const MPH: f64 = 0.447_04;
/// Metres per second in a kilometre an hour.
pub const KMH: f64 = 1.0 / 3.6;

/// The coach's choice of units for everything on screen.
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
pub enum Units {
    /// Miles an hour and yards (apex in feet).
    MphYd,
    /// Kilometres an hour and metres.
    KmhM,
    /// Metres per second and metres.
    MpsM,
}

impl Keyed for Units {
    const KIND: &'static str = "a choice of units";
}

impl Units {
    /// Distance between the contour lines of a map, m: five of the unit shown.
    pub fn contour_step(self) -> f64 {
        match self {
            Units::MphYd => 5.0 * YARD,
            Units::KmhM | Units::MpsM => 5.0,
        }
    }
}

/// What kind of thing a quantity is; it decides which units can express it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Dimension {
    /// Speed of club, ball or hands.
    Speed,
    /// Distance along or across the ground.
    Distance,
    /// Height above the ground.
    Height,
    /// Angle.
    Angle,
    /// Spin.
    Spin,
    /// A pure number.
    Ratio,
    /// Time.
    Time,
    /// A short length on the club face.
    FaceOffset,
    /// Carry for each unit of club speed: a house factor.
    CarryPerSpeed,
    /// The same as a player's balls gave it, which tell it less finely.
    SpeedWorth,
    /// Force as per cent of body weight.
    BodyWeight,
    /// Force.
    Force,
    /// Torque for each kilogram of body mass.
    TorquePerMass,
    /// Torque.
    Torque,
    /// A moment within the swing.
    Moment,
    /// Length of a club.
    ClubLength,
}

/// A unit in which values come in or are shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    /// Miles an hour.
    Mph,
    /// Kilometres an hour.
    Kmh,
    /// Metres per second.
    Mps,
    /// Yards.
    Yd,
    /// Feet.
    Ft,
    /// Metres.
    M,
    /// Degrees.
    Deg,
    /// Revolutions a minute.
    Rpm,
    /// No unit.
    One,
    /// Seconds.
    S,
    /// Millimetres.
    Mm,
    /// Yards for each mile an hour.
    YdPerMph,
    /// Metres for each kilometre an hour.
    MPerKmh,
    /// Metres for each metre per second.
    MPerMps,
    /// Per cent of body weight.
    PctBw,
    /// Newtons.
    N,
    /// Kilograms of force.
    Kg,
    /// Pounds of force.
    Lb,
    /// Newton metres for each kilogram.
    NmPerKg,
    /// Newton metres.
    Nm,
    /// Milliseconds.
    Ms,
    /// Inches.
    In,
    /// Centimetres.
    Cm,
}

impl Unit {
    /// How many internal units one of these is (m/s, m, deg, rpm, 1, s).
    pub fn size(self) -> f64 {
        match self {
            Unit::Mph => MPH,
            Unit::Kmh => KMH,
            Unit::Yd => YARD,
            Unit::Ft => FOOT,
            Unit::Mm | Unit::Ms => 1e-3,
            Unit::In => INCH,
            Unit::Cm => 1e-2,
            Unit::Kg => STANDARD_GRAVITY,
            Unit::Lb => POUND_WEIGHT,
            Unit::YdPerMph => YARD / MPH,
            Unit::MPerKmh => 1.0 / KMH,
            Unit::Mps
            | Unit::M
            | Unit::Deg
            | Unit::Rpm
            | Unit::One
            | Unit::S
            | Unit::MPerMps
            | Unit::PctBw
            | Unit::N
            | Unit::NmPerKg
            | Unit::Nm => 1.0,
        }
    }

    /// The suffix of a field name in this unit (`club_speed_mph`); empty for a ratio.
    pub fn suffix(self) -> &'static str {
        match self {
            Unit::Mph => "mph",
            Unit::Kmh => "kmh",
            Unit::Mps => "mps",
            Unit::Yd => "yd",
            Unit::Ft => "ft",
            Unit::M => "m",
            Unit::Deg => "deg",
            Unit::Rpm => "rpm",
            Unit::One => "",
            Unit::S => "s",
            Unit::Mm => "mm",
            Unit::YdPerMph => "yd_per_mph",
            Unit::MPerKmh => "m_per_kmh",
            Unit::MPerMps => "m_per_mps",
            Unit::PctBw => "pct_bw",
            Unit::N => "n",
            Unit::Kg => "kg",
            Unit::Lb => "lb",
            Unit::NmPerKg => "nm_per_kg",
            Unit::Nm => "nm",
            Unit::Ms => "ms",
            Unit::In => "in",
            Unit::Cm => "cm",
        }
    }

    /// What stands behind a number on screen.
    pub fn symbol(self) -> &'static str {
        match self {
            Unit::Kmh => "km/h",
            Unit::Mps => "m/s",
            Unit::Deg => "°",
            Unit::YdPerMph => "yd per mph",
            Unit::MPerKmh => "m per km/h",
            Unit::MPerMps => "m per m/s",
            Unit::PctBw => "% BW",
            Unit::N => "N",
            Unit::NmPerKg => "N·m/kg",
            Unit::Nm => "N·m",
            other => other.suffix(),
        }
    }

    /// A value in this unit, expressed internally.
    pub fn to_internal(self, value: f64) -> f64 {
        value * self.size()
    }

    /// An internal value, expressed in this unit.
    pub fn from_internal(self, value: f64) -> f64 {
        value / self.size()
    }
}

impl Dimension {
    /// All dimensions.
    pub const ALL: [Dimension; 16] = [
        Dimension::Speed,
        Dimension::Distance,
        Dimension::Height,
        Dimension::Angle,
        Dimension::Spin,
        Dimension::Ratio,
        Dimension::Time,
        Dimension::FaceOffset,
        Dimension::CarryPerSpeed,
        Dimension::SpeedWorth,
        Dimension::BodyWeight,
        Dimension::Force,
        Dimension::TorquePerMass,
        Dimension::Torque,
        Dimension::Moment,
        Dimension::ClubLength,
    ];

    /// The units in which this may be given, the most usual first.
    pub fn accepted(self) -> &'static [Unit] {
        match self {
            Dimension::Speed => &[Unit::Mph, Unit::Kmh, Unit::Mps],
            Dimension::Distance | Dimension::Height => &[Unit::Yd, Unit::M, Unit::Ft],
            Dimension::Angle => &[Unit::Deg],
            Dimension::Spin => &[Unit::Rpm],
            Dimension::Ratio => &[Unit::One],
            Dimension::Time => &[Unit::S],
            Dimension::FaceOffset => &[Unit::Mm],
            Dimension::CarryPerSpeed | Dimension::SpeedWorth => {
                &[Unit::YdPerMph, Unit::MPerKmh, Unit::MPerMps]
            }
            Dimension::BodyWeight => &[Unit::PctBw],
            Dimension::Force => &[Unit::N, Unit::Kg, Unit::Lb],
            Dimension::TorquePerMass => &[Unit::NmPerKg],
            Dimension::Torque => &[Unit::Nm],
            Dimension::Moment => &[Unit::Ms],
            Dimension::ClubLength => &[Unit::In, Unit::Cm, Unit::M],
        }
    }

    /// The unit this is shown in under the coach's choice.
    pub fn shown(self, units: Units) -> Unit {
        match (self, units) {
            (Dimension::Speed, Units::MphYd) => Unit::Mph,
            (Dimension::Speed, Units::KmhM) => Unit::Kmh,
            (Dimension::Speed, Units::MpsM) => Unit::Mps,
            (Dimension::Distance, Units::MphYd) => Unit::Yd,
            (Dimension::Height, Units::MphYd) => Unit::Ft,
            (Dimension::Distance | Dimension::Height, _) => Unit::M,
            (Dimension::ClubLength, Units::KmhM | Units::MpsM) => Unit::Cm,
            (Dimension::CarryPerSpeed | Dimension::SpeedWorth, Units::KmhM) => Unit::MPerKmh,
            (Dimension::CarryPerSpeed | Dimension::SpeedWorth, Units::MpsM) => Unit::MPerMps,
            (other, _) => other.accepted()[0],
        }
    }

    /// Decimals shown: never more than launch monitors resolve.
    pub fn decimals(self) -> u8 {
        match self {
            Dimension::Speed
            | Dimension::Angle
            | Dimension::Time
            | Dimension::ClubLength
            | Dimension::SpeedWorth => 1,
            Dimension::Ratio | Dimension::CarryPerSpeed | Dimension::TorquePerMass => 2,
            Dimension::Distance
            | Dimension::Height
            | Dimension::Spin
            | Dimension::FaceOffset
            | Dimension::BodyWeight
            | Dimension::Force
            | Dimension::Torque
            | Dimension::Moment => 0,
        }
    }

    /// The step to which a shown number is rounded, in shown units.
    pub fn step(self) -> f64 {
        match self {
            Dimension::Spin => 10.0,
            other => 10f64.powi(-i32::from(other.decimals())),
        }
    }

    /// The finest step that devices tell apart, in internal units: what is shown, in the
    /// unit it is usually given in.
    pub fn grain(self) -> f64 {
        self.accepted()[0].to_internal(self.step())
    }

    /// Writes an internal value as a coach reads it: "83.1 mph", "4,310 rpm", "13.2°".
    pub fn show(self, value: f64, units: Units) -> String {
        let number = self.show_bare(value, units);
        match self.shown(units) {
            Unit::One => number,
            Unit::Deg => format!("{number}°"),
            other => format!("{number} {}", other.symbol()),
        }
    }

    /// The same without the unit.
    pub fn show_bare(self, value: f64, units: Units) -> String {
        let shown = self.shown(units).from_internal(self.as_shown(value, units));
        grouped(shown, self.decimals())
    }

    /// The value rounded to what is shown, in internal units.
    pub fn as_shown(self, value: f64, units: Units) -> f64 {
        let (step, unit) = (self.step(), self.shown(units));
        unit.to_internal((unit.from_internal(value) / step).round() * step)
    }

    /// Finds the unit behind a field's suffix.
    ///
    /// # Errors
    /// [`Invalid`] when this dimension cannot be given in that unit.
    pub fn unit_of_suffix(self, field: &str, suffix: &str) -> Result<Unit, Invalid> {
        let accepted = self.accepted();
        accepted
            .iter()
            .copied()
            .find(|unit| unit.suffix() == suffix)
            .ok_or_else(|| {
                let names: Vec<_> = accepted.iter().map(|unit| unit.suffix()).collect();
                Invalid::new(
                    field,
                    suffix,
                    "is not a unit for this value",
                    format!("use {}", names.join(", ")),
                )
            })
    }
}

/// Writes a number that has no unit: fixed decimals with commas between thousands; no negative zero.
///
/// ```
/// use tally_core::vocabulary::units::grouped;
/// assert_eq!([grouped(-0.004, 2), grouped(-4310.0, 0)], ["0.00", "−4,310"]);
/// ```
pub fn grouped(value: f64, decimals: u8) -> String {
    let text = format!("{:.*}", usize::from(decimals), value.abs());
    let (whole, fraction) = text.split_once('.').unwrap_or((&text, ""));
    let mut out = String::new();
    if value < 0.0 && text.bytes().any(|b| (b'1'..=b'9').contains(&b)) {
        out.push('−');
    }
    for (i, digit) in whole.chars().enumerate() {
        if i > 0 && (whole.len() - i).is_multiple_of(3) {
            out.push(',');
        }
        out.push(digit);
    }
    if !fraction.is_empty() {
        out.push('.');
        out.push_str(fraction);
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_hundred_miles_an_hour_reads_the_same_in_every_unit() {
        let speed = Unit::Mph.to_internal(100.0);
        assert_eq!(Dimension::Speed.show(speed, Units::MphYd), "100.0 mph");
        assert_eq!(Dimension::Speed.show(speed, Units::KmhM), "160.9 km/h");
        assert_eq!(Dimension::Speed.show(speed, Units::MpsM), "44.7 m/s");
    }

    #[test]
    fn a_house_factor_reads_in_the_coach_s_units() {
        let factor = Unit::YdPerMph.to_internal(2.15);
        assert_eq!(
            Dimension::CarryPerSpeed.show(factor, Units::MphYd),
            "2.15 yd per mph"
        );
        assert_eq!(
            Dimension::CarryPerSpeed.show(factor, Units::KmhM),
            "1.22 m per km/h"
        );
        assert_eq!(
            Dimension::CarryPerSpeed.show(factor, Units::MpsM),
            "4.40 m per m/s"
        );
    }

    #[test]
    fn numbers_are_never_sharper_than_devices() {
        assert_eq!(Dimension::Spin.show(4314.9, Units::MphYd), "4,310 rpm");
        assert_eq!(
            Dimension::Distance.show(179.4 * YARD, Units::MphYd),
            "179 yd"
        );
        assert_eq!(Dimension::Angle.show(-0.04, Units::MphYd), "0.0°");
    }

    #[test]
    fn a_unit_of_another_dimension_is_refused_with_the_right_ones() {
        let refused = Dimension::Speed
            .unit_of_suffix("club_speed_yd", "yd")
            .unwrap_err();
        assert_eq!(refused.remedy, "use mph, kmh, mps");
    }

    #[test]
    fn converting_there_and_back_changes_nothing() {
        for unit in [Unit::Mph, Unit::Kmh, Unit::Yd, Unit::Ft, Unit::Mm] {
            let back = unit.from_internal(unit.to_internal(123.456));
            assert!((back - 123.456).abs() < 1e-12, "{unit:?}");
        }
    }
}
