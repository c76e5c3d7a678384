//! The clubs, and what a sound strike with each looks like.

use crate::physics::impact::{Contact, Delivery, Head, strike_with};
use crate::physics::launch::Launch;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::units::MPH;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A kind of club.
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
pub enum Club {
    /// Driver.
    Driver,
    /// 3-wood.
    Wood3,
    /// 5-wood.
    Wood5,
    /// 7-wood.
    Wood7,
    /// Hybrid.
    Hybrid,
    /// 3-iron.
    Iron3,
    /// 4-iron.
    Iron4,
    /// 5-iron.
    Iron5,
    /// 6-iron.
    Iron6,
    /// 7-iron.
    Iron7,
    /// 8-iron.
    Iron8,
    /// 9-iron.
    Iron9,
    /// Pitching wedge.
    WedgePitching,
    /// Gap wedge.
    WedgeGap,
    /// Sand wedge.
    WedgeSand,
    /// Lob wedge.
    WedgeLob,
}

impl Keyed for Club {
    const KIND: &'static str = "a club";
}

/// A club's row: names, head and reference delivery.
struct Row {
    club: Club,
    label: &'static str,
    head: Head,
    /// Club speed, mph; angle of attack, deg; dynamic loft, deg; impact high on the
    /// face, mm.
    reference: [f64; 4],
}

const fn row(club: Club, label: &'static str, head: Head, reference: [f64; 4]) -> Row {
    Row {
        club,
        label,
        head,
        reference,
    }
}

/// What the shaft adds to the mass that the ball feels, kg: about a third of it.
const SHAFT_SHARE: f64 = 0.025;

const fn wood(mass: f64, spring: f64, depth: f64, inertia: [f64; 2], radius: f64) -> Head {
    Head {
        mass: mass + SHAFT_SHARE,
        spring,
        depth,
        inertia,
        bulge: 1.0 / radius,
    }
}

const fn iron(mass: f64) -> Head {
    Head {
        mass: mass + SHAFT_SHARE,
        spring: 0.0,
        depth: 0.008,
        inertia: [2.4e-4, 0.9e-4],
        bulge: 0.0,
    }
}

const DRIVER: Head = wood(0.203, 0.115, 0.042, [5.2e-4, 3.6e-4], 0.305);
const WOOD3: Head = wood(0.212, 0.0875, 0.026, [2.8e-4, 1.6e-4], 0.254);
const WOOD5: Head = wood(0.218, 0.0875, 0.024, [2.6e-4, 1.5e-4], 0.254);
const WOOD7: Head = wood(0.223, 0.0875, 0.023, [2.6e-4, 1.5e-4], 0.254);
const HYBRID: Head = wood(0.228, 0.0634, 0.018, [2.6e-4, 1.3e-4], 0.305);

/// Loft that each mph under the elite's speed adds to the reference delivery, deg, in full
/// up to the first of these lofts (deg) and nothing from the second on.
const MORE_LOFT: f64 = 0.12;
const LOFTS_OF_MORE_LOFT: [f64; 2] = [20.0, 45.0];

/// Club speed of a sound club player as a share of the elite's. Carry per mph falls
/// with speed, so an elite factor would ask too much of those who come to a coach.
const SOUND_SHARE: f64 = 0.85;

/// Heads have the usual mass, depth and inertia of their kind; the driver's
/// spring takes it to the legal limit at elite speed, the others are fitted with the
/// contact by `examples/calibrate_impact.rs`. Reference deliveries have the
/// published club speeds and attack angles of elite men with the dynamic loft that
/// gives their launch; the 7-wood and the wedges past the pitching wedge are continued by us.
static ROWS: [Row; Club::COUNT] = {
    use Club as C;
    [
        row(C::Driver, "Driver", DRIVER, [113.0, -1.3, 10.9, 10.7]),
        row(C::Wood3, "3-wood", WOOD3, [107.0, -2.9, 11.5, 2.5]),
        row(C::Wood5, "5-wood", WOOD5, [103.0, -3.3, 11.9, 2.5]),
        row(C::Wood7, "7-wood", WOOD7, [101.0, -3.4, 13.1, 1.5]),
        row(C::Hybrid, "Hybrid", HYBRID, [100.0, -3.5, 14.0, 0.0]),
        row(C::Iron3, "3-iron", iron(0.238), [98.0, -3.1, 14.4, 0.0]),
        row(C::Iron4, "4-iron", iron(0.244), [96.0, -3.4, 15.3, 0.0]),
        row(C::Iron5, "5-iron", iron(0.250), [94.0, -3.7, 16.8, 0.0]),
        row(C::Iron6, "6-iron", iron(0.257), [92.0, -4.1, 19.6, 0.0]),
        row(C::Iron7, "7-iron", iron(0.264), [90.0, -4.3, 22.7, 0.0]),
        row(C::Iron8, "8-iron", iron(0.272), [87.0, -4.5, 25.2, 0.0]),
        row(C::Iron9, "9-iron", iron(0.280), [85.0, -4.7, 28.5, 0.0]),
        row(
            C::WedgePitching,
            "Pitching wedge",
            iron(0.286),
            [83.0, -5.0, 34.2, 0.0],
        ),
        row(
            C::WedgeGap,
            "Gap wedge",
            iron(0.293),
            [81.0, -5.1, 38.5, 0.0],
        ),
        row(
            C::WedgeSand,
            "Sand wedge",
            iron(0.300),
            [79.0, -5.2, 43.0, 0.0],
        ),
        row(
            C::WedgeLob,
            "Lob wedge",
            iron(0.302),
            [77.0, -5.3, 46.5, 0.0],
        ),
    ]
};

impl Club {
    /// How many there are.
    pub const COUNT: usize = 16;

    fn row(self) -> &'static Row {
        let row = &ROWS[self as usize];
        debug_assert_eq!(row.club, self, "rows stand in the order of the enum");
        row
    }

    /// The name on screen.
    pub fn label(self) -> &'static str {
        self.row().label
    }

    /// The name inside a sentence: "5-wood", "driver".
    pub fn in_words(self) -> String {
        self.label().to_lowercase()
    }

    /// Its head.
    pub fn head(self) -> Head {
        self.row().head
    }

    /// A sound delivery at `club_speed` (m/s): the reference delivery, with a little more
    /// loft the slower the club, as slower players deliver it (ours: two degrees of launch
    /// for 20 mph with woods and irons, hardly any with wedges).
    pub fn reference_delivery(self, club_speed: f64) -> Delivery {
        let [elite, attack, loft, high_mm] = self.row().reference;
        let [flat, steep] = LOFTS_OF_MORE_LOFT;
        let by_loft = ((steep - loft) / (steep - flat)).clamp(0.0, 1.0);
        let more = MORE_LOFT * by_loft * (elite - club_speed / MPH);
        Delivery {
            impact_high: high_mm / 1000.0,
            ..Delivery::straight(club_speed, attack, loft + more)
        }
    }

    /// The reference delivery at a sound club player's speed.
    pub fn sound_delivery(self) -> Delivery {
        self.reference_delivery(SOUND_SHARE * self.reference_club_speed())
    }

    /// The launch of the reference delivery at `club_speed`, m/s.
    pub fn reference_launch(self, club_speed: f64) -> Launch {
        strike_with(
            &self.reference_delivery(club_speed),
            &self.head(),
            &Contact::CALIBRATED,
        )
    }

    /// The launch of a sound delivery that gives this ball speed, m/s.
    pub fn reference_launch_of_ball(self, ball_speed: f64) -> Launch {
        let mut club_speed = ball_speed / 1.4;
        // Restitution hardly depends on speed, so a few scalings are plenty.
        for _ in 0..3 {
            club_speed *= ball_speed / self.reference_launch(club_speed).ball_speed;
        }
        self.reference_launch(club_speed)
    }

    /// Usual static loft, deg: that of traditional sets, ours.
    pub fn usual_loft_deg(self) -> f64 {
        match self {
            Club::Driver => 10.5,
            Club::Wood3 => 15.0,
            Club::Wood5 => 18.0,
            Club::Wood7 | Club::Hybrid | Club::Iron3 => 21.0,
            Club::Iron4 => 24.0,
            Club::Iron5 => 27.0,
            Club::Iron6 => 30.5,
            Club::Iron7 => 34.0,
            Club::Iron8 => 38.0,
            Club::Iron9 => 42.0,
            Club::WedgePitching => 46.0,
            Club::WedgeGap => 51.0,
            Club::WedgeSand => 56.0,
            Club::WedgeLob => 60.0,
        }
    }

    /// Usual length, m: that of common sets, ours.
    pub fn usual_length(self) -> f64 {
        let inches = match self {
            Club::Driver => 45.25,
            Club::Wood3 => 43.0,
            Club::Wood5 => 42.0,
            Club::Wood7 => 41.5,
            Club::Hybrid => 40.5,
            Club::Iron3 => 39.0,
            Club::Iron4 => 38.5,
            Club::Iron5 => 38.0,
            Club::Iron6 => 37.5,
            Club::Iron7 => 37.0,
            Club::Iron8 => 36.5,
            Club::Iron9 => 36.0,
            Club::WedgePitching => 35.75,
            Club::WedgeGap => 35.5,
            Club::WedgeSand => 35.25,
            Club::WedgeLob => 35.0,
        };
        0.0254 * inches
    }

    /// Whether its ball usually stands on a tee that can be higher or lower.
    pub fn teed(self) -> bool {
        self < Club::Hybrid
    }

    /// Usual mass of the head alone, kg.
    pub fn head_mass(self) -> f64 {
        self.head().mass - SHAFT_SHARE
    }

    /// The longer iron or wedge whose usual loft this one has, where it is not its own.
    ///
    /// ```
    /// use tally_core::physics::club::Club;
    /// assert_eq!(Club::Iron7.with_loft_of(30.0), Some(Club::Iron6));
    /// assert_eq!(Club::Iron7.with_loft_of(33.5), None);
    /// assert_eq!(Club::WedgeSand.with_loft_of(56.0), None);
    /// assert_eq!(Club::Driver.with_loft_of(8.0), None);
    /// ```
    pub fn with_loft_of(self, loft_deg: f64) -> Option<Club> {
        let irons = Club::all().filter(|club| *club >= Club::Iron3);
        if self < Club::Iron3 {
            return None;
        }
        let off = |club: &Club| (club.usual_loft_deg() - loft_deg).abs();
        let nearest = irons.min_by(|a, b| off(a).total_cmp(&off(b)))?;
        (nearest < self).then_some(nearest)
    }

    /// Reference club speed, m/s.
    pub fn reference_club_speed(self) -> f64 {
        self.row().reference[0] * MPH
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_stand_in_the_order_of_the_enum_and_keys_are_the_json_names() {
        for (i, row) in ROWS.iter().enumerate() {
            assert_eq!(row.club as usize, i, "{}", row.club.key());
            let json = serde_json::to_string(&row.club).unwrap();
            assert_eq!(json, format!("\"{}\"", row.club.key()));
        }
    }

    #[test]
    fn every_club_is_found_by_its_key() {
        for club in Club::all() {
            assert_eq!(Club::from_key("club", club.key()), Ok(club));
        }
        assert!(
            Club::from_key("club", "spoon")
                .unwrap_err()
                .remedy
                .contains("wood3")
        );
    }
}
