//! Which balls tell of the same thing over time.

use crate::physics::club::Club;
use crate::record::goal::Goal;
use crate::record::progress::{CheckIn, ProgressQuestion, ProgressRead, progress};
use crate::session::label::asks_full_effort;
use crate::session::purpose::Purpose;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
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
        Purpose::SpeedDay if all_out => Some(Series::AllOut),
        Purpose::SpeedDay | Purpose::LaunchAndSpin => Some(Series::Usual),
        _ => None,
    }
}

/// The kept values of one session, by what they tell of.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Occasion {
    /// Day where it was held.
    pub date: NaiveDate,
    /// Which device read most of it, by its place among the school's.
    pub device: usize,
    /// Kept values.
    pub values: BTreeMap<(Series, Club, Quantity), Vec<f64>>,
}

/// A series that can be looked at, with how many days tell of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct SeriesChoice {
    /// How it was swung.
    pub series: Series,
    /// The club.
    pub club: Club,
    /// The value.
    pub quantity: Quantity,
    /// Sessions that tell of it.
    pub sessions: usize,
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

/// What can be looked at; the first is what a coach looks at first: the club and the way of
/// swinging of which most sessions tell, and its speed.
pub fn choices(occasions: &[Occasion]) -> Vec<SeriesChoice> {
    let mut found: BTreeMap<(Series, Club, Quantity), usize> = BTreeMap::new();
    let told = occasions.iter().flat_map(|o| o.values.iter());
    for (key, _) in told.filter(|(_, values)| !values.is_empty()) {
        *found.entry(*key).or_default() += 1;
    }
    let mut most: BTreeMap<(Series, Club), usize> = BTreeMap::new();
    for ((series, club, _), sessions) in &found {
        let most = most.entry((*series, *club)).or_default();
        *most = (*most).max(*sessions);
    }
    let mut choices: Vec<SeriesChoice> = found
        .into_iter()
        .map(|((series, club, quantity), sessions)| SeriesChoice {
            series,
            club,
            quantity,
            sessions,
        })
        .collect();
    let place = |q: Quantity| FOLLOWED.iter().position(|f| *f == q);
    choices.sort_by_key(|c| {
        let sessions = most[&(c.series, c.club)];
        (usize::MAX - sessions, c.series, c.club, place(c.quantity))
    });
    choices
}

/// The progress of a series.
pub fn follow(
    occasions: &[Occasion],
    (series, club, quantity): (Series, Club, Quantity),
    goal: Option<Goal>,
    benchmark: Option<usize>,
    rules: &HouseRules,
) -> ProgressRead {
    let check_ins = occasions
        .iter()
        .enumerate()
        .map(|(session, occasion)| CheckIn {
            session,
            date: occasion.date,
            values: occasion
                .values
                .get(&(series, club, quantity))
                .cloned()
                .unwrap_or_default(),
            device: occasion.device,
        });
    progress(&ProgressQuestion {
        quantity,
        check_ins: check_ins.collect(),
        goal,
        benchmark,
        rules: *rules,
    })
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    pub(crate) fn weekly(values: impl Fn(usize) -> [(Quantity, f64); 3]) -> Vec<Occasion> {
        let start = NaiveDate::from_ymd_opt(2026, 1, 1).unwrap();
        let told = (0..8).map(|week| Occasion {
            date: start + chrono::Days::new(7 * week as u64),
            device: 0,
            values: values(week)
                .into_iter()
                .map(|(quantity, mid)| {
                    let scatter = [0.995, 1.004, 1.0, 0.999, 1.002, 1.001, 0.998, 1.001];
                    let values = scatter.iter().map(|s| s * mid).collect();
                    ((Series::Usual, Club::Driver, quantity), values)
                })
                .collect(),
        });
        told.collect()
    }

    #[test]
    fn the_club_of_most_sessions_and_its_speed_come_first_and_other_tasks_stay_out() {
        let occasions = weekly(|_| {
            [
                (Quantity::Carry, 200.0),
                (Quantity::ClubSpeed, 45.0),
                (Quantity::SmashFactor, 1.45),
            ]
        });
        let first = choices(&occasions)[0];
        assert_eq!((first.quantity, first.sessions), (Quantity::ClubSpeed, 8));
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
