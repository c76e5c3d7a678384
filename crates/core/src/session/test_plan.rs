//! How many balls tell, and in which order to hit them.

use crate::statistics::summary::{Estimate, student_t, student_t_of};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::invalid::{Invalid, within};
use rand::SeedableRng;
use rand_distr::{ChiSquared, Distribution, StandardNormal};
use rand_pcg::Pcg64;
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, Gamma, Normal};
use utoipa::ToSchema;

/// Draws of what the difference may truly be.
const DRAWS: usize = 400;
const SEED: u64 = 19_880_101;

/// Chance that `n` balls of each of two sets end in a verdict, when their means truly
/// lie `difference` apart and each ball strays by `spread`.
///
/// A verdict is an interval wholly to one side of nothing, or wholly within the margin.
/// Exact for normal balls of equal spread: given the spread that is seen, the mean
/// difference is normal; the spread seen is averaged over its chi-squared distribution.
pub fn power(n: usize, difference: f64, spread: f64, margin: f64, level: f64) -> f64 {
    power_in(200, n, difference, spread, [margin, level])
}

/// The same with the spread seen averaged over so many places.
fn power_in(
    steps: usize,
    n: usize,
    difference: f64,
    spread: f64,
    [margin, level]: [f64; 2],
) -> f64 {
    let freedom = 2 * (n - 1);
    let t = student_t(level, freedom);
    let error = spread * (2.0 / n as f64).sqrt();
    let seen = Gamma::new(freedom as f64 / 2.0, 0.5).expect("freedom is positive");
    let normal = Normal::standard();
    // Chance that the mean difference lies between two values.
    let between = |low: f64, high: f64| {
        normal.cdf((high - difference) / error) - normal.cdf((low - difference) / error)
    };
    let sum: f64 = (0..steps)
        .map(|i| {
            let share = (i as f64 + 0.5) / steps as f64;
            let half = t * error * (seen.inverse_cdf(share) / freedom as f64).sqrt();
            let same = margin - half;
            let same = if same > 0.0 {
                between(-same, same)
            } else {
                0.0
            };
            // Counted once where an interval is above nothing and within the margin.
            let edge = half.max(margin - half);
            same + 1.0 - between(-edge, edge)
        })
        .sum();
    sum / steps as f64
}

/// The spread of a ball, and how well it is known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BallSpread {
    /// Standard deviation, internal units.
    pub spread: f64,
    /// Degrees of freedom it was taken from.
    pub freedom: usize,
    /// Balls behind it.
    pub balls: usize,
}

/// Spread of a ball within its block, so that planned changes
/// from block to block are not taken for spread; nothing without two balls in a block.
/// `grain` is the step of the device.
pub fn spread_within(blocks: &[Vec<f64>], grain: f64) -> Option<BallSpread> {
    let (mut squares, mut freedom, mut balls) = (0.0, 0, 0);
    for values in blocks.iter().filter(|values| values.len() > 1) {
        let mean = values.iter().sum::<f64>() / values.len() as f64;
        squares += values.iter().map(|v| (v - mean).powi(2)).sum::<f64>();
        // Each block's own mean takes one ball's worth.
        freedom += values.len() - 1;
        balls += values.len();
    }
    let spread = (squares / freedom as f64).sqrt();
    (freedom > 0).then(|| BallSpread {
        spread: spread.max(grain / 12f64.sqrt()),
        freedom,
        balls,
    })
}

/// Balls of each set that a test needs.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct BallsNeeded {
    /// Balls of each; absent when even the house's most are too few.
    pub each: Option<usize>,
    /// The difference that is to be seen, internal units.
    pub difference: f64,
    /// Spread of a ball that was reckoned with.
    pub spread: f64,
    /// Chance to see it.
    pub power: f64,
}

/// Places of what a spread may truly be that are averaged over.
const MAY_BE: usize = 10;
/// And of what will be seen of it.
const STEPS: usize = 24;

/// Balls of each set that show a true `difference` with the house's chance, over what the
/// spread may be: few balls do not tell it, and planned from what they show a test would
/// often be too short (Browne 1995).
///
/// # Errors
/// [`Invalid`] for a difference or spread that is not more than nothing.
pub fn balls_needed(
    difference: f64,
    known: &BallSpread,
    rules: &HouseRules,
) -> Result<BallsNeeded, Invalid> {
    let least = 1e-3;
    let spread = known.spread;
    within("difference", difference, least..=1e5, "")?;
    within("spread", spread, least..=1e5, "")?;
    let most = rules.most_more_balls();
    let freedom = known.freedom.max(1) as f64;
    let seen = Gamma::new(freedom / 2.0, 0.5).expect("freedom is positive");
    let may_be: Vec<f64> = (0..MAY_BE)
        .map(|i| {
            let share = (i as f64 + 0.5) / MAY_BE as f64;
            spread * (freedom / seen.inverse_cdf(share)).sqrt()
        })
        .collect();
    // Against nothing alone: sameness is not what is looked for here.
    let shows = |n: usize| {
        let told = [0.0, rules.interval_level];
        let one = |spread: &f64| power_in(STEPS, n, difference, *spread, told);
        may_be.iter().map(one).sum::<f64>() / MAY_BE as f64
    };
    let each = least_of(2, most, |n| shows(n) >= rules.verdict_power);
    Ok(BallsNeeded {
        each,
        difference,
        spread,
        power: each.map_or_else(|| shows(most), shows),
    })
}

/// About how many more balls of each set would end in a verdict with the house's chance.
///
/// What the difference truly is, is not known; so the chance is taken over what it may
/// be, given the balls so far (a predictive probability, Spiegelhalter et al. 1986).
/// Nothing when even the house's most would hardly tell. Intervals are `wider` than those
/// of balls whose order tells nothing.
pub(crate) fn more_balls(
    first: &[f64],
    other: &[f64],
    difference: &Estimate,
    margin: f64,
    [level, wider]: [f64; 2],
    rules: &HouseRules,
) -> Option<usize> {
    let (n1, n2) = (first.len() as f64, other.len() as f64);
    let squares = |v: &[f64]| {
        let mean = v.iter().sum::<f64>() / v.len() as f64;
        v.iter().map(|x| (x - mean).powi(2)).sum::<f64>()
    };
    let freedom = n1 + n2 - 2.0;
    let seen = (squares(first) + squares(other)).max(1e-12);
    let mut rng = Pcg64::seed_from_u64(SEED);
    let chi = ChiSquared::new(freedom).expect("both sets have two balls");
    let maybe: Vec<(f64, f64, [f64; 2])> = (0..DRAWS)
        .map(|_| {
            let variance = seen / chi.sample(&mut rng);
            let z: f64 = StandardNormal.sample(&mut rng);
            let truth = difference.value + z * (variance * (1.0 / n1 + 1.0 / n2)).sqrt();
            let more = [
                StandardNormal.sample(&mut rng),
                StandardNormal.sample(&mut rng),
            ];
            (truth, variance, more)
        })
        .collect();
    let chance = |m: usize| {
        let m = m as f64;
        let (a, b) = (n1 + m, n2 + m);
        let new_freedom = a + b - 2.0;
        let t = student_t_of(level, new_freedom);
        let verdicts = maybe.iter().filter(|(truth, variance, more)| {
            // The balls to come, as mean difference and as squares (Wilson & Hilferty
            // 1931 for the latter).
            let fresh = truth + more[0] * (variance * 2.0 / m).sqrt();
            let all = (difference.value * (n1 * n2 / (n1 + n2)) + fresh * (m / 2.0))
                / (n1 * n2 / (n1 + n2) + m / 2.0);
            let k = 2.0 * m;
            let grown = k * (1.0 - 2.0 / (9.0 * k) + more[1] * (2.0 / (9.0 * k)).sqrt()).powi(3);
            let spread = ((seen + variance * grown.max(0.0)) / new_freedom).sqrt();
            let half = wider * t * spread * (1.0 / a + 1.0 / b).sqrt();
            all.abs() > half || all.abs() + half <= margin
        });
        verdicts.count() as f64 / DRAWS as f64
    };
    least_of(1, rules.most_more_balls(), |m| {
        chance(m) >= rules.verdict_power
    })
}

/// The least number from `least` to `most` for which `enough` holds, taking it that more
/// is never worse.
fn least_of(least: usize, most: usize, enough: impl Fn(usize) -> bool) -> Option<usize> {
    if !enough(most) {
        return None;
    }
    let (mut low, mut high) = (least, most);
    while low < high {
        let middle = usize::midpoint(low, high);
        if enough(middle) {
            high = middle;
        } else {
            low = middle + 1;
        }
    }
    Some(low)
}

/// The order in which `ways` things are tried in `rounds` rounds: for each turn, which.
///
/// Every round holds each way once, and each second round is the one before it backwards,
/// so that a steady drift hits all alike (A B B A). Rounds themselves are rows of a Latin
/// square whose rows change neighbours (Williams 1949).
pub fn balanced_order(ways: usize, rounds: usize) -> Vec<usize> {
    // 0, n−1, 1, n−2, …: differences of neighbours are all different.
    let zigzag: Vec<usize> = (0..ways)
        .map(|i| if i % 2 == 0 { i / 2 } else { ways - 1 - i / 2 })
        .collect();
    (0..rounds)
        .flat_map(|round| {
            let shift = round / 2;
            let mut row: Vec<usize> = zigzag.iter().map(|way| (way + shift) % ways).collect();
            if round % 2 == 1 {
                row.reverse();
            }
            row
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(spread: f64, freedom: usize) -> BallSpread {
        BallSpread {
            spread,
            freedom,
            balls: freedom + 1,
        }
    }

    #[test]
    fn a_spread_known_from_few_balls_asks_for_more() {
        let rules = HouseRules::default();
        let each = |freedom| balls_needed(1.0, &of(1.0, freedom), &rules).unwrap().each;
        assert!(
            each(4) > each(12) && each(12) > each(1000),
            "{:?}",
            [each(4), each(12)]
        );
    }

    #[test]
    fn the_number_of_balls_is_that_of_cohen_s_table() {
        // Cohen (1988), two-sided 10 %, power 0.80: d = 0.5 needs 50 each, d = 0.8 needs
        // 20, d = 1.0 needs 14 (his table gives 13.6 rounded up).
        let rules = HouseRules::default();
        for (d, expected) in [(0.5, 50), (0.8, 20), (1.0, 14)] {
            let each = balls_needed(d, &of(1.0, 100_000), &rules);
            let each = each.unwrap().each.unwrap();
            assert!(each.abs_diff(expected) <= 1, "{d}: {each}");
        }
    }

    #[test]
    fn what_cannot_be_seen_with_the_most_balls_is_said() {
        let rules = HouseRules::default();
        let needed = balls_needed(0.01, &of(1.0, 20), &rules).unwrap();
        assert_eq!(needed.each, None);
        assert!(needed.power < 0.2);
        assert_eq!(
            balls_needed(0.0, &of(1.0, 20), &rules).unwrap_err().field,
            "difference"
        );
        assert!(balls_needed(1.0, &of(f64::NAN, 20), &rules).is_err());
    }

    #[test]
    fn the_spread_is_that_within_blocks() {
        // By hand: squares 2 + 2 over two degrees of freedom.
        let blocks = [vec![1.0, 3.0], vec![101.0, 103.0], vec![500.0]];
        let known = spread_within(&blocks, 0.1).unwrap();
        assert!((known.spread - 2f64.sqrt()).abs() < 1e-12);
        assert_eq!((known.balls, known.freedom), (4, 2));
        assert_eq!(spread_within(&[vec![1.0]], 0.1), None);
        assert!(spread_within(&[vec![1.0, 1.0]], 0.1).unwrap().spread > 0.0);
    }

    #[test]
    fn two_ways_are_hit_there_and_back() {
        assert_eq!(balanced_order(2, 2), [0, 1, 1, 0]);
        assert_eq!(balanced_order(3, 2), [0, 2, 1, 1, 2, 0]);
    }

    #[test]
    fn every_way_has_the_same_mean_place_in_paired_rounds() {
        for ways in 2..9 {
            for rounds in [2, 4] {
                let order = balanced_order(ways, rounds);
                let total = |way| {
                    let places = order.iter().enumerate().filter(|(_, w)| **w == way);
                    places.map(|(i, _)| i).sum::<usize>()
                };
                let first = total(0);
                assert!((1..ways).all(|w| total(w) == first), "{ways} {order:?}");
            }
        }
    }
}
