//! What the difference of two sets can rest on: turns, order, days.

use super::difference::{Pair, Placed, mean, variance, welch};
use crate::statistics::ordered::{MOST_SESSIONS, Ordered};
use crate::statistics::summary::{Estimate, student_t};
use serde::Serialize;
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;

/// How the balls of two sets lie to each other in time, which decides what their
/// difference can tell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Basis {
    /// In turns within a session: warming up and drifting hit both alike.
    Turns,
    /// One after the other within a session.
    OneAfterOther,
    /// Several sessions that hold both.
    SharedSessions,
    /// Different sessions: the day is the unit.
    Days,
    /// One session each, which cannot tell a change from a good or a bad day.
    OneDayEach,
    /// Too few balls for more than their means.
    FewBalls,
    /// As the balls fell, because the coach asks for that.
    AsTheyFell,
}

impl Basis {
    /// Whether a difference on this basis can be called more or less.
    pub fn can_tell(self) -> bool {
        self != Basis::OneDayEach
    }
}

/// The difference that decides, and what it rests on.
pub(super) struct Decided {
    pub difference: Estimate,
    pub basis: Basis,
}

/// The difference of two sets, with all that is not known of order and days in its
/// interval. `level` is that of balls of one session, which may have been looked at;
/// `once` that of whole days.
pub(super) fn decided(pair: &Pair, [level, once]: [f64; 2], grain: f64) -> Decided {
    let raw = |level| welch(&pair.first_values(), &pair.other_values(), level, grain);
    let shared = pair.shared();
    let within = pair.of_sessions(&shared);
    if within.first.len() < 2 || within.other.len() < 2 {
        return match between_days(pair, once, grain) {
            Some(difference) => Decided {
                difference,
                basis: Basis::Days,
            },
            None => Decided {
                difference: raw(once),
                basis: Basis::OneDayEach,
            },
        };
    }
    if shared.len() > MOST_SESSIONS {
        return Decided {
            difference: session_by_session(&within, &shared, once, grain),
            basis: Basis::SharedSessions,
        };
    }
    let Some(told) = Ordered::fit(&within.in_order(), grain).map(|o| o.estimate(level)) else {
        return Decided {
            difference: raw(level),
            basis: Basis::FewBalls,
        };
    };
    if shared.len() > 1 {
        return Decided {
            difference: told,
            basis: Basis::SharedSessions,
        };
    }
    if within.balanced() {
        return Decided {
            difference: told,
            basis: Basis::Turns,
        };
    }
    // The order cannot carry a correction of the means. They stand, and the interval holds
    // what they tell with the order in and with it out.
    let value = mean(&within.other_values()) - mean(&within.first_values());
    Decided {
        difference: Estimate {
            value,
            low: told.low.min(value - (told.value - told.low)),
            high: told.high.max(value + (told.high - told.value)),
            n: told.n,
        },
        basis: Basis::OneAfterOther,
    }
}

/// The values of a side, day by day.
fn by_day(side: &[Placed]) -> Vec<Vec<f64>> {
    let mut days: BTreeMap<usize, Vec<f64>> = BTreeMap::new();
    for placed in side {
        days.entry(placed.session).or_default().push(placed.value);
    }
    days.into_values().collect()
}

/// Squares of values about their mean.
fn squares(values: &[f64]) -> f64 {
    let middle = mean(values);
    values.iter().map(|v| (v - middle).powi(2)).sum()
}

/// The difference with the day as the unit: Student's interval of day means, which stray
/// from day to day as they do. Nothing with one day on each side. Days stray by no less
/// than their balls make them.
fn between_days(pair: &Pair, level: f64, grain: f64) -> Option<Estimate> {
    let sides = [by_day(&pair.first), by_day(&pair.other)];
    let [first, other] = sides
        .each_ref()
        .map(|days| days.iter().map(|day| mean(day)).collect::<Vec<f64>>());
    let freedom = (first.len() + other.len())
        .checked_sub(2)
        .filter(|df| *df > 0)?;
    let least: f64 = sides.iter().map(|days| by_balls(days, grain)).sum::<f64>() / 2.0;
    let variance = ((squares(&first) + squares(&other)) / freedom as f64).max(least);
    let days = 1.0 / first.len() as f64 + 1.0 / other.len() as f64;
    let half = student_t(level, freedom) * (variance * days).sqrt();
    let value = mean(&other) - mean(&first);
    Some(Estimate {
        value,
        low: value - half,
        high: value + half,
        n: pair.first.len() + pair.other.len(),
    })
}

/// How far a day's mean strays by its balls alone: their variance about the means of their
/// days, over as many as a day has.
fn by_balls(days: &[Vec<f64>], grain: f64) -> f64 {
    let balls: usize = days.iter().map(Vec::len).sum();
    let freedom = balls.saturating_sub(days.len()).max(1);
    let about: f64 = days.iter().map(|day| squares(day)).sum();
    let variance = (about / freedom as f64).max(grain * grain / 12.0);
    variance * days.len() as f64 / balls as f64
}

/// The mean of the differences of many sessions that hold both sets.
fn session_by_session(within: &Pair, shared: &BTreeSet<usize>, level: f64, grain: f64) -> Estimate {
    let of = |side: &[Placed], session: usize| -> Vec<f64> {
        side.iter()
            .filter(|p| p.session == session)
            .map(|p| p.value)
            .collect()
    };
    let apart: Vec<f64> = shared
        .iter()
        .map(|s| mean(&of(&within.other, *s)) - mean(&of(&within.first, *s)))
        .collect();
    let half =
        student_t(level, apart.len() - 1) * (variance(&apart, grain) / apart.len() as f64).sqrt();
    let value = mean(&apart);
    Estimate {
        value,
        low: value - half,
        high: value + half,
        n: within.first.len() + within.other.len(),
    }
}
