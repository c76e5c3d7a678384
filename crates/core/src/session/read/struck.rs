//! Balls at equal speed: which made most of theirs, and how many were over a value.

use super::{Question, ShotRead};
use crate::shots::reading::Reading;
use crate::shots::standing::Standing;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// A ball among others at their mean club speed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct AtEqualSpeed {
    /// Its distance had it been hit at the mean speed, m.
    pub distance: f64,
    /// Its place by that, 1 for the best struck.
    pub rank: usize,
}

/// Ranks balls, given by club speed and distance (m/s, m), by what they made of their
/// speed: distance over speed, times the mean speed.
///
/// ```
/// use tally_core::session::read::at_equal_speed;
/// let ranked = at_equal_speed(&[[42.0, 240.0], [44.0, 244.0]]);
/// assert_eq!((ranked[0].rank, ranked[1].rank), (1, 2));
/// assert!((ranked[0].distance - 240.0 * 43.0 / 42.0).abs() < 1e-9);
/// ```
pub fn at_equal_speed(balls: &[[f64; 2]]) -> Vec<AtEqualSpeed> {
    let mean = balls.iter().map(|[speed, _]| speed).sum::<f64>() / balls.len() as f64;
    let equal: Vec<f64> = balls
        .iter()
        .map(|[speed, distance]| distance / speed * mean)
        .collect();
    let mut sorted = equal.clone();
    sorted.sort_by(|a, b| b.total_cmp(a));
    equal
        .iter()
        .map(|distance| AtEqualSpeed {
            distance: *distance,
            // Equals share the place of the first of them.
            rank: 1 + sorted.partition_point(|other| other > distance),
        })
        .collect()
}

/// The best struck of a session's balls.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BestStruck {
    /// What the ranking goes by: a recorded total before a carry.
    pub by: Quantity,
    /// Its place among the shots read, from 0.
    pub index: usize,
    /// In words, without the shot's number.
    pub sentence: Sentence,
}

/// What distance balls are told apart by: a total, where most of those that count have
/// one recorded, or else the carry.
pub fn distance_of<'a>(kept: impl Iterator<Item = &'a Reading>) -> Option<Quantity> {
    let kept: Vec<&Reading> = kept.collect();
    [Quantity::Total, Quantity::Carry].into_iter().find(|q| {
        let some = kept
            .iter()
            .filter(|reading| reading.get(*q).is_some())
            .count();
        some > 0 && 2 * some >= kept.len()
    })
}

/// Ranks the kept, useful flights at equal speed and writes it to their reads.
pub(super) fn rank(question: &Question<'_>, reads: &mut [ShotRead]) -> Option<BestStruck> {
    let shots = question.shots.iter().zip(reads.iter());
    let kept = shots.filter(|(_, read)| read.standing == Standing::Kept);
    let by = distance_of(kept.map(|(shot, _)| &shot.reading))?;
    let (places, balls): (Vec<usize>, Vec<[f64; 2]>) = question
        .shots
        .iter()
        .zip(reads.iter())
        .enumerate()
        .filter(|(_, (_, read))| read.standing == Standing::Kept && read.failed.is_empty())
        .filter_map(|(i, (shot, _))| {
            let value = |quantity| shot.reading.get(quantity);
            Some((i, [value(Quantity::ClubSpeed)?, value(by)?]))
        })
        .unzip();
    let ranked = at_equal_speed(&balls);
    for (place, equal) in places.iter().zip(&ranked) {
        reads[*place].at_equal_speed = Some(*equal);
    }
    let best = ranked.iter().position(|equal| equal.rank == 1)?;
    let [speed, distance] = balls[best];
    Some(BestStruck {
        by,
        index: places[best],
        sentence: best_said(speed, distance, ranked[best].distance, by),
    })
}

/// "263 yd in total from 93.6 mph; at the mean speed 266".
fn best_said(speed: f64, distance: f64, equal: f64, by: Quantity) -> Sentence {
    Sentence::default()
        .figure(distance, Dimension::Distance)
        .words(if by == Quantity::Total {
            " in total from "
        } else {
            " of carry from "
        })
        .figure(speed, Dimension::Speed)
        .words("; at the mean speed ")
        .bare(equal, Dimension::Distance)
        .words(".")
}

/// How many balls were at or over a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Over {
    /// Kept balls at or over it.
    pub over: usize,
    /// Kept balls that have the value.
    pub of: usize,
}

/// Counts the kept balls of a session at or over a value, as it is shown: a ball that
/// reads as the value counts.
pub fn count_over(readings: &[Option<f64>], value: f64, quantity: Quantity) -> Over {
    let grain = quantity.dimension().grain();
    let told = || readings.iter().flatten();
    Over {
        over: told().filter(|v| **v >= value - grain / 2.0).count(),
        of: told().count(),
    }
}

#[cfg(test)]
mod tests {
    use super::super::tests::{ask, shot};
    use super::*;
    use crate::shots::mark::Decision;
    use crate::shots::reading::Provenance;
    use crate::vocabulary::units::{MPH, Units, YARD};

    #[test]
    fn the_best_struck_made_most_of_its_speed_and_need_not_be_the_longest() {
        let mut shots = vec![shot(84.0, 168.0), shot(90.0, 176.0), shot(84.0, 190.0)];
        shots[2].decision = Some(Decision::SetAside);
        let report = ask(&shots);
        let best = report.best_struck.unwrap();
        assert_eq!((best.index, best.by), (0, Quantity::Carry));
        assert_eq!(
            best.sentence.show(Units::MphYd),
            "168 yd of carry from 84.0 mph; at the mean speed 174."
        );
        let ranks: Vec<Option<usize>> = report
            .shots
            .iter()
            .map(|s| s.at_equal_speed.map(|e| e.rank))
            .collect();
        assert_eq!(ranks, [Some(1), Some(2), None]);
    }

    #[test]
    fn a_recorded_total_ranks_before_the_carry() {
        let mut shots = vec![shot(84.0, 168.0), shot(84.0, 160.0)];
        for (shot, total) in shots.iter_mut().zip([170.0, 190.0]) {
            let si = total * YARD;
            shot.reading.set(Quantity::Total, si, Provenance::Measured);
        }
        let best = ask(&shots).best_struck.unwrap();
        assert_eq!((best.index, best.by), (1, Quantity::Total));
    }

    #[test]
    fn a_ball_that_reads_as_the_value_is_over_it() {
        let speeds = [111.96, 112.4, 111.8, 113.0].map(|mph| Some(mph * MPH));
        let told = count_over(&speeds, 112.0 * MPH, Quantity::ClubSpeed);
        assert_eq!((told.over, told.of), (3, 4));
        let nothing = count_over(&[None], 1.0, Quantity::ClubSpeed);
        assert_eq!((nothing.over, nothing.of), (0, 0));
    }
}
