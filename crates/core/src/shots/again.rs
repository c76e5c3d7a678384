//! Whether a shot that comes in is one that is there already: by when it was hit, with what,
//! and by its values.
//!
//! A file that grows from week to week brings its old shots again, and they are not to be
//! counted twice; two shots that only look alike are not to become one either. So every value
//! that both tell must agree to what devices tell apart; with the time of day, one is enough,
//! with the day alone it takes three.

use crate::physics::club::Club;
use crate::shots::reading::Reading;
use chrono::{DateTime, NaiveDate, TimeDelta, Utc};

/// How far apart the same moment may be written, s.
const SAME_MOMENT_S: i64 = 1;
/// Values that must agree where only the day is known.
const BY_DAY: usize = 3;

/// A shot as far as it tells whether it is another one.
#[derive(Debug, Clone, PartialEq)]
pub struct Seen<'a> {
    /// The day at the place.
    pub day: NaiveDate,
    /// The moment, where it is known.
    pub at: Option<DateTime<Utc>>,
    /// With what.
    pub club: Club,
    /// Its values.
    pub reading: &'a Reading,
}

/// Whether `new` is the shot `there` once more.
///
/// ```
/// use tally_core::physics::club::Club;
/// use tally_core::shots::again::{Seen, again};
/// use tally_core::shots::reading::{Provenance, Reading};
/// use tally_core::vocabulary::quantity::Quantity;
/// let mut reading = Reading::default();
/// reading.set(Quantity::ClubSpeed, 41.2, Provenance::Measured);
/// let at = "2026-04-18T10:15:00Z".parse().unwrap();
/// let shot = Seen { day: "2026-04-18".parse().unwrap(), at: Some(at), club: Club::Iron7, reading: &reading };
/// assert!(again(&shot, &shot));
/// // By the day and one value alone nobody can tell.
/// assert!(!again(&Seen { at: None, ..shot.clone() }, &shot));
/// ```
pub fn again(new: &Seen<'_>, there: &Seen<'_>) -> bool {
    if new.club != there.club {
        return false;
    }
    let enough = match (new.at, there.at) {
        (Some(a), Some(b)) if (a - b).abs() <= TimeDelta::seconds(SAME_MOMENT_S) => 1,
        (Some(_), Some(_)) => return false,
        _ if new.day == there.day => BY_DAY,
        _ => return false,
    };
    let mut shared = 0;
    for (quantity, value) in &new.reading.0 {
        let Some(other) = there.reading.get(*quantity) else {
            continue;
        };
        // Half of what devices tell apart: the same number, written with fewer figures.
        if (value.si - other).abs() > 0.5 * quantity.dimension().grain() + 1e-9 {
            return false;
        }
        shared += 1;
    }
    shared >= enough
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::reading::Provenance;
    use crate::vocabulary::quantity::Quantity;

    fn reading(values: &[(Quantity, f64)]) -> Reading {
        let mut reading = Reading::default();
        for (quantity, si) in values {
            reading.set(*quantity, *si, Provenance::Measured);
        }
        reading
    }

    const FOUR: [(Quantity, f64); 4] = [
        (Quantity::ClubSpeed, 41.2),
        (Quantity::BallSpeed, 57.0),
        (Quantity::Carry, 151.0),
        (Quantity::SpinRate, 6412.0),
    ];

    fn seen<'a>(at: Option<&str>, reading: &'a Reading) -> Seen<'a> {
        Seen {
            day: "2026-04-18".parse().unwrap(),
            at: at.map(|at| at.parse().unwrap()),
            club: Club::Iron7,
            reading,
        }
    }

    #[test]
    fn a_shot_is_itself_with_fewer_figures_and_fewer_values() {
        let (whole, at) = (reading(&FOUR), Some("2026-04-18T10:15:00.400Z"));
        let short = reading(&[(Quantity::ClubSpeed, 41.21), (Quantity::SpinRate, 6410.0)]);
        assert!(again(
            &seen(Some("2026-04-18T10:15:00Z"), &short),
            &seen(at, &whole)
        ));
        assert!(!again(
            &seen(Some("2026-04-18T10:15:12Z"), &short),
            &seen(at, &whole)
        ));
        // By the day alone two values are too few.
        assert!(!again(&seen(None, &short), &seen(at, &whole)));
        assert!(again(&seen(None, &whole), &seen(at, &whole)));
    }

    #[test]
    fn another_club_or_another_value_is_another_shot() {
        let whole = reading(&FOUR);
        let wood = Seen {
            club: Club::Wood3,
            ..seen(None, &whole)
        };
        assert!(!again(&wood, &seen(None, &whole)));
        let mut near = FOUR;
        near[2].1 = 152.0;
        assert!(!again(&seen(None, &reading(&near)), &seen(None, &whole)));
        assert!(!again(&seen(None, &reading(&[])), &seen(None, &whole)));
    }
}
