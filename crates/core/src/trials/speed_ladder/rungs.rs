//! The steps of a ladder one by one: what each adds, told where few balls make no line.

use super::LadderPoint;
use crate::shots::ball::Ball;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// Balls closer in club speed than this share are of one rung.
const RUNG: f64 = 0.02;
/// Carry lost to a curve that is worth a word, m.
const BENT: f64 = 2.0;

/// Balls of about one club speed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Rung {
    /// Balls of it.
    pub n: usize,
    /// Their mean club speed, m/s.
    pub speed: f64,
    /// Their mean carry, or its straight equivalent where every ball has one, m.
    pub carry: f64,
    /// Their mean total as recorded, m.
    pub total: Option<f64>,
    /// Their mean spin where it counts, rpm.
    pub spin: Option<f64>,
    /// What a unit of speed added since the rung before, m per m/s.
    pub worth: Option<f64>,
}

/// The speeds that were hit, slowest first; `kept` are the balls of the points. A ladder in
/// turns hits each several times.
pub(super) fn rungs(points: &[LadderPoint], kept: &[&Ball], rules: &HouseRules) -> Vec<Rung> {
    let straight = points.iter().all(|p| p.straight.is_some());
    let mut rows: Vec<(&LadderPoint, &Ball)> = points.iter().zip(kept.iter().copied()).collect();
    rows.sort_by(|a, b| a.0.speed.total_cmp(&b.0.speed));
    let mut groups: Vec<Vec<(&LadderPoint, &Ball)>> = Vec::new();
    for row in rows {
        match groups.last_mut() {
            Some(group) if row.0.speed <= group[0].0.speed * (1.0 + RUNG) => group.push(row),
            _ => groups.push(vec![row]),
        }
    }
    let mut rungs: Vec<Rung> = Vec::new();
    for group in groups {
        let n = group.len();
        // Only what every ball of the rung has.
        let mean = |value: &dyn Fn(&(&LadderPoint, &Ball)) -> Option<f64>| {
            let values: Vec<f64> = group.iter().filter_map(value).collect();
            (values.len() == n).then(|| values.iter().sum::<f64>() / n as f64)
        };
        let carry = mean(&|(p, _)| if straight { p.straight } else { Some(p.carry) });
        let (Some(speed), Some(carry)) = (mean(&|(p, _)| Some(p.speed)), carry) else {
            continue;
        };
        let worth = rungs
            .last()
            .map(|last| (carry - last.carry) / (speed - last.speed));
        rungs.push(Rung {
            n,
            speed,
            carry,
            total: mean(&|(_, ball)| ball.reading.get(Quantity::Total)),
            spin: mean(&|(_, ball)| ball.counted(Quantity::SpinRate, rules)),
            worth,
        });
    }
    rungs
}

/// What few balls tell: each step by itself, where the last one is worth least, and what a
/// curve took from a ball.
pub(super) fn rung_by_rung(points: &[LadderPoint], rungs: &[Rung]) -> Sentence {
    // A ball that curved tells no step, where others do.
    let bent = |rung: &&Rung| {
        let same = |p: &&LadderPoint| (p.speed - rung.speed).abs() < 1e-9;
        rung.n == 1 && points.iter().filter(same).any(|p| p.bent)
    };
    let straight: Vec<Rung> = rungs.iter().filter(|r| !bent(r)).copied().collect();
    let rungs = if straight.len() >= 2 {
        &straight
    } else {
        rungs
    };
    let (first, last) = (rungs[0], rungs[rungs.len() - 1]);
    let before = rungs[rungs.len() - 2];
    let up_to = if rungs.len() > 2 { before } else { last };
    let said = Sentence::of("From ")
        .bare(first.speed, Dimension::Speed)
        .words(" to ")
        .figure(up_to.speed, Dimension::Speed)
        .words(" these balls gain ")
        .figure(
            (up_to.carry - first.carry) / (up_to.speed - first.speed),
            Dimension::SpeedWorth,
        );
    let said = if rungs.len() > 2 {
        last_step(said, &before, &last)
    } else {
        said
    };
    let said = said.words(".");
    let most_bent = points
        .iter()
        .filter_map(|p| Some((p.number, p.straight? - p.carry)))
        .max_by(|a, b| a.1.total_cmp(&b.1))
        .filter(|(_, lost)| *lost > BENT);
    match most_bent {
        Some((number, lost)) => said
            .words(format!(" Ball {number}, straight, would have gone "))
            .figure(lost, Dimension::Distance)
            .words(" further."),
        None => said,
    }
}

/// What the last step adds, and the spin that rises with it.
fn last_step(said: Sentence, before: &Rung, last: &Rung) -> Sentence {
    let worth = (last.carry - before.carry) / (last.speed - before.speed);
    let said = said
        .words(", the last step to ")
        .figure(last.speed, Dimension::Speed)
        .words(" ")
        .bare(worth, Dimension::SpeedWorth);
    match before.spin.zip(last.spin) {
        Some((was, is)) if is > 1.08 * was => said
            .words(", where spin rises by ")
            .figure(is - was, Dimension::Spin),
        _ => said,
    }
}
