//! A training session under way: the set that is on, its swings, what to beat, what is next.
//!
//! The first swing of the next set begins it, so that nobody has to touch anything: a set is
//! on until as many swings as it asks for stand in it.

use crate::physics::club::Club;
use crate::record::figures::Series;
use crate::record::series::Occasion;
use crate::session::plan::PlannedBlock;
use crate::shots::mark::Decision;
use crate::shots::swung::{Swung, leaps};
use crate::trials::opening::{Swing, other_side, swing_rows};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use chrono::{DateTime, NaiveDate, Utc};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// What swings are held against: those of the same implement, side and position, or all-out
/// balls of the same club.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
pub struct RunOf {
    /// What is swung without a ball.
    pub swung: Option<Swung>,
    /// The club, of balls.
    pub club: Option<Club>,
    /// Whether it is meant to be slower than it can be.
    pub gentle: bool,
}

impl RunOf {
    /// What a set is of.
    pub fn set(plan: &PlannedBlock, club: Club) -> RunOf {
        let hit = plan.swung.is_none();
        RunOf {
            swung: plan.swung.clone(),
            club: hit.then(|| plan.club.unwrap_or(club)),
            gentle: !plan.full_effort && (hit || plan.gentle()),
        }
    }

    /// Whether these tell of the same body swinging the same thing, however it stands.
    fn alike(&self, other: &RunOf) -> bool {
        let key = |of: &RunOf| {
            let swung = of.swung.as_ref().map(|s| (s.implement.clone(), s.side));
            (swung, of.club)
        };
        key(self) == key(other)
    }
}

/// A swing of the session, in the order they were made.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RunSwing {
    /// Identifier of its shot.
    pub shot: Uuid,
    /// Place of its set.
    pub set: usize,
    /// Its speed, m/s, where it was read.
    pub speed: Option<f64>,
    /// Speed of the ball, m/s, where one was hit and read.
    pub ball: Option<f64>,
    /// What the coach decided on it.
    pub decision: Option<Decision>,
    /// When it was made.
    pub at: DateTime<Utc>,
}

/// What an earlier session gave.
#[derive(Debug, Clone, PartialEq)]
pub struct Earlier {
    /// When.
    pub on: NaiveDate,
    /// Speeds, m/s, by what was swung.
    pub speeds: BTreeMap<RunOf, Vec<f64>>,
}

impl Earlier {
    /// What a session of the record gave: swings without a ball, and all-out balls.
    pub fn of(occasion: &Occasion) -> Earlier {
        let of = |swung, club| RunOf {
            swung,
            club,
            gentle: false,
        };
        let figures = &occasion.figures;
        let swings = figures.swings.iter();
        let swings = swings.map(|(swung, speeds)| (of(Some(swung.clone()), None), speeds.clone()));
        let all_out = figures.series.iter().filter(|((series, _, quantity), _)| {
            *series == Series::AllOut && *quantity == Quantity::ClubSpeed
        });
        let balls = all_out.map(|((_, club, _), speeds)| (of(None, Some(*club)), speeds.clone()));
        Earlier {
            on: occasion.date,
            speeds: swings.chain(balls).collect(),
        }
    }
}

/// What is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RunQuestion<'a> {
    /// The sets, in order.
    pub sets: &'a [PlannedBlock],
    /// Place of the set that was begun last.
    pub current: usize,
    /// The session's club.
    pub club: Club,
    /// Places of sets that are left out.
    pub skipped: &'a [usize],
    /// Whether no all-out swing may follow: a hold, or it was said to stop.
    pub held: bool,
    /// The swings.
    pub swings: &'a [RunSwing],
    /// Sessions before this one, earliest first.
    pub earlier: &'a [Earlier],
    /// The house's thresholds.
    pub rules: &'a HouseRules,
}

/// How a swing stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunStroke {
    /// Its shot.
    pub shot: Uuid,
    /// Place of its set.
    pub set: usize,
    /// Speed, m/s.
    pub speed: Option<f64>,
    /// Speed of the ball, m/s.
    pub ball: Option<f64>,
    /// Whether it is out of the figures.
    pub aside: bool,
    /// Why it is doubted, until somebody decides.
    pub doubt: Option<Sentence>,
    /// Whether it beat the best of last time.
    pub beat: bool,
}

/// A set.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunSet {
    /// What it is called.
    pub label: String,
    /// Of what.
    pub of: RunOf,
    /// Whether it asks for full effort.
    pub full: bool,
    /// Effort felt that it asks for, %.
    pub effort_pct: Option<u32>,
    /// Swings it asks for.
    pub asked: u32,
    /// Swings that stand in it.
    pub done: u32,
    /// Whether it is left out.
    pub skipped: bool,
    /// Whether it may not be swung now.
    pub held: bool,
    /// Best of last time with the same, and when that was.
    pub last: Option<LastBest>,
    /// The best ever before this session.
    pub record: Option<f64>,
    /// Best of this set so far.
    pub best: Option<f64>,
    /// Average of it so far.
    pub mean: Option<f64>,
}

/// The best of last time.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LastBest {
    /// When.
    pub on: NaiveDate,
    /// The best, m/s.
    pub best: f64,
    /// The average, m/s.
    pub mean: f64,
}

/// A rest between two sets.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct RunRest {
    /// Since when.
    pub since: DateTime<Utc>,
    /// For how long, s.
    pub seconds: u32,
}

/// What the screen shows.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunReport {
    /// The sets, in order.
    pub sets: Vec<RunSet>,
    /// The swings, in order.
    pub strokes: Vec<RunStroke>,
    /// Place of the set that the next swing is of; none when all are made.
    pub now: Option<usize>,
    /// Place of the one after.
    pub next: Option<usize>,
    /// The rest before that swing, where its set is new.
    pub rest: Option<RunRest>,
    /// Swings still to make.
    pub to_go: u32,
    /// How much slower the other side is over what both sides swung, as a share.
    pub other_side: Option<f64>,
}

/// Reports a training session under way.
pub fn run(question: &RunQuestion<'_>) -> RunReport {
    let strokes = strokes(question);
    let sets: Vec<RunSet> = (0..question.sets.len())
        .map(|at| set(question, &strokes, at))
        .collect();
    let open = |set: &RunSet| set.done < set.asked && !set.skipped && !set.held;
    let from = question.current.min(sets.len());
    let now = (from..sets.len()).find(|at| open(&sets[*at]));
    let next = now.and_then(|now| (now + 1..sets.len()).find(|at| open(&sets[*at])));
    let left = |set: &RunSet| if open(set) { set.asked - set.done } else { 0 };
    RunReport {
        rest: now.and_then(|now| rest(question, &sets, now)),
        to_go: sets[from..].iter().map(left).sum(),
        other_side: other_side(&swing_rows(&counted(question, &strokes))),
        now,
        next,
        sets,
        strokes,
    }
}

/// All-out swings that count, each beside what the player did with the same before: ratios in
/// the order they were made, so that every implement and side tells of one body tiring. In a
/// first session the first set of the same is what the later ones are held against.
pub fn beside_usual(question: &RunQuestion<'_>, report: &RunReport) -> Vec<f64> {
    let counts = report.strokes.iter().filter(|stroke| stands(stroke));
    counts
        .filter_map(|stroke| {
            let set = report.sets.get(stroke.set).filter(|set| set.full)?;
            let usual = usual(question, &set.of).or_else(|| at_first(report, &set.of))?;
            Some(stroke.speed? / usual)
        })
        .collect()
}

/// The average of the first set with the same in this session.
fn at_first(report: &RunReport, of: &RunOf) -> Option<f64> {
    let counts = report.strokes.iter().filter(|stroke| stands(stroke));
    let same = counts.filter(|stroke| report.sets.get(stroke.set).is_some_and(|s| s.of == *of));
    let first = same.clone().map(|stroke| stroke.set).min()?;
    let speeds: Vec<f64> = same
        .filter(|stroke| stroke.set == first)
        .filter_map(|stroke| stroke.speed)
        .collect();
    (!speeds.is_empty()).then(|| speeds.iter().sum::<f64>() / speeds.len() as f64)
}

/// Sessions over which what is usual is averaged.
const USUAL_OF: usize = 3;

/// The average of the latest earlier sessions with the same, each counting once.
fn usual(question: &RunQuestion<'_>, of: &RunOf) -> Option<f64> {
    let with = question.earlier.iter().rev().filter_map(|earlier| {
        let speeds = earlier.speeds.get(of)?;
        (!speeds.is_empty()).then(|| speeds.iter().sum::<f64>() / speeds.len() as f64)
    });
    let means: Vec<f64> = with.take(USUAL_OF).collect();
    (!means.is_empty()).then(|| means.iter().sum::<f64>() / means.len() as f64)
}

/// The swings without a ball that count.
fn counted(question: &RunQuestion<'_>, strokes: &[RunStroke]) -> Vec<Swing> {
    let counts = strokes.iter().filter(|stroke| stands(stroke));
    counts
        .filter_map(|stroke| {
            let plan = question.sets.get(stroke.set)?;
            Some(Swing {
                swung: plan.swung.clone()?,
                speed: stroke.speed?,
                gentle: plan.gentle(),
            })
        })
        .collect()
}

fn stands(stroke: &RunStroke) -> bool {
    !stroke.aside && stroke.doubt.is_none()
}

/// What each swing is worth: a reading that no body makes waits for the coach.
fn strokes(question: &RunQuestion<'_>) -> Vec<RunStroke> {
    let of: Vec<RunOf> = question
        .sets
        .iter()
        .map(|plan| RunOf::set(plan, question.club))
        .collect();
    let aside = |swing: &RunSwing| swing.decision == Some(Decision::SetAside);
    let mut told: Vec<RunStroke> = Vec::new();
    for swing in question.swings {
        let here = of.get(swing.set);
        let alike = |set: usize| match (here, of.get(set)) {
            (Some(here), Some(there)) => here.alike(there) && here.gentle == there.gentle,
            _ => false,
        };
        let same = question.swings.iter().filter(|s| alike(s.set) && !aside(s));
        let same: Vec<(Uuid, f64)> = same.filter_map(|s| Some((s.shot, s.speed?))).collect();
        let place = same.iter().position(|(shot, _)| *shot == swing.shot);
        let mut speeds: Vec<f64> = same.iter().map(|(_, speed)| *speed).collect();
        let last = here.and_then(|of| last_best(question.earlier, of));
        // A first swing has only last time beside it.
        speeds.extend(last.iter().flat_map(|last| [last.mean, last.mean]));
        let leapt = place.is_some_and(|at| leaps(&speeds, question.rules.swing_jump)[at]);
        let doubt = (leapt && swing.decision.is_none()).then(|| doubted(swing, &speeds));
        told.push(RunStroke {
            shot: swing.shot,
            set: swing.set,
            speed: swing.speed,
            ball: swing.ball,
            aside: aside(swing),
            beat: false,
            doubt,
        });
    }
    let grain = Quantity::ClubSpeed.dimension().grain();
    for stroke in &mut told {
        let last = of
            .get(stroke.set)
            .and_then(|of| last_best(question.earlier, of));
        let beaten = last
            .zip(stroke.speed)
            .is_some_and(|(last, speed)| speed > last.best + grain);
        let gentle = of.get(stroke.set).is_some_and(|of| of.gentle);
        stroke.beat = beaten && !gentle && stands(stroke);
    }
    told
}

fn doubted(swing: &RunSwing, beside: &[f64]) -> Sentence {
    let speed = swing.speed.unwrap_or_default();
    let highest = beside
        .iter()
        .copied()
        .filter(|s| *s != speed)
        .fold(0.0, f64::max);
    let lies = if speed > highest { "above" } else { "below" };
    Sentence::default()
        .figure(speed, Dimension::Speed)
        .words(format!(
            " lies far {lies} the other swings with the same: something else passed the radar, or a slip in typing. Keep it or set it aside."
        ))
}

/// The latest of some sessions with the same, by its best and average.
pub fn last_best(earlier: &[Earlier], of: &RunOf) -> Option<LastBest> {
    earlier.iter().rev().find_map(|earlier| {
        let speeds = earlier.speeds.get(of).filter(|speeds| !speeds.is_empty())?;
        Some(LastBest {
            on: earlier.on,
            best: speeds.iter().copied().fold(0.0, f64::max),
            mean: speeds.iter().sum::<f64>() / speeds.len() as f64,
        })
    })
}

fn set(question: &RunQuestion<'_>, strokes: &[RunStroke], at: usize) -> RunSet {
    let plan = &question.sets[at];
    let of = RunOf::set(plan, question.club);
    let here = strokes
        .iter()
        .filter(|stroke| stroke.set == at && !stroke.aside);
    let done = here.clone().count() as u32;
    let speeds: Vec<f64> = here
        .filter(|s| s.doubt.is_none())
        .filter_map(|s| s.speed)
        .collect();
    let earlier = question
        .earlier
        .iter()
        .filter_map(|earlier| earlier.speeds.get(&of));
    RunSet {
        label: plan.known_as(),
        full: plan.full_effort,
        effort_pct: plan.effort_pct,
        asked: plan.balls,
        done,
        skipped: question.skipped.contains(&at),
        held: question.held && plan.full_effort,
        last: last_best(question.earlier, &of),
        record: earlier.flatten().copied().reduce(f64::max),
        best: speeds.iter().copied().reduce(f64::max),
        mean: (!speeds.is_empty()).then(|| speeds.iter().sum::<f64>() / speeds.len() as f64),
        of,
    }
}

/// The rest before a set: asked by the one before it, from its last swing on.
fn rest(question: &RunQuestion<'_>, sets: &[RunSet], now: usize) -> Option<RunRest> {
    if sets[now].done > 0 {
        return None;
    }
    let before = (0..now).rev().find(|at| sets[*at].done > 0)?;
    let seconds = question.sets[before].rest_after_s;
    let last = question.swings.iter().filter(|swing| swing.set == before);
    let since = last.map(|swing| swing.at).max()?;
    (seconds > 0).then_some(RunRest { since, seconds })
}

#[cfg(test)]
pub(crate) mod tests;
