//! Which effort to play: patterns that share their spread, weighed on the hole.

use super::{EffortLevel, EffortQuestion};
use crate::shots::ball::Ball;
use crate::shots::landing::interval;
use crate::statistics::summary::Estimate;
use crate::trials::hole::{
    Criterion, apart, best_chances, merits_of, more_balls, played_out, weigh_together,
};

/// What is to be played.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(super) struct Chosen {
    /// The best by the criterion.
    pub play: Option<usize>,
    /// The one with most fairways, with its chance to be that, when it is enough.
    pub safe: Option<(usize, f64)>,
    /// Chance that the best beats stock; absent without a stock or when it is stock.
    pub beats_stock: Option<f64>,
    /// About how many more balls of each would tell.
    pub more_balls: Option<usize>,
}

/// Weighs the levels, by the same patterns as the hole chooser, and writes what it finds
/// into them.
pub(super) fn choose(
    question: &EffortQuestion<'_>,
    balls: &[Vec<&Ball>],
    levels: &mut [EffortLevel],
) -> Chosen {
    let rules = &question.rules;
    let weighed = weigh_together(balls, rules);
    let draws = played_out(&question.hole, &weighed, rules);
    for ((level, weighed), draws) in levels.iter_mut().zip(&weighed).zip(&draws) {
        let (Some(weighed), Some([strokes, fairways, _])) = (weighed, draws) else {
            continue;
        };
        let told = |values: &[f64]| Estimate {
            n: weighed.n,
            ..interval(&mut values.to_vec(), rules.interval_level)
        };
        level.strokes = Some(told(strokes));
        level.fairway = Some(told(fairways));
        level.smoothed_spread = Some(weighed.spread);
    }
    let merits = merits_of(&draws, question.criterion);
    for (level, chance) in levels.iter_mut().zip(best_chances(&merits)) {
        level.best = chance;
    }
    let stock = levels.iter().position(|l| l.felt.is_none());
    let play = most(merits.iter().map(|m| m.as_deref().map(mean)));
    let fairways = best_chances(&merits_of(&draws, Criterion::Fairway));
    let mut chosen = Chosen {
        play,
        safe: most(fairways.iter().copied())
            .and_then(|i| Some((i, fairways[i]?)))
            .filter(|(_, chance)| *chance >= rules.verdict_power),
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
        chosen.more_balls = more_balls(&apart, balls, rules);
    }
    chosen
}

fn mean(values: &[f64]) -> f64 {
    values.iter().sum::<f64>() / values.len() as f64
}

/// The place of the largest, the first of equals.
fn most(values: impl Iterator<Item = Option<f64>>) -> Option<usize> {
    values
        .enumerate()
        .filter_map(|(i, value)| Some((i, value?)))
        .max_by(|a, b| a.1.total_cmp(&b.1).then(b.0.cmp(&a.0)))
        .map(|(i, _)| i)
}
