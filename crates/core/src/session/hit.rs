//! The Hit station: the newest shot against its aim, and what comes next.

use crate::physics::club::Club;
use crate::physics::conditions::Conditions;
use crate::session::last_time::LastTime;
use crate::session::plan::{Met, PlannedBlock, Target};
use crate::shots::doubt::Doubt;
use crate::shots::mark::Decision;
use crate::shots::reading::Reading;
use crate::shots::standing::{Judged, Standing};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use serde::Serialize;
use utoipa::ToSchema;

/// A shot of the session.
#[derive(Debug, Clone, Copy)]
pub struct HitShot<'a> {
    /// Place of its block in the plan.
    pub block: usize,
    /// Its values.
    pub reading: &'a Reading,
    /// The coach's latest decision.
    pub decision: Option<Decision>,
}

/// A session under way.
#[derive(Debug, Clone, Copy)]
pub struct Question<'a> {
    /// The numbers shown, the greatest first.
    pub shown: &'a [Quantity],
    /// Its club, where a block names none.
    pub club: Club,
    /// The air.
    pub conditions: Conditions,
    /// The house's thresholds.
    pub rules: &'a HouseRules,
    /// The blocks, in order.
    pub blocks: &'a [PlannedBlock],
    /// Place of the block that shots go to now.
    pub current: usize,
    /// The shots, in hitting order.
    pub shots: &'a [HitShot<'a>],
    /// Values that are not shown.
    pub hidden: &'a [Quantity],
    /// What there is to beat.
    pub last: Option<&'a LastTime>,
}

/// One shot, judged.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct JudgedShot {
    /// How it stands.
    pub standing: Standing,
    /// Why it is doubted.
    pub doubts: Vec<Doubt>,
    /// How it stands to its block's target, when there is one and it has the value.
    pub met: Option<Met>,
    /// How the greatest number stands to what its block gave last time, when it aims
    /// for nothing.
    pub beside_last: Option<Met>,
}

/// Where the session is.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanPlace {
    /// Place of the block that shots go to.
    pub block: usize,
    /// Balls of it that count so far: those set aside are hit again.
    pub hit: usize,
    /// Balls that it asks for; 0 when it was not planned.
    pub balls: u32,
    /// Balls to go in the whole plan.
    pub to_go: usize,
    /// Place of the next block, when there is one.
    pub next: Option<usize>,
    /// Rest asked before the next ball, s.
    pub rest_s: u32,
}

/// The range that a block aims for or gave last time, in the greatest number.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct AimBand {
    /// Place of the block.
    pub block: usize,
    /// Lower end; open when absent.
    pub low: Option<f64>,
    /// Upper end; open when absent.
    pub high: Option<f64>,
    /// Whether it is last time's range rather than a target.
    pub from_last_time: bool,
}

/// What the station shows.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct HitReport {
    /// The numbers to show, the greatest first.
    pub shown: Vec<Quantity>,
    /// The shots, in the order given.
    pub shots: Vec<JudgedShot>,
    /// Where the session is.
    pub place: PlanPlace,
    /// The current block's target, unless its value is hidden.
    pub target: Option<Target>,
    /// Shots of the current block that met it, of those that can be judged.
    pub met: [usize; 2],
    /// Index of the best kept shot in the greatest number.
    pub best: Option<usize>,
    /// Index of the first kept shot that beat last time's best, when one did.
    pub beaten: Option<usize>,
    /// What the blocks aim for.
    pub bands: Vec<AimBand>,
}

/// The numbers to show, with what the device tells whole in place of what it was asked for by
/// the body's mass or weight: torque in N·m for N·m/kg.
pub fn as_told<'a>(
    shown: &[Quantity],
    readings: impl Iterator<Item = &'a Reading> + Clone,
) -> Vec<Quantity> {
    let told = |of: Quantity| readings.clone().any(|reading| reading.get(of).is_some());
    let whole = |of: Quantity| of.whole().filter(|whole| !told(of) && told(*whole));
    shown.iter().map(|of| whole(*of).unwrap_or(*of)).collect()
}

impl HitReport {
    /// The answer to a question for a screen that anybody near it reads: what rests on values
    /// that are not shown is left out, why a shot is doubted among it.
    pub fn for_board(mut self, question: &Question<'_>) -> HitReport {
        let is_shown = |target: &Target| self.shown.contains(&target.quantity);
        let judged = |block: usize| {
            let block = question.blocks.get(block);
            block
                .and_then(|block| block.target)
                .is_some_and(|target| is_shown(&target))
        };
        for (shot, asked) in self.shots.iter_mut().zip(question.shots) {
            shot.doubts.clear();
            shot.met = shot.met.filter(|_| judged(asked.block));
        }
        if !judged(self.place.block) {
            self.met = [0, 0];
        }
        self.target = self.target.filter(is_shown);
        self
    }
}

/// Reports a session under way.
pub fn hit(question: &Question<'_>) -> HitReport {
    let shown = question.shown.to_vec();
    let mut shots: Vec<JudgedShot> = question.shots.iter().map(|s| judge(s, question)).collect();
    let greatest = shown.first().copied();
    let bands = greatest.map_or_else(Vec::new, |q| bands(question, q));
    if let Some(greatest) = greatest {
        beside_last(question, &mut shots, greatest, &bands);
    }
    let (best, beaten) = greatest.map_or((None, None), |q| bests(question, &shots, q));
    let place = place(question, &shots);
    let met = met_in_block(question, &shots);
    let block = question.blocks.get(question.current);
    let target = block.and_then(|block| block.target);
    HitReport {
        bands,
        target: target.filter(|target| !question.hidden.contains(&target.quantity)),
        shown,
        shots,
        place,
        met,
        best,
        beaten,
    }
}

fn judge(shot: &HitShot<'_>, question: &Question<'_>) -> JudgedShot {
    let block = question.blocks.get(shot.block);
    let club = block.and_then(|b| b.club).unwrap_or(question.club);
    let Judged {
        doubts, standing, ..
    } = Judged::of(
        shot.reading,
        shot.decision,
        club,
        &question.conditions,
        question.rules,
    );
    let met = block.and_then(|b| b.target).and_then(|target| {
        let value = shot.reading.get(target.quantity)?;
        Some(target.judge(value))
    });
    JudgedShot {
        standing,
        doubts,
        met,
        beside_last: None,
    }
}

/// Says how each shot stands to the range that its block gave last time.
fn beside_last(
    question: &Question<'_>,
    judged: &mut [JudgedShot],
    greatest: Quantity,
    bands: &[AimBand],
) {
    for (shot, judged) in question.shots.iter().zip(judged) {
        let band = bands
            .iter()
            .find(|b| b.block == shot.block && b.from_last_time);
        judged.beside_last = band.and_then(|band| {
            let range = Target {
                quantity: greatest,
                low: band.low,
                high: band.high,
            };
            Some(range.judge(shot.reading.get(greatest)?))
        });
    }
}

fn counts(judged: &JudgedShot) -> bool {
    judged.standing != Standing::SetAside
}

fn place(question: &Question<'_>, judged: &[JudgedShot]) -> PlanPlace {
    let hit_in = |block: usize| {
        let here = question.shots.iter().zip(judged);
        here.filter(|(shot, judged)| shot.block == block && counts(judged))
            .count()
    };
    let current = question.current;
    let planned = |block: usize| question.blocks.get(block).map_or(0, |b| b.balls);
    let left = |block: usize| (planned(block) as usize).saturating_sub(hit_in(block));
    let next = (current + 1 < question.blocks.len()).then_some(current + 1);
    let (hit, balls) = (hit_in(current), planned(current));
    PlanPlace {
        block: current,
        hit,
        balls,
        to_go: (current..question.blocks.len()).map(left).sum(),
        next,
        rest_s: question.blocks.get(current).map_or(0, |b| b.rest_s),
    }
}

fn met_in_block(question: &Question<'_>, judged: &[JudgedShot]) -> [usize; 2] {
    let here = question.shots.iter().zip(judged);
    let judged: Vec<Met> = here
        .filter(|(shot, judged)| shot.block == question.current && counts(judged))
        .filter_map(|(_, judged)| judged.met)
        .collect();
    [
        judged.iter().filter(|met| **met == Met::Met).count(),
        judged.len(),
    ]
}

/// The best kept shot, and the first one beyond last time's best.
fn bests(
    question: &Question<'_>,
    judged: &[JudgedShot],
    quantity: Quantity,
) -> (Option<usize>, Option<usize>) {
    if !quantity.has_best() {
        return (None, None);
    }
    let kept: Vec<(usize, f64)> = question
        .shots
        .iter()
        .zip(judged)
        .enumerate()
        .filter(|(_, (_, judged))| judged.standing == Standing::Kept)
        .filter_map(|(i, (shot, _))| Some((i, shot.reading.get(quantity)?)))
        .collect();
    let best = kept
        .iter()
        .copied()
        .reduce(|best, shot| if shot.1 > best.1 { shot } else { best });
    let to_beat = question
        .last
        .and_then(|last| last.to_beat.iter().find(|beat| beat.quantity == quantity));
    let beaten = to_beat.and_then(|beat| kept.iter().find(|(_, value)| *value > beat.best));
    (best.map(|(i, _)| i), beaten.map(|(i, _)| *i))
}

fn bands(question: &Question<'_>, greatest: Quantity) -> Vec<AimBand> {
    let from_last = |label: &str| {
        let last = question
            .last
            .filter(|last| last.greatest == Some(greatest))?;
        last.bands.iter().find(|band| band.label == label)
    };
    question
        .blocks
        .iter()
        .enumerate()
        .filter_map(|(i, block)| match block.target {
            Some(target) if target.quantity == greatest => Some(AimBand {
                block: i,
                low: target.low,
                high: target.high,
                from_last_time: false,
            }),
            _ => from_last(&block.label).map(|band| AimBand {
                block: i,
                low: Some(band.low),
                high: Some(band.high),
                from_last_time: true,
            }),
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::session::acts::Progress;
    use crate::session::last_time::{PastShot, last_time};
    use crate::session::purpose::Purpose;
    use crate::shots::reading::Provenance;

    fn reading(speed: f64) -> Reading {
        let mut reading = Reading::default();
        reading.set(Quantity::ClubSpeed, speed, Provenance::Measured);
        reading
    }

    fn ladder() -> Vec<PlannedBlock> {
        let mut first = PlannedBlock::new("Stock", 2);
        first.target = Some(Target {
            quantity: Quantity::ClubSpeed,
            low: Some(44.0),
            high: Some(46.0),
        });
        vec![first, PlannedBlock::new("Full", 3)]
    }

    fn ask(speeds: &[(usize, f64, Option<Decision>)], hidden: &[Quantity]) -> HitReport {
        let past = [reading(46.0), reading(44.0)];
        let past: Vec<_> = past
            .iter()
            .map(|reading| PastShot {
                block: "Full",
                reading,
                standing: Standing::Kept,
            })
            .collect();
        let readings: Vec<_> = speeds.iter().map(|(_, speed, _)| reading(*speed)).collect();
        let shots: Vec<_> = speeds
            .iter()
            .zip(&readings)
            .map(|((block, _, decision), reading)| HitShot {
                block: *block,
                reading,
                decision: *decision,
            })
            .collect();
        let shown = Progress {
            hidden: hidden.to_vec(),
            ..Progress::default()
        }
        .shown(Purpose::SpeedDay);
        hit(&Question {
            shown: &shown,
            club: Club::Driver,
            conditions: Conditions::REFERENCE,
            rules: &HouseRules::default(),
            blocks: &ladder(),
            current: speeds.last().map_or(0, |s| s.0),
            shots: &shots,
            hidden,
            last: Some(&last_time(Purpose::SpeedDay.shown(), &past, 0.9)),
        })
    }

    #[test]
    fn a_plate_that_tells_newton_metres_is_shown_in_them() {
        let shown = Purpose::Force.shown();
        assert!(shown.contains(&Quantity::Torque));
        let mut whole = reading(40.0);
        whole.set(Quantity::WholeTorque, 110.0, Provenance::Measured);
        let told = as_told(shown, [&whole].into_iter());
        assert_eq!(told.last(), Some(&Quantity::WholeTorque));
        let mut both = whole.clone();
        both.set(Quantity::Torque, 1.4, Provenance::Measured);
        assert_eq!(as_told(shown, [&both].into_iter()), shown);
        assert_eq!(as_told(shown, [&reading(40.0)].into_iter()), shown);
    }

    #[test]
    fn the_count_says_how_many_balls_are_hit_and_to_go() {
        let told = ask(&[(0, 45.0, None)], &[]);
        assert_eq!(
            (told.place.hit, told.place.balls, told.place.to_go),
            (1, 2, 4)
        );
        assert_eq!(told.place.next, Some(1));
        let last = ask(&[(0, 45.0, None), (0, 45.0, None), (1, 45.0, None)], &[]);
        assert_eq!(
            (last.place.block, last.place.to_go, last.place.next),
            (1, 2, None)
        );
    }

    #[test]
    fn a_shot_set_aside_is_hit_again() {
        let told = ask(&[(0, 45.0, Some(Decision::SetAside))], &[]);
        assert_eq!((told.place.hit, told.place.to_go), (0, 5));
        assert_eq!(told.met, [0, 0]);
    }

    #[test]
    fn each_shot_is_judged_by_its_own_block_s_target() {
        let told = ask(&[(0, 43.0, None), (0, 45.0, None), (1, 50.0, None)], &[]);
        let met: Vec<_> = told.shots.iter().map(|s| s.met).collect();
        assert_eq!(met, [Some(Met::Under), Some(Met::Met), None]);
    }

    #[test]
    fn beating_last_time_s_best_is_told() {
        assert_eq!(ask(&[(1, 45.9, None)], &[]).beaten, None);
        let told = ask(&[(1, 45.9, None), (1, 46.3, None), (1, 46.1, None)], &[]);
        assert_eq!((told.beaten, told.best), (Some(1), Some(1)));
    }

    #[test]
    fn a_hidden_value_is_neither_shown_nor_aimed_at() {
        let told = ask(&[(0, 45.0, None)], &[Quantity::ClubSpeed]);
        assert_eq!(told.shown, [Quantity::BallSpeed]);
        assert_eq!((told.target, told.bands.len()), (None, 0));
    }

    #[test]
    fn a_board_tells_nothing_that_rests_on_what_is_not_shown() {
        let mut odd = reading(45.0);
        odd.set(Quantity::BallSpeed, 90.0, Provenance::Measured);
        let readings = [odd];
        let shots = [HitShot {
            block: 0,
            reading: &readings[0],
            decision: None,
        }];
        let blocks = ladder();
        let told = |shown: &[Quantity]| {
            let question = Question {
                shown,
                club: Club::Driver,
                conditions: Conditions::REFERENCE,
                rules: &HouseRules::default(),
                blocks: &blocks,
                current: 0,
                shots: &shots,
                hidden: &[],
                last: None,
            };
            let report = hit(&question);
            // Twice the club speed: it is doubted.
            assert!(!report.shots[0].doubts.is_empty());
            report.for_board(&question)
        };
        let with = told(&[Quantity::ClubSpeed]);
        assert_eq!((with.shots[0].met, with.met), (Some(Met::Met), [1, 1]));
        assert!(with.target.is_some() && with.shots[0].doubts.is_empty());
        let without = told(&[Quantity::BallSpeed]);
        assert_eq!((without.shots[0].met, without.met), (None, [0, 0]));
        assert_eq!(without.target, None);
    }

    #[test]
    fn a_block_aims_for_its_target_or_for_what_it_gave_last_time() {
        let told = ask(&[], &[]);
        assert_eq!(told.bands.len(), 2);
        assert!(!told.bands[0].from_last_time && told.bands[1].from_last_time);
        assert_eq!(told.bands[0].low, Some(44.0));
        let told = ask(&[(0, 43.0, None), (1, 50.0, None)], &[]);
        let beside: Vec<_> = told.shots.iter().map(|s| s.beside_last).collect();
        assert_eq!(beside, [None, Some(Met::Over)]);
    }
}
