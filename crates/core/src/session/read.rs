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
use crate::reach::unclaimed::Unclaimed;
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
    pub unclaimed: Option<Unclaimed>,
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
    let shots = question.shots.iter().zip(judged);
    shots
        .map(|(shot, judged)| read_shot(shot, judged, question))
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
    claims::claim(question, &judged, &mut shots);
    let best_struck = struck::rank(question, &mut shots);
    let counts = Counts::of(&shots);
    let table = Table {
        question,
        reads: &shots,
    };
    let carry = table.carry(&[Standing::Kept]);
    let carry_with_set_aside = table.carry(&[Standing::Kept, Standing::SetAside]);
    let verdict = verdict::judge(question, counts, &carry, &carry_with_set_aside, &table);
    let claimed: Vec<Unclaimed> = table
        .standing(&[Standing::Kept])
        .filter_map(|(_, read)| read.unclaimed.clone())
        .collect();
    let unclaimed = Unclaimed::mean(&claimed);
    Report {
        interval_level: question.rules.interval_level,
        counts,
        summaries: Quantity::all().filter_map(|q| table.summary(q)).collect(),
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

fn read_shot(shot: &Shot, judged: &Judged, question: &Question<'_>) -> ShotRead {
    let (reading, told) = (&shot.reading, &judged.told);
    let Question {
        club,
        conditions,
        rules,
        ..
    } = question;
    let by_club_speed = by_club_speed(reading, *club, conditions, rules).ok();
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
mod tests {
    use super::*;
    use crate::shots::mark::Decision;
    use crate::shots::reading::Reading;
    use crate::verdicts::verdict::VerdictKind;
    use crate::vocabulary::units::{MPH, Units, YARD};

    pub(super) fn shot(club_mph: f64, carry_yd: f64) -> Shot {
        let mut reading = Reading::default();
        reading.set(Quantity::ClubSpeed, club_mph * MPH, Provenance::Measured);
        reading.set(Quantity::Carry, carry_yd * YARD, Provenance::Measured);
        Shot {
            reading,
            decision: None,
        }
    }

    /// A 6-iron at two yards a mile an hour, in reference air.
    pub(super) fn ask(shots: &[Shot]) -> Report {
        read(&Question {
            player: "Ilse",
            club: Club::Iron6,
            conditions: Conditions::REFERENCE,
            rules: HouseRules::default().with_factor(Club::Iron6, 2.0 * YARD / MPH),
            shots,
        })
    }

    fn said(report: &Report) -> (String, String) {
        (
            report.verdict.sentence.show(Units::MphYd),
            report.verdict.detail.show(Units::MphYd),
        )
    }

    #[test]
    fn a_set_aside_shot_leaves_the_mean_and_stays_in_the_record() {
        let mut shots = vec![shot(85.0, 170.0), shot(85.0, 172.0), shot(85.0, 120.0)];
        shots[2].decision = Some(Decision::SetAside);
        let report = ask(&shots);
        let carry = report
            .summaries
            .iter()
            .find(|s| s.quantity == Quantity::Carry)
            .unwrap();
        assert!((carry.kept.unwrap().mean / YARD - 171.0).abs() < 1e-9);
        assert!((carry.with_set_aside.unwrap().mean / YARD - 154.0).abs() < 1e-9);
        assert_eq!(report.shots.len(), 3);
        assert_eq!(
            report.counts,
            Counts {
                kept: 2,
                set_aside: 1,
                doubtful: 0
            }
        );
    }

    #[test]
    fn falling_short_beyond_the_margin_is_said_with_how_far() {
        let shots: Vec<_> = (0..12)
            .map(|i| shot(85.0, 154.0 + f64::from(i % 3)))
            .collect();
        let report = ask(&shots);
        assert_eq!(report.verdict.kind, VerdictKind::No);
        let (sentence, detail) = said(&report);
        assert_eq!(
            sentence,
            "Ilse carries 155 yd with the 6-iron, 15 short of what this club speed should give."
        );
        assert!(detail.starts_with("12 shots · 90 % interval"), "{detail}");
    }

    #[test]
    fn within_the_margin_is_said_as_such() {
        let shots: Vec<_> = (0..12)
            .map(|i| shot(85.0, 168.0 + f64::from(i % 3)))
            .collect();
        let report = ask(&shots);
        assert_eq!(report.verdict.kind, VerdictKind::Same);
        assert!(
            said(&report).0.contains("within your 5 yd"),
            "{}",
            said(&report).0
        );
    }

    #[test]
    fn going_beyond_the_speed_is_a_yes() {
        let shots: Vec<_> = (0..12)
            .map(|i| shot(85.0, 184.0 + f64::from(i % 3)))
            .collect();
        assert_eq!(ask(&shots).verdict.kind, VerdictKind::Yes);
    }

    #[test]
    fn a_wide_scatter_cannot_tell_and_says_how_many_more_balls_would() {
        let shots: Vec<_> = (0..6)
            .map(|i| shot(85.0, 150.0 + 8.0 * f64::from(i)))
            .collect();
        let report = ask(&shots);
        assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
        assert!(report.verdict.more_balls.is_some_and(|n| n > 0));
        assert!(
            said(&report).0.contains("more balls"),
            "{}",
            said(&report).0
        );
    }

    #[test]
    fn with_nothing_to_judge_the_sentence_says_what_is_missing() {
        assert!(said(&ask(&[])).0.contains("No shots yet"));
        assert!(said(&ask(&[shot(85.0, 170.0)])).0.contains("one more"));
        let mut blind = vec![shot(85.0, 170.0), shot(85.0, 171.0)];
        for shot in &mut blind {
            shot.reading.0.remove(&Quantity::ClubSpeed);
        }
        let report = ask(&blind);
        assert_eq!(report.verdict.kind, VerdictKind::CannotTellYet);
        assert!(
            said(&report).0.contains("club speed"),
            "{}",
            said(&report).0
        );
        for shot in &mut blind {
            shot.decision = Some(Decision::SetAside);
        }
        assert!(
            said(&ask(&blind)).0.contains("set aside"),
            "{}",
            said(&ask(&blind)).0
        );
    }

    #[test]
    fn unclaimed_carry_is_the_mean_of_the_kept_shots_and_adds_up() {
        let full = |smash: f64| {
            let mut full = shot(85.0, 150.0);
            let mut set = |q, si| full.reading.set(q, si, Provenance::Measured);
            set(Quantity::BallSpeed, smash * 85.0 * MPH);
            set(Quantity::LaunchAngle, 14.0);
            set(Quantity::SpinRate, 5600.0);
            full
        };
        let mut shots = vec![full(1.30), full(1.28), full(1.0)];
        shots[2].decision = Some(Decision::SetAside);
        let report = ask(&shots);
        let unclaimed = report.unclaimed.unwrap();
        assert_eq!(unclaimed.n, 2);
        let sum: f64 = unclaimed.shares.iter().map(|s| s.carry).sum();
        assert!((sum + unclaimed.unexplained - unclaimed.whole()).abs() < 0.1 * YARD);
        let said = report.unclaimed_said.show(Units::MphYd);
        assert!(said.contains("The most is in ball speed"), "{said}");
        assert!(ask(&[shot(85.0, 170.0)]).unclaimed.is_none());
    }

    #[test]
    fn each_shot_s_own_line_band_needs_enough_shots() {
        let some: Vec<_> = (0..12)
            .map(|i| shot(82.0 + 0.5 * f64::from(i), 165.0 + f64::from(i)))
            .collect();
        let report = ask(&some);
        let band = report.shots[5].by_own_line.unwrap();
        assert!(band.low <= band.carry && band.carry <= band.high);
        assert!((report.own_line.unwrap().slope / (YARD / MPH) - 2.0).abs() < 1e-6);
        assert!(ask(&some[..3]).no_own_line.unwrap().contains("needs 8"));
    }

    #[test]
    fn identical_shots_give_numbers_not_nan() {
        let report = ask(&vec![shot(85.0, 170.0); 5]);
        assert!(!format!("{report:?}").contains("NaN"));
        assert_eq!(report.verdict.kind, VerdictKind::Same);
    }

    #[test]
    fn the_detail_tells_the_result_with_the_shots_set_aside() {
        let mut shots: Vec<_> = (0..12)
            .map(|i| shot(85.0, 168.0 + f64::from(i % 3)))
            .collect();
        shots[0].decision = Some(Decision::SetAside);
        let report = ask(&shots);
        assert!(
            said(&report).1.contains("with the one set aside 169"),
            "{}",
            said(&report).1
        );
        assert!(
            report
                .verdict
                .working
                .results
                .iter()
                .any(|r| r.label.contains("with those set aside"))
        );
    }

    #[test]
    fn calculated_spin_stays_out_of_spin_figures_unless_the_house_allows_it() {
        let spun = |spin: f64, from| {
            let mut shot = shot(85.0, 170.0);
            shot.reading.set(Quantity::SpinRate, spin, from);
            shot
        };
        let shots = [
            spun(6000.0, Provenance::Measured),
            spun(6200.0, Provenance::Measured),
            spun(3000.0, Provenance::Calculated),
        ];
        let spin = |rules: HouseRules| {
            let report = read(&Question {
                player: "Ilse",
                club: Club::Iron6,
                conditions: Conditions::REFERENCE,
                rules,
                shots: &shots,
            });
            let found = report.summaries.into_iter();
            let mut found = found.filter(|s| s.quantity == Quantity::SpinRate);
            found.next().unwrap()
        };
        let strict = spin(HouseRules::default());
        assert_eq!(strict.kept.unwrap().mean, 6100.0);
        assert_eq!((strict.calculated, strict.calculated_left_out), (1, true));
        let mut allowed = HouseRules::default();
        allowed.set("calculated_spin", Some(1.0)).unwrap();
        assert_eq!(spin(allowed).kept.unwrap().n, 3);
    }

    #[test]
    fn a_doubtful_shot_waits_outside_the_figures_until_it_is_kept() {
        let mut wild = shot(85.0, 170.0);
        wild.reading
            .set(Quantity::BallSpeed, 150.0 * MPH, Provenance::Measured);
        let mut shots = vec![shot(85.0, 170.0), wild];
        assert_eq!(ask(&shots).counts.doubtful, 1);
        shots[1].decision = Some(Decision::Keep);
        let report = ask(&shots);
        assert_eq!((report.counts.kept, report.counts.doubtful), (2, 0));
        assert_eq!(report.shots[1].doubts.len(), 1);
    }
}
