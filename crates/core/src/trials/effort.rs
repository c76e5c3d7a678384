//! What each felt effort truly gives, and costs.
//!
//! Speed is fitted by one model: a level for each feel and for the stock swing, and a
//! warm-up (`warming`), so that warming up does not look like effort. The levels of the
//! feels are made to rise (isotonic regression, Ayer et al. 1955), and stock finds its
//! place among them. Patterns borrow spread from the trend over all efforts, because
//! three balls say little of it alone (Smyth 2004).

mod choose;
mod words;

use crate::session::label::{Felt, felt};
use crate::shots::ball::{Ball, Strikes};
use crate::shots::face::{FaceRead, face};
use crate::shots::standing::Standing;
use crate::statistics::least_squares::least_squares;
use crate::statistics::summary::{Estimate, student_t, summarise};
use crate::statistics::warming::Warming;
use crate::trials::hole::{Criterion, Hole};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::Verdict;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::Dimension;
use rayon::prelude::*;
use serde::Serialize;
use utoipa::ToSchema;

/// What is asked of an effort ladder.
#[derive(Debug, Clone, PartialEq)]
pub struct EffortQuestion<'a> {
    /// The player's name, for the sentence.
    pub player: &'a str,
    /// The balls with the labels of their blocks, in hitting order.
    pub balls: &'a [(Ball, String)],
    /// The player's reference maximum of club speed, m/s, when there is more than these
    /// balls to take it from.
    pub reference: Option<f64>,
    /// The coach's criterion for the effort to play as stock.
    pub criterion: Criterion,
    /// The hole that strokes are reckoned on.
    pub hole: Hole,
    /// The house's thresholds.
    pub rules: HouseRules,
}

/// One effort, read.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct EffortLevel {
    /// The block's label.
    pub label: String,
    /// Effort felt, 0…1; absent for stock.
    pub felt: Option<f64>,
    /// Kept balls with a club speed.
    pub n: usize,
    /// Balls set aside, those that missed their feel among them.
    pub set_aside: usize,
    /// Club speed with the warm-up taken out, m/s; rising over the feels.
    pub speed: Estimate,
    /// Real effort: the same as a share of the reference maximum.
    pub real: Estimate,
    /// Carry over kept balls, m.
    pub carry: Option<Estimate>,
    /// Left–right spread as the balls fell, m.
    pub side_spread: Option<f64>,
    /// Left–right and short–long spread with what the trend lends, m.
    pub smoothed_spread: Option<[f64; 2]>,
    /// Chance of the fairway.
    pub fairway: Option<Estimate>,
    /// Expected strokes on the hole.
    pub strokes: Option<Estimate>,
    /// Kept strikes from the middle.
    pub strikes: Strikes,
    /// Mean measured place of kept strikes, toward the toe and up, m.
    pub struck: Option<[f64; 2]>,
    /// Chance that it is the best by the criterion.
    pub best: Option<f64>,
}

/// What an effort ladder says.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct EffortReport {
    /// Level of the intervals.
    pub interval_level: f64,
    /// The criterion used.
    pub criterion: Criterion,
    /// The hole that strokes are reckoned on.
    pub hole: Hole,
    /// The verdict: which effort to play as stock.
    pub verdict: Verdict,
    /// The reference maximum, m/s.
    pub reference: Option<f64>,
    /// The feels from the gentlest up, then stock.
    pub levels: Vec<EffortLevel>,
    /// The effort felt at which the curve gives stock's speed, 0…1.
    pub stock_at: Option<Estimate>,
    /// What warming up added from the first swing on, m/s.
    pub warm_up: Option<Estimate>,
    /// Speed for each tenth of effort felt, m/s, with the warm-up taken out.
    pub slope: Option<Estimate>,
    /// The same without taking it out.
    pub slope_raw: Option<Estimate>,
    /// Place of the level to play as stock.
    pub play: Option<usize>,
    /// Place of the safe tee ball, when its chance to have most fairways is enough.
    pub safe: Option<usize>,
    /// That chance.
    pub safe_chance: Option<f64>,
    /// Balls whose speed belongs to another feel, by their place in the session, from 0.
    pub misfelt: Vec<usize>,
    /// Where on the face the balls were struck, and what that cost.
    pub face: FaceRead,
    /// Labels that name no effort and were left out.
    pub left_out: Vec<String>,
}

/// A ball whose effort and speed are known.
struct Swing {
    level: usize,
    felt: Felt,
    order: f64,
    speed: f64,
}

/// Reads an effort ladder.
///
/// # Errors
/// Every [`Invalid`] field of the hole.
pub fn effort(question: &EffortQuestion<'_>) -> Result<EffortReport, Vec<Invalid>> {
    question.hole.check()?;
    let rules = &question.rules;
    let (names, left_out) = names(question.balls);
    let by_name = by_name(question.balls, &names);
    let swings = swings(&by_name, &names);
    let speeds = speeds(&swings, names.len(), rules);
    let fastest = swings.iter().map(|s| s.speed).reduce(f64::max);
    let reference = match (question.reference, fastest) {
        (Some(known), Some(now)) => Some(known.max(now)),
        (known, now) => known.or(now),
    };
    let mut levels = Vec::new();
    let mut balls = Vec::new();
    if let (Some(speeds), Some(reference)) = (&speeds, reference) {
        for ((name, speed), of) in names.iter().zip(&speeds.levels).zip(by_name) {
            let Some(speed) = *speed else { continue };
            levels.push(level(&of, name, speed, reference, rules));
            balls.push(of);
        }
    }
    let stock_at = stock_at(&levels);
    let misfelt = misfelt(&swings, &names);
    let (chosen, [slope, slope_raw]) = rayon::join(
        || choose::choose(question, &balls, &mut levels),
        || [true, false].map(|warm| slope(&swings, warm, rules)),
    );
    let mut report = EffortReport {
        interval_level: rules.interval_level,
        criterion: question.criterion,
        hole: question.hole,
        verdict: words::nothing_yet(),
        reference,
        levels,
        stock_at,
        warm_up: speeds.and_then(|s| s.warm_up),
        slope,
        slope_raw,
        play: chosen.play,
        safe: chosen.safe.map(|(place, _)| place),
        safe_chance: chosen.safe.map(|(_, chance)| chance),
        misfelt,
        face: question
            .balls
            .first()
            .map(|(first, _)| face(question.balls.iter().map(|(b, _)| b), first.club, rules))
            .unwrap_or_default(),
        left_out,
    };
    report.verdict = words::verdict(question, &report, &chosen);
    Ok(report)
}

/// The efforts there are, from the gentlest feel up and stock last, and the labels that
/// name none.
fn names(balls: &[(Ball, String)]) -> (Vec<(String, Felt)>, Vec<String>) {
    let mut names: Vec<(String, Felt)> = Vec::new();
    let mut left_out: Vec<String> = Vec::new();
    for (label, _) in in_a_row(balls) {
        match felt(label) {
            Some(felt) if !names.iter().any(|(_, known)| *known == felt) => {
                names.push((label.clone(), felt));
            }
            None if !left_out.contains(label) => left_out.push(label.clone()),
            _ => {}
        }
    }
    let place = |felt: &Felt| match felt {
        Felt::Share(share) => *share,
        Felt::Stock => f64::INFINITY,
    };
    names.sort_by(|a, b| place(&a.1).total_cmp(&place(&b.1)));
    (names, left_out)
}

/// The balls of each name, in hitting order.
fn by_name<'a>(balls: &'a [(Ball, String)], names: &[(String, Felt)]) -> Vec<Vec<&'a Ball>> {
    let mut by_name = vec![Vec::new(); names.len()];
    for (label, of) in in_a_row(balls) {
        let felt = felt(label);
        let place = felt.and_then(|felt| names.iter().position(|(_, known)| *known == felt));
        if let Some(place) = place {
            by_name[place].extend(of.iter().map(|(ball, _)| ball));
        }
    }
    by_name
}

/// Balls that follow one another with the same label.
fn in_a_row(balls: &[(Ball, String)]) -> impl Iterator<Item = (&String, &[(Ball, String)])> {
    let runs = balls.chunk_by(|(_, one), (_, next)| one == next);
    runs.filter_map(|run| Some((&run.first()?.1, run)))
}

/// The kept balls with a speed, in hitting order.
fn swings(by_name: &[Vec<&Ball>], names: &[(String, Felt)]) -> Vec<Swing> {
    let mut swings: Vec<Swing> = by_name
        .iter()
        .zip(names)
        .enumerate()
        .flat_map(|(level, (balls, (_, felt)))| {
            let kept = balls.iter().filter(|ball| ball.kept());
            kept.filter_map(move |ball| {
                Some(Swing {
                    level,
                    felt: *felt,
                    order: ball.order as f64,
                    speed: ball.reading.get(Quantity::ClubSpeed)?,
                })
            })
        })
        .collect();
    swings.sort_by(|a, b| a.order.total_cmp(&b.order));
    swings
}

/// Share by which a ball's speed is off the others of its feel when it was another feel.
const MISFELT: f64 = 0.05;

/// The balls whose speed is far from the others of their feel and near another feel.
fn misfelt(swings: &[Swing], names: &[(String, Felt)]) -> Vec<usize> {
    // Sum and number of each feel's speeds.
    let mut feels = vec![(0.0, 0.0); names.len()];
    for swing in swings {
        let (sum, n) = &mut feels[swing.level];
        *sum += swing.speed;
        *n += 1.0;
    }
    let is_feel = |level: usize| matches!(names[level].1, Felt::Share(_));
    let is_misfelt = |swing: &&Swing| {
        let (sum, n) = feels[swing.level];
        if n < 2.0 || !is_feel(swing.level) {
            return false;
        }
        let others = (sum - swing.speed) / (n - 1.0);
        let off = (swing.speed - others).abs();
        let near = |(level, (sum, n)): (usize, &(f64, f64))| {
            level != swing.level
                && is_feel(level)
                && *n > 0.0
                && (swing.speed - sum / n).abs() < off / 3.0
        };
        off > MISFELT * others && feels.iter().enumerate().any(near)
    };
    let found = swings.iter().filter(is_misfelt);
    found.map(|swing| swing.order as usize).collect()
}

/// Speed of each level with the warm-up taken out.
struct Speeds {
    /// In the order of the names; stock last where there is one.
    levels: Vec<Option<Estimate>>,
    warm_up: Option<Estimate>,
}

fn speeds(swings: &[Swing], names: usize, rules: &HouseRules) -> Option<Speeds> {
    let hit: Vec<usize> = (0..names)
        .filter(|level| swings.iter().any(|s| s.level == *level))
        .collect();
    let columns: Vec<Vec<f64>> = hit
        .iter()
        .map(|level| {
            let of = |s: &Swing| f64::from(s.level == *level);
            swings.iter().map(of).collect()
        })
        .collect();
    let order: Vec<f64> = swings.iter().map(|s| s.order).collect();
    let y: Vec<f64> = swings.iter().map(|s| s.speed).collect();
    let count = |level: usize| swings.iter().filter(|s| s.level == level).count();
    let level = rules.interval_level;
    let unit = |place: usize, sign: f64, of: usize| {
        let mut weights = vec![0.0; of];
        weights[place] = sign;
        weights
    };
    let mut levels = vec![None; names];
    let warming = Warming::fit(&columns, &order, &y, Dimension::Speed.grain(), None);
    let warm_up = match &warming {
        Some(warming) => {
            let of = hit.len() + 1;
            let told: Vec<Estimate> = (0..hit.len())
                .into_par_iter()
                .map(|i| warming.estimate(level, |_| unit(i, 1.0, of)))
                .collect();
            for (name, told) in hit.iter().zip(told) {
                levels[*name] = Some(Estimate {
                    n: count(*name),
                    ..told
                });
            }
            Some(warming.estimate(level, |_| unit(of - 1, -1.0, of)))
        }
        None => {
            let fit = least_squares(&columns, &y)?;
            let t = student_t(level, fit.freedom);
            let grain = Dimension::Speed.grain();
            for (i, name) in hit.iter().enumerate() {
                let (value, error) = fit.contrast(&unit(i, 1.0, hit.len()));
                let half = t * error.max(grain / 12f64.sqrt());
                levels[*name] = Some(Estimate {
                    value,
                    low: value - half,
                    high: value + half,
                    n: count(*name),
                });
            }
            None
        }
    };
    rise(&mut levels, swings, &hit);
    Some(Speeds { levels, warm_up })
}

/// Makes the speeds of the feels rise (pool adjacent violators), with the band that a
/// rising curve leaves.
fn rise(levels: &mut [Option<Estimate>], swings: &[Swing], hit: &[usize]) {
    let feels: Vec<usize> = hit
        .iter()
        .copied()
        .filter(|level| {
            let felt = swings.iter().find(|s| s.level == *level).map(|s| s.felt);
            matches!(felt, Some(Felt::Share(_)))
        })
        .collect();
    let told: Vec<Estimate> = feels.iter().filter_map(|level| levels[*level]).collect();
    let values: Vec<(f64, f64)> = told.iter().map(|e| (e.value, e.n as f64)).collect();
    let risen = isotonic(&values);
    let mut low = f64::NEG_INFINITY;
    let lows: Vec<f64> = told
        .iter()
        .map(|e| {
            low = low.max(e.low);
            low
        })
        .collect();
    let mut high = f64::INFINITY;
    let mut highs: Vec<f64> = told
        .iter()
        .rev()
        .map(|e| {
            high = high.min(e.high);
            high
        })
        .collect();
    highs.reverse();
    for (i, level) in feels.iter().enumerate() {
        // Where a band would be empty the feels truly fall; the plain one stands.
        let (low, high) = if lows[i] <= highs[i] {
            (lows[i], highs[i])
        } else {
            (told[i].low, told[i].high)
        };
        levels[*level] = Some(Estimate {
            value: risen[i],
            low: low.min(risen[i]),
            high: high.max(risen[i]),
            n: told[i].n,
        });
    }
}

/// Isotonic regression of values with weights (Ayer et al. 1955).
fn isotonic(values: &[(f64, f64)]) -> Vec<f64> {
    let mut pools: Vec<(f64, f64, usize)> = Vec::new();
    for &(value, weight) in values {
        pools.push((value, weight, 1));
        while pools.len() > 1 && pools[pools.len() - 2].0 > pools[pools.len() - 1].0 {
            let (b, wb, nb) = pools.pop().expect("there are two");
            let (a, wa, na) = pools.pop().expect("there are two");
            pools.push(((a * wa + b * wb) / (wa + wb), wa + wb, na + nb));
        }
    }
    pools
        .into_iter()
        .flat_map(|(value, _, n)| std::iter::repeat_n(value, n))
        .collect()
}

fn level(
    balls: &[&Ball],
    (label, felt_as): &(String, Felt),
    speed: Estimate,
    reference: f64,
    rules: &HouseRules,
) -> EffortLevel {
    let kept = |quantity| -> Vec<f64> {
        let kept = balls.iter().filter(|b| b.kept());
        kept.filter_map(|b| b.reading.get(quantity)).collect()
    };
    let share = |v: f64| v / reference;
    let carry = summarise(&kept(Quantity::Carry), rules.interval_level);
    let side = summarise(&kept(Quantity::Side), rules.interval_level);
    EffortLevel {
        label: label.to_owned(),
        felt: match felt_as {
            Felt::Share(share) => Some(*share),
            Felt::Stock => None,
        },
        n: speed.n,
        set_aside: balls
            .iter()
            .filter(|b| b.standing == Standing::SetAside)
            .count(),
        speed,
        real: Estimate {
            value: share(speed.value),
            low: share(speed.low),
            high: share(speed.high),
            n: speed.n,
        },
        carry: carry.and_then(|c| c.interval),
        side_spread: side.and_then(|s| s.spread),
        smoothed_spread: None,
        fairway: None,
        strokes: None,
        strikes: Strikes::of(balls.iter().copied().filter(|b| b.kept()), rules),
        struck: place([kept(Quantity::ImpactToe), kept(Quantity::ImpactHigh)]),
        best: None,
    }
}

/// Mean of places toward the toe and up.
fn place([toe, high]: [Vec<f64>; 2]) -> Option<[f64; 2]> {
    let mean = |places: Vec<f64>| {
        let n = places.len() as f64;
        (!places.is_empty()).then(|| places.iter().sum::<f64>() / n)
    };
    Some([mean(toe).unwrap_or_default(), mean(high)?])
}

/// The feel at which the rising curve, straight between feels, gives stock's speed.
fn stock_at(levels: &[EffortLevel]) -> Option<Estimate> {
    let stock = levels.iter().find(|l| l.felt.is_none())?;
    let curve: Vec<(f64, Estimate)> = levels
        .iter()
        .filter_map(|l| Some((l.felt?, l.speed)))
        .collect();
    if curve.len() < 2 {
        return None;
    }
    let meets = |speed: f64, of: fn(&Estimate) -> f64| {
        let places: Vec<(f64, f64)> = curve.iter().map(|(felt, e)| (*felt, of(e))).collect();
        let last = places.len() - 1;
        if speed <= places[0].1 {
            return places[0].0;
        }
        for pair in places.windows(2) {
            let ((felt, low), (next, high)) = (pair[0], pair[1]);
            if speed <= high && high > low {
                return felt + (next - felt) * (speed - low) / (high - low);
            }
        }
        places[last].0
    };
    let value = meets(stock.speed.value, |e| e.value);
    Some(Estimate {
        value,
        // A slow stock on a fast curve is the least it may be, and the other way round.
        low: meets(stock.speed.low, |e| e.high).min(value),
        high: meets(stock.speed.high, |e| e.low).max(value),
        n: stock.n,
    })
}

/// Speed for each tenth of effort felt, with the warm-up taken out or not.
fn slope(swings: &[Swing], warm: bool, rules: &HouseRules) -> Option<Estimate> {
    let feels: Vec<(f64, f64, f64)> = swings
        .iter()
        .filter_map(|s| match s.felt {
            Felt::Share(share) => Some((share * 10.0, s.order, s.speed)),
            Felt::Stock => None,
        })
        .collect();
    let columns = [
        vec![1.0; feels.len()],
        feels.iter().map(|(felt, ..)| *felt).collect(),
    ];
    let order: Vec<f64> = feels.iter().map(|(_, order, _)| *order).collect();
    let y: Vec<f64> = feels.iter().map(|(.., speed)| *speed).collect();
    if warm {
        let warming = Warming::fit(&columns, &order, &y, Dimension::Speed.grain(), None)?;
        return Some(warming.estimate(rules.interval_level, |_| vec![0.0, 1.0, 0.0]));
    }
    let fit = least_squares(&columns, &y)?;
    let (value, error) = fit.contrast(&[0.0, 1.0]);
    let half = student_t(rules.interval_level, fit.freedom) * error;
    Some(Estimate {
        value,
        low: value - half,
        high: value + half,
        n: feels.len(),
    })
}

#[cfg(test)]
mod tests;
