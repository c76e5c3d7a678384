//! A programme on real dates: what each day holds, and what moves when one is moved.
//!
//! Every session keeps its place in the order. One that is moved pushes those after it only as
//! far as rest days and the sessions of a week ask; what is pushed beyond the end falls away.

use crate::training::programme::{Away, Programme, ProgrammeAct, TrainingDay};
use crate::vocabulary::invalid::Invalid;
use chrono::{Datelike, Duration, NaiveDate};
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;
use uuid::Uuid;

/// What a day is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum DayFor {
    /// A session of a protocol.
    Protocol {
        /// Which.
        protocol: Uuid,
    },
    /// A check-in.
    CheckIn,
}

/// A day of a programme.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct PlannedDay {
    /// Its place among all sessions of the programme, which stays when it is moved.
    pub place: usize,
    /// When it is.
    pub date: NaiveDate,
    /// When it was first laid.
    pub laid: NaiveDate,
    /// Week of the programme in which it was laid, from 0.
    pub week: u32,
    /// What for.
    pub day_for: DayFor,
    /// Whether it is one of a lighter week.
    pub lighter: bool,
    /// Why the player does not train then, where it falls into an absence.
    pub away: Option<Away>,
}

/// What became of a day of a programme.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DayState {
    /// Its session was held.
    Done,
    /// It goes on.
    UnderWay,
    /// It went by.
    Missed,
    /// It is today.
    Today,
    /// It is to come.
    ToCome,
    /// The player does not train then.
    Away,
}

impl PlannedDay {
    /// What became of it by `today`; `held` says of its session, where there is one, whether it
    /// goes on. What was held counts also where the player was meant to be away.
    pub fn state(&self, held: Option<bool>, today: NaiveDate) -> DayState {
        match (held, self.away) {
            (Some(true), _) => DayState::UnderWay,
            (Some(false), _) => DayState::Done,
            (None, Some(_)) => DayState::Away,
            (None, None) if self.date < today => DayState::Missed,
            (None, None) if self.date == today => DayState::Today,
            (None, None) => DayState::ToCome,
        }
    }
}

/// Why the player does not train on a day, whatever is planned for it.
pub fn away_on(acts: &[ProgrammeAct], date: NaiveDate) -> Option<Away> {
    let (absences, _) = absences(acts);
    absent(&absences, date)
}

/// The days of a programme after these acts, in order.
///
/// A programme that does not fit its days has none; [`Programme::check`] says why.
pub fn lay_out(programme: &Programme, acts: &[ProgrammeAct]) -> Vec<PlannedDay> {
    let Ok(pattern) = programme.pattern() else {
        return vec![];
    };
    let mut days = laid(programme, &pattern);
    for act in acts {
        if let ProgrammeAct::Move { from, to } = act
            && let Some(at) = days.iter().position(|day| day.date == *from)
        {
            moved(programme, &mut days, at, *to);
        }
    }
    let (absences, end) = absences(acts);
    days.retain(|day| end.is_none_or(|end| day.date < end));
    for day in &mut days {
        day.away = absent(&absences, day.date);
    }
    come_back_easy(&mut days);
    days
}

/// The first session after an illness or pain is a lighter one.
fn come_back_easy(days: &mut [PlannedDay]) {
    let mut unwell = false;
    for day in days {
        match day.away {
            Some(Away::Ill | Away::Pain) => unwell = true,
            Some(Away::Other) => {}
            None => {
                day.lighter |= unwell;
                unwell = false;
            }
        }
    }
}

/// Refuses to move a session to a day that stands too near to the one before, or to one with
/// which its week would hold more than it should.
///
/// # Errors
/// [`Invalid`], with the days that would do.
pub fn may_move(
    programme: &Programme,
    acts: &[ProgrammeAct],
    from: NaiveDate,
    to: NaiveDate,
) -> Result<(), Invalid> {
    let days = lay_out(programme, acts);
    let Some(at) = days.iter().position(|day| day.date == from) else {
        let remedy = "choose a day that has one";
        return Err(Invalid::new("from", from, "has no session", remedy));
    };
    let [begins, ends] = [programme.begins, programme.ends()];
    if !(begins..=ends).contains(&to) {
        let remedy = format!("choose a day from {begins} to {ends}");
        return Err(Invalid::new("to", to, "is outside the programme", remedy));
    }
    let before = at.checked_sub(1).map(|before| days[before].date);
    let first = before.map_or(begins, |before| before + gap(programme));
    if to < first {
        let problem = format!(
            "is too near to the session of {}: {} rest days are asked",
            before.unwrap_or(begins),
            programme.rest_days
        );
        return Err(Invalid::new(
            "to",
            to,
            problem,
            format!("choose {first} or later"),
        ));
    }
    let mut week = Weeks::new(programme);
    days[..at].iter().for_each(|day| week.take(day.date));
    if week.full(to) {
        let problem = format!(
            "would make more than {} sessions in its week",
            programme.a_week()
        );
        let next = (1..8)
            .map(|n| to + Duration::days(n))
            .find(|day| !week.full(*day));
        let remedy = match next {
            Some(next) => format!("choose {next} or later"),
            None => "choose a later week".to_owned(),
        };
        return Err(Invalid::new("to", to, problem, remedy));
    }
    Ok(())
}

fn gap(programme: &Programme) -> Duration {
    Duration::days(i64::from(programme.rest_days) + 1)
}

/// The days as they first stand.
fn laid(programme: &Programme, pattern: &[TrainingDay]) -> Vec<PlannedDay> {
    let mut days = Vec::new();
    for week in 0..programme.weeks {
        let first = programme.begins + Duration::days(i64::from(week) * 7);
        let every = |weeks: u32| weeks > 0 && (week + 1).is_multiple_of(weeks);
        let last = programme.check_in_weeks > 0 && week + 1 == programme.weeks;
        let mut order = week_of(programme, every(programme.check_in_weeks) || last);
        order.reverse();
        let dates = (0..7).map(|n| first + Duration::days(n));
        for date in dates.filter(|date| pattern.contains(&TrainingDay::of(date.weekday()))) {
            let Some(day_for) = order.pop() else {
                break;
            };
            days.push(PlannedDay {
                place: days.len(),
                date,
                laid: date,
                week,
                day_for,
                lighter: every(programme.lighter_weeks),
                away: None,
            });
        }
    }
    days
}

/// What the sessions of a week are for, in order: kinds spread as evenly as they can be, and a
/// check-in first, in place of a session of the kind there are most of.
fn week_of(programme: &Programme, check_in: bool) -> Vec<DayFor> {
    let mut wanted: Vec<u32> = programme.mix.iter().map(|part| part.a_week).collect();
    let mut order = Vec::new();
    if check_in {
        let most = wanted.iter().copied().max().unwrap_or(0);
        if let Some(of) = wanted.iter_mut().find(|n| **n == most && most > 0) {
            *of -= 1;
        }
        order.push(DayFor::CheckIn);
    }
    let all: u32 = wanted.iter().sum();
    let mut given = vec![0_u32; wanted.len()];
    for slot in 1..=all {
        // The kind that is furthest behind its share.
        let behind = |at: usize| {
            let due = f64::from(wanted[at] * slot) / f64::from(all);
            if given[at] < wanted[at] {
                due - f64::from(given[at])
            } else {
                f64::MIN
            }
        };
        let next =
            (0..wanted.len()).reduce(|best, at| if behind(at) > behind(best) { at } else { best });
        if let Some(at) = next {
            given[at] += 1;
            order.push(DayFor::Protocol {
                protocol: programme.mix[at].protocol,
            });
        }
    }
    order
}

/// Sessions of each week of a programme, by the dates they stand on.
struct Weeks<'a> {
    programme: &'a Programme,
    held: BTreeMap<i64, u32>,
}

impl<'a> Weeks<'a> {
    fn new(programme: &'a Programme) -> Self {
        Self {
            programme,
            held: BTreeMap::new(),
        }
    }

    fn of(&self, date: NaiveDate) -> i64 {
        (date - self.programme.begins).num_days().div_euclid(7)
    }

    fn take(&mut self, date: NaiveDate) {
        *self.held.entry(self.of(date)).or_default() += 1;
    }

    fn full(&self, date: NaiveDate) -> bool {
        let held = self.held.get(&self.of(date)).copied().unwrap_or(0);
        held >= self.programme.a_week()
    }
}

/// Moves the session at a place, and those after it as far as they must.
fn moved(programme: &Programme, days: &mut Vec<PlannedDay>, at: usize, to: NaiveDate) {
    let mut weeks = Weeks::new(programme);
    days[..at].iter().for_each(|day| weeks.take(day.date));
    days[at].date = to;
    weeks.take(to);
    let ends = programme.ends();
    let mut end = days.len();
    for next in at + 1..days.len() {
        let earliest = days[next - 1].date + gap(programme);
        let stands = days[next].date;
        let free = |date: NaiveDate| {
            let own = date == stands || programme.days.contains(&TrainingDay::of(date.weekday()));
            own && !weeks.full(date)
        };
        let mut date = stands.max(earliest);
        while date <= ends && !free(date) {
            date += Duration::days(1);
        }
        if date > ends {
            end = next;
            break;
        }
        days[next].date = date;
        weeks.take(date);
    }
    days.truncate(end);
}

/// Why there is no training on a date: pain before all else.
fn absent(absences: &[Absence], date: NaiveDate) -> Option<Away> {
    let covers = |(from, to, _): &&Absence| *from <= date && to.is_none_or(|to| date <= to);
    let why: Vec<Away> = absences
        .iter()
        .filter(covers)
        .map(|(.., why)| *why)
        .collect();
    let pain = why.contains(&Away::Pain).then_some(Away::Pain);
    pain.or(why.first().copied())
}

/// From when, until when, and why.
type Absence = (NaiveDate, Option<NaiveDate>, Away);

/// The absences, the open ones ended by the day the player is back; and the day from which the
/// programme is no more.
fn absences(acts: &[ProgrammeAct]) -> (Vec<Absence>, Option<NaiveDate>) {
    let mut absences: Vec<Absence> = Vec::new();
    let mut end = None;
    for act in acts {
        match act {
            ProgrammeAct::Away { from, to, why, .. } => absences.push((*from, *to, *why)),
            ProgrammeAct::Back { on } => {
                for (_, to, _) in &mut absences {
                    if to.is_none_or(|to| to >= *on) {
                        *to = Some(*on - Duration::days(1));
                    }
                }
            }
            ProgrammeAct::End { on } => end = Some(*on),
            ProgrammeAct::Move { .. } => {}
        }
    }
    (absences, end)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::training::programme::tests::usual;
    use crate::training::programme::{MixPart, Progression};
    use proptest::prelude::*;

    fn on(month: u32, day: u32) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, month, day).unwrap()
    }

    #[test]
    fn a_missed_monday_moves_the_week_and_nothing_of_the_next() {
        let programme = usual();
        let moved = [ProgrammeAct::Move {
            from: on(3, 2),
            to: on(3, 3),
        }];
        let dates = |acts| -> Vec<NaiveDate> {
            lay_out(&programme, acts)
                .iter()
                .map(|d| d.date)
                .take(4)
                .collect()
        };
        assert_eq!(dates(&[]), [on(3, 2), on(3, 4), on(3, 6), on(3, 9)]);
        // Tuesday leaves Wednesday no rest: it goes to Friday, and Friday's would have none
        // on Saturday, nor room in the next week beside three.
        assert_eq!(dates(&moved)[..2], [on(3, 3), on(3, 6)]);
        assert!(may_move(&programme, &[], on(3, 4), on(3, 3)).is_err());
        let refused = may_move(&programme, &[], on(3, 5), on(3, 7)).unwrap_err();
        assert_eq!(
            (refused.field.as_str(), refused.problem.as_str()),
            ("from", "has no session")
        );
    }

    #[test]
    fn every_fourth_week_is_lighter_and_begins_with_a_check_in() {
        let days = lay_out(&usual(), &[]);
        assert_eq!(days.len(), 24);
        let fourth: Vec<&PlannedDay> = days.iter().filter(|d| d.week == 3).collect();
        assert_eq!(fourth[0].day_for, DayFor::CheckIn);
        assert!(fourth.iter().all(|day| day.lighter));
        let kinds: Vec<DayFor> = days[..3].iter().map(|d| d.day_for).collect();
        let of = |n| DayFor::Protocol {
            protocol: Uuid::from_u128(n),
        };
        assert_eq!(kinds, [of(1), of(2), of(1)]);
    }

    #[test]
    fn an_open_absence_ends_when_the_player_is_back() {
        let away_from = |day, why| ProgrammeAct::Away {
            from: on(3, day),
            to: None,
            why,
            note: String::new(),
        };
        let away = away_from(5, Away::Pain);
        let absent = |acts: &[ProgrammeAct]| {
            let days = lay_out(&usual(), acts);
            days.iter().filter(|day| day.away.is_some()).count()
        };
        assert_eq!(absent(std::slice::from_ref(&away)), 22);
        assert_eq!(absent(&[away, ProgrammeAct::Back { on: on(3, 11) }]), 2);
        let back = lay_out(
            &usual(),
            &[
                away_from(5, Away::Pain),
                ProgrammeAct::Back { on: on(3, 11) },
            ],
        );
        let lighter: Vec<bool> = back[2..6].iter().map(|day| day.lighter).collect();
        assert_eq!(
            lighter,
            [false, false, true, false],
            "back with half of each set"
        );
        let holiday = lay_out(
            &usual(),
            &[
                away_from(5, Away::Other),
                ProgrammeAct::Back { on: on(3, 11) },
            ],
        );
        assert!(holiday[2..6].iter().all(|day| !day.lighter));
        let ended = lay_out(&usual(), &[ProgrammeAct::End { on: on(3, 5) }]);
        assert_eq!(ended.len(), 2);
    }

    #[test]
    fn pain_holds_every_day_of_its_absence_also_those_with_no_session() {
        let away = |why| ProgrammeAct::Away {
            from: on(3, 5),
            to: None,
            why,
            note: String::new(),
        };
        let acts = [away(Away::Other), away(Away::Pain)];
        assert_eq!(away_on(&acts, on(3, 4)), None);
        assert_eq!(away_on(&acts, on(3, 8)), Some(Away::Pain));
        let back = [&acts[..], &[ProgrammeAct::Back { on: on(3, 8) }]].concat();
        assert_eq!(away_on(&back, on(3, 8)), None);
    }

    #[test]
    fn a_day_goes_by_is_held_or_comes() {
        let day = lay_out(&usual(), &[])[1];
        let state = |held, today| day.state(held, on(3, today));
        assert_eq!(state(None, 3), DayState::ToCome);
        assert_eq!(state(None, 4), DayState::Today);
        assert_eq!(state(None, 5), DayState::Missed);
        assert_eq!(state(Some(true), 5), DayState::UnderWay);
        assert_eq!(state(Some(false), 5), DayState::Done);
    }

    prop_compose! {
        fn programmes()(
            begins in 0..400_i64,
            weeks in 1..54_u32,
            days in 1..128_u32,
            rest_days in 0..4_u32,
            mix in prop::collection::vec(1..4_u32, 1..4),
            check_in_weeks in 0..7_u32,
            lighter_weeks in 0..7_u32,
        ) -> Programme {
            Programme {
                begins: on(1, 1) + Duration::days(begins),
                weeks,
                days: <TrainingDay as strum::VariantArray>::VARIANTS
                    .iter()
                    .enumerate()
                    .filter(|(bit, _)| days & (1 << bit) != 0)
                    .map(|(_, day)| *day)
                    .collect(),
                rest_days,
                mix: mix.into_iter().zip(1..).map(|(a_week, n)| MixPart {
                    protocol: Uuid::from_u128(n),
                    a_week,
                }).collect(),
                check_in_weeks,
                lighter_weeks,
                progression: Progression { up_after: 3, back_after_days: 14 },
                ..usual()
            }
        }
    }

    /// Whether rest days and the sessions of a week are kept.
    fn kept(programme: &Programme, days: &[PlannedDay]) -> Result<(), TestCaseError> {
        for pair in days.windows(2) {
            prop_assert!(pair[1].date - pair[0].date >= gap(programme), "{pair:?}");
            prop_assert!(pair[0].place < pair[1].place);
        }
        let mut weeks = Weeks::new(programme);
        for day in days {
            prop_assert!(!weeks.full(day.date), "{day:?}");
            weeks.take(day.date);
            prop_assert!(day.date >= programme.begins && day.date <= programme.ends());
        }
        Ok(())
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(2000))]

        #[test]
        fn rest_weeks_and_mixes_are_kept_also_when_sessions_are_moved(
            programme in programmes(),
            moves in prop::collection::vec((0..200_usize, -9..20_i64), 0..6),
        ) {
            let days = lay_out(&programme, &[]);
            prop_assert_eq!(days.is_empty(), programme.check().is_err());
            kept(&programme, &days)?;
            for week in 0..programme.weeks {
                let held: Vec<DayFor> = days.iter().filter(|d| d.week == week).map(|d| d.day_for).collect();
                if held.is_empty() || held.contains(&DayFor::CheckIn) {
                    continue;
                }
                for part in &programme.mix {
                    let of = DayFor::Protocol { protocol: part.protocol };
                    let n = held.iter().filter(|day| **day == of).count();
                    prop_assert_eq!(n, part.a_week as usize);
                }
            }
            let mut acts = Vec::new();
            for (which, by) in moves {
                let days = lay_out(&programme, &acts);
                if days.is_empty() {
                    break;
                }
                let from = days[which % days.len()].date;
                let to = from + Duration::days(by);
                if may_move(&programme, &acts, from, to).is_ok() {
                    acts.push(ProgrammeAct::Move { from, to });
                    let after = lay_out(&programme, &acts);
                    prop_assert!(after.iter().any(|day| day.date == to));
                    kept(&programme, &after)?;
                }
            }
        }
    }
}
