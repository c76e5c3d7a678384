//! What each step of club speed is worth in carry, and where it flattens.
//!
//! Carry against club speed gets a robust line (Theil 1950; Sen 1968) for its worth, and
//! a parabola for where it flattens. Both are told for the carry as it fell and for its
//! *straight equivalent*: the same launch without axis and direction, so that a curve is
//! not taken for a lack of speed.

mod rungs;

use crate::physics::conditions::Conditions;
use crate::physics::normalise::Seen;
use crate::session::plan::{Met, Target};
use crate::shots::ball::Ball;
use crate::shots::told::launch_of;
use crate::statistics::least_squares::{LeastSquares, least_squares};
use crate::statistics::own_line::{NoLine, OwnLine};
use crate::statistics::summary::{Estimate, student_t};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::{Verdict, VerdictKind};
use crate::verdicts::working::{Working, level_row, row};
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, Normal};
use utoipa::ToSchema;

pub use rungs::Rung;
use rungs::{rung_by_rung, rungs};

/// Points of the fitted curve that are drawn.
const DRAWN: usize = 25;
/// Shots of which every pair is looked at.
const MOST_PAIRED: usize = 600;

/// A ball of a speed ladder with what its block aimed for.
#[derive(Debug, Clone, PartialEq)]
pub struct LadderBall {
    /// The ball.
    pub ball: Ball,
    /// What its block is called.
    pub label: String,
    /// The step's speed, when the block has one.
    pub target: Option<Target>,
    /// The air it was hit in.
    pub conditions: Conditions,
}

/// A ball of the picture.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LadderPoint {
    /// Its number in the session, from 1.
    pub number: usize,
    /// Club speed, m/s.
    pub speed: f64,
    /// Carry, m.
    pub carry: f64,
    /// Its straight equivalent, m; absent without a launch.
    pub straight: Option<f64>,
    /// Whether it curved further than the house calls useful.
    pub bent: bool,
    /// Whether its speed met the step; absent without one.
    pub in_step: Option<bool>,
}

/// One carry fitted against speed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LadderFit {
    /// Carry for each unit of club speed, m per m/s, with Sen's (1968) interval.
    pub slope: Estimate,
    /// The robust line.
    pub line: OwnLine,
    /// Slope at the slow end, in the middle and at the fast end, from the parabola.
    pub local: Option<[Estimate; 3]>,
    /// How the slope changes over the speeds hit: fast end minus slow end.
    pub bend: Option<Estimate>,
    /// Speed from which a further unit is worth half of what it is at the slow end.
    pub half_from: Option<f64>,
    /// The parabola or line as drawn, with the band of one more shot: speed, carry, low,
    /// high.
    pub curve: Vec<[f64; 4]>,
}

/// How many balls met their step.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StepRead {
    /// The block's name.
    pub label: String,
    /// Balls within the step.
    pub met: usize,
    /// Balls with a speed.
    pub of: usize,
}

/// What a speed ladder says.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SpeedLadderReport {
    /// Level of the intervals.
    pub interval_level: f64,
    /// The verdict: `no` when the carry flattens, `same` when it does not.
    pub verdict: Verdict,
    /// The balls kept, in hitting order.
    pub points: Vec<LadderPoint>,
    /// The speeds that were hit, slowest first, and what each adds to the one before.
    pub rungs: Vec<Rung>,
    /// Steps in order of first appearance.
    pub steps: Vec<StepRead>,
    /// The straight equivalent against speed; the one that decides when it is there.
    pub straight: Option<LadderFit>,
    /// The carry as it fell.
    pub raw: Option<LadderFit>,
}

/// Reads a speed ladder.
pub fn speed_ladder(balls: &[LadderBall], rules: &HouseRules) -> SpeedLadderReport {
    let (points, kept): (Vec<LadderPoint>, Vec<&Ball>) = balls
        .iter()
        .filter_map(|ladder| Some((point(ladder, rules)?, &ladder.ball)))
        .unzip();
    let raw: Vec<[f64; 2]> = points.iter().map(|p| [p.speed, p.carry]).collect();
    let straight: Vec<[f64; 2]> = points
        .iter()
        .filter_map(|p| Some([p.speed, p.straight?]))
        .collect();
    let level = rules.interval_level;
    let raw_fit = fit(&raw, level);
    let straight_fit = fit(&straight, level);
    let rungs = rungs(&points, &kept, rules);
    let verdict = verdict(&straight_fit, &raw_fit, &points, &rungs, balls.len(), rules);
    SpeedLadderReport {
        interval_level: level,
        verdict,
        steps: steps(balls),
        rungs,
        straight: straight_fit.ok(),
        raw: raw_fit.ok(),
        points,
    }
}

fn point(ladder: &LadderBall, rules: &HouseRules) -> Option<LadderPoint> {
    let ball = &ladder.ball;
    let speed = ball
        .reading
        .get(Quantity::ClubSpeed)
        .filter(|_| ball.kept())?;
    let carry = ball.reading.get(Quantity::Carry)?;
    // A spin that was only calculated straightens nothing.
    let launch = launch_of(&ball.reading).ok();
    let launch = launch.filter(|_| ball.counted(Quantity::SpinRate, rules).is_some());
    let straight = launch.and_then(|(launch, _)| {
        let seen = Seen {
            carry,
            launch,
            conditions: ladder.conditions,
        };
        seen.straight().ok()
    });
    Some(LadderPoint {
        number: ball.order + 1,
        speed,
        carry,
        straight,
        bent: ball
            .counted(Quantity::SpinAxis, rules)
            .is_some_and(|axis| axis.abs() > rules.curve_most_deg),
        in_step: ladder.target.map(|step| step.judge(speed) == Met::Met),
    })
}

fn steps(balls: &[LadderBall]) -> Vec<StepRead> {
    let mut steps: Vec<StepRead> = Vec::new();
    for ladder in balls {
        let speed = ladder.ball.reading.get(Quantity::ClubSpeed);
        let Some((step, speed)) = ladder.target.zip(speed) else {
            continue;
        };
        let place = steps.iter().position(|s| s.label == ladder.label);
        let place = place.unwrap_or_else(|| {
            steps.push(StepRead {
                label: ladder.label.clone(),
                met: 0,
                of: 0,
            });
            steps.len() - 1
        });
        steps[place].of += 1;
        steps[place].met += usize::from(step.judge(speed) == Met::Met);
    }
    steps
}

fn fit(shots: &[[f64; 2]], level: f64) -> Result<LadderFit, NoLine> {
    let line = OwnLine::fit(shots, level)?;
    let parabola = Parabola::fit(shots, level);
    let [slow, fast] = line.hit;
    let at = |speed: f64| match &parabola {
        Some(parabola) => parabola.band(speed),
        None => {
            let band = line.at(speed)?;
            Some([speed, band.carry, band.low, band.high])
        }
    };
    let curve = (0..DRAWN)
        .filter_map(|i| at(slow + (fast - slow) * i as f64 / (DRAWN - 1) as f64))
        .collect();
    let local = parabola
        .as_ref()
        .map(|p| [slow, 0.5 * (slow + fast), fast].map(|speed| p.slope(speed)));
    let bend = parabola.as_ref().map(|p| p.bend(slow, fast));
    let half_from = bend.filter(|bend| bend.high < 0.0).and_then(|_| {
        let parabola = parabola.as_ref()?;
        let speed = parabola.where_slope_is(0.5 * parabola.slope(slow).value);
        (slow..=fast).contains(&speed).then_some(speed)
    });
    Ok(LadderFit {
        slope: sen(shots, line.slope, level),
        line,
        local,
        bend,
        half_from,
        curve,
    })
}

/// Sen's interval of the median slope: as many pairs either side as Kendall's S strays by.
fn sen(shots: &[[f64; 2]], slope: f64, level: f64) -> Estimate {
    let thinned: Vec<_> = shots
        .iter()
        .step_by(shots.len().div_ceil(MOST_PAIRED))
        .collect();
    let mut slopes = Vec::new();
    for (i, a) in thinned.iter().enumerate() {
        for b in &thinned[i + 1..] {
            if (b[0] - a[0]).abs() > 1e-6 {
                slopes.push((b[1] - a[1]) / (b[0] - a[0]));
            }
        }
    }
    slopes.sort_by(f64::total_cmp);
    let n = thinned.len() as f64;
    let strays = (n * (n - 1.0) * (2.0 * n + 5.0) / 18.0).sqrt();
    let c = Normal::standard().inverse_cdf(0.5 + level / 2.0) * strays;
    let pairs = slopes.len() as f64;
    let at = |place: f64| slopes[(place.round() as usize).min(slopes.len() - 1)];
    Estimate {
        value: slope,
        low: at(((pairs - c) / 2.0 - 1.0).max(0.0)),
        high: at(((pairs + c) / 2.0).max(0.0)),
        n: shots.len(),
    }
}

/// carry = a + b·x + c·x², where x is the speed from the middle of those hit.
struct Parabola {
    fit: LeastSquares,
    middle: f64,
    t: f64,
    n: usize,
}

impl Parabola {
    fn fit(shots: &[[f64; 2]], level: f64) -> Option<Parabola> {
        let middle = shots.iter().map(|s| s[0]).sum::<f64>() / shots.len() as f64;
        let x: Vec<f64> = shots.iter().map(|s| s[0] - middle).collect();
        let columns = [
            vec![1.0; x.len()],
            x.clone(),
            x.iter().map(|x| x * x).collect(),
        ];
        let y: Vec<f64> = shots.iter().map(|s| s[1]).collect();
        let fit = least_squares(&columns, &y)?;
        let t = student_t(level, fit.freedom);
        Some(Parabola {
            fit,
            middle,
            t,
            n: shots.len(),
        })
    }

    fn estimate(&self, weights: [f64; 3]) -> Estimate {
        let (value, error) = self.fit.contrast(&weights);
        Estimate {
            value,
            low: value - self.t * error,
            high: value + self.t * error,
            n: self.n,
        }
    }

    fn slope(&self, speed: f64) -> Estimate {
        self.estimate([0.0, 1.0, 2.0 * (speed - self.middle)])
    }

    fn bend(&self, slow: f64, fast: f64) -> Estimate {
        self.estimate([0.0, 0.0, 2.0 * (fast - slow)])
    }

    fn where_slope_is(&self, slope: f64) -> f64 {
        let c = &self.fit.coefficients;
        self.middle + (slope - c[1]) / (2.0 * c[2])
    }

    /// Where one more shot is expected.
    fn band(&self, speed: f64) -> Option<[f64; 4]> {
        let x = speed - self.middle;
        let (value, error) = self.fit.contrast(&[1.0, x, x * x]);
        let one = self.fit.rss / self.fit.freedom as f64;
        let half = self.t * (error * error + one).sqrt();
        Some([speed, value, value - half, value + half])
    }
}

fn verdict(
    straight: &Result<LadderFit, NoLine>,
    raw: &Result<LadderFit, NoLine>,
    points: &[LadderPoint],
    rungs: &[Rung],
    balls: usize,
    rules: &HouseRules,
) -> Verdict {
    let working = working(straight, raw, points.len(), balls, rules);
    let level = rules.interval_level;
    let (fit, what) = match (straight, raw) {
        (Ok(fit), _) => (fit, "straight equivalent"),
        (_, Ok(fit)) => (fit, "carry as it fell"),
        (_, Err(why)) => return no_ladder(why, points, rungs, balls, working),
    };
    let (kind, sentence) = worth_of_a_step(fit);
    let detail = Sentence::of(format!(
        "{} balls, {what} · {:.0} % interval ",
        fit.line.n,
        level * 100.0
    ))
    .bare(fit.slope.low, Dimension::SpeedWorth)
    .words(" to ")
    .figure(fit.slope.high, Dimension::SpeedWorth);
    Verdict {
        kind,
        sentence,
        detail,
        more_balls: None,
        working,
    }
}

fn no_ladder(
    why: &NoLine,
    points: &[LadderPoint],
    rungs: &[Rung],
    balls: usize,
    working: Working,
) -> Verdict {
    let sentence = match why {
        _ if balls == 0 => Sentence::of("No shots yet. The ladder appears as they are hit."),
        NoLine::TooFew(_) if rungs.len() >= 2 => rung_by_rung(points, rungs),
        NoLine::TooFew(_) => Sentence::of(format!("{why}.")),
        NoLine::OneSpeed => {
            Sentence::of("The club speeds are too alike to tell what a step is worth.")
        }
    };
    let shots = points.len();
    let detail = Sentence::of(format!("{shots} of {balls} balls looked at"));
    Verdict {
        kind: VerdictKind::CannotTellYet,
        sentence,
        detail: match why {
            NoLine::TooFew(n) if rungs.len() >= 2 => detail.words(format!(
                " · {} more balls give a line with its interval",
                crate::statistics::own_line::LEAST_SHOTS - n
            )),
            _ => detail,
        },
        more_balls: match why {
            NoLine::TooFew(n) => Some(crate::statistics::own_line::LEAST_SHOTS - n),
            NoLine::OneSpeed => None,
        },
        working,
    }
}

/// What a step of speed is worth, and whether the line flattens at the fast end.
fn worth_of_a_step(fit: &LadderFit) -> (VerdictKind, Sentence) {
    let [slow, fast] = fit.line.hit;
    let worth = Sentence::of("Between ")
        .bare(slow, Dimension::Speed)
        .words(" and ")
        .figure(fast, Dimension::Speed)
        .words(match fit.slope.value < 0.0 {
            true => " more speed cost ",
            false => " more speed gave ",
        })
        .figure(fit.slope.value.abs(), Dimension::SpeedWorth);
    match (fit.bend, fit.half_from, fit.local) {
        (Some(bend), from, Some(local)) if bend.high < 0.0 => {
            let said = match from {
                Some(speed) => worth
                    .words("; from ")
                    .figure(speed, Dimension::Speed)
                    .words(" on less than half of that at the slow end."),
                None => worth
                    .words("; at the fast end only ")
                    .figure(local[2].value, Dimension::SpeedWorth)
                    .words("."),
            };
            (VerdictKind::No, said)
        }
        // Half the line's worth either way is a bend that a coach would act on.
        (Some(bend), ..) if bend.low > -0.5 * fit.slope.value => (
            VerdictKind::Same,
            worth.words(", and it does not flatten at these speeds."),
        ),
        _ => (
            VerdictKind::CannotTellYet,
            worth.words(". Cannot tell yet whether it flattens at the fast end."),
        ),
    }
}

fn working(
    straight: &Result<LadderFit, NoLine>,
    raw: &Result<LadderFit, NoLine>,
    shots: usize,
    balls: usize,
    rules: &HouseRules,
) -> Working {
    let mut results = Vec::new();
    for (name, fit) in [("straight equivalent", straight), ("as it fell", raw)] {
        let Ok(fit) = fit else { continue };
        results.push(row(
            &format!("Worth of speed, {name}"),
            fit.slope.said(Dimension::SpeedWorth),
        ));
        if let Some(local) = fit.local {
            for (end, slope) in ["slow end", "middle", "fast end"].iter().zip(local) {
                results.push(row(
                    &format!("At the {end}, {name}"),
                    slope.said(Dimension::SpeedWorth),
                ));
            }
        }
        if let Some(bend) = fit.bend {
            results.push(row(
                &format!("Fast end minus slow end, {name}"),
                bend.said(Dimension::SpeedWorth),
            ));
        }
    }
    Working {
        inputs: vec![row(
            "Balls",
            Sentence::of(format!(
                "{shots} kept with club speed and carry, of {balls}"
            )),
        )],
        formula: vec![
            Sentence::of(
                "Worth of speed: the median of the slopes between all pairs of balls. A ball outside its step counts here by the speed it had; it does not count for the step.",
            ),
            Sentence::of(
                "Straight equivalent: our flight model's carry without spin axis and direction, times what the ball carried over what the model gives as it was.",
            ),
            Sentence::of(
                "Where it flattens: a parabola through the same balls. It flattens when the slope at the fast end is below that at the slow end for sure; it does not when a drop by half of the worth can be ruled out.",
            ),
        ],
        rules: vec![
            level_row(rules.interval_level),
            row(
                "Speed either side of a step that meets it",
                Sentence::of(format!("{:.1} %", rules.step_tolerance * 100.0)),
            ),
        ],
        results,
        sources: vec![
            "Slope: Theil 1950; its interval: Sen 1968. Parabola: least squares.".to_owned(),
        ],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::ball::tests::ball;
    use crate::vocabulary::units::{MPH, Units, YARD};

    /// A ladder of carry by speed, with a small waver.
    fn ladder(carry: impl Fn(f64) -> f64, n: usize) -> Vec<LadderBall> {
        (0..n)
            .map(|i| {
                let mph = 75.0 + 30.0 * (i * 7 % n) as f64 / n as f64;
                let waver = (i * 5 % 4) as f64 - 1.5;
                LadderBall {
                    ball: ball(
                        i,
                        &[
                            (Quantity::ClubSpeed, mph * MPH),
                            (Quantity::Carry, (carry(mph) + waver) * YARD),
                        ],
                    ),
                    label: "Step".to_owned(),
                    target: Some(Target {
                        quantity: Quantity::ClubSpeed,
                        low: Some(80.0 * MPH),
                        high: Some(90.0 * MPH),
                    }),
                    conditions: Conditions::REFERENCE,
                }
            })
            .collect()
    }

    fn read(balls: &[LadderBall]) -> SpeedLadderReport {
        speed_ladder(balls, &HouseRules::default())
    }

    #[test]
    fn a_straight_line_is_told_with_its_worth_and_does_not_flatten() {
        let report = read(&ladder(|mph| 2.5 * mph, 24));
        assert_eq!(report.verdict.kind, VerdictKind::Same);
        let slope = report.raw.unwrap().slope;
        let unit = YARD / MPH;
        assert!((slope.value / unit - 2.5).abs() < 0.05, "{slope:?}");
        assert!(slope.low < 2.5 * unit && 2.5 * unit < slope.high);
        let said = report.verdict.sentence.show(Units::MphYd);
        assert!(said.contains("more speed gave 2.5"), "{said}");
    }

    #[test]
    fn a_parabola_flattens_where_its_slope_has_halved() {
        // Slope 4 − 0.1·(mph − 75): 4 at 75, half of it at 95.
        let report = read(&ladder(
            |mph| 150.0 + 4.0 * (mph - 75.0) - 0.05 * (mph - 75.0).powi(2),
            30,
        ));
        assert_eq!(report.verdict.kind, VerdictKind::No);
        let from = report.raw.unwrap().half_from.unwrap();
        assert!((from / MPH - 95.0).abs() < 2.5, "{}", from / MPH);
    }

    #[test]
    fn sen_s_interval_is_the_one_of_the_published_method() {
        // By scipy 1.x, stats.theilslopes(y, x, 0.9): 2.00833, 1.95 to 2.08182.
        let y = [
            2.1, 3.9, 6.2, 7.8, 10.4, 11.7, 14.3, 15.6, 18.4, 19.9, 21.7, 25.0,
        ];
        let shots: Vec<_> = (1..).zip(y).map(|(x, y)| [f64::from(x), y]).collect();
        let sen = sen(&shots, 2.008_333, 0.9);
        assert!((sen.low - 1.95).abs() < 1e-9, "{sen:?}");
        assert!((sen.high - 2.081_818_181).abs() < 1e-8, "{sen:?}");
    }

    #[test]
    fn sen_s_interval_narrows_with_more_balls_and_widens_with_the_level() {
        let shots = |n: i32| -> Vec<[f64; 2]> {
            let waver = |i: i32| f64::from(i * 7 % 11) - 5.0;
            (0..n)
                .map(|i| [f64::from(i), 2.0 * f64::from(i) + waver(i)])
                .collect()
        };
        let width = |n, level| {
            let told = sen(&shots(n), 2.0, level);
            told.high - told.low
        };
        assert!(width(40, 0.9) < 0.5 * width(12, 0.9));
        assert!(width(20, 0.8) < width(20, 0.95));
    }

    #[test]
    fn a_ball_outside_its_step_is_kept_but_not_in_the_step() {
        let report = read(&ladder(|mph| 2.5 * mph, 24));
        let step = &report.steps[0];
        assert_eq!(step.of, 24);
        assert!(step.met > 0 && step.met < 24);
        assert_eq!(report.points.len(), 24);
    }

    #[test]
    fn a_curving_ball_is_put_straight_by_its_launch() {
        use crate::shots::reading::Provenance;
        let mut balls = ladder(|mph| 2.5 * mph, 12);
        for ladder in &mut balls {
            for (quantity, value) in [
                (Quantity::BallSpeed, 60.0),
                (Quantity::LaunchAngle, 13.0),
                (Quantity::LaunchDirection, -4.0),
                (Quantity::SpinRate, 2600.0),
                (Quantity::SpinAxis, 20.0),
            ] {
                let reading = &mut ladder.ball.reading;
                reading.set(quantity, value, Provenance::Measured);
            }
        }
        let report = read(&balls);
        assert!(report.points.iter().all(|p| p.straight.unwrap() > p.carry));
        assert!(report.straight.is_some());
    }

    #[test]
    fn what_is_missing_is_said() {
        let few = read(&ladder(|mph| 2.5 * mph, 5));
        assert_eq!(few.verdict.kind, VerdictKind::CannotTellYet);
        assert_eq!(few.verdict.more_balls, Some(3));
        let said = few.verdict.sentence.show(Units::MphYd);
        assert!(said.contains("these balls gain 2.5 yd per mph"), "{said}");
        let detail = few.verdict.detail.show(Units::MphYd);
        assert!(detail.contains("3 more balls give a line"), "{detail}");
        assert_eq!(few.rungs.len(), 5);
        assert!(
            read(&[])
                .verdict
                .sentence
                .show(Units::MphYd)
                .starts_with("No shots yet")
        );
    }
}
