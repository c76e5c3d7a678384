//! Which effort to play: patterns that share their spread, weighed on the hole.

use super::{EffortLevel, EffortQuestion, felt};
use crate::shots::landing::{Moments, Posterior, interval, landed};
use crate::statistics::summary::Estimate;
use crate::trials::hole::{Criterion, best_chances, spread_points, strokes_of};
use crate::vocabulary::quantity::Quantity;
use rayon::prelude::*;
use statrs::distribution::{ContinuousCDF, Normal};

/// Each effort draws by itself: its seed is this and its place.
const SEED: u64 = 19_550_101;
/// Strays from which a trend of the spread is looked for.
const TREND_FROM: usize = 10;

/// What is to be played.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(super) struct Chosen {
    /// The best by the criterion.
    pub play: Option<usize>,
    /// The one with most fairways.
    pub safe: Option<usize>,
    /// Chance that the best beats stock; absent without a stock or when it is stock.
    pub beats_stock: Option<f64>,
    /// About how many more balls of each would tell.
    pub more_balls: Option<usize>,
}

/// Weighs the levels and writes what it finds into them.
pub(super) fn choose(question: &EffortQuestion<'_>, levels: &mut [EffortLevel]) -> Chosen {
    let rules = &question.rules;
    let points: Vec<Vec<[f64; 2]>> = levels.iter().map(|l| points_of(question, l)).collect();
    let real: Vec<f64> = levels.iter().map(|l| l.real.value).collect();
    let shared = shared_moments(&points, &real, rules.shared_spread);
    let grid = spread_points();
    let mut merits: Vec<Option<Vec<f64>>> = Vec::new();
    for (i, (level, moments)) in levels.iter_mut().zip(&shared).enumerate() {
        let Some(moments) = moments else {
            merits.push(None);
            continue;
        };
        let posterior = Posterior::of(moments, SEED + i as u64);
        let run = run_of(question, level);
        let patterns = &posterior.0;
        let strokes: Vec<f64> = patterns
            .par_iter()
            .map(|p| strokes_of(p, run, &question.hole, rules, &grid))
            .collect();
        let half = question.hole.fairway_width / 2.0;
        let fairways: Vec<f64> = patterns.iter().map(|p| p.within(half)).collect();
        let told = |values: &[f64]| Estimate {
            n: moments.n as usize,
            ..interval(&mut values.to_vec(), rules.interval_level)
        };
        level.strokes = Some(told(&strokes));
        level.fairway = Some(told(&fairways));
        level.smoothed_spread = Some([0, 1].map(|k| moments.covariance(k, k).sqrt()));
        merits.push(Some(match question.criterion {
            Criterion::Strokes => strokes.iter().map(|s| -s).collect(),
            Criterion::Fairway => fairways,
            Criterion::Distance => patterns.iter().map(|p| p.at([0.0, 0.0])[1]).collect(),
        }));
    }
    for (level, chance) in levels.iter_mut().zip(best_chances(&merits)) {
        level.best = chance;
    }
    let stock = levels.iter().position(|l| l.felt.is_none());
    let play = most(merits.iter().map(|m| m.as_deref().map(mean)));
    let safe = most(levels.iter().map(|l| l.fairway.map(|f| f.value)));
    let mut chosen = Chosen {
        play,
        safe,
        ..Chosen::default()
    };
    let pair = play
        .zip(stock)
        .filter(|(play, stock)| play != stock)
        .and_then(|(play, stock)| Some((merits[play].as_ref()?, merits[stock].as_ref()?, play)));
    if let Some((best, usual, play)) = pair {
        let apart = apart(best, usual);
        let beats = apart.iter().filter(|d| **d > 0.0).count();
        chosen.beats_stock = Some(beats as f64 / apart.len() as f64);
        let balls = levels[play].n;
        chosen.more_balls = more_balls(&apart, balls, rules.interval_level)
            .filter(|more| *more <= rules.most_more_balls());
    }
    chosen
}

fn mean(values: &[f64]) -> f64 {
    values.iter().sum::<f64>() / values.len() as f64
}

/// By how much the one is better in each draw. Draws of different levels are independent,
/// so one is set beside a shifted row of the other.
fn apart(one: &[f64], other: &[f64]) -> Vec<f64> {
    let n = one.len();
    (0..n).map(|i| one[i] - other[(i * 7 + 3) % n]).collect()
}

/// The place of the largest, the first of equals.
fn most(values: impl Iterator<Item = Option<f64>>) -> Option<usize> {
    values
        .enumerate()
        .filter_map(|(i, value)| Some((i, value?)))
        .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)))
        .map(|(i, _)| i)
}

/// Balls until a difference of this size stands out, as its error falls with their root.
fn more_balls(apart: &[f64], balls: usize, level: f64) -> Option<usize> {
    let n = apart.len() as f64;
    let mean = apart.iter().sum::<f64>() / n;
    let spread = (apart.iter().map(|d| (d - mean).powi(2)).sum::<f64>() / n).sqrt();
    let z = Normal::standard().inverse_cdf(level);
    let needed = balls as f64 * (z * spread / mean).powi(2);
    let more = (needed - balls as f64).ceil();
    (more.is_finite() && (1.0..1e6).contains(&more)).then_some(more as usize)
}

fn points_of(question: &EffortQuestion<'_>, level: &EffortLevel) -> Vec<[f64; 2]> {
    let wanted = felt(&level.label);
    question
        .balls
        .iter()
        .filter(|(ball, label)| ball.plays() && felt(label) == wanted)
        .filter_map(|(ball, _)| landed(ball))
        .collect()
}

fn run_of(question: &EffortQuestion<'_>, level: &EffortLevel) -> f64 {
    let wanted = felt(&level.label);
    let runs: Vec<f64> = question
        .balls
        .iter()
        .filter(|(ball, label)| ball.plays() && felt(label) == wanted)
        .filter_map(|(ball, _)| {
            Some(ball.reading.get(Quantity::Total)? - ball.reading.get(Quantity::Carry)?)
        })
        .collect();
    if runs.is_empty() {
        0.0
    } else {
        runs.iter().sum::<f64>() / runs.len() as f64
    }
}

/// Moments of each level, its scatter joined by `lent` balls' worth of what the trend of
/// the spread over real effort gives there.
fn shared_moments(points: &[Vec<[f64; 2]>], real: &[f64], lent: f64) -> Vec<Option<Moments>> {
    let own: Vec<Option<Moments>> = points.iter().map(|p| Moments::of(p)).collect();
    let trend = trend(&own, points, real);
    // The common covariance, at the middle effort.
    let (mut common, mut freedom) = ([[0.0; 2]; 2], 0.0);
    for (moments, x) in own.iter().zip(real) {
        let Some(moments) = moments else { continue };
        let size = trend.size(*x);
        for (row, own) in common.iter_mut().zip(moments.scatter) {
            for (sum, own) in row.iter_mut().zip(own) {
                *sum += own / size;
            }
        }
        freedom += moments.freedom;
    }
    own.into_iter()
        .zip(real)
        .map(|(moments, x)| {
            let moments = moments?;
            let size = trend.size(*x);
            let mut scatter = moments.scatter;
            for (row, common) in scatter.iter_mut().zip(common) {
                for (own, common) in row.iter_mut().zip(common) {
                    *own += lent * size * common / freedom;
                }
            }
            Some(Moments {
                scatter,
                freedom: moments.freedom + lent,
                ..moments
            })
        })
        .collect()
}

/// How the variance goes with real effort: exp(rate · (effort − middle)).
struct Trend {
    rate: f64,
    middle: f64,
}

impl Trend {
    fn size(&self, effort: f64) -> f64 {
        (self.rate * (effort - self.middle)).exp()
    }
}

/// Regression of the logarithm of squared strays on effort, drawn towards no trend by as
/// much as it is not known (James & Stein 1961).
fn trend(own: &[Option<Moments>], points: &[Vec<[f64; 2]>], real: &[f64]) -> Trend {
    let mut strays: Vec<(f64, f64)> = Vec::new();
    let mut total = [0.0; 2];
    let mut freedom = 0.0;
    for moments in own.iter().flatten() {
        total[0] += moments.scatter[0][0];
        total[1] += moments.scatter[1][1];
        freedom += moments.freedom;
    }
    for ((moments, points), x) in own.iter().zip(points).zip(real) {
        let Some(moments) = moments else { continue };
        let shrunk = moments.freedom / moments.n;
        for point in points {
            let q: f64 = (0..2)
                .map(|k| (point[k] - moments.mean[k]).powi(2) * freedom / total[k])
                .sum();
            strays.push((*x, (q / shrunk).max(1e-3).ln()));
        }
    }
    let n = strays.len() as f64;
    let middle = strays.iter().map(|(x, _)| x).sum::<f64>() / n.max(1.0);
    let none = Trend { rate: 0.0, middle };
    if strays.len() < TREND_FROM {
        return none;
    }
    let mean = strays.iter().map(|(_, y)| y).sum::<f64>() / n;
    let across: f64 = strays.iter().map(|(x, _)| (x - middle).powi(2)).sum();
    if across < 1e-4 {
        return none;
    }
    let along: f64 = strays.iter().map(|(x, y)| (x - middle) * (y - mean)).sum();
    let rate = along / across;
    // Variance of the logarithm of a chi-squared of two degrees: π²/6.
    let doubt = std::f64::consts::PI.powi(2) / 6.0 / across;
    Trend {
        rate: rate * (1.0 - doubt / (rate * rate).max(1e-12)).max(0.0),
        middle,
    }
}
