//! What a session's shots say: the figures, carry against expectation, the verdict.
//!
//! The question of this station: *does the player carry what the club speed should
//! give?* Carry minus expectation is taken shot by shot, so that a fast swing is not
//! held against a slow one, and its mean is judged against the coach's margin.

mod claims;
mod struck;
mod verdict;

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::reach::unclaimed::{Unclaimed, UnclaimedOfShot};
use crate::shots::doubt::Doubt;
use crate::shots::expected_carry::{Expected, by_club_speed, by_flight};
use crate::shots::reading::Provenance;
use crate::shots::standing::Judged;
use crate::shots::standing::Shot;
use crate::shots::standing::Standing;
use crate::shots::useful_flight::{Failed, failed};
use crate::statistics::own_line::{Band, OwnLine};
use crate::statistics::summary::{Summary, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::verdicts::verdict::Verdict;
use crate::verdicts::working::Working;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use rayon::prelude::*;
use serde::Serialize;
use std::collections::BTreeMap;
pub use struck::{AtEqualSpeed, BestStruck, Over, at_equal_speed, count_over, distance_of};
use utoipa::ToSchema;

/// What is to be read: the shots and what they were hit with.
#[derive(Debug, Clone, PartialEq)]
pub struct Question<'a> {
    /// The player's name, for the sentence.
    pub player: &'a str,
    /// The club.
    pub club: Club,
    /// The air.
    pub conditions: Conditions,
    /// The house's thresholds.
    pub rules: HouseRules,
    /// The shots in hitting order.
    pub shots: &'a [Shot],
}

/// One shot, read.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShotRead {
    /// How it stands.
    pub standing: Standing,
    /// Why it is doubted; shown even when the coach keeps it.
    pub doubts: Vec<Doubt>,
    /// Expected carry by club speed.
    pub by_club_speed: Option<Expected>,
    /// Expected carry by launch.
    pub by_launch: Option<Expected>,
    /// Expected carry by the player's own line, with its band.
    pub by_own_line: Option<Band>,
    /// Carry minus expectation by club speed, m.
    pub gap: Option<f64>,
    /// What keeps it from being a useful flight.
    pub failed: Vec<Failed>,
    /// What its club speed could have carried beyond it.
    pub unclaimed: Option<UnclaimedOfShot>,
    /// Its carry as a share of what its club speed could have carried.
    pub share: Option<f64>,
    /// Its distance at the mean club speed, and its place by it; useful flights only.
    pub at_equal_speed: Option<AtEqualSpeed>,
}

/// How many shots stand how.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct Counts {
    /// In the figures.
    pub kept: usize,
    /// Left out by the coach.
    pub set_aside: usize,
    /// Left out until decided.
    pub doubtful: usize,
}

/// One quantity over the session, without and with the shots set aside.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct QuantitySummary {
    /// Which.
    pub quantity: Quantity,
    /// Over kept shots.
    pub kept: Option<Summary>,
    /// Over kept shots and those set aside.
    pub with_set_aside: Option<Summary>,
    /// Kept values that a device only calculated.
    pub calculated: usize,
    /// Whether those are left out of the figures.
    pub calculated_left_out: bool,
}

/// Carry against both expectations over the session.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct CarryRead {
    /// Actual carry of the shots compared, m.
    pub actual: Option<Summary>,
    /// Expected by club speed, m.
    pub by_club_speed: Option<Summary>,
    /// Expected by launch, m.
    pub by_launch: Option<Summary>,
    /// Actual minus expected by club speed, shot by shot, m.
    pub gap: Option<Summary>,
    /// Actual minus expected by launch, shot by shot, m.
    pub launch_gap: Option<Summary>,
}

/// Everything the station shows.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Report {
    /// Level of every interval and band, 0…1.
    pub interval_level: f64,
    /// The shots, in the order given.
    pub shots: Vec<ShotRead>,
    /// How many stand how.
    pub counts: Counts,
    /// Each quantity that any shot has.
    pub summaries: Vec<QuantitySummary>,
    /// Carry against expectation, kept shots.
    pub carry: CarryRead,
    /// The same with the shots set aside.
    pub carry_with_set_aside: CarryRead,
    /// The player's own line through the kept shots.
    pub own_line: Option<OwnLine>,
    /// Why there is none, when there is none.
    pub no_own_line: Option<String>,
    /// Unclaimed carry, mean over the kept shots.
    pub unclaimed: Option<Unclaimed>,
    /// The ball that made most of its speed.
    pub best_struck: Option<BestStruck>,
    /// Where most of it lies, and whether that is strike, delivery, club or ball.
    pub unclaimed_said: Sentence,
    /// How the unclaimed carry was worked out.
    pub unclaimed_working: Working,
    /// The verdict.
    pub verdict: Verdict,
}

impl Counts {
    fn of(shots: &[ShotRead]) -> Self {
        let mut counts = Counts::default();
        for shot in shots {
            match shot.standing {
                Standing::Kept => counts.kept += 1,
                Standing::SetAside => counts.set_aside += 1,
                Standing::Doubtful => counts.doubtful += 1,
            }
        }
        counts
    }
}

/// The verdict alone, for whoever shows nothing else of it.
pub fn verdict_of(question: &Question<'_>) -> Verdict {
    let shots = read_shots(question, &judge_all(question));
    let table = Table {
        question,
        reads: &shots,
    };
    let carry = table.carry(&[Standing::Kept]);
    let with = table.carry(&[Standing::Kept, Standing::SetAside]);
    verdict::judge(question, Counts::of(&shots), &carry, &with, &table)
}

/// The places of the kept shots, each with its unclaimed carry where that can be told.
pub fn claims_of_kept(question: &Question<'_>) -> Vec<(usize, Option<Unclaimed>)> {
    let judged = judge_all(question);
    let mut claims: BTreeMap<_, _> = claims::split_all(question, &judged).into_iter().collect();
    let kept = judged.iter().enumerate();
    kept.filter(|(_, judged)| judged.standing == Standing::Kept)
        .map(|(place, _)| (place, claims.remove(&place)))
        .collect()
}

/// Whether speeds were hit at several heights on purpose, so that one mean over them says
/// nothing.
pub(crate) fn at_several_speeds(speeds: &Summary) -> bool {
    let apart = |spread| spread > SPEEDS_APART * speeds.mean;
    speeds.spread.is_some_and(apart)
}

/// Share of the mean by which club speeds spread when they were hit at several on purpose
/// (our own choice: twice what players stray by).
const SPEEDS_APART: f64 = 0.04;

/// Everything that is read of shots comes from what is worked out here, once for each.
fn judge_all(question: &Question<'_>) -> Vec<Judged> {
    question
        .shots
        .par_iter()
        .map(|shot| {
            let (conditions, rules) = (&question.conditions, &question.rules);
            Judged::of(
                &shot.reading,
                shot.decision,
                question.club,
                conditions,
                rules,
            )
        })
        .collect()
}

fn read_shots(question: &Question<'_>, judged: &[Judged]) -> Vec<ShotRead> {
    let Question {
        club,
        conditions,
        rules,
        ..
    } = question;
    let readings = question.shots.iter().map(|shot| &shot.reading);
    let expected = by_club_speed(readings, *club, conditions, rules);
    let shots = question.shots.par_iter().zip(judged).zip(expected);
    shots
        .map(|((shot, judged), expected)| read_shot(shot, judged, expected.ok(), question))
        .collect()
}

/// Reads a session.
pub fn read(question: &Question<'_>) -> Report {
    let judged = judge_all(question);
    let mut shots = read_shots(question, &judged);
    let own_line = own_line(question, &shots);
    for (read, shot) in shots.iter_mut().zip(question.shots) {
        let speed = shot.reading.get(Quantity::ClubSpeed);
        let line = own_line.as_ref().ok().copied();
        read.by_own_line = line.zip(speed).and_then(|(line, speed)| line.at(speed));
    }
    let unclaimed = claims::claim(question, &judged, &mut shots);
    let best_struck = struck::rank(question, &mut shots);
    let counts = Counts::of(&shots);
    let table = Table {
        question,
        reads: &shots,
    };
    let carry = table.carry(&[Standing::Kept]);
    let carry_with_set_aside = table.carry(&[Standing::Kept, Standing::SetAside]);
    let verdict = verdict::judge(question, counts, &carry, &carry_with_set_aside, &table);
    Report {
        interval_level: question.rules.interval_level,
        counts,
        summaries: table.summaries(),
        carry,
        carry_with_set_aside,
        no_own_line: own_line.as_ref().err().map(ToString::to_string),
        own_line: own_line.ok(),
        unclaimed_said: claims::unclaimed_said(unclaimed.as_ref(), question),
        unclaimed_working: claims::working(unclaimed.as_ref(), question),
        unclaimed,
        best_struck,
        verdict,
        shots,
    }
}

/// The player's own line through the kept shots.
fn own_line(
    question: &Question<'_>,
    reads: &[ShotRead],
) -> Result<OwnLine, crate::statistics::own_line::NoLine> {
    let kept: Vec<[f64; 2]> = question
        .shots
        .iter()
        .zip(reads)
        .filter(|(_, read)| read.standing == Standing::Kept)
        .filter_map(|(shot, _)| {
            let value = |quantity| shot.reading.get(quantity);
            Some([value(Quantity::ClubSpeed)?, value(Quantity::Carry)?])
        })
        .collect();
    OwnLine::fit(&kept, question.rules.interval_level)
}

fn read_shot(
    shot: &Shot,
    judged: &Judged,
    by_club_speed: Option<Expected>,
    question: &Question<'_>,
) -> ShotRead {
    let (reading, told) = (&shot.reading, &judged.told);
    let Question { club, rules, .. } = question;
    let carry = reading.get(Quantity::Carry);
    ShotRead {
        standing: judged.standing,
        doubts: judged.doubts.clone(),
        by_club_speed,
        by_launch: by_flight(told),
        by_own_line: None,
        failed: failed(reading, told.believed_flight(rules), *club, rules),
        unclaimed: None,
        share: None,
        at_equal_speed: None,
        gap: carry.zip(by_club_speed).map(|(c, e)| c - e.carry),
    }
}

/// The shots beside what was read of them.
struct Table<'a> {
    question: &'a Question<'a>,
    reads: &'a [ShotRead],
}

impl Table<'_> {
    fn standing<'s>(
        &'s self,
        wanted: &'s [Standing],
    ) -> impl Iterator<Item = (&'s Shot, &'s ShotRead)> {
        self.question
            .shots
            .iter()
            .zip(self.reads)
            .filter(move |(_, read)| wanted.contains(&read.standing))
    }

    fn summarise(&self, values: impl Iterator<Item = f64>) -> Option<Summary> {
        summarise(
            &values.collect::<Vec<_>>(),
            self.question.rules.interval_level,
        )
    }

    fn summaries(&self) -> Vec<QuantitySummary> {
        let quantities: Vec<Quantity> = Quantity::all().collect();
        let told = quantities.into_par_iter().filter_map(|q| self.summary(q));
        told.collect()
    }

    fn summary(&self, quantity: Quantity) -> Option<QuantitySummary> {
        let left_out = matches!(quantity, Quantity::SpinRate | Quantity::SpinAxis)
            && !self.question.rules.counts_calculated_spin();
        let there = |(shot, _): (&Shot, &ShotRead)| shot.reading.value(quantity);
        let value = |row: (&Shot, &ShotRead)| {
            let value = there(row)?;
            (!left_out || value.from != Provenance::Calculated).then_some(value.si)
        };
        let kept = [Standing::Kept];
        let with = [Standing::Kept, Standing::SetAside];
        let all = [Standing::Kept, Standing::SetAside, Standing::Doubtful];
        self.standing(&all).find_map(there)?;
        Some(QuantitySummary {
            quantity,
            kept: self.summarise(self.standing(&kept).filter_map(value)),
            with_set_aside: self.summarise(self.standing(&with).filter_map(value)),
            calculated: self.calculated(quantity),
            calculated_left_out: left_out,
        })
    }

    /// Kept values of `quantity` that a device only calculated.
    fn calculated(&self, quantity: Quantity) -> usize {
        self.standing(&[Standing::Kept])
            .filter_map(|(shot, _)| shot.reading.value(quantity))
            .filter(|value| value.from == Provenance::Calculated)
            .count()
    }

    fn carry(&self, standing: &[Standing]) -> CarryRead {
        self.carry_of(standing, |_| true)
    }

    /// Club speeds of the kept shots that have a carry to expect.
    fn judged_speeds(&self, wanted: impl Fn(&ShotRead) -> bool) -> Option<Summary> {
        let shots = self.standing(&[Standing::Kept]);
        let judged = shots.filter(|(_, read)| read.gap.is_some() && wanted(read));
        self.summarise(judged.filter_map(|(shot, _)| shot.reading.get(Quantity::ClubSpeed)))
    }

    /// The same over some of the shots.
    fn carry_of(&self, standing: &[Standing], wanted: impl Fn(&ShotRead) -> bool) -> CarryRead {
        let rows: Vec<_> = self
            .standing(standing)
            .filter(|(_, read)| wanted(read))
            .filter_map(|(shot, read)| Some((shot.reading.get(Quantity::Carry)?, read)))
            .collect();
        // What rests on a calculated value is shown with its shot, and enters no mean.
        let counts = self.question.rules.counts_calculated_spin();
        let launch = |read: &ShotRead| {
            let expected = read.by_launch?;
            (counts || !expected.rests_on_calculated).then_some(expected.carry)
        };
        CarryRead {
            actual: self.summarise(rows.iter().map(|(carry, _)| *carry)),
            by_club_speed: self.summarise(
                rows.iter()
                    .filter_map(|(_, r)| r.by_club_speed.map(|e| e.carry)),
            ),
            by_launch: self.summarise(rows.iter().filter_map(|(_, r)| launch(r))),
            gap: self.summarise(rows.iter().filter_map(|(_, r)| r.gap)),
            launch_gap: self.summarise(
                rows.iter()
                    .filter_map(|(carry, r)| Some(carry - launch(r)?)),
            ),
        }
    }
}

#[cfg(test)]
mod tests;
