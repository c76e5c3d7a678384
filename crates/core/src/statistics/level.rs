//! A player's true level over days: a state-space model, filtered and smoothed.
//!
//! What a day shows is the level, a change common to all balls of the day, shifts of the
//! device and the place, and the scatter of balls (Harvey 1989; Durbin & Koopman 2012):
//!
//! ```text
//! mean of a day = level + shifts + day (SD of days) + balls (SD of balls / √n)
//! level moves as a random walk, and by a slope that forgets half of itself in 16 or 60 weeks
//! ```
//!
//! The SD of balls comes from within the days. The other three are not fitted at a point,
//! which few days do not allow, but averaged over by how well each set of them tells the
//! days in advance and by what is usual. A day far off counts for less, as in Student's t
//! (Lange, Little & Taylor 1989).

mod kalman;

use kalman::{Pass, Scales, pass};
use rayon::prelude::*;

/// One day's balls of one kind.
#[derive(Debug, Clone, PartialEq)]
pub struct Day {
    /// When, weeks after any fixed time; days come in order of time.
    pub week: f64,
    /// Mean of its kept balls.
    pub mean: f64,
    /// How many they are.
    pub n: usize,
    /// How much it counts, 0…1: less, where it is known to be out of the ordinary.
    pub counts: f64,
    /// What shifts a value without being the player: which of up to two further devices it
    /// was, and whether it was held under another roof than usual.
    pub shift: [bool; SHIFTS],
}

impl Day {
    /// The same day with these shifts alone, in this order.
    fn showing(&self, shifts: &[usize]) -> Day {
        let mut shift = [false; SHIFTS];
        for (to, from) in shifts.iter().enumerate() {
            shift[to] = self.shift[*from];
        }
        Day {
            shift,
            ..self.clone()
        }
    }
}

/// Shifts that are told apart: further devices, and at the end another roof.
pub const SHIFTS: usize = 3;

/// What is known before the first day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Before {
    /// SD of a player's balls within a day.
    pub balls: f64,
    /// Usual SD between days of one player.
    pub days: f64,
    /// Usual SD of each shift.
    pub shift: [f64; SHIFTS],
}

/// A gap without a day that is a lay-off, weeks: so long at least, and three times the usual
/// gap.
const LAY_OFF_WEEKS: f64 = 4.0;
const LAY_OFF_GAPS: f64 = 3.0;

/// The level at one day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct At {
    /// Its mean.
    pub mean: f64,
    /// Its SD.
    pub sd: f64,
    /// The level now less this one, and its SD.
    pub until_now: [f64; 2],
    /// How far the day lies from what the other days foretell of it, in SDs of that.
    pub off: f64,
    /// The same as a value: the day less what the others foretell of it.
    pub over: f64,
}

/// A level over days, with what it may be.
#[derive(Debug)]
pub struct Level {
    /// At each day.
    pub days: Vec<At>,
    /// SD between days.
    pub between: f64,
    /// SD of a ball within a day.
    pub balls: f64,
    /// Places of the days that come after a lay-off.
    pub after_lay_off: Vec<usize>,
    /// The ways over the days by each likely set of SDs.
    ways: Box<dyn Ways>,
}

/// Ways over the days with weights, however many states they have.
trait Ways: std::fmt::Debug + Send + Sync {
    /// The level at one day less that at an earlier one, with its SD.
    fn change(&self, from: usize, to: usize) -> [f64; 2];
    /// Where each ends, with its weight.
    fn ends(&self) -> Vec<(f64, End)>;
}

type Likely<const N: usize> = Vec<(f64, Pass<N>)>;

impl<const N: usize> Ways for Likely<N> {
    fn change(&self, from: usize, to: usize) -> [f64; 2] {
        together(self, |pass| pass.change(from, to))
    }

    fn ends(&self) -> Vec<(f64, End)> {
        self.iter().map(|(w, pass)| (*w, pass.end())).collect()
    }
}

/// Level and slope at the end, and how they go on.
#[derive(Debug, Clone, Copy)]
struct End {
    mean: [f64; 2],
    cov: [[f64; 2]; 2],
    scales: Scales,
}

/// SDs tried, as shares of the usual: between days, of the random walk over a week, of the
/// slope a week; each with what it is thought worth before any day was seen.
const BETWEEN: [(f64, f64); 5] = [
    (0.3, 0.10),
    (0.6, 0.25),
    (1.0, 0.30),
    (1.7, 0.25),
    (3.0, 0.10),
];
const WALK: [(f64, f64); 4] = [(0.03, 0.25), (0.25, 0.30), (0.7, 0.22), (2.0, 0.23)];
/// Slopes with the weeks in which they forget half of themselves.
const SLOPE: [(f64, f64, f64); 5] = [
    (0.0, 16.0, 0.15),
    (0.35, 16.0, 0.18),
    (1.0, 16.0, 0.25),
    (0.35, 60.0, 0.17),
    (1.0, 60.0, 0.25),
];
/// Degrees of freedom of the days: how tame their tails are.
const FREEDOM: f64 = 5.0;
/// A set of SDs is left out under this share of the likeliest.
const UNLIKELY: f64 = 0.005;

/// Follows the level over `days`; nothing of fewer than two.
pub fn level(days: &[Day], before: &Before) -> Option<Level> {
    if days.len() < 2 {
        return None;
    }
    // Level and slope, and as many shifts as any day shows: fewer states, less to work out.
    let shown: Vec<usize> = (0..SHIFTS)
        .filter(|s| days.iter().any(|day| day.shift[*s]))
        .collect();
    let days: Vec<Day> = days.iter().map(|day| day.showing(&shown)).collect();
    let mut sds = [0.0; SHIFTS];
    for (to, from) in shown.iter().enumerate() {
        sds[to] = before.shift[*from];
    }
    let before = &Before {
        shift: sds,
        ..*before
    };
    Some(match shown.len() {
        0 => level_of::<2>(&days, before),
        1 => level_of::<3>(&days, before),
        2 => level_of::<4>(&days, before),
        _ => level_of::<{ 2 + SHIFTS }>(&days, before),
    })
}

fn level_of<const N: usize>(days: &[Day], before: &Before) -> Level {
    let rests = lay_offs(days);
    let mut counts: Vec<f64> = days.iter().map(|day| day.counts).collect();
    let mut sets = sets(before);
    let mut likely: Likely<N> = weigh(days, before, &counts, &rests, &mut sets);
    for _ in 0..2 {
        counts = how_much_each_counts(days, before, &likely);
        likely = weigh(days, before, &counts, &rests, &mut sets);
    }
    let between = likely.iter().map(|(w, p)| w * p.scales.between.powi(2));
    let between = between.sum::<f64>().sqrt();
    let read = (0..days.len()).map(|i| at(&likely, i));
    Level {
        days: read.collect(),
        between,
        balls: before.balls,
        after_lay_off: rests,
        ways: Box::new(likely),
    }
}

/// Days that come after a gap far longer than the usual.
fn lay_offs(days: &[Day]) -> Vec<usize> {
    let gaps: Vec<f64> = days.windows(2).map(|d| d[1].week - d[0].week).collect();
    let mut sorted = gaps.clone();
    sorted.sort_by(f64::total_cmp);
    let usual = sorted[sorted.len() / 2];
    let long = (LAY_OFF_GAPS * usual).max(LAY_OFF_WEEKS);
    let after = gaps.iter().enumerate().filter(|(_, gap)| **gap >= long);
    // Of two days nobody knows what is usual.
    let after = after.map(|(i, _)| i + 1);
    if gaps.len() < 3 {
        vec![]
    } else {
        after.collect()
    }
}

/// The sets of SDs tried, each with the logarithm of what it is thought worth.
fn sets(before: &Before) -> Vec<(f64, Scales)> {
    let mut sets = Vec::new();
    for (between, a) in BETWEEN {
        for (walk, b) in WALK {
            for (slope, half, c) in SLOPE {
                let scales = Scales {
                    between: between * before.days,
                    walk: walk * before.days,
                    slope: slope * before.days,
                    forgets: std::f64::consts::LN_2 / half,
                };
                sets.push(((a * b * c).ln(), scales));
            }
        }
    }
    sets
}

/// The sets that are likely enough, with their weights, smoothed; those left out stay out.
fn weigh<const N: usize>(
    days: &[Day],
    before: &Before,
    counts: &[f64],
    rests: &[usize],
    sets: &mut Vec<(f64, Scales)>,
) -> Likely<N> {
    let passes = sets.par_iter().map(|(worth, scales)| {
        let pass = pass(days, before, counts, rests, *scales);
        (worth + pass.log_likelihood, (*worth, pass))
    });
    let mut passes: Vec<(f64, (f64, Pass<N>))> = passes.collect();
    let most = passes.iter().map(|p| p.0).fold(f64::NEG_INFINITY, f64::max);
    passes.retain(|p| p.0 - most > UNLIKELY.ln());
    *sets = passes.iter().map(|p| (p.1.0, p.1.1.scales)).collect();
    let all: f64 = passes.iter().map(|p| (p.0 - most).exp()).sum();
    let smoothed = passes.into_par_iter().map(|(likely, (_, mut pass))| {
        pass.smooth();
        ((likely - most).exp() / all, pass)
    });
    smoothed.collect()
}

/// How much each day counts: less, the further it lies from its neighbours.
fn how_much_each_counts<const N: usize>(
    days: &[Day],
    before: &Before,
    likely: &[(f64, Pass<N>)],
) -> Vec<f64> {
    let each = days.iter().enumerate().map(|(i, day)| {
        let count = |pass: &Pass<N>| {
            let own = pass.scales.between.powi(2) + before.balls.powi(2) / day.n as f64;
            let (left, unsure) = pass.left_over(i);
            let off = (left * left + unsure) / own;
            ((FREEDOM + 1.0) / (FREEDOM + off)).min(1.0)
        };
        day.counts * likely.iter().map(|(w, p)| w * count(p)).sum::<f64>()
    });
    each.collect()
}

/// What all sets of SDs together say: mean and SD of what each gives as mean and variance.
fn together<const N: usize>(
    likely: &[(f64, Pass<N>)],
    of: impl Fn(&Pass<N>) -> [f64; 2],
) -> [f64; 2] {
    let told: Vec<(f64, [f64; 2])> = likely.iter().map(|(w, p)| (*w, of(p))).collect();
    let mean: f64 = told.iter().map(|(w, [m, _])| w * m).sum();
    let square = |(w, [m, v]): &(f64, [f64; 2])| w * (v + (m - mean).powi(2));
    let variance: f64 = told.iter().map(square).sum();
    [mean, variance.max(0.0).sqrt()]
}

fn at<const N: usize>(likely: &[(f64, Pass<N>)], i: usize) -> At {
    let [mean, sd] = together(likely, |p| p.level_at(i));
    let [left, wide] = together(likely, |p| p.without(i));
    At {
        mean,
        sd,
        until_now: together(likely, |p| p.until_last(i)),
        off: left / wide,
        over: left,
    }
}

impl Level {
    /// The level at the `to`th day less that at the `from`th, with its SD.
    pub fn change(&self, from: usize, to: usize) -> [f64; 2] {
        self.ways.change(from, to)
    }

    /// Levels to come, `paths` of them from a fixed seed, one value a week.
    pub fn to_come(&self, weeks: usize, paths: usize) -> Vec<Vec<f64>> {
        kalman::to_come(&self.ways.ends(), weeks, paths)
    }
}
