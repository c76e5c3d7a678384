//! Each choice's pattern laid on the hole.

use super::advice::{apart, more_balls};
use super::ground::Ground;
use super::shared::shared_moments;
use super::words::verdict;
use super::{Choice, ChoiceRead, Criterion, Hole, HoleReport, LEAST_BALLS};
use crate::shots::ball::Ball;
use crate::shots::landing::{Moments, Normal2, Posterior, counted_fairway, interval, landed};
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use rand::seq::SliceRandom;
use rand::{RngExt, SeedableRng};
use rand_distr::{Distribution, Exp1};
use rand_pcg::Pcg64;
use rayon::prelude::*;
use statrs::distribution::{ContinuousCDF, Normal};
use std::sync::LazyLock;

/// Points at which a pattern is laid on the hole, and the step between their second
/// coordinates: neighbours among Fibonacci's numbers fill a square evenly (Zaremba 1966).
const POINTS: usize = 89;
const STRIDE: usize = 55;
/// Sets of such points. The draws take them in turn, so that what one set misses of an edge
/// does not go into all of them.
const SETS: usize = 64;
const SEED: u64 = 20_120_401;
/// Draws of balls that lie in no normal pattern: as many as of one that do.
const RESAMPLES: usize = 602;

/// A pattern with what a pattern cannot tell: how far carry and total lie apart.
pub(crate) struct Weighed {
    posterior: Posterior,
    run: f64,
    carry: f64,
    /// Left–right and short–long spread with what the others lend, m.
    pub spread: [f64; 2],
    /// Balls behind it.
    pub n: usize,
    /// The balls as they fell, where a normal pattern does not fit them.
    as_fell: Option<Vec<[f64; 2]>>,
}

/// The patterns of several choices. Those of one club lend one another a few balls' worth
/// of spread, along its trend over club speed, so that the same balls give the same answer
/// wherever they are asked about.
pub(crate) fn weigh_together(choices: &[Vec<&Ball>], rules: &HouseRules) -> Vec<Option<Weighed>> {
    let playing: Vec<Vec<&Ball>> = choices
        .iter()
        .map(|balls| balls.iter().copied().filter(|ball| ball.plays()).collect())
        .collect();
    let club = |balls: &[&Ball]| balls.first().map(|ball| ball.club);
    let mut weighed: Vec<Option<Weighed>> = choices.iter().map(|_| None).collect();
    for (i, balls) in playing.iter().enumerate() {
        // Each club once, at its first choice.
        if playing[..i].iter().any(|b| club(b) == club(balls)) {
            continue;
        }
        let same: Vec<usize> = (i..playing.len())
            .filter(|j| club(&playing[*j]) == club(balls))
            .collect();
        let points: Vec<Vec<[f64; 2]>> = same
            .iter()
            .map(|j| playing[*j].iter().filter_map(|b| landed(b)).collect())
            .collect();
        let speeds: Vec<f64> = same.iter().map(|j| mean_speed(&playing[*j])).collect();
        let fastest = speeds.iter().copied().fold(0.0, f64::max);
        let real: Vec<f64> = speeds
            .iter()
            .map(|speed| if fastest > 0.0 { speed / fastest } else { 1.0 })
            .collect();
        let all: usize = points.iter().map(Vec::len).sum();
        let moments = shared_moments(&points, &real, rules.shared_spread);
        let one = |((j, points), moments): ((&usize, &Vec<[f64; 2]>), &Option<Moments>)| {
            let lent = points.len() >= 2 && all >= 2 * LEAST_BALLS;
            let moments = moments
                .as_ref()
                .filter(|_| points.len() >= LEAST_BALLS || lent)?;
            Some(Weighed {
                posterior: Posterior::of(moments, SEED + *j as u64),
                as_fell: as_fell(points, moments, rules),
                run: mean_run(&playing[*j]),
                carry: moments.mean[1],
                spread: [0, 1].map(|k| moments.covariance(k, k).sqrt()),
                n: points.len(),
            })
        };
        let patterns = same.par_iter().zip(&points).zip(&moments).map(one);
        for (j, pattern) in same.iter().zip(patterns.collect::<Vec<_>>()) {
            weighed[*j] = pattern;
        }
    }
    weighed
}

/// The balls, where counting them speaks against a normal pattern.
fn as_fell(points: &[[f64; 2]], moments: &Moments, rules: &HouseRules) -> Option<Vec<[f64; 2]>> {
    let (width, level) = (rules.fairway_width, rules.interval_level);
    // By draws of its own, so that it does not hang on which choice they are.
    let normal = Posterior::of(moments, SEED).fairway(width, level);
    counted_fairway(points, &normal, width, level).map(|_| points.to_vec())
}

/// Draws of what balls that lie in no normal pattern are worth: each draw gives every ball
/// a weight by chance (the Bayesian bootstrap, Rubin 1981).
fn resampled(points: &[[f64; 2]], run: f64, hole: &Hole, ground: &Ground) -> [Vec<f64>; 3] {
    let half = hole.fairway_width / 2.0;
    let values: Vec<[f64; 3]> = points
        .iter()
        .map(|[side, carry]| {
            [
                1.0 + ground.after::<1>([[*side, *carry]], run),
                f64::from(u8::from(side.abs() <= half)),
                *carry,
            ]
        })
        .collect();
    let mut rng = Pcg64::seed_from_u64(SEED);
    let mut draws = [vec![], vec![], vec![]];
    for _ in 0..RESAMPLES {
        let weights: Vec<f64> = values.iter().map(|_| Exp1.sample(&mut rng)).collect();
        let all: f64 = weights.iter().sum();
        for (i, draws) in draws.iter_mut().enumerate() {
            let sum: f64 = values.iter().zip(&weights).map(|(v, w)| v[i] * w).sum();
            draws.push(sum / all);
        }
    }
    draws
}

fn mean_of(values: impl Iterator<Item = f64>) -> f64 {
    let values: Vec<f64> = values.collect();
    if values.is_empty() {
        0.0
    } else {
        values.iter().sum::<f64>() / values.len() as f64
    }
}

fn mean_speed(balls: &[&Ball]) -> f64 {
    let there = balls.iter().filter(|ball| landed(ball).is_some());
    mean_of(there.filter_map(|ball| ball.reading.get(Quantity::ClubSpeed)))
}

/// Mean run of the balls whose total was recorded; without one a ball stays where it lands.
fn mean_run(balls: &[&Ball]) -> f64 {
    mean_of(balls.iter().filter_map(|ball| {
        Some(ball.reading.get(Quantity::Total)? - ball.reading.get(Quantity::Carry)?)
    }))
}

/// Expected strokes of one pattern of balls that run so far, the tee shot included.
pub(super) fn strokes(pattern: &Normal2, points: &Points, run: f64, ground: &Ground) -> f64 {
    let balls = points.iter().map(|z| pattern.at(*z));
    1.0 + ground.after::<POINTS>(balls, run) / POINTS as f64
}

type Points = [[f64; 2]; POINTS];

/// Sets of points that each fill a bivariate normal evenly: one lattice, each time shifted by
/// chance (Cranley & Patterson 1976), and its mirror image, so that left and right weigh the
/// same.
pub(super) static SPREAD: LazyLock<Vec<Points>> = LazyLock::new(|| {
    let normal = Normal::standard();
    let mut rng = Pcg64::seed_from_u64(SEED);
    let mut shifted = || {
        let by: [f64; 2] = [rng.random(), rng.random()];
        let point = |i: usize| {
            let at = [i, i * STRIDE % POINTS].map(|place| place as f64 / POINTS as f64);
            [0, 1].map(|k| {
                let share = (at[k] + by[k]).fract();
                normal.inverse_cdf(share.clamp(1e-6, 1.0 - 1e-6))
            })
        };
        let points: Points = std::array::from_fn(point);
        let mirrored = points.map(|[side, along]| [-side, along]);
        [points, mirrored]
    };
    (0..SETS / 2).flat_map(|_| shifted()).collect()
});

pub(super) fn report(
    hole: &Hole,
    choices: &[Choice],
    weighed: &[Option<Weighed>],
    criterion: Criterion,
    rules: &HouseRules,
) -> HoleReport {
    let level = rules.interval_level;
    let draws = played_out(hole, weighed, rules);
    let merits = merits_of(&draws, criterion);
    let chances = best_chances(&merits);
    let mean = |merit: &Vec<f64>| merit.iter().sum::<f64>() / merit.len() as f64;
    let best = merits
        .iter()
        .enumerate()
        .filter_map(|(i, merit)| Some((i, mean(merit.as_ref()?))))
        .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)))
        .map(|(i, _)| i);
    let read: Vec<ChoiceRead> = choices
        .iter()
        .zip(weighed)
        .zip(&draws)
        .zip(&chances)
        .map(|(((choice, weighed), draws), chance)| {
            let n = weighed.as_ref().map_or_else(
                || choice.balls.iter().filter(|b| b.plays()).count(),
                |w| w.n,
            );
            let told = |i: usize| {
                let mut values = draws.as_ref()?[i].clone();
                Some(Estimate {
                    n,
                    ..interval(&mut values, level)
                })
            };
            ChoiceRead {
                label: choice.label.clone(),
                n,
                carry: weighed.as_ref().map(|w| w.carry),
                side_spread: weighed.as_ref().map(|w| w.spread[0]),
                fairway: told(1),
                strokes: told(0),
                best: *chance,
            }
        })
        .collect();
    // Against the one that comes next.
    let next = best.and_then(|best| {
        let others = merits.iter().enumerate().filter(|(i, _)| *i != best);
        let others = others.filter_map(|(i, merit)| Some((i, mean(merit.as_ref()?))));
        let next = others.max_by(|a, b| a.1.total_cmp(&b.1))?.0;
        let balls = read[best].n.min(read[next].n);
        let both = apart(merits[best].as_ref()?, merits[next].as_ref()?);
        more_balls(&both, balls, rules)
    });
    let verdict = verdict(hole, &read, best, criterion, next, rules);
    HoleReport {
        interval_level: level,
        criterion,
        verdict,
        choices: read,
        best,
    }
}

/// For each choice that can be weighed, over its draws: strokes, fairway chance and carry.
pub(crate) type Draws = Vec<Option<[Vec<f64>; 3]>>;

/// Each choice's draws laid on the hole.
pub(crate) fn played_out(hole: &Hole, weighed: &[Option<Weighed>], rules: &HouseRules) -> Draws {
    let ground = Ground::of(hole, rules);
    let one = |choice: &Weighed| {
        if let Some(points) = &choice.as_fell {
            return resampled(points, choice.run, hole, &ground);
        }
        let patterns = &choice.posterior.0;
        let strokes = patterns
            .par_iter()
            .enumerate()
            .with_min_len(SETS)
            .map(|(i, pattern)| strokes(pattern, &SPREAD[i % SETS], choice.run, &ground));
        let within = |pattern: &Normal2| pattern.within(hole.fairway_width / 2.0);
        [
            strokes.collect(),
            patterns.iter().map(within).collect(),
            patterns.iter().map(|p| p.at([0.0, 0.0])[1]).collect(),
        ]
    };
    weighed.par_iter().map(|w| w.as_ref().map(one)).collect()
}

/// What each draw is worth by the criterion: the larger the better, whichever it is.
pub(crate) fn merits_of(draws: &Draws, criterion: Criterion) -> Vec<Option<Vec<f64>>> {
    let one = |[strokes, fairway, carry]: &[Vec<f64>; 3]| match criterion {
        Criterion::Strokes => strokes.iter().map(|s| -s).collect(),
        Criterion::Fairway => fairway.clone(),
        Criterion::Distance => carry.clone(),
    };
    draws.iter().map(|d| d.as_ref().map(one)).collect()
}

/// The draws of a choice in an order of its own, so that those of different choices are
/// independent.
pub(super) fn dealt(draws: &[f64], choice: usize) -> Vec<f64> {
    let mut dealt = draws.to_vec();
    dealt.shuffle(&mut Pcg64::seed_from_u64(SEED + 1_000 + choice as u64));
    dealt
}

/// How often each choice is the best over the draws.
pub(crate) fn best_chances(merits: &[Option<Vec<f64>>]) -> Vec<Option<f64>> {
    let dealt: Vec<Option<Vec<f64>>> = merits
        .iter()
        .enumerate()
        .map(|(i, merit)| merit.as_ref().map(|m| dealt(m, i)))
        .collect();
    let Some(n) = dealt.iter().flatten().map(Vec::len).min() else {
        return vec![None; merits.len()];
    };
    let mut wins = vec![0usize; merits.len()];
    for draw in 0..n {
        let winner = dealt
            .iter()
            .enumerate()
            .filter_map(|(i, m)| Some((i, m.as_ref()?[draw])))
            .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)));
        if let Some((i, _)) = winner {
            wins[i] += 1;
        }
    }
    merits
        .iter()
        .zip(wins)
        .map(|(merit, wins)| merit.as_ref().map(|_| wins as f64 / n as f64))
        .collect()
}
