//! Numeric goals, and when a level gets there.

use crate::statistics::level::Level;
use chrono::{Days, NaiveDate};
use serde::Serialize;
use utoipa::ToSchema;

/// A value to be reached by the average.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Goal {
    /// The value, internal units.
    pub value: f64,
    /// The day by which.
    pub by: Option<NaiveDate>,
}

/// How a goal stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Forecast {
    /// The value to reach, internal units.
    pub goal: f64,
    /// The day by which, when one was set.
    pub by: Option<NaiveDate>,
    /// Whether the level is there already.
    pub reached: bool,
    /// First and last day of the range that holds the day in four of five cases; without an
    /// end where it may take more than two years.
    pub from: Option<NaiveDate>,
    /// The end of it.
    pub to: Option<NaiveDate>,
    /// Chance that it is reached by the goal's day, or within half a year where none is set.
    pub chance: f64,
    /// Chance that it is reached within two years at all.
    pub within_two_years: f64,
}

/// How far a forecast looks ahead, weeks.
const WEEKS: usize = 104;
/// The same where a goal has no day.
const HALF_A_YEAR: f64 = 26.0;
const PATHS: usize = 600;
/// Share of the ways on that have reached the goal at the end of the range. Held against
/// players who rise steadily or slow down, this range holds the day about four times of five:
/// the ways on differ by more than players do, as their slope may end at any time.
const OUTSIDE: f64 = 0.8;

/// The range of days on which the level reaches the goal, seen from its last day.
pub fn forecast(level: &Level, last: NaiveDate, goal: Goal) -> Forecast {
    let now = level.days.last().map_or(0.0, |day| day.mean);
    let reached = now >= goal.value;
    let mut reach: Vec<Option<f64>> = level
        .to_come(WEEKS, PATHS)
        .iter()
        .map(|path| first_at(now, path, goal.value))
        .collect();
    reach.sort_by(|a, b| {
        a.unwrap_or(f64::INFINITY)
            .total_cmp(&b.unwrap_or(f64::INFINITY))
    });
    let share = |weeks: f64| {
        let there = reach.iter().filter(|at| at.is_some_and(|at| at <= weeks));
        there.count() as f64 / PATHS as f64
    };
    let at = |share: f64| reach[(share * PATHS as f64) as usize];
    let day = |weeks: f64| last.checked_add_days(Days::new((7.0 * weeks).round() as u64));
    let by = goal
        .by
        .map_or(HALF_A_YEAR, |by| (by - last).num_days() as f64 / 7.0);
    let ahead = !reached;
    Forecast {
        goal: goal.value,
        by: goal.by,
        reached,
        from: at(1.0 - OUTSIDE).filter(|_| ahead).and_then(day),
        to: at(OUTSIDE).filter(|_| ahead).and_then(day),
        chance: if reached { 1.0 } else { share(by) },
        within_two_years: if reached { 1.0 } else { share(WEEKS as f64) },
    }
}

/// Weeks until a path first stands at the goal.
fn first_at(now: f64, path: &[f64], goal: f64) -> Option<f64> {
    let mut before = now;
    for (week, &level) in path.iter().enumerate() {
        if level >= goal {
            let share = ((goal - before) / (level - before)).clamp(0.0, 1.0);
            return Some(week as f64 + share);
        }
        before = level;
    }
    None
}
