//! A ball as tests look at it: its values, how it stands, and when it was hit.

use crate::club::Club;
use crate::house_rules::HouseRules;
use crate::quantity::Quantity;
use crate::read::Standing;
use crate::reading::{Provenance, Reading};
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
    /// Strike marked on the face, as on a number pad.
    pub strike: Option<u8>,
    /// Whether it was set aside as a mishit.
    pub mishit: bool,
}

impl Ball {
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

    /// Whether it was struck from the middle, by its mark or its measured place.
    pub fn centred(&self, rules: &HouseRules) -> Option<bool> {
        if let Some(cell) = self.strike {
            return Some(cell == 5);
        }
        let toe = self.reading.get(Quantity::ImpactToe)?;
        let high = self.reading.get(Quantity::ImpactHigh)?;
        Some(toe.abs() <= rules.centre_toe && high.abs() <= rules.centre_high)
    }
}

/// Strikes from the middle of the face.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Strikes {
    /// From the middle.
    pub centred: usize,
    /// All that were marked or measured.
    pub of: usize,
}

impl Strikes {
    /// Counts the strikes of some balls.
    pub fn of<'a>(balls: impl Iterator<Item = &'a Ball>, rules: &HouseRules) -> Strikes {
        balls
            .filter_map(|ball| ball.centred(rules))
            .fold(Strikes::default(), |so_far, centred| Strikes {
                centred: so_far.centred + usize::from(centred),
                of: so_far.of + 1,
            })
    }
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
        Ball {
            reading,
            standing: Standing::Kept,
            club: Club::Driver,
            session: 0,
            order,
            strike: None,
            mishit: false,
        }
    }

    #[test]
    fn a_mark_on_the_face_stands_before_what_was_measured() {
        let rules = HouseRules::default();
        let mut hit = ball(
            0,
            &[(Quantity::ImpactToe, 0.02), (Quantity::ImpactHigh, 0.0)],
        );
        assert_eq!(hit.centred(&rules), Some(false));
        hit.strike = Some(5);
        assert_eq!(hit.centred(&rules), Some(true));
        assert_eq!(ball(0, &[]).centred(&rules), None);
        let struck = Strikes::of([hit, ball(1, &[])].iter(), &rules);
        assert_eq!(struck, Strikes { centred: 1, of: 1 });
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
