//! The values a launch monitor can report for one shot, in the field's terms.

use crate::vocabulary::invalid::{self, Invalid};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::units::{Dimension, Unit};
use serde::{Deserialize, Serialize};
use std::ops::RangeInclusive;
use utoipa::ToSchema;

/// One kind of value of a reading.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Hash,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Quantity {
    /// Speed of the club head just before impact, m/s.
    ClubSpeed,
    /// Speed of the ball just after impact, m/s.
    BallSpeed,
    /// Ball speed over club speed.
    SmashFactor,
    /// Vertical direction of the club head at impact, deg, + is upward.
    AngleOfAttack,
    /// Horizontal direction of the club head at impact, deg, + is right.
    ClubPath,
    /// Horizontal direction of the face at impact, deg, + is right.
    FaceAngle,
    /// Loft delivered at impact, deg.
    DynamicLoft,
    /// Initial direction of the ball up from the horizon, deg.
    LaunchAngle,
    /// Initial direction of the ball right (+) of the target line, deg.
    LaunchDirection,
    /// Total spin, rpm.
    SpinRate,
    /// Tilt of the spin axis, deg, + tilts the flight to the right.
    SpinAxis,
    /// Distance in the air, m.
    Carry,
    /// Distance right (+) of the target line at landing, m.
    Side,
    /// Carry and run, m.
    Total,
    /// Peak height, m.
    Apex,
    /// Angle below the horizon at landing, deg.
    LandingAngle,
    /// Time in the air, s.
    HangTime,
    /// Impact toward the toe (+) or heel, m.
    ImpactToe,
    /// Impact high (+) or low on the face, m.
    ImpactHigh,
    /// Peak speed of the hands in the downswing, m/s.
    HandSpeed,
    /// Peak vertical ground force under the lead foot, % of body weight.
    VerticalForceLead,
    /// Peak vertical ground force under both feet, % of body weight.
    VerticalForce,
    /// Peak rotational torque per body mass, N·m/kg.
    Torque,
    /// When the vertical force peaks, s before (+) impact.
    VerticalPeak,
    /// Peak rotational torque, N·m.
    WholeTorque,
    /// Peak vertical ground force under the trail foot, % of body weight.
    VerticalForceTrail,
    /// Peak vertical ground force under the lead foot, N.
    WholeForceLead,
    /// Peak vertical ground force under the trail foot, N.
    WholeForceTrail,
    /// Peak vertical ground force under both feet, N.
    WholeForce,
    /// When the lead foot's vertical force peaks, s before (+) impact.
    LeadPeak,
    /// When the trail foot's vertical force peaks, s before (+) impact.
    TrailPeak,
    /// When the torque peaks, s before (+) impact.
    TorquePeak,
}

impl Keyed for Quantity {
    const KIND: &'static str = "a value this system knows";
}

/// Name, dimension and accepted range of a quantity, in one row each.
struct Row(Quantity, &'static str, Dimension, RangeInclusive<f64>);

/// Ranges accept every golfer from a child's first putt of a swing to beyond the
/// longest hitters; outside them a device has misread or a unit is wrong.
static ROWS: [Row; 32] = {
    use Dimension as D;
    use Quantity as Q;
    [
        Row(Q::ClubSpeed, "Club speed", D::Speed, 1.0..=75.0),
        Row(Q::BallSpeed, "Ball speed", D::Speed, 1.0..=110.0),
        Row(Q::SmashFactor, "Smash factor", D::Ratio, 0.1..=2.0),
        Row(Q::AngleOfAttack, "Angle of attack", D::Angle, -25.0..=25.0),
        Row(Q::ClubPath, "Club path", D::Angle, -45.0..=45.0),
        Row(Q::FaceAngle, "Face angle", D::Angle, -45.0..=45.0),
        Row(Q::DynamicLoft, "Dynamic loft", D::Angle, -5.0..=80.0),
        Row(Q::LaunchAngle, "Launch angle", D::Angle, -20.0..=80.0),
        Row(
            Q::LaunchDirection,
            "Launch direction",
            D::Angle,
            -60.0..=60.0,
        ),
        Row(Q::SpinRate, "Spin rate", D::Spin, 0.0..=15_000.0),
        Row(Q::SpinAxis, "Spin axis", D::Angle, -90.0..=90.0),
        Row(Q::Carry, "Carry", D::Distance, 0.0..=450.0),
        Row(Q::Side, "Side", D::Distance, -250.0..=250.0),
        Row(Q::Total, "Total", D::Distance, 0.0..=550.0),
        Row(Q::Apex, "Apex", D::Height, 0.0..=120.0),
        Row(Q::LandingAngle, "Landing angle", D::Angle, 0.0..=90.0),
        Row(Q::HangTime, "Hang time", D::Time, 0.0..=15.0),
        Row(Q::ImpactToe, "Impact toe", D::FaceOffset, -0.08..=0.08),
        Row(Q::ImpactHigh, "Impact high", D::FaceOffset, -0.06..=0.06),
        Row(Q::HandSpeed, "Hand speed", D::Speed, 0.5..=30.0),
        Row(
            Q::VerticalForceLead,
            "Vertical force, lead foot",
            D::BodyWeight,
            0.0..=400.0,
        ),
        Row(
            Q::VerticalForce,
            "Vertical force, both feet",
            D::BodyWeight,
            0.0..=600.0,
        ),
        Row(Q::Torque, "Torque by mass", D::TorquePerMass, 0.0..=10.0),
        Row(
            Q::VerticalPeak,
            "Vertical peak before impact",
            D::Moment,
            -0.3..=1.0,
        ),
        Row(Q::WholeTorque, "Torque", D::Torque, 0.0..=600.0),
        Row(
            Q::VerticalForceTrail,
            "Vertical force, trail foot",
            D::BodyWeight,
            0.0..=400.0,
        ),
        Row(
            Q::WholeForceLead,
            "Force, lead foot",
            D::Force,
            0.0..=4000.0,
        ),
        Row(
            Q::WholeForceTrail,
            "Force, trail foot",
            D::Force,
            0.0..=4000.0,
        ),
        Row(Q::WholeForce, "Force, both feet", D::Force, 0.0..=6000.0),
        Row(
            Q::LeadPeak,
            "Lead foot's peak before impact",
            D::Moment,
            -0.3..=1.0,
        ),
        Row(
            Q::TrailPeak,
            "Trail foot's peak before impact",
            D::Moment,
            -0.3..=1.5,
        ),
        Row(
            Q::TorquePeak,
            "Torque's peak before impact",
            D::Moment,
            -0.3..=1.0,
        ),
    ]
};

impl Quantity {
    fn row(self) -> &'static Row {
        let row = &ROWS[self as usize];
        debug_assert_eq!(row.0, self, "rows stand in the order of the enum");
        row
    }

    /// The name on screen.
    pub fn label(self) -> &'static str {
        self.row().1
    }

    /// What kind of thing it is.
    pub fn dimension(self) -> Dimension {
        self.row().2
    }

    /// Values a device may report, internal units.
    pub fn range(self) -> RangeInclusive<f64> {
        self.row().3.clone()
    }

    /// The field name in a given unit: `club_speed_mph`, `smash_factor`.
    pub fn field(self, unit: Unit) -> String {
        match unit.suffix() {
            "" => self.key().to_owned(),
            suffix => format!("{}_{suffix}", self.key()),
        }
    }

    /// Whether more of it is what players try for, so that a best makes sense.
    pub fn has_best(self) -> bool {
        matches!(
            self,
            Quantity::ClubSpeed
                | Quantity::BallSpeed
                | Quantity::SmashFactor
                | Quantity::Carry
                | Quantity::Total
                | Quantity::HandSpeed
                | Quantity::VerticalForceLead
                | Quantity::VerticalForceTrail
                | Quantity::VerticalForce
                | Quantity::WholeForceLead
                | Quantity::WholeForceTrail
                | Quantity::WholeForce
                | Quantity::Torque
                | Quantity::WholeTorque
        )
    }

    /// Reads a field name with its unit: `"club_speed_mph"` → (club speed, mph).
    ///
    /// # Errors
    /// [`Invalid`] when the quantity is unknown or cannot be in that unit.
    pub fn from_field(field: &str) -> Result<(Quantity, Unit), Invalid> {
        let found = Self::all()
            .filter(|q| field.starts_with(q.key()))
            .max_by_key(|q| q.key().len());
        let Some(quantity) = found else {
            return Self::from_key(field, field).map(|q| (q, Unit::One));
        };
        let rest = &field[quantity.key().len()..];
        let suffix = rest.strip_prefix('_').unwrap_or(rest);
        // Force and torque as devices give them, whole or by the body, under the one name.
        let whole = quantity
            .whole()
            .and_then(|whole| Some((whole, whole.dimension().unit_of_suffix(field, suffix).ok()?)));
        match whole {
            Some(whole) => Ok(whole),
            None => quantity
                .dimension()
                .unit_of_suffix(field, suffix)
                .map(|unit| (quantity, unit)),
        }
    }

    /// The same by itself, of what is told by the body's mass or weight.
    pub fn whole(self) -> Option<Quantity> {
        match self {
            Quantity::Torque => Some(Quantity::WholeTorque),
            Quantity::VerticalForceLead => Some(Quantity::WholeForceLead),
            Quantity::VerticalForceTrail => Some(Quantity::WholeForceTrail),
            Quantity::VerticalForce => Some(Quantity::WholeForce),
            _ => None,
        }
    }

    /// Converts a value given in `unit` and checks it.
    ///
    /// # Errors
    /// [`Invalid`] with the range in the sender's own unit.
    pub fn accept(self, value: f64, unit: Unit) -> Result<f64, Invalid> {
        let range = self.range();
        let shown =
            round3(unit.from_internal(*range.start()))..=round3(unit.from_internal(*range.end()));
        invalid::within(&self.field(unit), value, shown, unit.suffix())?;
        Ok(unit.to_internal(value))
    }
}

fn round3(value: f64) -> f64 {
    (value * 1e3).round() / 1e3
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_stand_in_the_order_of_the_enum() {
        for (i, row) in ROWS.iter().enumerate() {
            assert_eq!(row.0 as usize, i, "{}", row.1);
        }
    }

    #[test]
    fn every_quantity_is_found_by_its_field_in_every_unit() {
        for quantity in Quantity::all() {
            for unit in quantity.dimension().accepted() {
                assert_eq!(
                    Quantity::from_field(&quantity.field(*unit)),
                    Ok((quantity, *unit))
                );
            }
        }
    }

    #[test]
    fn a_force_is_read_by_weight_and_whole_under_one_name() {
        for (field, quantity, newtons) in [
            ("vertical_force_lead_n", Quantity::WholeForceLead, 1000.0),
            (
                "vertical_force_trail_kg",
                Quantity::WholeForceTrail,
                9806.65,
            ),
            ("vertical_force_lb", Quantity::WholeForce, 4448.22),
            ("torque_nm", Quantity::WholeTorque, 1000.0),
        ] {
            let (read, unit) = Quantity::from_field(field).unwrap();
            assert_eq!(read, quantity);
            assert!((unit.to_internal(1000.0) - newtons).abs() < 0.01, "{field}");
        }
        let by_weight = Quantity::from_field("vertical_force_trail_pct_bw");
        assert_eq!(by_weight, Ok((Quantity::VerticalForceTrail, Unit::PctBw)));
    }

    #[test]
    fn the_json_name_is_the_key() {
        for quantity in Quantity::all() {
            let json = serde_json::to_string(&quantity).unwrap();
            assert_eq!(json, format!("\"{}\"", quantity.key()));
        }
    }

    #[test]
    fn a_negative_speed_is_refused_in_the_unit_it_came_in() {
        let refused = Quantity::ClubSpeed.accept(-83.0, Unit::Mph).unwrap_err();
        assert_eq!(refused.field, "club_speed_mph");
        assert!(refused.remedy.ends_with("mph"), "{}", refused.remedy);
    }

    #[test]
    fn an_unknown_name_lists_the_known_ones() {
        let refused = Quantity::from_field("clubspeed_mph").unwrap_err();
        assert!(refused.remedy.contains("club_speed"));
    }
}
