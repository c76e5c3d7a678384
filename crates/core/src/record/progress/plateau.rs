//! Where a rise stopped: stretches of days that are better told by standing still than by
//! going on as before.

use super::{DayRead, Plateau};

/// Days that make a plateau, its first being where the rise ended: of one that goes on, and
/// of one that is over.
const LEAST: usize = 4;
const LEAST_WHEN_OVER: usize = 3;
/// Days before it that tell how it went before, at most.
const BEFORE: usize = 7;
/// How much likelier standing still must be than going on, in logarithms: two and a half times.
const LIKELIER: f64 = 0.9;
/// The same for a stretch that is over.
const LIKELIER_WHEN_OVER: f64 = 1.4;

/// Plateaus, earliest first. `error` is the SD of a day's mean about the level, `margin` the
/// change that matters. Off days tell nothing of it, and no plateau goes across a lay-off.
pub(super) fn plateaus(
    days: &[DayRead],
    after_lay_off: &[usize],
    error: f64,
    margin: f64,
) -> Vec<Plateau> {
    let told: Vec<(usize, f64, f64)> = days
        .iter()
        .enumerate()
        .filter(|(_, day)| !day.off)
        .map(|(place, day)| {
            let week = (day.date - days[0].date).num_days() as f64 / 7.0;
            (place, week, day.mean)
        })
        .collect();
    let mut found: Vec<(f64, Plateau)> = Vec::new();
    for from in 2..told.len() {
        let back = after_lay_off.iter().rfind(|at| **at <= told[from].0);
        let back = back.map_or(0, |at| told.partition_point(|day| day.0 < *at));
        let before = &told[from.saturating_sub(BEFORE).max(back)..=from];
        let Some(slope) = rise(before, margin) else {
            continue;
        };
        for to in from + LEAST_WHEN_OVER - 1..told.len() {
            let over = to + 1 < told.len();
            if !over && to - from + 1 < LEAST {
                continue;
            }
            let stretch = &told[from..=to];
            // Neither what was before nor the stretch goes across a lay-off.
            let rests = |at: &&usize| told[from].0 < **at && **at <= told[to].0;
            if after_lay_off.iter().any(|at| rests(&at)) {
                continue;
            }
            let enough = if over { LIKELIER_WHEN_OVER } else { LIKELIER };
            if let Some(likelier) = stands_still(slope, stretch, error, margin)
                && likelier > enough
            {
                // Off days at the end of the record are of the stretch that goes on.
                let last = if over { told[to].0 } else { days.len() - 1 };
                let plateau = Plateau {
                    from: told[from].0,
                    to: last,
                };
                found.push((likelier, plateau));
            }
        }
    }
    found.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut kept: Vec<Plateau> = Vec::new();
    for (_, plateau) in found {
        let apart = |other: &Plateau| plateau.to <= other.from || other.to <= plateau.from;
        if kept.iter().all(apart) {
            kept.push(plateau);
        }
    }
    kept.sort_by_key(|plateau| plateau.from);
    kept
}

/// How it went before, a week; nothing where it went nowhere that matters.
fn rise(before: &[(usize, f64, f64)], margin: f64) -> Option<f64> {
    let (slope, _) = line(before)?;
    let rose = slope * (before[before.len() - 1].1 - before[0].1);
    (rose.abs() >= margin).then_some(slope)
}

/// How much likelier (in logarithms) a stretch is if it stands still than if it goes on by
/// the `slope` before it; nothing where it does not stand still.
fn stands_still(slope: f64, stretch: &[(usize, f64, f64)], error: f64, margin: f64) -> Option<f64> {
    let weeks = stretch[stretch.len() - 1].1 - stretch[0].1;
    if (slope * weeks).abs() < margin {
        return None;
    }
    let (own, square) = line(stretch)?;
    // It may stray by what matters, or by what such days show by chance.
    if (own * weeks).abs() > margin.max(1.7 * error * weeks / square.sqrt()) {
        return None;
    }
    // Where it began is of it, and no step of the rise.
    let rest = &stretch[1..];
    let middle = rest.iter().map(|day| day.2).sum::<f64>() / rest.len() as f64;
    if (stretch[0].2 - middle) * slope.signum() < -error {
        return None;
    }
    // What the squares about a line of the old slope have more than those about a level.
    let more = (own - slope).powi(2) * square - own * own * square;
    Some(more / (2.0 * error * error))
}

/// The slope of a line through days, a week, and the squares of their weeks about the mean.
fn line(days: &[(usize, f64, f64)]) -> Option<(f64, f64)> {
    let n = days.len() as f64;
    let middle = days.iter().map(|d| d.1).sum::<f64>() / n;
    let square: f64 = days.iter().map(|d| (d.1 - middle).powi(2)).sum();
    let across: f64 = days.iter().map(|d| (d.1 - middle) * d.2).sum();
    (days.len() >= 3 && square > 0.0).then(|| (across / square, square))
}
