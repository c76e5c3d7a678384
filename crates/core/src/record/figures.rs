//! What one session gives to all that is asked over time: counted once and kept, as long as
//! nothing in the session changes.

use crate::physics::ball_kind::BallKind;
use crate::physics::club::Club;
use crate::session::label::asks_full_effort;
use crate::session::plan::PlannedBlock;
use crate::session::purpose::Purpose;
use crate::shots::ball::Ball;
use crate::shots::reading::Provenance;
use crate::shots::standing::Standing;
use crate::shots::swung::Swung;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;

/// How the balls of a series were swung. A level of usual swings and one of all-out swings
/// are two levels.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Series {
    /// As usual.
    Usual,
    /// With the intent to be fast.
    AllOut,
}

/// The series that balls of a block belong to; none where the block asks for something else
/// than the player's swing: an effort, a speed, another way of hitting.
pub fn series_of(purpose: Purpose, label: &str, full_effort: bool) -> Option<Series> {
    let all_out = full_effort || asks_full_effort(label);
    match purpose {
        Purpose::Benchmark | Purpose::ExpectedCarry | Purpose::BagGapping => Some(if all_out {
            Series::AllOut
        } else {
            Series::Usual
        }),
        Purpose::SpeedDay | Purpose::Training if all_out => Some(Series::AllOut),
        Purpose::SpeedDay | Purpose::LaunchAndSpin => Some(Series::Usual),
        // The child's own club; the other lengths are a test of their own.
        Purpose::ClubLength if own_club(label) => Some(Series::Usual),
        _ => None,
    }
}

/// Whether a ball of this block tells what its club usually does.
pub fn is_usual(purpose: Purpose, plan: &PlannedBlock) -> bool {
    let series = series_of(purpose, &plan.label, plan.full_effort);
    series == Some(Series::Usual) && !plan.gentle()
}

/// Whether a label of a test of lengths means the club as it is.
fn own_club(label: &str) -> bool {
    let label = label.trim().to_lowercase();
    label.starts_with("own") || label.starts_with("usual")
}

/// Values that are followed over time, the one that is looked at first at the front.
pub const FOLLOWED: [Quantity; 9] = [
    Quantity::ClubSpeed,
    Quantity::BallSpeed,
    Quantity::Carry,
    Quantity::Total,
    Quantity::SmashFactor,
    Quantity::SpinRate,
    Quantity::LaunchAngle,
    Quantity::AngleOfAttack,
    Quantity::HandSpeed,
];

/// The best of some values, with their mean and how many there are.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Best {
    /// The best, internal units.
    pub best: f64,
    /// Mean of all of them.
    pub mean: f64,
    /// Values it is the best of.
    pub n: usize,
}

impl Best {
    /// The best of some values; nothing of none.
    ///
    /// ```
    /// use tally_core::record::figures::Best;
    /// assert_eq!(Best::of(&[44.0, 45.0]), Some(Best { best: 45.0, mean: 44.5, n: 2 }));
    /// assert_eq!(Best::of(&[]), None);
    /// ```
    pub fn of(values: &[f64]) -> Option<Best> {
        let best = values.iter().copied().reduce(f64::max)?;
        Some(Best {
            best,
            mean: values.iter().sum::<f64>() / values.len() as f64,
            n: values.len(),
        })
    }
}

/// What one session gives.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct SessionFigures {
    /// Kept values in hitting order, by the series they belong to.
    pub series: BTreeMap<(Series, Club, Quantity), Vec<f64>>,
    /// The best kept ball, whatever it was hit for.
    pub bests: BTreeMap<(Club, Quantity), Best>,
    /// Clubs with which spin was measured, not only calculated.
    pub spin_measured: BTreeSet<Club>,
    /// Speeds of swings without a ball that were not set aside, m/s.
    pub swings: BTreeMap<Swung, Vec<f64>>,
    /// The ball, where a block names one.
    pub ball: Option<BallKind>,
    /// Kept balls.
    pub kept: usize,
    /// Balls set aside.
    pub set_aside: usize,
    /// Balls whose readings are doubted and not decided on.
    pub doubted: usize,
}

/// Counts what a session gives: its balls in hitting order with what was planned for each,
/// and its swings without a ball.
pub fn session_figures<'a>(
    purpose: Purpose,
    balls: impl IntoIterator<Item = (&'a Ball, &'a PlannedBlock)>,
    swings: impl IntoIterator<Item = (Swung, f64)>,
    rules: &HouseRules,
) -> SessionFigures {
    let mut told = SessionFigures::default();
    let mut all: BTreeMap<(Club, Quantity), Vec<f64>> = BTreeMap::new();
    for (ball, plan) in balls {
        told.ball = told.ball.or(plan.gear.ball);
        match ball.standing {
            Standing::Kept => told.kept += 1,
            Standing::SetAside => told.set_aside += 1,
            Standing::Doubtful => told.doubted += 1,
        }
        if !ball.kept() {
            continue;
        }
        let spin = ball.reading.value(Quantity::SpinRate);
        if spin.is_some_and(|spin| spin.from == Provenance::Measured) {
            told.spin_measured.insert(ball.club);
        }
        // Swung on purpose as usual before and after all-out balls, it tells of no level.
        let level = !plan.gentle();
        let series = series_of(purpose, &plan.label, plan.full_effort).filter(|_| level);
        for quantity in FOLLOWED {
            let Some(value) = ball.counted(quantity, rules) else {
                continue;
            };
            all.entry((ball.club, quantity)).or_default().push(value);
            if let Some(series) = series {
                let of = told.series.entry((series, ball.club, quantity));
                of.or_default().push(value);
            }
        }
    }
    for (swung, speed) in swings {
        told.swings.entry(swung).or_default().push(speed);
    }
    for (of, values) in all.into_iter().filter(|((_, q), _)| q.has_best()) {
        if let Some(best) = Best::of(&values) {
            told.bests.insert(of, best);
        }
    }
    told
}

/// A player's usual and best speed with a club, m/s: the mean of the latest session that
/// has any, and the fastest of all.
///
/// ```
/// use tally_core::physics::club::Club;
/// use tally_core::record::figures::{Best, SessionFigures, usual_and_best};
/// use tally_core::vocabulary::quantity::Quantity;
/// let of = (Club::Driver, Quantity::ClubSpeed);
/// let mut session = SessionFigures::default();
/// session.bests.insert(of, Best { best: 46.0, mean: 45.0, n: 2 });
/// let mut before = session.clone();
/// before.bests.insert(of, Best { best: 48.0, mean: 48.0, n: 1 });
/// let latest_first = [SessionFigures::default(), session, before];
/// assert_eq!(usual_and_best(&latest_first, Club::Driver), (Some(45.0), Some(48.0)));
/// ```
pub fn usual_and_best(latest_first: &[SessionFigures], club: Club) -> (Option<f64>, Option<f64>) {
    let of = (club, Quantity::ClubSpeed);
    let bests = latest_first.iter().filter_map(|told| told.bests.get(&of));
    let usual = bests.clone().next().map(|told| told.mean);
    (usual, bests.map(|told| told.best).reduce(f64::max))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shots::reading::Reading;

    #[test]
    fn a_ball_counts_where_it_belongs_and_one_set_aside_nowhere() {
        let read = |speed: f64, order| {
            let mut reading = Reading::default();
            reading.set(Quantity::ClubSpeed, speed, Provenance::Measured);
            Ball::new(reading, Club::Driver, order)
        };
        let aside = Ball {
            standing: Standing::SetAside,
            ..read(60.0, 2)
        };
        let hit = [read(44.0, 0), read(46.0, 1), aside];
        let plan = PlannedBlock::new("Normal", 3);
        let light = Swung {
            implement: "light".to_owned(),
            side: None,
            position: None,
        };
        let given = |purpose| {
            session_figures(
                purpose,
                hit.iter().map(|ball| (ball, &plan)),
                [(light.clone(), 50.0), (light.clone(), 52.0)],
                &HouseRules::default(),
            )
        };
        let key = (Series::Usual, Club::Driver, Quantity::ClubSpeed);
        let told = given(Purpose::Benchmark);
        assert_eq!(told.series[&key], [44.0, 46.0]);
        assert_eq!((told.kept, told.set_aside), (2, 1));
        assert_eq!(told.swings[&light], [50.0, 52.0]);
        // A ball of another task is no usual swing, but a best is a best.
        let told = given(Purpose::EffortLadder);
        assert!(told.series.is_empty());
        let best = told.bests[&(Club::Driver, Quantity::ClubSpeed)];
        assert_eq!((best.best, best.n), (46.0, 2));
    }

    #[test]
    fn what_a_block_asks_for_decides_which_series_its_balls_are_of() {
        assert_eq!(series_of(Purpose::EffortLadder, "50 %", false), None);
        assert_eq!(
            series_of(Purpose::SpeedDay, "All-out", false),
            Some(Series::AllOut)
        );
        assert_eq!(
            series_of(Purpose::SpeedDay, "Normal", false),
            Some(Series::Usual)
        );
    }
}
