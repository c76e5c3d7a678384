//! How many strokes it takes from here, by distance and lie.
//!
//! The baseline is Broadie's (2012) of the best professionals, in yards and, for putts,
//! feet; between its rows it is straight, beyond its ends it goes on as its last rows do.
//! A player above it loses in proportion to what is left to do: each stroke after the
//! next is stretched by the same share, so that a whole round comes out at the player's
//! level. That proportion is ours; amateurs do lose along the whole hole (Broadie 2008).

use crate::vocabulary::units::{FOOT, YARD};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Where a ball lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Lie {
    /// Teed up.
    Tee,
    /// On mown grass.
    Fairway,
    /// In long grass.
    Rough,
    /// In sand.
    Sand,
    /// Where the way to the green is blocked.
    Recovery,
    /// On the green.
    Green,
}

/// Yards between the rows, and at the first of them.
const ROWS_APART: f64 = 20.0;
const ROWS: usize = 30;
/// Rows by lie, in the order of [`Lie`]; the tee's and the recovery's begin at 100 yd.
const BY_LIE: [[f64; ROWS]; 5] = [
    [
        2.92, 2.92, 2.92, 2.92, 2.92, 2.99, 2.97, 2.99, 3.05, 3.12, 3.17, 3.25, 3.45, 3.65, 3.71,
        3.79, 3.86, 3.92, 3.96, 3.99, 4.02, 4.08, 4.17, 4.28, 4.41, 4.54, 4.65, 4.74, 4.79, 4.82,
    ],
    [
        2.40, 2.60, 2.70, 2.75, 2.80, 2.85, 2.91, 2.98, 3.08, 3.19, 3.32, 3.45, 3.58, 3.69, 3.78,
        3.84, 3.88, 3.95, 4.03, 4.11, 4.15, 4.20, 4.29, 4.40, 4.53, 4.66, 4.78, 4.86, 4.91, 4.94,
    ],
    [
        2.59, 2.78, 2.91, 2.96, 3.02, 3.08, 3.15, 3.23, 3.31, 3.42, 3.53, 3.64, 3.74, 3.83, 3.90,
        3.95, 4.02, 4.11, 4.21, 4.30, 4.34, 4.39, 4.48, 4.59, 4.72, 4.85, 4.97, 5.05, 5.10, 5.13,
    ],
    [
        2.53, 2.82, 3.15, 3.24, 3.23, 3.21, 3.22, 3.28, 3.40, 3.55, 3.70, 3.84, 3.93, 4.00, 4.04,
        4.12, 4.26, 4.41, 4.55, 4.69, 4.73, 4.78, 4.87, 4.98, 5.11, 5.24, 5.36, 5.44, 5.49, 5.52,
    ],
    [
        3.80, 3.80, 3.80, 3.80, 3.80, 3.78, 3.80, 3.81, 3.82, 3.87, 3.92, 3.97, 4.03, 4.10, 4.20,
        4.31, 4.44, 4.56, 4.66, 4.75, 4.79, 4.84, 4.93, 5.04, 5.17, 5.30, 5.42, 5.50, 5.55, 5.58,
    ],
];
const FEET: [f64; 12] = [
    1.0, 3.0, 4.0, 5.0, 8.0, 10.0, 15.0, 20.0, 30.0, 40.0, 60.0, 90.0,
];
const GREEN: [f64; 12] = [
    1.00, 1.04, 1.13, 1.23, 1.50, 1.61, 1.78, 1.87, 1.98, 2.06, 2.21, 2.40,
];
/// Strokes after the first of each hole in a round of the baseline: 72 less 18.
const LEFT_IN_A_ROUND: f64 = 54.0;
/// Multiplied with, because dividing takes longer.
const ROWS_PER_METRE: f64 = 1.0 / (ROWS_APART * YARD);

/// Expected strokes from `distance` m in this lie, for a player `level` strokes a round
/// above the baseline.
///
/// ```
/// use tally_core::trials::strokes::{Lie, expected_strokes};
/// let fairway = expected_strokes(140.0, Lie::Fairway, 0.0);
/// assert!(fairway < expected_strokes(140.0, Lie::Rough, 0.0));
/// assert!(fairway < expected_strokes(140.0, Lie::Fairway, 18.0)); // A weaker player.
/// ```
pub fn expected_strokes(distance: f64, lie: Lie, level: f64) -> f64 {
    let baseline = match BY_LIE.get(lie as usize) {
        Some(rows) => in_rows(rows, distance * ROWS_PER_METRE - 1.0),
        None => between(&FEET, &GREEN, distance / FOOT),
    };
    stretched(baseline, level)
}

/// What the baseline's strokes are for a player `level` strokes a round above it.
fn stretched(baseline: f64, level: f64) -> f64 {
    1.0 + (baseline - 1.0) * (1.0 + level / LEFT_IN_A_ROUND)
}

/// A player's strokes from one lie, ready to be asked for very many distances.
#[derive(Debug, Clone, Copy)]
pub(crate) struct FromLie([f64; ROWS]);

impl FromLie {
    /// For a player `level` strokes a round above the baseline, who has lost `lost` on the way;
    /// none on the green, where feet count.
    pub fn of(lie: Lie, level: f64, lost: f64) -> Option<FromLie> {
        let rows = BY_LIE.get(lie as usize)?;
        Some(FromLie(rows.map(|row| lost + stretched(row, level))))
    }

    /// From `distance` m.
    #[inline]
    pub fn strokes(&self, distance: f64) -> f64 {
        in_rows(&self.0, distance * ROWS_PER_METRE - 1.0)
    }
}

/// The same as [`between`] at a place among rows that stand evenly: nothing is looked for.
#[inline]
fn in_rows(rows: &[f64; ROWS], place: f64) -> f64 {
    let place = place.max(0.0);
    // Numbers of 32 bits are cut from floating ones in fewer steps than larger ones.
    let low = (place as u32 as usize).min(ROWS - 2);
    rows[low] + (place - low as f64) * (rows[low + 1] - rows[low])
}

/// Straight between rows; before the first row its value, beyond the last as the last
/// two go on.
fn between(at: &[f64], values: &[f64], x: f64) -> f64 {
    if x <= at[0] {
        return values[0];
    }
    let above = at.partition_point(|row| *row < x).min(at.len() - 1);
    let (low, high) = (above - 1, above);
    let share = (x - at[low]) / (at[high] - at[low]);
    values[low] + share * (values[high] - values[low])
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn from(yards: f64, lie: Lie) -> f64 {
        expected_strokes(yards * YARD, lie, 0.0)
    }

    #[test]
    fn the_baseline_is_broadie_s() {
        for (yards, lie, strokes) in [
            (400.0, Lie::Tee, 3.99),
            (150.0, Lie::Fairway, 2.945),
            (100.0, Lie::Rough, 3.02),
            (60.0, Lie::Sand, 3.15),
            (200.0, Lie::Recovery, 3.87),
        ] {
            assert!((from(yards, lie) - strokes).abs() < 1e-9, "{yards} {lie:?}");
        }
        let putt = expected_strokes(8.0 * FOOT, Lie::Green, 0.0);
        assert!((putt - 1.50).abs() < 1e-9);
    }

    #[test]
    fn a_round_at_a_level_costs_that_many_strokes_more() {
        // Eighteen holes that take four each make 72; fourteen above is 86.
        let hole = |level| expected_strokes(406.667 * YARD, Lie::Tee, level);
        let round = 18.0 * hole(0.0);
        assert!((round - 72.0).abs() < 0.1, "{round}");
        assert!((18.0 * hole(14.0) - round - 14.0).abs() < 0.05);
    }

    proptest! {
        #[test]
        fn further_is_never_easier_from_grass_and_the_rough_is_never_the_better_lie(
            yards in 20.0..590.0f64, more in 0.0..60.0f64, level in 0.0..40.0f64,
        ) {
            let strokes = |yards: f64, lie| expected_strokes(yards * YARD, lie, level);
            prop_assert!(strokes(yards + more, Lie::Fairway) >= strokes(yards, Lie::Fairway) - 1e-9);
            prop_assert!(strokes(yards, Lie::Rough) > strokes(yards, Lie::Fairway));
            prop_assert!(strokes(yards, Lie::Recovery) > strokes(yards, Lie::Rough));
        }
    }
}
