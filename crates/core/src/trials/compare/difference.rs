//! Differences of two sets: of means, of spread, of bests.

use crate::shots::ball::Ball;
use crate::statistics::least_squares::least_squares;
use crate::statistics::ordered;
use crate::statistics::summary::{Estimate, student_t, student_t_of};
use rand::SeedableRng;
use rand::seq::SliceRandom;
use rand_pcg::Pcg64;
use serde::Serialize;
use std::collections::BTreeSet;
use utoipa::ToSchema;

/// Ways to split two sets that are all gone through; beyond, so many are drawn.
const EXACT_UP_TO: u64 = 20_000;
const DRAWN: usize = 9_999;
/// The same for large sets, where each draw is long and p hardly depends on them.
const DRAWN_OF_MANY: usize = 1_999;
const MANY: usize = 500;
const SEED: u64 = 19_350_701;
/// Balls that a drift needs.
const DRIFT_FROM: usize = 8;

/// A value with the place in its session.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Placed {
    pub value: f64,
    pub session: usize,
    order: f64,
}

/// The values of two sets.
pub(super) struct Pair {
    pub first: Vec<Placed>,
    pub other: Vec<Placed>,
}

impl Pair {
    pub fn of(first: &[Ball], other: &[Ball], value: impl Fn(&Ball) -> Option<f64>) -> Pair {
        let placed = |balls: &[Ball]| {
            balls
                .iter()
                .filter_map(|ball| {
                    Some(Placed {
                        value: value(ball)?,
                        session: ball.session,
                        order: ball.order as f64,
                    })
                })
                .collect()
        };
        Pair {
            first: placed(first),
            other: placed(other),
        }
    }

    pub fn first_values(&self) -> Vec<f64> {
        self.first.iter().map(|p| p.value).collect()
    }

    pub fn other_values(&self) -> Vec<f64> {
        self.other.iter().map(|p| p.value).collect()
    }

    /// Whether both sets were hit in turns: mean places less than a quarter of the
    /// session apart, in the same sessions.
    pub fn balanced(&self) -> bool {
        let sessions = |side: &[Placed]| side.iter().map(|p| p.session).collect::<BTreeSet<_>>();
        if sessions(&self.first) != sessions(&self.other) {
            return false;
        }
        let orders = || self.first.iter().chain(&self.other).map(|p| p.order);
        let length = orders().fold(0.0, f64::max) - orders().fold(f64::INFINITY, f64::min);
        (mean_order(&self.other) - mean_order(&self.first)).abs() <= 0.25 * length
    }

    /// The sessions that hold both sets.
    pub fn shared(&self) -> BTreeSet<usize> {
        let of = |side: &[Placed]| side.iter().map(|p| p.session).collect::<BTreeSet<_>>();
        of(&self.first)
            .intersection(&of(&self.other))
            .copied()
            .collect()
    }

    /// The balls of some sessions alone.
    pub fn of_sessions(&self, wanted: &BTreeSet<usize>) -> Pair {
        let of = |side: &[Placed]| {
            let there = side.iter().filter(|p| wanted.contains(&p.session));
            there.copied().collect()
        };
        Pair {
            first: of(&self.first),
            other: of(&self.other),
        }
    }

    /// All balls as they were hit.
    pub fn in_order(&self) -> Vec<ordered::Placed> {
        let side = |side: &[Placed], other| -> Vec<ordered::Placed> {
            side.iter()
                .map(|p| ordered::Placed {
                    value: p.value,
                    other,
                    session: p.session,
                    order: p.order,
                })
                .collect()
        };
        let mut all = side(&self.first, false);
        all.extend(side(&self.other, true));
        all.sort_by(|a, b| {
            let session = a.session.cmp(&b.session);
            session.then(a.order.total_cmp(&b.order))
        });
        all
    }

    /// Whether the sets change about ball by ball, so that any deal of the same balls
    /// could have been hit as well.
    pub fn ball_by_ball(&self) -> bool {
        let all = self.in_order();
        let turns = all.windows(2).filter(|w| w[0].other != w[1].other).count() + 1;
        self.first.len() + self.other.len() <= 2 * turns
    }
}

fn mean_order(side: &[Placed]) -> f64 {
    side.iter().map(|p| p.order).sum::<f64>() / side.len() as f64
}

pub(super) fn mean(values: &[f64]) -> f64 {
    values.iter().sum::<f64>() / values.len() as f64
}

/// Sample variance with what rounding to `grain` adds at least.
pub(super) fn variance(values: &[f64], grain: f64) -> f64 {
    let middle = mean(values);
    let squares: f64 = values.iter().map(|v| (v - middle).powi(2)).sum();
    (squares / (values.len() - 1) as f64).max(grain * grain / 12.0)
}

/// Mean of `other` minus mean of `first` with its interval (Welch 1947).
pub(super) fn welch(first: &[f64], other: &[f64], level: f64, grain: f64) -> Estimate {
    let part = |v: &[f64]| variance(v, grain) / v.len() as f64;
    let (a, b) = (part(first), part(other));
    let freedom =
        (a + b).powi(2) / (a * a / (first.len() - 1) as f64 + b * b / (other.len() - 1) as f64);
    let half = student_t_of(level, freedom) * (a + b).sqrt();
    let value = mean(other) - mean(first);
    Estimate {
        value,
        low: value - half,
        high: value + half,
        n: first.len() + other.len(),
    }
}

/// The straight drift per ball that both sets share, for whoever wants to see it.
pub(super) fn drift_seen(pair: &Pair, level: f64, grain: f64) -> Option<Estimate> {
    let n = pair.first.len() + pair.other.len();
    if n < DRIFT_FROM || pair.shared().is_empty() {
        return None;
    }
    let (slope, error, freedom) = drift_of(pair, grain)?;
    let half = student_t(level, freedom) * error;
    Some(Estimate {
        value: slope,
        low: slope - half,
        high: slope + half,
        n,
    })
}

/// The drift per ball, its standard error and the degrees of freedom left.
fn drift_of(pair: &Pair, grain: f64) -> Option<(f64, f64, usize)> {
    let all: Vec<(usize, Placed)> = pair
        .first
        .iter()
        .map(|p| (0, *p))
        .chain(pair.other.iter().map(|p| (1, *p)))
        .collect();
    let sessions: BTreeSet<usize> = all.iter().map(|(_, p)| p.session).collect();
    // Columns: a level for each session, the other set, and the order.
    let mut columns: Vec<Vec<f64>> = sessions
        .iter()
        .map(|s| {
            all.iter()
                .map(|(_, p)| f64::from(p.session == *s))
                .collect()
        })
        .collect();
    columns.push(all.iter().map(|(set, _)| *set as f64).collect());
    columns.push(all.iter().map(|(_, p)| p.order).collect());
    let y: Vec<f64> = all.iter().map(|(_, p)| p.value).collect();
    let fit = least_squares(&columns, &y)?;
    let mut weights = vec![0.0; columns.len()];
    weights[columns.len() - 1] = 1.0;
    let (slope, mut error) = fit.contrast(&weights);
    if fit.rss > 0.0 {
        let rounding = (grain * grain / 12.0 * all.len() as f64).max(fit.rss) / fit.rss;
        error *= rounding.sqrt();
    }
    Some((slope, error, fit.freedom))
}

/// How often the same balls, dealt to the sets by chance, differ at least as much.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Shuffled {
    /// That share, two-sided.
    pub p: f64,
    /// Whether every way to deal them was gone through.
    pub exact: bool,
}

/// Permutation test of the difference of means (Fisher 1935; Pitman 1937).
pub(super) fn shuffled(first: &[f64], other: &[f64]) -> Shuffled {
    let all: Vec<f64> = first.iter().chain(other).copied().collect();
    let total: f64 = all.iter().sum();
    let (n, k) = (all.len(), first.len());
    // The mean difference moves with the first set's sum alone.
    let centre = total * k as f64 / n as f64;
    let seen = (first.iter().sum::<f64>() - centre).abs() - 1e-9 * total.abs().max(1.0);
    if ways(n, k) <= EXACT_UP_TO {
        let (mut as_much, mut tried) = (0u64, 0u64);
        deal(&all, k, 0, 0.0, &mut |sum| {
            tried += 1;
            as_much += u64::from((sum - centre).abs() >= seen);
        });
        return Shuffled {
            p: as_much as f64 / tried as f64,
            exact: true,
        };
    }
    let mut rng = Pcg64::seed_from_u64(SEED);
    let mut dealt = all;
    let drawn = if n > MANY { DRAWN_OF_MANY } else { DRAWN };
    let as_much = (0..drawn)
        .filter(|_| {
            let (some, _) = dealt.partial_shuffle(&mut rng, k);
            (some.iter().sum::<f64>() - centre).abs() >= seen
        })
        .count();
    Shuffled {
        p: (as_much + 1) as f64 / (drawn + 1) as f64,
        exact: false,
    }
}

/// Number of ways to choose `k` of `n`, held at the largest number.
fn ways(n: usize, k: usize) -> u64 {
    (0..k.min(n - k)).fold(1u64, |so_far, i| {
        so_far.saturating_mul((n - i) as u64) / (i as u64 + 1)
    })
}

/// Calls `told` with the sum of every choice of `k` from `values[from..]`.
fn deal(values: &[f64], k: usize, from: usize, sum: f64, told: &mut impl FnMut(f64)) {
    if k == 0 {
        return told(sum);
    }
    for i in from..=values.len() - k {
        deal(values, k - 1, i + 1, sum + values[i], told);
    }
}

/// Spread of a set over that of the first.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct SpreadRatio {
    /// The ratio of standard deviations.
    pub ratio: Estimate,
    /// Brown and Forsythe's p: how often equal spreads differ as much.
    pub p: f64,
}

/// Chance of a false word about the width that is left to it beside the means.
const WIDTH_P: f64 = 0.05;

impl SpreadRatio {
    /// Whether the jackknife and the distances to the medians are both sure that the
    /// spreads differ.
    pub fn is_sure(&self) -> bool {
        self.p < WIDTH_P && (self.ratio.high < 1.0 || self.ratio.low > 1.0)
    }
}

/// Ratio of spreads. The interval is Miller's (1968) jackknife of the logarithm of the
/// variance, which does not lean on a normal shape as the F ratio does; p is from
/// distances to the medians (Brown & Forsythe 1974).
pub(super) fn spread_ratio(
    first: &[f64],
    other: &[f64],
    level: f64,
    grain: f64,
) -> Option<SpreadRatio> {
    if first.len() < 4 || other.len() < 4 {
        return None;
    }
    let (a, b) = (pseudo_values(first, grain), pseudo_values(other, grain));
    let log = welch(&a, &b, level, 1e-9);
    let ratio = |log: f64| (0.5 * log).exp();
    Some(SpreadRatio {
        ratio: Estimate {
            value: (variance(other, grain) / variance(first, grain)).sqrt(),
            low: ratio(log.low),
            high: ratio(log.high),
            n: log.n,
        },
        p: brown_forsythe(first, other),
    })
}

/// What each value adds to n times the logarithm of the variance: that of all less that
/// without it, whose squares follow from those of all.
fn pseudo_values(values: &[f64], grain: f64) -> Vec<f64> {
    let n = values.len() as f64;
    let middle = mean(values);
    let squares: f64 = values.iter().map(|v| (v - middle).powi(2)).sum();
    let least = grain * grain / 12.0;
    let whole = (squares / (n - 1.0)).max(least).ln();
    values
        .iter()
        .map(|v| {
            let rest = squares - (v - middle).powi(2) * n / (n - 1.0);
            let rest = (rest / (n - 2.0)).max(least).ln();
            n * whole - (n - 1.0) * rest
        })
        .collect()
}

fn brown_forsythe(first: &[f64], other: &[f64]) -> f64 {
    use statrs::distribution::{ContinuousCDF, FisherSnedecor};
    let away = |values: &[f64]| -> Vec<f64> {
        let mut sorted = values.to_vec();
        sorted.sort_by(f64::total_cmp);
        let n = sorted.len();
        let median = 0.5 * (sorted[(n - 1) / 2] + sorted[n / 2]);
        values.iter().map(|v| (v - median).abs()).collect()
    };
    let (a, b) = (away(first), away(other));
    let n = (a.len() + b.len()) as f64;
    let grand = (a.iter().sum::<f64>() + b.iter().sum::<f64>()) / n;
    let between =
        a.len() as f64 * (mean(&a) - grand).powi(2) + b.len() as f64 * (mean(&b) - grand).powi(2);
    let inside: f64 = [&a, &b]
        .iter()
        .map(|side| {
            let middle = mean(side);
            side.iter().map(|v| (v - middle).powi(2)).sum::<f64>()
        })
        .sum();
    if inside <= 0.0 {
        return 1.0;
    }
    let f = between / (inside / (n - 2.0));
    1.0 - FisherSnedecor::new(1.0, n - 2.0)
        .expect("four balls a set leave freedom")
        .cdf(f)
}

/// Bests of two sets at the same number of tries.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Bests {
    /// Tries of each.
    pub tries: usize,
    /// Best of so many tries of the first set: on average over its balls.
    pub first: f64,
    /// The same of the other set.
    pub other: f64,
    /// How often shuffled balls have bests as far apart.
    pub p: f64,
    /// Whether they lie further apart than the device tells apart.
    pub beyond_device: bool,
}

/// Compares bests at equal numbers of tries: the best of many is high by luck alone.
pub(super) fn bests(first: &[f64], other: &[f64], grain: f64) -> Bests {
    let tries = first.len().min(other.len());
    let (one, two) = (best_of(first, tries), best_of(other, tries));
    // Sorted once; only who hit which ball is shuffled.
    let mut all: Vec<f64> = first.iter().chain(other).copied().collect();
    all.sort_by(|a, b| b.total_cmp(a));
    let mut is_first: Vec<bool> = (0..all.len()).map(|i| i < first.len()).collect();
    let mut rng = Pcg64::seed_from_u64(SEED);
    const ROUNDS: usize = 999;
    let as_much = (0..ROUNDS)
        .filter(|_| {
            is_first.shuffle(&mut rng);
            let side = |wanted: bool, n: usize| {
                let balls = all.iter().zip(&is_first).filter(|(_, f)| **f == wanted);
                best_of_sorted(balls.map(|(value, _)| *value), n, tries)
            };
            let apart = side(false, other.len()) - side(true, first.len());
            apart.abs() >= (two - one).abs() - 1e-9
        })
        .count();
    Bests {
        tries,
        first: one,
        other: two,
        p: (as_much + 1) as f64 / (ROUNDS + 1) as f64,
        beyond_device: (two - one).abs() > grain,
    }
}

/// Mean of the best of `k` balls over every choice of `k` from `values`.
pub(crate) fn best_of(values: &[f64], k: usize) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(|a, b| b.total_cmp(a));
    best_of_sorted(sorted.into_iter(), values.len(), k)
}

fn best_of_sorted(values: impl Iterator<Item = f64>, n: usize, k: usize) -> f64 {
    // The i-th best is the best of a choice when those above it are not chosen.
    let mut chance = k as f64 / n as f64;
    let mut sum = 0.0;
    for (i, value) in values.enumerate().take(n - k + 1) {
        sum += chance * value;
        let left = (n - i - 1) as f64;
        chance *= (left - k as f64 + 1.0) / left.max(1.0);
        if chance < 1e-12 {
            break;
        }
    }
    sum
}
