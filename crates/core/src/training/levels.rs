//! Which level of a protocol a player is at: up after whole sessions, back after a lay-off.

use crate::training::programme::Progression;
use crate::vocabulary::sentence::Sentence;
use chrono::NaiveDate;
use serde::Serialize;
use utoipa::ToSchema;

/// A session of a protocol that was held.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RunDone {
    /// When.
    pub on: NaiveDate,
    /// Place of its level.
    pub level: usize,
    /// Whether its swings were made as a whole.
    pub whole: bool,
    /// Whether it was said to stop, or held for pain.
    pub stopped: bool,
}

/// The level to train at.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LevelNow {
    /// Its place.
    pub level: usize,
    /// Why this one.
    pub said: Sentence,
}

/// The level of the next session on `today`, of a protocol with so many levels; `done` are its
/// sessions, earliest first.
///
/// ```
/// use tally_core::training::levels::{RunDone, level_now};
/// use tally_core::training::programme::Progression;
/// let on = |day: u32| chrono::NaiveDate::from_ymd_opt(2026, 3, day).unwrap();
/// let whole = |day| RunDone { on: on(day), level: 0, whole: true, stopped: false };
/// let rule = Progression { up_after: 2, back_after_days: 14 };
/// assert_eq!(level_now(&[whole(2)], 3, rule, on(5)).level, 0);
/// assert_eq!(level_now(&[whole(2), whole(5)], 3, rule, on(9)).level, 1);
/// ```
pub fn level_now(done: &[RunDone], levels: usize, rule: Progression, today: NaiveDate) -> LevelNow {
    let top = levels.saturating_sub(1);
    let mut level = 0;
    let (mut whole, mut stopped) = (0, 0);
    let mut said = String::from("the first session of it");
    let mut last: Option<NaiveDate> = None;
    let lay_off = |last: Option<NaiveDate>, now: NaiveDate| {
        last.map(|last| (now - last).num_days())
            .filter(|days| *days >= i64::from(rule.back_after_days))
    };
    for run in done {
        // What was held counts, also where the coach chose another level.
        if run.level != level {
            level = run.level.min(top);
            (whole, stopped) = (0, 0);
        }
        if lay_off(last, run.on).is_some() {
            (whole, stopped) = (0, 0);
        }
        last = Some(run.on);
        if run.stopped {
            whole = 0;
            stopped += 1;
        } else if run.whole {
            whole += 1;
            stopped = 0;
        }
        if stopped >= 2 && level > 0 {
            level -= 1;
            (whole, stopped) = (0, 0);
            said = "a step back: two sessions in a row were stopped".to_owned();
        } else if whole >= rule.up_after && level < top {
            said = format!(
                "a step up: {}",
                match rule.up_after {
                    1 => "the last session was whole".to_owned(),
                    n => format!("{n} sessions were whole"),
                }
            );
            level += 1;
            (whole, stopped) = (0, 0);
        } else if level == top && whole >= rule.up_after {
            said = "the last level: it stays".to_owned();
        } else if run.stopped {
            said = "it stays, for the last session was stopped".to_owned();
        } else {
            said = match whole {
                0 => "it stays: no session of it was whole yet".to_owned(),
                whole => format!(
                    "it stays: {whole} of the {} whole sessions that it takes",
                    rule.up_after
                ),
            };
        }
    }
    if let Some(days) = lay_off(last, today) {
        said = if level > 0 {
            level -= 1;
            format!("a step back: {days} days since the last one")
        } else {
            format!("the first level again: {days} days since the last one")
        };
    }
    LevelNow {
        level,
        said: Sentence::of(said),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const RULE: Progression = Progression {
        up_after: 2,
        back_after_days: 14,
    };

    fn on(day: i64) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 3, 1).unwrap() + chrono::Duration::days(day)
    }

    fn run(day: i64, level: usize, whole: bool, stopped: bool) -> RunDone {
        RunDone {
            on: on(day),
            level,
            whole,
            stopped,
        }
    }

    #[test]
    fn half_a_session_neither_lifts_nor_lowers_and_the_top_is_the_top() {
        let done = [run(0, 0, true, false), run(3, 0, false, false)];
        assert_eq!(level_now(&done, 2, RULE, on(6)).level, 0);
        let done = [0, 3, 6, 9, 12].map(|day| run(day, usize::from(day > 3), true, false));
        assert_eq!(level_now(&done, 2, RULE, on(14)).level, 1);
    }

    #[test]
    fn a_lay_off_and_two_stops_step_back_once() {
        let up = [
            run(0, 0, true, false),
            run(3, 0, true, false),
            run(6, 1, true, false),
        ];
        assert_eq!(level_now(&up, 3, RULE, on(9)).level, 1);
        let back = level_now(&up, 3, RULE, on(20));
        assert_eq!(back.level, 0);
        assert!(format!("{:?}", back.said).contains("14 days since"));
        let stopped = [
            up.to_vec(),
            vec![run(9, 1, false, true), run(12, 1, false, true)],
        ]
        .concat();
        assert_eq!(level_now(&stopped, 3, RULE, on(13)).level, 0);
        assert_eq!(level_now(&stopped[..4], 3, RULE, on(12)).level, 1);
    }

    #[test]
    fn a_level_that_the_coach_chose_is_where_it_goes_on_from() {
        let done = [run(0, 2, true, false)];
        assert_eq!(level_now(&done, 3, RULE, on(3)).level, 2);
        assert_eq!(
            level_now(&[run(0, 9, true, false)], 3, RULE, on(3)).level,
            2
        );
    }
}
