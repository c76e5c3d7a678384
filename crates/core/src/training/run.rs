//! A training session under way: the set that is on, its swings, what to beat, what is next.
//!
//! The first swing of the next set begins it, so that nobody has to touch anything: a set is
//! on until as many swings as it asks for stand in it.

use crate::physics::club::Club;
use crate::session::plan::PlannedBlock;
use crate::shots::mark::Decision;
use crate::shots::swung::{SwingSide, Swung, leaps};
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
/// the order they were made, so that every implement and side tells of one body tiring. Swings
/// with nothing before to hold them against tell nothing.
pub fn beside_usual(question: &RunQuestion<'_>, report: &RunReport) -> Vec<f64> {
    let counts = report.strokes.iter().filter(|stroke| stands(stroke));
    counts
        .filter_map(|stroke| {
            let set = report.sets.get(stroke.set).filter(|set| set.full)?;
            Some(stroke.speed? / usual(question, &set.of)?)
        })
        .collect()
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
        let last = here.and_then(|of| last_best(question, of));
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
        let last = of.get(stroke.set).and_then(|of| last_best(question, of));
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
            " lies far {lies} the other swings with this: something else passed the radar, or a slip in typing. Keep it or set it aside."
        ))
}

/// The latest earlier session with the same, by its best and average.
fn last_best(question: &RunQuestion<'_>, of: &RunOf) -> Option<LastBest> {
    question.earlier.iter().rev().find_map(|earlier| {
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
        last: last_best(question, &of),
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

/// The side of a set, in one word, for whoever looks from afar.
pub fn side_word(of: &RunOf) -> Option<&'static str> {
    let side = of.swung.as_ref()?.side?;
    Some(match side {
        SwingSide::Dominant => "own side",
        SwingSide::Other => "other side",
    })
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::vocabulary::units::MPH;

    /// A set of three swings of an implement from a side.
    pub(crate) fn three(implement: &str, side: SwingSide) -> PlannedBlock {
        PlannedBlock {
            full_effort: true,
            rest_after_s: 60,
            swung: Some(Swung {
                implement: implement.to_owned(),
                side: Some(side),
                position: Some("normal".to_owned()),
            }),
            ..PlannedBlock::new(implement, 3)
        }
    }

    pub(crate) fn swing(n: u32, set: usize, mph: f64) -> RunSwing {
        RunSwing {
            shot: Uuid::from_u128(u128::from(n)),
            set,
            speed: Some(mph * MPH),
            ball: None,
            decision: None,
            at: DateTime::UNIX_EPOCH + chrono::Duration::seconds(i64::from(n) * 20),
        }
    }

    fn told(sets: &[PlannedBlock], swings: &[RunSwing], earlier: &[Earlier]) -> RunReport {
        run(&RunQuestion {
            sets,
            current: swings.iter().map(|s| s.set).max().unwrap_or(0),
            club: Club::Driver,
            skipped: &[],
            held: false,
            swings,
            earlier,
            rules: &HouseRules::default(),
        })
    }

    fn sets() -> [PlannedBlock; 2] {
        [
            three("light", SwingSide::Dominant),
            three("light", SwingSide::Other),
        ]
    }

    fn last_time(mph: &[f64]) -> Earlier {
        let of = RunOf::set(&sets()[0], Club::Driver);
        let speeds = mph.iter().map(|mph| mph * MPH).collect();
        Earlier {
            on: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
            speeds: [(of, speeds)].into(),
        }
    }

    #[test]
    fn a_full_set_gives_way_to_the_next_with_its_rest() {
        let two = [swing(1, 0, 114.0), swing(2, 0, 115.0)];
        let so_far = told(&sets(), &two, &[]);
        assert_eq!(
            (so_far.now, so_far.next, so_far.rest),
            (Some(0), Some(1), None)
        );
        let full = [&two[..], &[swing(3, 0, 116.0)]].concat();
        let report = told(&sets(), &full, &[]);
        assert_eq!((report.now, report.next, report.to_go), (Some(1), None, 3));
        let rest = report.rest.unwrap();
        assert_eq!((rest.since, rest.seconds), (full[2].at, 60));
        // What is set aside is swung again.
        let aside = RunSwing {
            decision: Some(Decision::SetAside),
            ..full[2]
        };
        assert_eq!(told(&sets(), &[full[0], full[1], aside], &[]).now, Some(0));
    }

    #[test]
    fn last_time_s_best_is_of_the_same_implement_side_and_position() {
        let report = told(
            &sets(),
            &[swing(1, 0, 116.5)],
            &[last_time(&[114.0, 116.0])],
        );
        let last = report.sets[0].last.unwrap();
        assert!((last.best - 116.0 * MPH).abs() < 1e-9);
        assert!(report.strokes[0].beat);
        assert_eq!(
            report.sets[1].last, None,
            "the other side was not swung then"
        );
    }

    #[test]
    fn a_passing_club_is_doubted_and_no_best_until_somebody_keeps_it() {
        let swings = [swing(1, 0, 114.0), swing(2, 0, 161.0), swing(3, 0, 115.0)];
        let report = told(&sets(), &swings, &[]);
        let doubted: Vec<bool> = report.strokes.iter().map(|s| s.doubt.is_some()).collect();
        assert_eq!(doubted, [false, true, false]);
        assert!(report.sets[0].best.unwrap() < 116.0 * MPH);
        let kept = RunSwing {
            decision: Some(Decision::Keep),
            ..swings[1]
        };
        let report = told(&sets(), &[swings[0], kept, swings[2]], &[]);
        assert!(report.sets[0].best.unwrap() > 160.0 * MPH);
        // The very first swing has last time beside it.
        let first = told(
            &sets(),
            &[swing(1, 0, 161.0)],
            &[last_time(&[114.0, 116.0])],
        );
        assert!(first.strokes[0].doubt.is_some());
    }

    #[test]
    fn what_is_left_out_or_held_gives_way_and_gentle_sets_go_on() {
        let gentle = PlannedBlock {
            full_effort: false,
            effort_pct: Some(80),
            ..three("heavy", SwingSide::Dominant)
        };
        let [first, second] = sets();
        let sets = [first, second, gentle];
        let rules = HouseRules::default();
        let now = |skipped: &[usize], held| {
            let report = run(&RunQuestion {
                sets: &sets,
                current: 0,
                club: Club::Driver,
                skipped,
                held,
                swings: &[swing(1, 0, 114.0)],
                earlier: &[],
                rules: &rules,
            });
            (report.now, report.next, report.to_go)
        };
        assert_eq!(now(&[], false), (Some(0), Some(1), 8));
        assert_eq!(now(&[0], false), (Some(1), Some(2), 6));
        assert_eq!(now(&[], true), (Some(2), None, 3));
    }

    #[test]
    fn sides_are_compared_over_what_both_swung() {
        let swings = [
            swing(1, 0, 100.0),
            swing(2, 0, 100.0),
            swing(3, 0, 100.0),
            swing(4, 1, 88.0),
        ];
        let slower = told(&sets(), &swings, &[]).other_side.unwrap();
        assert!((slower - 0.12).abs() < 1e-9);
    }

    /// A session of three implements from both sides, three swings each, twice: what a body
    /// does that tires by `costs` of the share done, on a day of its own form.
    fn session(seed: u64, costs: impl Fn(f64) -> f64) -> Vec<RunSwing> {
        use rand::SeedableRng;
        use rand_distr::{Distribution, StandardNormal, StudentT};
        let mut rng = rand_pcg::Pcg64::seed_from_u64(seed);
        let day: f64 = StandardNormal.sample(&mut rng);
        let heavy = StudentT::new(4.0).unwrap();
        let each = sets_of_both().len() * 3;
        (0..each)
            .map(|n| {
                let set = n / 3;
                let base = 110.0 - 4.0 * (set % 6 / 2) as f64 - 13.0 * (set % 2) as f64;
                let strays: f64 = heavy.sample(&mut rng);
                let done = n as f64 / each as f64;
                let share = 1.0 + 0.012 * day + 0.011 * strays - costs(done);
                swing(n as u32 + 1, set, base * share)
            })
            .collect()
    }

    fn sets_of_both() -> Vec<PlannedBlock> {
        let one = |implement| [SwingSide::Dominant, SwingSide::Other].map(|s| three(implement, s));
        let all: Vec<PlannedBlock> = ["light", "medium", "heavy"]
            .into_iter()
            .flat_map(one)
            .collect();
        [all.clone(), all].concat()
    }

    /// How many of a hundred sessions are said to stop at some swing.
    fn stopped(costs: impl Fn(f64) -> f64) -> usize {
        use crate::session::bounds::Swings;
        use crate::session::stop::{StopQuestion, stop};
        use crate::verdicts::build::Build;
        let (sets, rules) = (sets_of_both(), HouseRules::default());
        let earlier: Vec<Earlier> = (0..3)
            .map(|before| {
                let mut speeds: BTreeMap<RunOf, Vec<f64>> = BTreeMap::new();
                for swing in session(90_000 + before, |_| 0.0) {
                    let of = RunOf::set(&sets[swing.set], Club::Driver);
                    speeds.entry(of).or_default().extend(swing.speed);
                }
                Earlier {
                    on: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
                    speeds,
                }
            })
            .collect();
        let told = |seed: &u64| {
            let swings = session(*seed, &costs);
            (16..=swings.len()).any(|seen| {
                let question = RunQuestion {
                    sets: &sets,
                    current: swings[seen - 1].set,
                    club: Club::Driver,
                    skipped: &[],
                    held: false,
                    swings: &swings[..seen],
                    earlier: &earlier,
                    rules: &rules,
                };
                let speeds = beside_usual(&question, &run(&question));
                stop(&StopQuestion {
                    speeds: &speeds,
                    swung: Swings::default(),
                    build: Build::Trained,
                    over: &[],
                    rules: &rules,
                })
                .is_some()
            })
        };
        (0..100).filter(told).count()
    }

    #[test]
    fn a_body_that_tires_is_stopped_across_implements_and_an_ordinary_one_goes_on() {
        assert!(stopped(|_| 0.0) < 5);
        assert!(stopped(|done| 0.01 * done) < 5);
        // Five in a hundred are lost, at once or by and by.
        assert!(stopped(|done| if done > 0.5 { 0.05 } else { 0.0 }) >= 90);
        assert!(stopped(|done| 0.07 * (done - 0.3).max(0.0)) >= 90);
    }
}
