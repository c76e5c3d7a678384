//! What became of a value over check-ins: how far up, since when level, which days were off.

mod plateau;
mod tiring;
mod words;

use crate::record::goal::{Forecast, Goal, forecast};
use crate::statistics::level::{Before, Day, Level, SHIFTS, level};
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use chrono::NaiveDate;
use plateau::plateaus;
use serde::Serialize;
use tiring::tiring;
use utoipa::ToSchema;

/// One session that tells of the value.
#[derive(Debug, Clone, PartialEq)]
pub struct CheckIn {
    /// Place of the session among the caller's.
    pub session: usize,
    /// Day where it was held.
    pub date: NaiveDate,
    /// Kept values.
    pub values: Vec<f64>,
    /// Which device read them, 0 for the first that did.
    pub device: usize,
    /// Whether it was under a roof, where that is known.
    pub indoors: Option<bool>,
    /// Which club of the bag it was, where that is known: equal numbers are one club.
    pub head: Option<usize>,
}

/// What is asked of a player's check-ins.
#[derive(Debug, Clone, PartialEq)]
pub struct ProgressQuestion {
    /// The value.
    pub quantity: Quantity,
    /// Sessions, earliest first.
    pub check_ins: Vec<CheckIn>,
    /// What is to be reached.
    pub goal: Option<Goal>,
    /// Session of the benchmark, when one was made.
    pub benchmark: Option<usize>,
    /// The house's thresholds.
    pub rules: HouseRules,
}

/// What a change amounts to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChangeKind {
    /// It is real, and it matters.
    RealAndWorthIt,
    /// It is real but smaller than what matters.
    RealButSmall,
    /// It is sure to be smaller than what matters.
    Same,
    /// It cannot be told yet.
    NotYet,
}

/// Since when a change is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Since {
    /// The first check-in.
    Start,
    /// The benchmark.
    Benchmark,
    /// The check-in before the latest.
    LastTime,
}

/// A change of the level.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LevelChange {
    /// Since when.
    pub since: Since,
    /// The day of that.
    pub date: NaiveDate,
    /// The level now less the level then; n counts check-ins.
    pub change: Estimate,
    /// What it amounts to.
    pub kind: ChangeKind,
    /// About how many more check-ins like the latest would tell, where more would.
    pub more_check_ins: Option<usize>,
}

/// One day, read.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DayRead {
    /// Places of its sessions among the caller's.
    pub sessions: Vec<usize>,
    /// The day.
    pub date: NaiveDate,
    /// Kept values, in the order they came.
    pub values: Vec<f64>,
    /// Their average.
    pub mean: f64,
    /// The best of them, where more is better.
    pub best: Option<f64>,
    /// What the best of as many balls as every day has would be.
    pub best_of_equal: Option<f64>,
    /// The true level that day; absent while there are too few days.
    pub level: Option<Estimate>,
    /// The level now less that one.
    pub until_now: Option<Estimate>,
    /// What the other days foretell of it.
    pub expected: Option<f64>,
    /// Whether it was an off day: under the player's own band, and by what matters.
    pub off: bool,
    /// Whether another device than the first read it.
    pub other_device: bool,
    /// Whether it was held indoors where the first was outdoors, or outdoors where that was
    /// indoors.
    pub other_roof: bool,
    /// Whether it was hit with another club of the bag than the first that is known.
    pub other_head: bool,
}

/// Days without real change.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Plateau {
    /// Place of its first day.
    pub from: usize,
    /// Place of its last day.
    pub to: usize,
}

/// A gap without sessions.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LayOff {
    /// Place of the first day after it.
    pub before: usize,
    /// How long, days.
    pub days: i64,
    /// The level after as a share of the level before.
    pub kept: Estimate,
}

/// What became of a value.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ProgressRead {
    /// The value.
    pub quantity: Quantity,
    /// What a coach would say.
    pub sentence: Sentence,
    /// What stands behind it.
    pub detail: Sentence,
    /// Each day.
    pub days: Vec<DayRead>,
    /// Balls that bests are compared by.
    pub equal_tries: usize,
    /// What changed.
    pub changes: Vec<LevelChange>,
    /// SD of a check-in's mean about the level (Hopkins 2000).
    pub typical_error: Option<f64>,
    /// What two single check-ins must differ by to be told apart.
    pub smallest_real: Option<f64>,
    /// SD between days as a share of that between balls; none of too few days.
    pub strays: Option<f64>,
    /// What ten balls of a session change, over the latest days; none of too few.
    pub tiring: Option<Estimate>,
    /// The change that matters by the house's rules.
    pub margin: f64,
    /// Stretches without real change, earliest first; the last may still go on.
    pub plateaus: Vec<Plateau>,
    /// Lay-offs.
    pub lay_offs: Vec<LayOff>,
    /// The goal.
    pub forecast: Option<Forecast>,
}

/// Days from which on a level is told: never a trend from two points.
const DAYS: usize = 3;
/// How many SDs a change must be from nothing to be called real. Looked at after every
/// check-in, 4 to 30 of them, a player without change is called changed in less than one of
/// twenty series (`docs/statistics.md`): a bound that is valid however often one looks.
const REAL: f64 = 3.0;
/// How many SDs under what the other days foretell an off day lies, which also fell from the
/// day before by what matters: at most one ordinary day in fifteen does.
const OFF: f64 = -1.1;
/// How much an off day counts for the level while it is the latest: it tells of that day until
/// another shows more. Leaving out every off day would make the level too sure.
const OFF_COUNTS: f64 = 0.15;
/// The first days tell what is usual: from this one on a day can be called off.
const DAYS_FOR_OFF: usize = 4;
/// Days after a low one that tell whether it was that day alone.
const NEXT_TELLS: usize = 2;
/// Days that tell how far they stray.
const DAYS_FOR_STRAYS: usize = 8;
/// Usual disagreement of two devices as a share of the value, ours.
const DEVICES: f64 = 0.01;
/// Usual difference under another roof with the same device, of a speed: it is read before the
/// ball flies anywhere.
const ROOFS: f64 = 0.005;

/// Reads a value over check-ins.
pub fn progress(question: &ProgressQuestion) -> ProgressRead {
    let rules = &question.rules;
    let quantity = question.quantity;
    let mut days = by_day(&question.check_ins, quantity);
    let balls = within_days(&days, quantity);
    let tries = days.iter().map(|d| d.values.len()).min().unwrap_or(0);
    for day in &mut days {
        day.best_of_equal = day.best.and_then(|_| best_of(&day.values, tries));
    }
    let read = if days.len() < DAYS {
        None
    } else {
        let most = days.iter().map(|d| d.mean.abs()).fold(0.0, f64::max);
        let roofs = if quantity.dimension() == Dimension::Speed {
            ROOFS
        } else {
            DEVICES
        };
        let mut shifts = [DEVICES; SHIFTS];
        shifts[SHIFTS - 1] = roofs;
        let before = Before {
            balls,
            days: rules.days_to_balls * balls,
            shift: shifts.map(|share| (share * most).max(quantity.dimension().grain())),
        };
        let read = level(&as_days(&days, question), &before);
        if let Some(read) = &read
            && call_off(&mut days, read, quantity, rules.margin(quantity))
            && days.last().is_some_and(|day| day.off)
        {
            level(&as_days(&days, question), &before)
        } else {
            read
        }
    };
    let margin = rules.margin(quantity);
    let mut told = ProgressRead {
        quantity,
        sentence: Sentence::default(),
        detail: Sentence::default(),
        equal_tries: tries,
        changes: vec![],
        typical_error: None,
        smallest_real: None,
        strays: None,
        tiring: tiring(&days),
        margin,
        plateaus: vec![],
        lay_offs: vec![],
        forecast: None,
        days,
    };
    if let Some(read) = read {
        told.take_in(&read, question);
    }
    told.sentence = words::sentence(&told);
    told.detail = words::detail(&told);
    told
}

/// Calls days off that lie under the player's own band, those after a lay-off left out:
/// these are what was kept. Whether there are any.
fn call_off(days: &mut [DayRead], read: &Level, quantity: Quantity, margin: f64) -> bool {
    if !quantity.has_best() || days.len() < DAYS_FOR_OFF {
        return false;
    }
    let means: Vec<f64> = days.iter().map(|day| day.mean).collect();
    let mut before: Option<f64> = None;
    for place in 0..days.len() {
        let (mean, at) = (means[place], &read.days[place]);
        let far = at.off < OFF && at.over <= -margin;
        // One that is no lower than the day before, or after which it stays down, was no day
        // but the player.
        let fell = before.is_none_or(|before| mean <= before - margin);
        let after = means.get(place + 1..).unwrap_or_default();
        let mut next = after.iter().take(NEXT_TELLS);
        let back = after.is_empty() || next.any(|later| *later >= mean + margin);
        let told = place + 1 >= DAYS_FOR_OFF && !read.after_lay_off.contains(&place);
        days[place].off = told && far && fell && back;
        if !days[place].off {
            before = Some(mean);
        }
    }
    days.iter().any(|day| day.off)
}

/// Two-sided quantile of the normal distribution for a level of 90 %.
pub(crate) const NINETY: f64 = 1.645;

fn estimate([mean, sd]: [f64; 2], n: usize) -> Estimate {
    Estimate {
        value: mean,
        low: mean - NINETY * sd,
        high: mean + NINETY * sd,
        n,
    }
}

impl ProgressRead {
    fn take_in(&mut self, read: &Level, question: &ProgressQuestion) {
        let n = self.days.len();
        for (day, at) in self.days.iter_mut().zip(&read.days) {
            day.level = Some(estimate([at.mean, at.sd], day.values.len()));
            day.expected = Some(day.mean - at.over);
            day.until_now = Some(estimate(at.until_now, day.values.len()));
        }
        let typical_n = self.days.iter().map(|d| d.values.len()).sum::<usize>() as f64 / n as f64;
        let error = (read.between.powi(2) + read.balls.powi(2) / typical_n).sqrt();
        self.typical_error = Some(error);
        self.strays = (n >= DAYS_FOR_STRAYS).then(|| read.between / read.balls);
        self.smallest_real = Some(1.96 * std::f64::consts::SQRT_2 * error);
        let benchmark = question
            .benchmark
            .and_then(|b| self.days.iter().position(|d| d.sessions.contains(&b)));
        let last_time = (n >= 2).then(|| n - 2);
        let since = [
            (Since::Start, Some(0)),
            (Since::Benchmark, benchmark.filter(|b| *b > 0 && b + 1 < n)),
            (Since::LastTime, last_time.filter(|l| *l > 0)),
        ];
        for (since, from) in since {
            let Some(from) = from else { continue };
            let told = read.days[from].until_now;
            let kind = kind_of(told, self.margin);
            let sure = [read.days[from].sd, read.days[n - 1].sd];
            self.changes.push(LevelChange {
                since,
                date: self.days[from].date,
                change: estimate(told, n - from),
                kind,
                more_check_ins: (kind == ChangeKind::NotYet)
                    .then(|| more(told, sure, error, self.margin))
                    .flatten(),
            });
        }
        self.plateaus = plateaus(&self.days, &read.after_lay_off, error, self.margin);
        self.lay_offs = lay_offs(read, &self.days);
        self.forecast = question
            .goal
            .map(|goal| forecast(read, self.days[n - 1].date, goal));
    }

    /// The plateau that still goes on.
    pub fn level_since(&self) -> Option<&Plateau> {
        let last = self.days.len().checked_sub(1)?;
        self.plateaus.last().filter(|plateau| plateau.to == last)
    }
}

fn kind_of([change, sd]: [f64; 2], margin: f64) -> ChangeKind {
    if change.abs() > REAL * sd {
        if change.abs() >= margin {
            ChangeKind::RealAndWorthIt
        } else {
            ChangeKind::RealButSmall
        }
    } else if change.abs() + NINETY * sd <= margin {
        ChangeKind::Same
    } else {
        ChangeKind::NotYet
    }
}

/// Check-ins beyond which more are no advice.
const MOST_MORE: usize = 12;

/// How many more check-ins like the latest tell: the change being as it seems, the level now
/// surer with each of them and that of then as sure as it is.
fn more([change, _]: [f64; 2], [then, now]: [f64; 2], error: f64, margin: f64) -> Option<usize> {
    (1..=MOST_MORE).find(|&m| {
        let surer = 1.0 / (1.0 / (now * now) + m as f64 / (error * error));
        let told = [change, (then * then + surer).sqrt()];
        kind_of(told, margin) != ChangeKind::NotYet
    })
}

fn lay_offs(read: &Level, days: &[DayRead]) -> Vec<LayOff> {
    let told = read.after_lay_off.iter().map(|&i| {
        let then = read.days[i - 1].mean;
        let change = estimate(read.change(i - 1, i), 2);
        LayOff {
            before: i,
            days: (days[i].date - days[i - 1].date).num_days(),
            kept: Estimate {
                value: 1.0 + change.value / then,
                low: 1.0 + change.low / then,
                high: 1.0 + change.high / then,
                n: 2,
            },
        }
    });
    told.collect()
}

/// Sessions of one day and device make one day: two in an hour tell no more of days than one.
fn by_day(check_ins: &[CheckIn], quantity: Quantity) -> Vec<DayRead> {
    let first_device = check_ins.iter().find(|c| !c.values.is_empty());
    let first_device = first_device.map_or(0, |c| c.device);
    let mut roofs = check_ins.iter().filter(|c| !c.values.is_empty());
    let first_roof = roofs.find_map(|c| c.indoors);
    let mut heads = check_ins.iter().filter(|c| !c.values.is_empty());
    let first_head = heads.find_map(|c| c.head);
    let mut told: Vec<&CheckIn> = check_ins.iter().filter(|c| !c.values.is_empty()).collect();
    told.sort_by_key(|c| c.date);
    let mut days: Vec<DayRead> = Vec::new();
    for check_in in told {
        let other_device = check_in.device != first_device;
        let other_roof = check_in.indoors.is_some() && check_in.indoors != first_roof;
        let other_head = check_in.head.is_some() && check_in.head != first_head;
        let same = |day: &DayRead| {
            let held = (day.other_device, day.other_roof, day.other_head);
            day.date == check_in.date && held == (other_device, other_roof, other_head)
        };
        match days.last_mut() {
            Some(day) if same(day) => {
                day.sessions.push(check_in.session);
                day.values.extend(&check_in.values);
            }
            _ => days.push(DayRead {
                sessions: vec![check_in.session],
                date: check_in.date,
                values: check_in.values.clone(),
                mean: 0.0,
                best: None,
                best_of_equal: None,
                level: None,
                until_now: None,
                expected: None,
                off: false,
                other_device,
                other_roof,
                other_head,
            }),
        }
    }
    for day in &mut days {
        day.mean = day.values.iter().sum::<f64>() / day.values.len() as f64;
        let best = day.values.iter().copied().reduce(f64::max);
        day.best = best.filter(|_| quantity.has_best());
    }
    days
}

/// SD of the values within their days, with what rounding adds at least.
fn within_days(days: &[DayRead], quantity: Quantity) -> f64 {
    let squares = |day: &DayRead| {
        day.values
            .iter()
            .map(|v| (v - day.mean).powi(2))
            .sum::<f64>()
    };
    let sum: f64 = days.iter().map(squares).sum();
    let free: usize = days.iter().map(|d| d.values.len() - 1).sum();
    let least = quantity.dimension().grain();
    if free > 0 {
        return (sum / free as f64).sqrt().max(least);
    }
    // One ball a day: what lies between neighbouring days holds both.
    let steps = days.windows(2).map(|d| (d[1].mean - d[0].mean).powi(2));
    let steps = steps.sum::<f64>() / (2 * days.len().max(2) - 2) as f64;
    steps.sqrt().max(least)
}

fn as_days(days: &[DayRead], question: &ProgressQuestion) -> Vec<Day> {
    let mut devices: Vec<usize> = Vec::new();
    for check_in in &question.check_ins {
        if !check_in.values.is_empty() && !devices.contains(&check_in.device) {
            devices.push(check_in.device);
        }
    }
    let device = |day: &DayRead| {
        let of = |c: &&CheckIn| day.sessions.contains(&c.session);
        question.check_ins.iter().find(of).map_or(0, |c| c.device)
    };
    // A roof that comes and goes with the device is not told apart from it.
    let as_devices = days.iter().all(|day| day.other_roof == day.other_device);
    let last = days[days.len() - 1].date;
    let told = days.iter().map(|day| {
        let place = devices.iter().position(|d| *d == device(day)).unwrap_or(0);
        let mut shift = [false; SHIFTS];
        if place > 0 {
            shift[(place - 1).min(SHIFTS - 2)] = true;
        }
        shift[SHIFTS - 1] = day.other_roof && !as_devices;
        Day {
            week: (day.date - days[0].date).num_days() as f64 / 7.0,
            mean: day.mean,
            n: day.values.len(),
            counts: if day.off && day.date == last {
                OFF_COUNTS
            } else {
                1.0
            },
            shift,
        }
    });
    told.collect()
}

/// Mean of the best of every `tries` of the values: the best at equal numbers of tries.
///
/// ```
/// use tally_core::record::progress::best_of;
/// assert_eq!(best_of(&[1.0, 2.0, 3.0], 3), Some(3.0));
/// let of_pairs = best_of(&[1.0, 2.0, 3.0], 2).unwrap();
/// assert!((of_pairs - (2.0 + 3.0 + 3.0) / 3.0).abs() < 1e-12);
/// assert_eq!(best_of(&[1.0], 2), None);
/// ```
pub fn best_of(values: &[f64], tries: usize) -> Option<f64> {
    let n = values.len();
    if tries == 0 || n < tries {
        return None;
    }
    let mut sorted = values.to_vec();
    sorted.sort_by(|a, b| b.total_cmp(a));
    // The share of choices in which the i-th largest is the best of those chosen.
    let (mut left, mut sum) = (1.0, 0.0);
    for (i, value) in sorted.iter().enumerate() {
        let share = left * tries as f64 / (n - i) as f64;
        sum += share.min(left) * value;
        left -= share.min(left);
        if left <= 0.0 {
            break;
        }
    }
    Some(sum)
}

#[cfg(test)]
mod tests;
