//! Which balls tell of the same thing over time.

use crate::physics::club::Club;
use crate::record::figures::{FOLLOWED, Series, SessionFigures};
use crate::record::goal::Goal;
use crate::record::progress::{CheckIn, ProgressQuestion, ProgressRead, progress};
use crate::shots::swung::Swung;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use chrono::NaiveDate;
use serde::Serialize;
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// One session of a player, by what it gives.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Occasion {
    /// Day where it was held.
    pub date: NaiveDate,
    /// Which device read most of it, by its place among the school's.
    pub device: usize,
    /// Whether it was under a roof, where that is known.
    pub indoors: Option<bool>,
    /// Which club of the bag it was held for, where that is known.
    pub head: Option<usize>,
    /// What it gives.
    pub figures: SessionFigures,
}

/// Which balls or swings tell of the same thing: those of a club, or those of an implement
/// that was swung without a ball.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
pub struct SeriesKey {
    /// How it was swung.
    pub series: Series,
    /// The club; none of a swing without a ball.
    pub club: Option<Club>,
    /// What was swung without a ball.
    pub swung: Option<Swung>,
    /// The value.
    pub quantity: Quantity,
}

impl SeriesKey {
    /// Of balls hit with a club.
    pub fn hit(series: Series, club: Club, quantity: Quantity) -> SeriesKey {
        SeriesKey {
            series,
            club: Some(club),
            swung: None,
            quantity,
        }
    }

    /// Of swings without a ball, which are all swung to be fast.
    pub fn swung(swung: Swung) -> SeriesKey {
        SeriesKey {
            series: Series::AllOut,
            club: None,
            swung: Some(swung),
            quantity: Quantity::ClubSpeed,
        }
    }

    /// What a session gives of it, in the order it came.
    pub fn of<'a>(&self, figures: &'a SessionFigures) -> &'a [f64] {
        let found = match (&self.swung, self.club) {
            (Some(swung), _) => figures.swings.get(swung),
            (None, Some(club)) => figures.series.get(&(self.series, club, self.quantity)),
            (None, None) => None,
        };
        found.map_or(&[], Vec::as_slice)
    }
}

/// A series that can be looked at, with how many days tell of it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SeriesChoice {
    /// Which.
    #[serde(flatten)]
    pub key: SeriesKey,
    /// Sessions that tell of it.
    pub sessions: usize,
}

/// What can be looked at; the first is what a coach looks at first: the club and the way of
/// swinging of which most sessions tell, and its speed. Implements come after the clubs.
pub fn choices(occasions: &[Occasion]) -> Vec<SeriesChoice> {
    let mut found: BTreeMap<SeriesKey, usize> = BTreeMap::new();
    for occasion in occasions {
        let hit = occasion.figures.series.iter();
        let hit = hit.filter(|(_, values)| !values.is_empty());
        for ((series, club, quantity), _) in hit {
            let key = SeriesKey::hit(*series, *club, *quantity);
            *found.entry(key).or_default() += 1;
        }
        for swung in occasion.figures.swings.keys() {
            *found.entry(SeriesKey::swung(swung.clone())).or_default() += 1;
        }
    }
    let mut most: BTreeMap<(Series, Option<Club>, Option<Swung>), usize> = BTreeMap::new();
    let way = |key: &SeriesKey| (key.series, key.club, key.swung.clone());
    for (key, sessions) in &found {
        let most = most.entry(way(key)).or_default();
        *most = (*most).max(*sessions);
    }
    let choices = found.into_iter();
    let mut choices: Vec<SeriesChoice> = choices
        .map(|(key, sessions)| SeriesChoice { key, sessions })
        .collect();
    let place = |q: Quantity| FOLLOWED.iter().position(|f| *f == q);
    choices.sort_by_cached_key(|c| {
        let sessions = most[&way(&c.key)];
        let hit = c.key.swung.is_none();
        (
            !hit,
            usize::MAX - sessions,
            way(&c.key),
            place(c.key.quantity),
        )
    });
    choices
}

/// The progress of a series.
pub fn follow(
    occasions: &[Occasion],
    key: &SeriesKey,
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
            values: key.of(&occasion.figures).to_vec(),
            device: occasion.device,
            indoors: occasion.indoors,
            head: occasion.head,
        });
    progress(&ProgressQuestion {
        quantity: key.quantity,
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
            indoors: None,
            head: None,
            figures: SessionFigures {
                series: values(week)
                    .into_iter()
                    .map(|(quantity, mid)| {
                        let scatter = [0.995, 1.004, 1.0, 0.999, 1.002, 1.001, 0.998, 1.001];
                        let values = scatter.iter().map(|s| s * mid).collect();
                        ((Series::Usual, Club::Driver, quantity), values)
                    })
                    .collect(),
                ..SessionFigures::default()
            },
        });
        told.collect()
    }

    #[test]
    fn the_club_of_most_sessions_and_its_speed_come_first() {
        let occasions = weekly(|_| {
            [
                (Quantity::Carry, 200.0),
                (Quantity::ClubSpeed, 45.0),
                (Quantity::SmashFactor, 1.45),
            ]
        });
        let first = &choices(&occasions)[0];
        assert_eq!(
            (first.key.quantity, first.sessions),
            (Quantity::ClubSpeed, 8)
        );
    }
}
