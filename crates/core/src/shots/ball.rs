//! A ball as tests look at it: its values, how it stands, and when it was hit.

use crate::physics::club::Club;
use crate::shots::reading::{Provenance, Reading};
use crate::shots::standing::Standing;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use serde::Serialize;
use utoipa::ToSchema;

/// One ball of a test.
#[derive(Debug, Clone, PartialEq)]
pub struct Ball {
    /// Its values.
    pub reading: Reading,
    /// How it stands in the figures.
    pub standing: Standing,
    /// The club it was hit with.
    pub club: Club,
    /// Which of the sessions looked at.
    pub session: usize,
    /// Swings made before it in that session, those set aside included.
    pub order: usize,
    /// Strike marked on the face.
    pub strike: Option<Strike>,
    /// Whether it was set aside as a mishit.
    pub mishit: bool,
}

impl Ball {
    /// A kept ball of the one session looked at.
    pub fn new(reading: Reading, club: Club, order: usize) -> Ball {
        Ball {
            reading,
            standing: Standing::Kept,
            club,
            session: 0,
            order,
            strike: None,
            mishit: false,
        }
    }

    /// A value that may enter figures: calculated spin only when the house allows it.
    pub fn counted(&self, quantity: Quantity, rules: &HouseRules) -> Option<f64> {
        let value = self.reading.value(quantity)?;
        let spin = matches!(quantity, Quantity::SpinRate | Quantity::SpinAxis);
        let left_out =
            spin && value.from == Provenance::Calculated && !rules.counts_calculated_spin();
        (!left_out).then_some(value.si)
    }

    /// Whether it stands in the figures.
    pub fn kept(&self) -> bool {
        self.standing == Standing::Kept
    }

    /// Whether it tells what happens on a course: kept, or set aside as a mishit, which
    /// happens there too.
    pub fn plays(&self) -> bool {
        self.kept() || self.mishit
    }

    /// Whether it stands, or was set aside by the coach.
    pub fn hit(&self) -> bool {
        self.standing != Standing::Doubtful
    }

    /// Where on the face it was struck, by its mark or its measured place.
    pub fn struck(&self, rules: &HouseRules) -> Option<Strike> {
        if self.strike.is_some() {
            return self.strike;
        }
        let [toe, high] = self.measured_strike(rules);
        Some(Strike {
            toe: toe?,
            high: high?,
        })
    }

    /// The same where a device tells only one of the two: the other counts as the middle.
    pub fn struck_as_told(&self, rules: &HouseRules) -> Option<Strike> {
        let [toe, high] = self.measured_strike(rules);
        self.strike.or_else(|| {
            toe.or(high)?;
            Some(Strike {
                toe: toe.unwrap_or(0),
                high: high.unwrap_or(0),
            })
        })
    }

    /// Thirds of the face toward the toe and up, as measured.
    fn measured_strike(&self, rules: &HouseRules) -> [Option<i8>; 2] {
        // A strike at the limit, as devices round it, is off the middle.
        let off = |value: f64, half: f64| i8::from(value > half - 0.05e-3);
        let third = |value: f64, half: f64| off(value, half) - off(-value, half);
        let told = |quantity, half| self.reading.get(quantity).map(|v| third(v, half));
        [
            told(Quantity::ImpactToe, rules.centre_toe),
            told(Quantity::ImpactHigh, rules.centre_high),
        ]
    }
}

/// A ninth of the face.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Strike {
    /// 1 toward the toe, −1 toward the heel, 0 between.
    pub toe: i8,
    /// 1 high, −1 low, 0 between.
    pub high: i8,
}

impl Strike {
    /// The ninth with this key of a number pad, on the face as seen from in front; the
    /// toe is left for a right-handed player. Nothing for another number.
    pub fn of_cell(cell: i16, left_handed: bool) -> Option<Strike> {
        let cell = i8::try_from(cell).ok().filter(|c| (1..=9).contains(c))?;
        let (row, column) = ((cell - 1) / 3, (cell - 1) % 3);
        let left = 1 - column;
        Some(Strike {
            toe: if left_handed { -left } else { left },
            high: row - 1,
        })
    }
}

/// Where on the face balls were struck.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Strikes {
    /// From the middle.
    pub centred: usize,
    /// All that were marked or measured.
    pub of: usize,
    /// Balls of each ninth: rows from high to low, in each toe, middle, heel.
    pub ninths: [[usize; 3]; 3],
}

impl Strikes {
    /// Counts the strikes of some balls.
    pub fn of<'a>(balls: impl Iterator<Item = &'a Ball>, rules: &HouseRules) -> Strikes {
        let mut strikes = Strikes::default();
        for strike in balls.filter_map(|ball| ball.struck(rules)) {
            let (row, column) = (1 - strike.high, 1 - strike.toe);
            strikes.ninths[row as usize][column as usize] += 1;
            strikes.centred += usize::from(strike.toe == 0 && strike.high == 0);
            strikes.of += 1;
        }
        strikes
    }
}

/// The club that a session is looked at with unless another is asked for: its own when
/// it was hit, or else the one hit most, the longest of several.
///
/// ```
/// use tally_core::physics::club::Club;
/// use tally_core::shots::ball::opening_club;
/// assert_eq!(opening_club(Club::Iron7, &[]), Club::Iron7);
/// let hit = [Club::Driver, Club::Iron7, Club::Driver];
/// assert_eq!(opening_club(Club::Iron7, &hit), Club::Iron7);
/// assert_eq!(opening_club(Club::Hybrid, &hit), Club::Driver);
/// ```
pub fn opening_club(own: Club, hit: &[Club]) -> Club {
    let times = |club: Club| hit.iter().filter(|c| **c == club).count();
    if hit.is_empty() || times(own) > 0 {
        return own;
    }
    // The last of equals is taken, so the longest comes last.
    let mut clubs: Vec<Club> = hit.to_vec();
    clubs.sort_by(|a, b| b.cmp(a));
    clubs
        .into_iter()
        .max_by_key(|club| times(*club))
        .unwrap_or(own)
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    /// A kept ball with these measured values.
    pub(crate) fn ball(order: usize, values: &[(Quantity, f64)]) -> Ball {
        let mut reading = Reading::default();
        for (quantity, si) in values {
            reading.set(*quantity, *si, Provenance::Measured);
        }
        Ball::new(reading, Club::Driver, order)
    }

    #[test]
    fn a_mark_on_the_face_stands_before_what_was_measured() {
        let rules = HouseRules::default();
        let mut hit = ball(
            0,
            &[(Quantity::ImpactToe, 0.02), (Quantity::ImpactHigh, 0.0)],
        );
        assert_eq!(hit.struck(&rules), Some(Strike { toe: 1, high: 0 }));
        hit.strike = Strike::of_cell(5, false);
        assert_eq!(hit.struck(&rules), Some(Strike { toe: 0, high: 0 }));
        assert_eq!(ball(0, &[]).struck(&rules), None);
        let low_heel = ball(
            1,
            &[(Quantity::ImpactToe, -0.02), (Quantity::ImpactHigh, -0.02)],
        );
        let struck = Strikes::of([hit, low_heel, ball(2, &[])].iter(), &rules);
        assert_eq!((struck.centred, struck.of), (1, 2));
        assert_eq!(struck.ninths, [[0, 0, 0], [0, 1, 0], [0, 0, 1]]);
    }

    #[test]
    fn the_toe_is_on_the_other_side_for_a_left_handed_player() {
        assert_eq!(Strike::of_cell(7, false), Some(Strike { toe: 1, high: 1 }));
        assert_eq!(Strike::of_cell(7, true), Some(Strike { toe: -1, high: 1 }));
        assert_eq!(
            Strike::of_cell(3, false),
            Some(Strike { toe: -1, high: -1 })
        );
        assert_eq!(Strike::of_cell(0, false), None);
    }

    #[test]
    fn calculated_spin_counts_only_when_the_house_says_so() {
        let mut rules = HouseRules::default();
        let mut hit = ball(0, &[]);
        hit.reading
            .set(Quantity::SpinRate, 2500.0, Provenance::Calculated);
        assert_eq!(hit.counted(Quantity::SpinRate, &rules), None);
        rules.set("calculated_spin", Some(1.0)).unwrap();
        assert_eq!(hit.counted(Quantity::SpinRate, &rules), Some(2500.0));
    }
}
