//! The furthest carry of a club at every speed, in reference air.

use super::{Aim, Freedom, Question, Speed, Useful, best};
use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::vocabulary::keyed::Keyed;
use std::sync::OnceLock;

/// Club speeds at which it is searched, m/s: first, step and how many.
const FIRST: f64 = 10.0;
const STEP: f64 = 5.0;
const NODES: usize = 14;

/// The furthest carry (m) that a club speed (m/s, 10…75) can be made into with a club by
/// what swings deliver, in reference air. Searched once and kept.
///
/// ```
/// use tally_core::physics::{club::Club, furthest::furthest_carry};
/// let (slow, fast) = (furthest_carry(Club::Driver, 25.0), furthest_carry(Club::Driver, 50.0));
/// assert!((80.0..100.0).contains(&slow) && (245.0..265.0).contains(&fast));
/// ```
pub fn furthest_carry(club: Club, club_speed: f64) -> f64 {
    static CURVES: [OnceLock<Vec<[f64; 2]>>; Club::COUNT] =
        [const { OnceLock::new() }; Club::COUNT];
    let curve = CURVES[club as usize].get_or_init(|| searched(club));
    let held = club_speed.clamp(curve[0][0], curve[NODES - 1][0]);
    // Slower than that a ball flies as in no air: with the square of its speed.
    (club_speed / held).powi(2) * between(curve, held)
}

fn searched(club: Club) -> Vec<[f64; 2]> {
    (0..NODES)
        .map(|i| {
            let speed = FIRST + STEP * i as f64;
            let furthest = best(&Question {
                speed: Speed::Club(speed),
                club,
                aim: Aim::Carry,
                conditions: Conditions::REFERENCE,
                freedom: Freedom::of(club),
                useful: Useful::USUAL,
                tolerance: 1.0,
            });
            let furthest =
                furthest.unwrap_or_else(|why| panic!("{} at {speed}: {why}", club.key()));
            [speed, furthest.distance]
        })
        .collect()
}

/// The value at `x` of the parabola through the three nearest of `nodes` (x ascending).
pub(crate) fn between(nodes: &[[f64; 2]], x: f64) -> f64 {
    let above = nodes.iter().position(|node| node[0] >= x);
    let last = nodes.len() - 1;
    let middle = above.unwrap_or(last).clamp(1, last - 1);
    let near = &nodes[middle - 1..=middle + 1];
    (0..3)
        .map(|i| {
            let others = (0..3).filter(|j| *j != i);
            let weight: f64 = others
                .map(|j| (x - near[j][0]) / (near[i][0] - near[j][0]))
                .product();
            weight * near[i][1]
        })
        .sum()
}
