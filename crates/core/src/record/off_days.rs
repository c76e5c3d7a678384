//! Off days, each beside what the player said before hitting, what such answers cost on other
//! days, and how fast it came back.

use crate::record::progress::{DayRead, NINETY, ProgressRead};
use crate::session::warm_up::Readiness;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use chrono::NaiveDate;
use serde::Serialize;
use utoipa::ToSchema;

/// An off day, looked into.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OffDay {
    /// When.
    pub date: NaiveDate,
    /// What a coach would say.
    pub said: Sentence,
}

/// Latest off days that are told.
const MOST: usize = 3;
/// Days of each kind from which on what answers cost is told.
const DAYS: usize = 3;

/// The latest off days, the latest first; `readiness` holds what was answered in each of the
/// caller's sessions.
pub fn off_days(told: &ProgressRead, readiness: &[Option<Readiness>]) -> Vec<OffDay> {
    let days = told.days.iter().enumerate().rev();
    let off = days.filter(|(_, day)| day.off && day.level.is_some());
    off.take(MOST)
        .map(|(place, day)| OffDay {
            date: day.date,
            said: said(told, readiness, place),
        })
        .collect()
}

/// How far a day lies over its level.
fn over(day: &DayRead) -> Option<f64> {
    Some(day.mean - day.level?.value)
}

fn said(told: &ProgressRead, readiness: &[Option<Readiness>], place: usize) -> Sentence {
    let day = &told.days[place];
    let dimension = told.quantity.dimension();
    let now = told.days[told.days.len() - 1].date;
    let expected = day.expected.unwrap_or(day.mean);
    let mut said = Sentence::default()
        .day(day.date, now)
        .words(": ")
        .apart_in_full(expected, day.mean, dimension)
        .words(" under what was to be expected.");
    let answered = |day: &DayRead| {
        let mut answers = day
            .sessions
            .iter()
            .filter_map(|s| readiness.get(*s)?.as_ref());
        answers.next()
    };
    match answered(day) {
        None => said = said.words(" Nobody noted how ready they were."),
        Some(answers) => {
            let poor = poor(answers);
            if poor.is_empty() {
                said = said.words(" They felt ready: nothing said before tells why.");
            } else {
                said = said.words(format!(" Before it: {}.", poor.join(", ")));
                let alike = |other: &&DayRead| {
                    answered(other).is_some_and(|a| self::poor(a).iter().any(|p| poor.contains(p)))
                };
                let fresh =
                    |other: &&DayRead| answered(other).is_some_and(|a| self::poor(a).is_empty());
                let others = || told.days[..place].iter().filter(|other| !other.off);
                let worse: Vec<f64> = others().filter(alike).filter_map(over).collect();
                let well: Vec<f64> = others().filter(fresh).filter_map(over).collect();
                said = said.join(cost(&worse, &well, dimension));
            }
        }
    }
    said.join(way_back(told, place))
}

/// What was not as it should be, in words.
fn poor(answers: &Readiness) -> Vec<&'static str> {
    let told = [
        (answers.pain, "something hurt"),
        (answers.sleep <= 2, "a short night"),
        (answers.soreness >= 2, "sore muscles"),
        (
            answers.hard_exercise,
            "hard exercise in the two days before",
        ),
    ];
    let poor = told.into_iter().filter(|(there, _)| *there);
    poor.map(|(_, what)| what).collect()
}

/// What days with such answers cost, beside days on which all was well.
fn cost(worse: &[f64], well: &[f64], dimension: Dimension) -> Sentence {
    let earlier = match worse.len() {
        0 => return Sentence::of(" No earlier day had such answers."),
        1 => "One earlier day had such answers".to_owned(),
        n => format!("{n} earlier days had such answers"),
    };
    if worse.len() < DAYS || well.len() < DAYS {
        return Sentence::of(format!(" {earlier}: too few to say what that costs."));
    }
    let mean = |values: &[f64]| values.iter().sum::<f64>() / values.len() as f64;
    let square = |values: &[f64]| {
        let mean = mean(values);
        let squares: f64 = values.iter().map(|v| (v - mean).powi(2)).sum();
        squares / ((values.len() - 1) * values.len()) as f64
    };
    let lost = mean(well) - mean(worse);
    let unsure = NINETY * (square(worse) + square(well)).sqrt();
    if lost.abs() <= unsure {
        return Sentence::of(format!(" {earlier}, and they were as good as others."));
    }
    let than = if lost > 0.0 { "under" } else { "over" };
    Sentence::of(format!(" {earlier}, on average "))
        .figure(lost.abs(), dimension)
        .words(format!(" {than} days without."))
}

/// When it was back: the first later day that is no further under the level than days stray.
fn way_back(told: &ProgressRead, place: usize) -> Sentence {
    let error = told.typical_error.unwrap_or(0.0);
    let back = |day: &&DayRead| over(day).is_some_and(|over| over >= -error);
    let later = &told.days[place + 1..];
    let Some(first) = later.iter().find(back) else {
        return Sentence::of(if later.is_empty() {
            " The next session shows whether it is back."
        } else {
            " It is not back yet."
        });
    };
    let days = (first.date - told.days[place].date).num_days();
    Sentence::of(match days {
        0 | 1 => " Back the next day.".to_owned(),
        n => format!(" Back {n} days later."),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::record::progress::{CheckIn, ProgressQuestion, progress};
    use crate::verdicts::house_rules::HouseRules;
    use crate::vocabulary::quantity::Quantity;
    use crate::vocabulary::units::{MPH, Units};

    fn answers(sleep: u8) -> Option<Readiness> {
        Some(Readiness {
            sleep,
            soreness: 0,
            hard_exercise: false,
            pain: false,
            note: String::new(),
        })
    }

    /// Weekly means, mph, with the night before each.
    fn told(weeks: &[(f64, Option<u8>)]) -> Vec<String> {
        let start = NaiveDate::from_ymd_opt(2026, 1, 1).unwrap();
        let check_ins = weeks.iter().enumerate().map(|(session, (mph, _))| CheckIn {
            session,
            date: start + chrono::Days::new(7 * session as u64),
            values: [-1.0, 0.3, 1.0, -0.6, 0.3]
                .map(|off| (mph + off) * MPH)
                .to_vec(),
            device: 0,
            indoors: None,
            head: None,
        });
        let told = progress(&ProgressQuestion {
            quantity: Quantity::ClubSpeed,
            check_ins: check_ins.collect(),
            goal: None,
            benchmark: None,
            rules: HouseRules::default(),
        });
        let readiness: Vec<Option<Readiness>> = weeks
            .iter()
            .map(|(_, sleep)| sleep.and_then(answers))
            .collect();
        let days = off_days(&told, &readiness);
        days.iter().map(|day| day.said.show(Units::MphYd)).collect()
    }

    #[test]
    fn what_such_nights_cost_before_stands_beside_an_off_day_and_how_fast_it_came_back() {
        let said = told(&[
            (100.2, Some(4)),
            (98.9, Some(2)),
            (100.1, Some(4)),
            (98.8, Some(1)),
            (99.9, Some(5)),
            (98.9, Some(2)),
            (100.0, Some(4)),
            (93.0, Some(1)),
            (100.1, Some(4)),
        ]);
        assert_eq!(said.len(), 1, "{said:?}");
        assert!(said[0].starts_with("19 February: "), "{said:?}");
        let rest = " under what was to be expected. Before it: a short night. 3 earlier days had such answers, \
                    on average 1.2 mph under days without. Back 7 days later.";
        assert!(said[0].ends_with(rest), "{said:?}");
    }

    #[test]
    fn without_answers_nothing_is_made_up() {
        let flat: Vec<(f64, Option<u8>)> = (0..8)
            .map(|i| (100.0 + 0.2 * f64::from(i % 2), None))
            .chain([(93.0, None)])
            .collect();
        let said = told(&flat);
        let rest = " under what was to be expected. Nobody noted how ready they were. The next session shows \
                    whether it is back.";
        assert!(said[0].ends_with(rest), "{said:?}");
        let mut ready = flat.clone();
        ready[8].1 = Some(4);
        assert!(told(&ready)[0].contains("They felt ready"));
        ready[8].1 = Some(1);
        assert!(told(&ready)[0].contains("No earlier day had such answers."));
    }
}
