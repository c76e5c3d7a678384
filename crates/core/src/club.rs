//! The clubs, and what a sound strike with each looks like.

use crate::air::Conditions;
use crate::flight::{Launch, fly};
use crate::impact::Head;
use crate::invalid::Invalid;
use crate::units::{MPH, YARD};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A kind of club.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Club {
    /// Driver.
    Driver,
    /// 3-wood.
    Wood3,
    /// 5-wood.
    Wood5,
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
    /// Sand wedge.
    WedgeSand,
}

/// A club's row: names, head and reference launch.
struct Row {
    club: Club,
    key: &'static str,
    label: &'static str,
    head: Head,
    /// Club speed, mph; ball speed, mph; launch, deg; spin, rpm.
    reference: [f64; 4],
}

const fn row(
    club: Club,
    key: &'static str,
    label: &'static str,
    mass: f64,
    restitution: f64,
    reference: [f64; 4],
) -> Row {
    Row {
        club,
        key,
        label,
        head: Head { mass, restitution },
        reference,
    }
}

/// Club speed of a sound club player as a share of the elite's. Carry per mph falls
/// with speed, so an elite factor would ask too much of those who come to a coach.
const SOUND_SHARE: f64 = 0.85;

/// Head masses are usual ones for the length of club; restitutions are effective
/// values that include the mean loss off centre. Reference launches are the
/// published averages of elite men, continued to the sand wedge by us.
static ROWS: [Row; 13] = {
    use Club as C;
    [
        row(
            C::Driver,
            "driver",
            "Driver",
            0.200,
            0.885,
            [113.0, 167.0, 10.9, 2686.0],
        ),
        row(
            C::Wood3,
            "wood3",
            "3-wood",
            0.212,
            0.865,
            [107.0, 158.0, 9.2, 3655.0],
        ),
        row(
            C::Wood5,
            "wood5",
            "5-wood",
            0.218,
            0.865,
            [103.0, 152.0, 9.4, 4350.0],
        ),
        row(
            C::Hybrid,
            "hybrid",
            "Hybrid",
            0.228,
            0.850,
            [100.0, 146.0, 10.2, 4437.0],
        ),
        row(
            C::Iron3,
            "iron3",
            "3-iron",
            0.238,
            0.820,
            [98.0, 142.0, 10.4, 4630.0],
        ),
        row(
            C::Iron4,
            "iron4",
            "4-iron",
            0.244,
            0.805,
            [96.0, 137.0, 11.0, 4836.0],
        ),
        row(
            C::Iron5,
            "iron5",
            "5-iron",
            0.250,
            0.800,
            [94.0, 132.0, 12.1, 5361.0],
        ),
        row(
            C::Iron6,
            "iron6",
            "6-iron",
            0.257,
            0.800,
            [92.0, 127.0, 14.1, 6231.0],
        ),
        row(
            C::Iron7,
            "iron7",
            "7-iron",
            0.264,
            0.800,
            [90.0, 120.0, 16.3, 7097.0],
        ),
        row(
            C::Iron8,
            "iron8",
            "8-iron",
            0.272,
            0.825,
            [87.0, 115.0, 18.1, 7998.0],
        ),
        row(
            C::Iron9,
            "iron9",
            "9-iron",
            0.280,
            0.840,
            [85.0, 109.0, 20.4, 8647.0],
        ),
        row(
            C::WedgePitching,
            "wedge_pitching",
            "Pitching wedge",
            0.286,
            0.860,
            [83.0, 102.0, 24.2, 9304.0],
        ),
        row(
            C::WedgeSand,
            "wedge_sand",
            "Sand wedge",
            0.300,
            0.860,
            [79.0, 90.0, 29.5, 10_000.0],
        ),
    ]
};

impl Club {
    /// All clubs, longest first.
    pub fn all() -> impl Iterator<Item = Club> {
        ROWS.iter().map(|row| row.club)
    }

    fn row(self) -> &'static Row {
        // Rows stand in the order of the enum; a test holds them to it.
        &ROWS[self as usize]
    }

    /// The name in files and the API.
    pub fn key(self) -> &'static str {
        self.row().key
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

    /// Finds the club with this key.
    ///
    /// # Errors
    /// [`Invalid`] naming the clubs there are.
    pub fn from_key(field: &str, key: &str) -> Result<Club, Invalid> {
        Self::all().find(|c| c.key() == key).ok_or_else(|| {
            let keys: Vec<_> = Self::all().map(Club::key).collect();
            Invalid::new(
                field,
                key,
                "is not a club",
                format!("use one of {}", keys.join(", ")),
            )
        })
    }

    /// The launch of a sound strike at `club_speed` (m/s): the smash, launch and spin
    /// per speed of the reference launch, whose shape hardly changes with speed.
    pub fn reference_launch(self, club_speed: f64) -> Launch {
        let [reference_speed, ball_speed, launch_angle_deg, spin] = self.row().reference;
        let share = club_speed / (reference_speed * MPH);
        Launch {
            ball_speed: ball_speed * MPH * share,
            launch_angle_deg,
            launch_direction_deg: 0.0,
            spin_rate_rpm: spin * share,
            spin_axis_deg: 0.0,
        }
    }

    /// Reference club speed, m/s.
    pub fn reference_club_speed(self) -> f64 {
        self.row().reference[0] * MPH
    }

    /// Our default house factor: yards of carry per mph of club speed, from the
    /// flight of the reference launch at a sound club player's speed
    /// ([`SOUND_SHARE`] of the elite's) in reference air, rounded to 0.05.
    pub fn default_house_factor(self) -> f64 {
        let speed = SOUND_SHARE * self.reference_club_speed();
        let flight = fly(&self.reference_launch(speed), &Conditions::REFERENCE)
            .expect("reference launches lie within the model's domain");
        let yards_per_mph = (flight.carry / YARD) / (speed / MPH);
        (yards_per_mph * 20.0).round() / 20.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_stand_in_the_order_of_the_enum_and_keys_are_the_json_names() {
        for (i, row) in ROWS.iter().enumerate() {
            assert_eq!(row.club as usize, i, "{}", row.key);
            let json = serde_json::to_string(&row.club).unwrap();
            assert_eq!(json, format!("\"{}\"", row.key));
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

    #[test]
    fn house_factors_fall_from_driver_to_wedge_in_steps_of_a_twentieth() {
        let factors: Vec<_> = Club::all().map(Club::default_house_factor).collect();
        for pair in factors.windows(2) {
            assert!(pair[0] >= pair[1] - 0.05, "{factors:?}");
        }
        assert!((2.2..2.5).contains(&factors[0]), "{factors:?}");
        assert!(
            factors
                .iter()
                .all(|k| (k * 20.0 - (k * 20.0).round()).abs() < 1e-9)
        );
    }
}
