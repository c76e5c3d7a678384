//! How many more balls tell which of two choices is the better.

use super::weigh::dealt;
use crate::verdicts::house_rules::HouseRules;
use statrs::distribution::{ContinuousCDF, Normal};

/// By how much the one is better in each draw. Draws of different levels are independent.
pub(crate) fn apart(one: &[f64], other: &[f64]) -> Vec<f64> {
    let (one, other) = (dealt(one, 0), dealt(other, 1));
    one.into_iter().zip(other).map(|(a, b)| a - b).collect()
}

/// Balls of each until the better of two is told, with the house's chance.
///
/// The difference may be anything that its draws say. After `m` more balls of each its
/// mean has moved by as much as those balls can move it, and is surer by their number (a
/// predictive probability, Spiegelhalter et al. 1986).
pub(crate) fn more_balls(apart: &[f64], balls: usize, rules: &HouseRules) -> Option<usize> {
    let n = apart.len() as f64;
    let mean = apart.iter().sum::<f64>() / n;
    let spread = (apart.iter().map(|d| (d - mean).powi(2)).sum::<f64>() / n).sqrt();
    let normal = Normal::standard();
    let z = normal.inverse_cdf(rules.interval_level);
    let chance = |more: usize| {
        let new = more as f64 / (balls + more) as f64;
        let (moves, sure) = (spread * new.sqrt(), z * spread * (1.0 - new).sqrt());
        normal.cdf((mean - sure) / moves) + normal.cdf((-mean - sure) / moves)
    };
    (1..=rules.most_more_balls()).find(|more| chance(*more) >= rules.verdict_power)
}
