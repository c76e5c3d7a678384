//! Each choice's pattern laid on the hole.

use super::words::verdict;
use super::{Choice, ChoiceRead, Criterion, Hole, HoleReport, LEAST_BALLS};
use crate::shots::landing::{Moments, Normal2, Posterior, interval};
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use rayon::prelude::*;
use statrs::distribution::{ContinuousCDF, Normal};

/// Points at which a pattern is laid on the hole.
const POINTS: usize = 48;
const SEED: u64 = 20_120_401;

/// A pattern with what a pattern cannot tell: how far carry and total lie apart.
pub(super) struct Weighed {
    posterior: Posterior,
    run: f64,
    carry: f64,
    side_spread: f64,
    n: usize,
}

pub(super) fn weigh(choice: &Choice) -> Option<Weighed> {
    let balls = choice.balls.iter().filter(|ball| ball.plays());
    let rows: Vec<([f64; 2], Option<f64>)> = balls
        .filter_map(|ball| {
            let point = crate::shots::landing::landed(ball)?;
            Some((
                point,
                ball.reading.get(Quantity::Total).map(|t| t - point[1]),
            ))
        })
        .collect();
    if rows.len() < LEAST_BALLS {
        return None;
    }
    let points: Vec<[f64; 2]> = rows.iter().map(|(point, _)| *point).collect();
    let moments = Moments::of(&points)?;
    let runs: Vec<f64> = rows.iter().filter_map(|(_, run)| *run).collect();
    Some(Weighed {
        posterior: Posterior::of(&moments, SEED),
        run: if runs.is_empty() {
            0.0
        } else {
            runs.iter().sum::<f64>() / runs.len() as f64
        },
        carry: moments.mean[1],
        side_spread: moments.covariance(0, 0).sqrt(),
        n: rows.len(),
    })
}

/// Expected strokes of one pattern on a hole, the tee shot included.
pub(crate) fn strokes_of(
    pattern: &Normal2,
    run: f64,
    hole: &Hole,
    rules: &HouseRules,
    points: &[[f64; 2]],
) -> f64 {
    let sum: f64 = points
        .iter()
        .map(|z| {
            let [side, carry] = pattern.at(*z);
            hole.after(side, carry, carry + run, rules)
        })
        .sum();
    1.0 + sum / points.len() as f64
}

/// Points that fill a bivariate normal evenly (Halton 1960, bases 2 and 3).
pub(crate) fn spread_points() -> Vec<[f64; 2]> {
    let normal = Normal::standard();
    let radical = |mut i: usize, base: usize| {
        let (mut share, mut sum) = (1.0 / base as f64, 0.0);
        while i > 0 {
            sum += share * (i % base) as f64;
            i /= base;
            share /= base as f64;
        }
        sum
    };
    // Each with its mirror image, so that left and right weigh the same.
    (1..=POINTS / 2)
        .map(|i| [2, 3].map(|base| normal.inverse_cdf(radical(i, base))))
        .flat_map(|[side, along]| [[side, along], [-side, along]])
        .collect()
}

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
                side_spread: weighed.as_ref().map(|w| w.side_spread),
                fairway: told(1),
                strokes: told(0),
                best: *chance,
            }
        })
        .collect();
    let verdict = verdict(hole, &read, best, criterion, rules);
    HoleReport {
        interval_level: level,
        criterion,
        verdict,
        choices: read,
        best,
    }
}

/// For each choice that can be weighed, over its draws: strokes, fairway chance and carry.
type Draws = Vec<Option<[Vec<f64>; 3]>>;

fn played_out(hole: &Hole, weighed: &[Option<Weighed>], rules: &HouseRules) -> Draws {
    let points = spread_points();
    let one = |choice: &Weighed| {
        let of = |value: &(dyn Fn(&Normal2) -> f64 + Sync)| -> Vec<f64> {
            choice.posterior.0.par_iter().map(value).collect()
        };
        [
            of(&|p| strokes_of(p, choice.run, hole, rules, &points)),
            of(&|p| p.within(hole.fairway_width / 2.0)),
            of(&|p| p.at([0.0, 0.0])[1]),
        ]
    };
    weighed.iter().map(|w| w.as_ref().map(one)).collect()
}

/// What each draw is worth by the criterion: the larger the better, whichever it is.
fn merits_of(draws: &Draws, criterion: Criterion) -> Vec<Option<Vec<f64>>> {
    let one = |[strokes, fairway, carry]: &[Vec<f64>; 3]| match criterion {
        Criterion::Strokes => strokes.iter().map(|s| -s).collect(),
        Criterion::Fairway => fairway.clone(),
        Criterion::Distance => carry.clone(),
    };
    draws.iter().map(|d| d.as_ref().map(one)).collect()
}

/// How often each choice is the best over the draws. Draws of different choices are
/// independent, so each is set beside a shifted row of the others.
pub(crate) fn best_chances(merits: &[Option<Vec<f64>>]) -> Vec<Option<f64>> {
    let Some(n) = merits.iter().flatten().map(Vec::len).min() else {
        return vec![None; merits.len()];
    };
    // A step that shares no factor with the number of draws visits each of them.
    let place =
        |choice: usize, draw: usize| (draw * (2 * choice + 1) * 3 + 7 * choice * choice) % n;
    let mut wins = vec![0usize; merits.len()];
    for draw in 0..n {
        let winner = merits
            .iter()
            .enumerate()
            .filter_map(|(i, m)| Some((i, m.as_ref()?[place(i, draw)])))
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
