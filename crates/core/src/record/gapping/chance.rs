//! How likely one ball of the shorter club flies past one of the longer.
//!
//! Carries are held to be normal with a few poor strikes among them: the middle and the spread
//! are taken from the solid balls (robust, Huber 1981), spreads of few balls lean on what the
//! whole bag scatters, and the chance is Student's for one new ball of each. What the balls
//! themselves show, pair by pair, counts beside it the more the more there are.

use crate::session::bag::SCATTERS;
use crate::statistics::quantile::median;
use statrs::distribution::{ContinuousCDF, StudentsT};

/// A chance as one in how many; nothing from every second on.
pub(super) fn one_in(chance: f64) -> Option<u32> {
    let n = (1.0 / chance).round().min(50.0) as u32;
    (n > 2).then_some(n)
}

/// What carries of one club amount to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Carries {
    /// Middle of the solid balls, m.
    pub middle: f64,
    /// What one ball strays by, m.
    pub spread: f64,
    /// What that rests on, as degrees of freedom.
    pub degrees: f64,
    /// Balls.
    pub n: usize,
}

/// How many balls the bag's scatter counts as.
const LEANS_ON: f64 = 6.0;
/// Spreads beyond which a ball counts as if it lay there.
const HUBER: f64 = 2.0;
/// Gaps from which on they tell how far clubs of this bag lie apart.
const LEAST_GAPS: usize = 4;
/// Least that gaps of a bag differ by, m: nobody's clubs are spaced by a rule.
const LEAST_BETWEEN: f64 = 2.5;
/// Pairs at which what is seen counts as much as what is worked out.
const PAIRS: f64 = 300.0;

/// The scatter of a bag as a share of carry: the median over clubs with a few balls.
pub(super) fn scatter(clubs: &[Vec<f64>]) -> f64 {
    let shares: Vec<f64> = clubs
        .iter()
        .filter(|carries| carries.len() > 2)
        .map(|carries| {
            let (middle, spread) = solid(carries, SCATTERS);
            spread / middle
        })
        .collect();
    if shares.len() < 3 {
        return SCATTERS;
    }
    median(&shares).clamp(0.5 * SCATTERS, 3.0 * SCATTERS)
}

/// Middle and spread of solid balls: those far from the middle count as if they lay two
/// spreads from it.
fn solid(carries: &[f64], scatter: f64) -> (f64, f64) {
    let middle = median(carries);
    if carries.len() < 3 {
        let mean = carries.iter().sum::<f64>() / carries.len() as f64;
        return (mean, scatter * mean);
    }
    let apart: Vec<f64> = carries.iter().map(|c| (c - middle).abs()).collect();
    // 1.4826: the spread of normal values by their median distance.
    let rough = (1.4826 * median(&apart)).max(0.3 * scatter * middle);
    let held: Vec<f64> = carries
        .iter()
        .map(|c| c.clamp(middle - HUBER * rough, middle + HUBER * rough))
        .collect();
    let mean = held.iter().sum::<f64>() / held.len() as f64;
    let squares: f64 = held.iter().map(|c| (c - mean).powi(2)).sum();
    (mean, (squares / (held.len() - 1) as f64).sqrt())
}

/// What carries of one club amount to in a bag that scatters so.
pub(super) fn carries(values: &[f64], scatter: f64) -> Carries {
    let (middle, own) = solid(values, scatter);
    let own_degrees = if values.len() < 3 {
        0.0
    } else {
        (values.len() - 1) as f64
    };
    let degrees = LEANS_ON + own_degrees;
    let variance = (LEANS_ON * (scatter * middle).powi(2) + own_degrees * own.powi(2)) / degrees;
    Carries {
        middle,
        spread: variance.sqrt(),
        degrees,
        n: values.len(),
    }
}

/// How far neighbours lie apart, m, and the variance of that: what each pair shows leans on how
/// far the clubs of this bag lie apart in general, the more the fewer its balls and the more
/// alike the others (DerSimonian & Laird 1986).
fn apart(clubs: &[Carries]) -> Vec<[f64; 2]> {
    let own: Vec<[f64; 2]> = clubs
        .windows(2)
        .map(|pair| {
            let error = |c: &Carries| c.spread.powi(2) / c.n as f64;
            [
                pair[0].middle - pair[1].middle,
                error(&pair[0]) + error(&pair[1]),
            ]
        })
        .collect();
    if own.len() < LEAST_GAPS {
        return own;
    }
    let weights = own.iter().map(|[_, v]| 1.0 / v);
    let (sum, squares) = weights
        .clone()
        .fold((0.0, 0.0), |(s, q), w| (s + w, q + w * w));
    let mean = own.iter().map(|[gap, v]| gap / v).sum::<f64>() / sum;
    let strays: f64 = own.iter().map(|[gap, v]| (gap - mean).powi(2) / v).sum();
    let between = (strays - (own.len() - 1) as f64) / (sum - squares / sum);
    let between = between.max(LEAST_BETWEEN * LEAST_BETWEEN);
    own.iter()
        .map(|[gap, v]| {
            let held = 1.0 / (1.0 / v + 1.0 / between);
            [held * (gap / v + mean / between), held]
        })
        .collect()
}

/// The chance that a ball of the shorter club flies past one of the longer, for each two
/// neighbours of a bag, the longest first.
pub(super) fn fly_past(clubs: &[Vec<f64>]) -> Vec<f64> {
    let scatter = scatter(clubs);
    let told: Vec<Carries> = clubs.iter().map(|c| carries(c, scatter)).collect();
    let apart = apart(&told);
    let pairs = told.windows(2).zip(clubs.windows(2)).zip(apart);
    pairs
        .map(|((told, hit), [gap, unsure])| {
            let (long, short) = (&told[0], &told[1]);
            let (a, b) = (long.spread.powi(2), short.spread.powi(2));
            let degrees = (a + b).powi(2) / (a * a / long.degrees + b * b / short.degrees);
            let worked_out = StudentsT::new(0.0, 1.0, degrees)
                .expect("degrees of freedom are positive")
                .cdf(-gap / (a + b + unsure).sqrt());
            let n = (hit[0].len() * hit[1].len()) as f64;
            let weight = n / (n + PAIRS);
            let chance = weight * seen(&hit[1], &hit[0]) + (1.0 - weight) * worked_out;
            chance.clamp(0.001, 0.999)
        })
        .collect()
}

/// The share of pairs in which the shorter club's ball flew past; ties count half.
fn seen(short: &[f64], long: &[f64]) -> f64 {
    let past: f64 = short
        .iter()
        .flat_map(|s| long.iter().map(move |l| s.total_cmp(l)))
        .map(|order| 0.5 * (order as i8 as f64 + 1.0))
        .sum();
    past / (short.len() * long.len()) as f64
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand::{RngExt, SeedableRng};
    use rand_distr::{Distribution, StandardNormal, StudentT};
    use rand_pcg::Pcg64;

    /// How a ball strays in the truth.
    #[derive(Clone, Copy, Debug)]
    enum Truth {
        Normal,
        HeavyTails,
        Mishits,
    }

    fn ball(rng: &mut Pcg64, middle: f64, spread: f64, truth: Truth) -> f64 {
        let z: f64 = StandardNormal.sample(rng);
        let strays = match truth {
            Truth::Normal => z,
            Truth::HeavyTails => StudentT::new(3.0).unwrap().sample(rng) / 3f64.sqrt(),
            Truth::Mishits if rng.random::<f64>() < 0.08 => {
                return middle * (0.70 + 0.15 * rng.random::<f64>());
            }
            Truth::Mishits => z,
        };
        middle + spread * strays
    }

    /// Brier score of the chances told, and of the truth's own, over many bags.
    fn brier(truth: Truth, n: [usize; 2], scatter_of: f64, uneven: f64) -> [f64; 2] {
        let mut rng = Pcg64::seed_from_u64(11);
        let mut scores = [0.0; 2];
        let bags = 400;
        for _ in 0..bags {
            let clubs: Vec<(f64, f64)> = (0..8)
                .map(|i| {
                    let strays = uneven * (rng.random::<f64>() - 0.5);
                    let middle = 190.0 - 11.0 * f64::from(i) + strays;
                    (
                        middle,
                        middle * scatter_of * (0.7 + 0.6 * rng.random::<f64>()),
                    )
                })
                .collect();
            let hit: Vec<Vec<f64>> = clubs
                .iter()
                .map(|(middle, spread)| {
                    let n = rng.random_range(n[0]..=n[1]);
                    (0..n)
                        .map(|_| ball(&mut rng, *middle, *spread, truth))
                        .collect()
                })
                .collect();
            for (i, told) in fly_past(&hit).into_iter().enumerate() {
                let draws = 200;
                let past = (0..draws)
                    .filter(|_| {
                        ball(&mut rng, clubs[i + 1].0, clubs[i + 1].1, truth)
                            > ball(&mut rng, clubs[i].0, clubs[i].1, truth)
                    })
                    .count() as f64
                    / f64::from(draws);
                for (score, chance) in scores.iter_mut().zip([told, past]) {
                    // The mean of (chance − outcome)² over outcomes that happen so often.
                    *score += past * (1.0 - chance).powi(2) + (1.0 - past) * chance.powi(2);
                }
            }
        }
        scores.map(|score| score / (7.0 * f64::from(bags)))
    }

    #[test]
    fn chances_are_nearly_as_good_as_knowing_the_truth() {
        for truth in [Truth::Normal, Truth::HeavyTails, Truth::Mishits] {
            for uneven in [4.0, 20.0] {
                for (n, scatter, most) in [([12, 30], 0.045, 1.05), ([6, 12], 0.03, 1.09)] {
                    let [told, own] = brier(truth, n, scatter, uneven);
                    println!("{truth:?} {uneven} {n:?}: {told:.4} against {own:.4}");
                    assert!(told / own < most, "{truth:?} {uneven} {n:?}: {told} {own}");
                }
            }
        }
    }

    #[test]
    fn a_bag_of_a_ball_or_two_still_has_chances_and_far_clubs_have_hardly_any() {
        let told = fly_past(&[vec![210.0], vec![150.0, 151.0], vec![150.0]]);
        assert!(told[0] < 0.02, "{told:?}");
        assert!((0.3..0.7).contains(&told[1]), "{told:?}");
        assert!(fly_past(&[vec![150.0; 3]]).is_empty());
    }
}
