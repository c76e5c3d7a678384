//! After a training session: what it gave, in one sentence and a table.

use crate::shots::swung::Swung;
use crate::training::run::{Earlier, LastBest, RunOf, RunReport, RunStroke, last_best};
use crate::trials::opening::other_side_said;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use chrono::NaiveDate;
use serde::Serialize;
use utoipa::ToSchema;

/// What is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AfterQuestion<'a> {
    /// The player's name.
    pub player: &'a str,
    /// The session.
    pub run: &'a RunReport,
    /// Full-effort swings in seven days, this session's among them.
    pub week: u32,
    /// How many the house lets the player make.
    pub week_most: f64,
    /// The house's thresholds.
    pub rules: &'a HouseRules,
}

/// All sets of one implement, side and position.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AfterRow {
    /// Of what.
    pub of: RunOf,
    /// What it is called.
    pub label: String,
    /// Swings that count.
    pub n: usize,
    /// The fastest, m/s.
    pub best: f64,
    /// Their mean, m/s.
    pub mean: f64,
    /// Last time.
    pub last: Option<LastBest>,
    /// The best before this session.
    pub record: Option<f64>,
    /// Whether this session's is better than a device can mistake.
    pub new_record: bool,
}

/// What a session gave.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AfterRun {
    /// As a coach would say it: the fastest swing, and what it is no measure of.
    pub said: Sentence,
    /// Beside last time, records, and the other side.
    pub detail: Sentence,
    /// Of the week.
    pub week: Sentence,
    /// By implement, side and position, in the order they first came.
    pub rows: Vec<AfterRow>,
    /// Share of the swings asked for that were made.
    pub made: f64,
    /// Whether that makes it whole.
    pub whole: bool,
}

/// Sums a session up.
pub fn after(question: &AfterQuestion<'_>) -> AfterRun {
    let run = question.run;
    let rows = rows(run);
    let asked: u32 = run.sets.iter().map(|set| set.asked).sum();
    let done: u32 = run.sets.iter().map(|set| set.done.min(set.asked)).sum();
    let made = f64::from(done) / f64::from(asked.max(1));
    AfterRun {
        said: said(question, &rows),
        detail: detail(question, &rows),
        week: Sentence::of(format!(
            "{} full-effort {} in seven days, of {:.0} at most.",
            question.week,
            if question.week == 1 {
                "swing"
            } else {
                "swings"
            },
            question.week_most
        )),
        whole: made >= question.rules.whole_run,
        made,
        rows,
    }
}

/// What there is to beat in the next session's swings of a kind: this session's, held on `today`,
/// or those of the latest before it.
pub fn to_beat_next(
    after: &AfterRun,
    earlier: &[Earlier],
    of: &RunOf,
    today: NaiveDate,
) -> Option<LastBest> {
    let here = after.rows.iter().find(|row| row.of == *of);
    let here = here.map(|row| LastBest {
        on: today,
        best: row.best,
        mean: row.mean,
    });
    here.or_else(|| last_best(earlier, of))
}

fn rows(run: &RunReport) -> Vec<AfterRow> {
    let grain = Quantity::ClubSpeed.dimension().grain();
    let mut rows: Vec<AfterRow> = Vec::new();
    for set in &run.sets {
        if rows.iter().any(|row| row.of == set.of) {
            continue;
        }
        let same = |stroke: &&RunStroke| {
            let of = run.sets.get(stroke.set).map(|set| &set.of);
            of == Some(&set.of) && !stroke.aside && stroke.doubt.is_none()
        };
        let speeds: Vec<f64> = run
            .strokes
            .iter()
            .filter(same)
            .filter_map(|s| s.speed)
            .collect();
        let Some(best) = speeds.iter().copied().reduce(f64::max) else {
            continue;
        };
        rows.push(AfterRow {
            label: set.label.clone(),
            n: speeds.len(),
            best,
            mean: speeds.iter().sum::<f64>() / speeds.len() as f64,
            last: set.last,
            record: set.record,
            new_record: !set.of.gentle && set.record.is_some_and(|record| best > record + grain),
            of: set.of.clone(),
        });
    }
    rows
}

fn said(question: &AfterQuestion<'_>, rows: &[AfterRow]) -> Sentence {
    let all_out = || rows.iter().filter(|row| !row.of.gentle);
    let fastest = all_out().max_by(|a, b| a.best.total_cmp(&b.best));
    let Some(fastest) = fastest else {
        return Sentence::of(match rows.len() {
            0 => "No swing was read.",
            _ => "Gentle work: its speeds are no test of anything.",
        });
    };
    let what = match &fastest.of.swung {
        Some(Swung { implement, .. }) => {
            format!(", with the {implement} implement: no club speed.")
        }
        None => ", with a ball.".to_owned(),
    };
    Sentence::of(format!("{}’s fastest was ", question.player))
        .figure(fastest.best, Dimension::Speed)
        .words(what)
}

fn detail(question: &AfterQuestion<'_>, rows: &[AfterRow]) -> Sentence {
    let all_out = || rows.iter().filter(|row| !row.of.gentle);
    if all_out().count() == 0 {
        return Sentence::default();
    }
    let none = || Sentence::of("There is no session before to hold it against.");
    let told = beside_last(all_out(), question.rules).unwrap_or_else(none);
    let records = rows.iter().filter(|row| row.new_record).count();
    let told = match records {
        0 => told,
        1 => told.words(" One record fell."),
        n => told.words(format!(
            " Records fell in {n} sets; the best of more tries grows by itself."
        )),
    };
    match question.run.other_side {
        Some(slower) => told.words(format!(" {}", other_side_said(slower))),
        None => told,
    }
}

/// The average change over what last time had too, and whether it is more than days differ.
fn beside_last<'a>(
    rows: impl Iterator<Item = &'a AfterRow>,
    rules: &HouseRules,
) -> Option<Sentence> {
    let both: Vec<(f64, NaiveDate)> = rows
        .filter_map(|row| row.last.map(|last| (row.mean / last.mean - 1.0, last.on)))
        .collect();
    let latest = both.iter().map(|(_, on)| *on).max()?;
    let change = both.iter().map(|(change, _)| change).sum::<f64>() / both.len() as f64;
    // Sets may have been swung last on several days.
    let then = |said: Sentence| {
        if both.iter().all(|(_, on)| *on == latest) {
            said.words("on ").day(latest, latest)
        } else {
            said.words("last time")
        }
    };
    // An off day is twice what speed strays from day to day; two days stray by √2 of it.
    let strays = rules.off_day / 2.0 * std::f64::consts::SQRT_2;
    let over = match both.len() {
        1 => "in the one kind of set that both had".to_owned(),
        n => format!("over the {n} kinds of set that both had"),
    };
    let percent = format!("{:.1} %", change.abs() * 100.0);
    let way = if change >= 0.0 { "faster" } else { "slower" };
    Some(if change.abs() < 0.0005 {
        then(Sentence::of("On average as fast as ")).words(format!(", {over}."))
    } else {
        then(Sentence::of(format!("On average {percent} {way} than "))).words(format!(
            ", {over}: {}",
            if change.abs() <= 2.0 * strays {
                "no more than days differ."
            } else {
                "more than days differ; one day is no trend."
            }
        ))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::club::Club;
    use crate::shots::swung::SwingSide;
    use crate::training::run::tests::{swing, three};
    use crate::training::run::{RunQuestion, run};
    use crate::vocabulary::units::{MPH, Units};
    use std::collections::BTreeMap;

    fn told(before: Option<f64>, mph: [f64; 3]) -> AfterRun {
        let sets = [three("light", SwingSide::Dominant)];
        let swings: Vec<_> = mph
            .into_iter()
            .zip(1..)
            .map(|(mph, n)| swing(n, 0, mph))
            .collect();
        let earlier = before.map(|mph| {
            let of = RunOf::set(&sets[0], Club::Driver);
            Earlier {
                on: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
                speeds: BTreeMap::from([(of, vec![mph * MPH; 3])]),
            }
        });
        let earlier: Vec<Earlier> = earlier.into_iter().collect();
        let rules = HouseRules::default();
        let report = run(&RunQuestion {
            sets: &sets,
            current: 0,
            club: Club::Driver,
            skipped: &[],
            held: false,
            swings: &swings,
            earlier: &earlier,
            rules: &rules,
        });
        after(&AfterQuestion {
            player: "Bram",
            run: &report,
            week: 39,
            week_most: 120.0,
            rules: &rules,
        })
    }

    #[test]
    fn a_change_within_what_days_differ_is_called_that_and_no_more() {
        let detail = |before, mph| told(before, mph).detail.show(Units::MphYd);
        let steady = [114.0, 115.0, 116.0];
        assert_eq!(
            told(Some(114.0), steady).said.show(Units::MphYd),
            "Bram’s fastest was 116.0 mph, with the light implement: no club speed."
        );
        assert_eq!(
            detail(Some(114.0), steady),
            "On average 0.9 % faster than on 2 March, in the one kind of set that both had: no more than days \
             differ. One record fell."
        );
        let leap = detail(Some(114.0), [120.0, 121.0, 122.0]);
        assert!(
            leap.contains("more than days differ; one day is no trend."),
            "{leap}"
        );
        assert_eq!(
            detail(None, steady),
            "There is no session before to hold it against."
        );
    }

    #[test]
    fn half_of_the_swings_make_no_whole_session() {
        assert!(told(None, [114.0, 115.0, 116.0]).whole);
        let sets = [
            three("light", SwingSide::Dominant),
            three("light", SwingSide::Other),
        ];
        let rules = HouseRules::default();
        let report = run(&RunQuestion {
            sets: &sets,
            current: 0,
            club: Club::Driver,
            skipped: &[],
            held: false,
            swings: &[swing(1, 0, 114.0), swing(2, 0, 115.0), swing(3, 0, 115.0)],
            earlier: &[],
            rules: &rules,
        });
        let half = after(&AfterQuestion {
            player: "Bram",
            run: &report,
            week: 3,
            week_most: 120.0,
            rules: &rules,
        });
        assert!(!half.whole && (half.made - 0.5).abs() < 1e-9);
    }
}
