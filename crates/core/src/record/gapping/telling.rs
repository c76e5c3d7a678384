//! Which sessions and balls tell of a bag.

use crate::physics::club::Club;
use crate::record::figures::{Series, SessionFigures};
use crate::record::series::Occasion;
use crate::session::label::{Felt, felt};
use crate::session::plan::PlannedBlock;
use crate::session::purpose::Purpose;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::quantity::Quantity;
use chrono::{Days, NaiveDate};
use serde::Serialize;
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;

/// Sessions of a club that its carry is told by, at most.
const MOST_SESSIONS: usize = 5;
/// Balls of a club from which on no earlier session is asked.
const ENOUGH: usize = 40;
/// Days before a club's latest session that still tell of it.
const FIT_DAYS: u64 = 400;
/// Clubs of a day from which on it is one through the bag.
const BAG_DAY: usize = 3;
/// Days that lie at least between two bags that are held against each other.
const APART_DAYS: i64 = 10;

/// A day on which several clubs were hit as usual.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct BagDay {
    /// The day.
    pub on: NaiveDate,
    /// How many clubs.
    pub clubs: usize,
}

/// Which sessions tell of each club.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Telling {
    /// Their places, the latest first.
    pub of: BTreeMap<Club, Vec<usize>>,
    /// Clubs that are noted as fitted after all of them.
    pub replaced: Vec<Club>,
}

/// The sessions that each club is told by: the latest since it was fitted (`fitted`, where it is
/// noted), or, where it was not hit since, the latest there are.
pub fn telling(occasions: &[Occasion], fitted: impl Fn(Club) -> Option<NaiveDate>) -> Telling {
    let mut with: BTreeMap<Club, Vec<(usize, usize)>> = BTreeMap::new();
    for (place, occasion) in occasions.iter().enumerate().rev() {
        for (club, balls) in usual_carries(&occasion.figures) {
            with.entry(club).or_default().push((place, balls));
        }
    }
    let day = |place: usize| occasions[place].date;
    let mut told = Telling::default();
    for (club, places) in with {
        let since: Vec<(usize, usize)> = places
            .iter()
            .copied()
            .filter(|(place, _)| fitted(club).is_none_or(|fitted| day(*place) >= fitted))
            .collect();
        if since.is_empty() {
            told.replaced.push(club);
        }
        let places = if since.is_empty() { places } else { since };
        let oldest = places
            .first()
            .and_then(|(latest, _)| day(*latest).checked_sub_days(Days::new(FIT_DAYS)));
        let mut balls = 0;
        let chosen = places
            .into_iter()
            .take(MOST_SESSIONS)
            .take_while(|(place, n)| {
                let wanted = balls < ENOUGH && oldest.is_none_or(|oldest| day(*place) >= oldest);
                balls += n;
                wanted
            });
        told.of
            .insert(club, chosen.map(|(place, _)| place).collect());
    }
    told
}

/// Clubs with usual balls that have a carry, and how many.
fn usual_carries(figures: &SessionFigures) -> impl Iterator<Item = (Club, usize)> {
    let carries = figures.series.iter().filter(|((series, _, quantity), _)| {
        (*series, *quantity) == (Series::Usual, Quantity::Carry)
    });
    carries.map(|((_, club, _), values)| (*club, values.len()))
}

/// The days on which several clubs were hit as usual, latest first.
pub fn bag_days(occasions: &[Occasion]) -> Vec<BagDay> {
    let mut days: BTreeMap<NaiveDate, BTreeSet<Club>> = BTreeMap::new();
    for occasion in occasions {
        let clubs: BTreeSet<Club> = usual_carries(&occasion.figures)
            .map(|(club, _)| club)
            .collect();
        if clubs.len() > 1 {
            days.entry(occasion.date).or_default().extend(clubs);
        }
    }
    let days = days.into_iter().rev();
    days.map(|(on, clubs)| BagDay {
        on,
        clubs: clubs.len(),
    })
    .collect()
}

/// The two times of a bag that are held against each other, first and last day of each: those
/// asked for, or the latest day through the bag and the last one well before it. Nothing where
/// there are no two.
///
/// # Errors
/// [`Invalid`] for a time that ends before it begins, and for two that overlap.
pub fn two_times(
    days: &[BagDay],
    then: [Option<NaiveDate>; 2],
    now: [Option<NaiveDate>; 2],
) -> Result<Option<[[NaiveDate; 2]; 2]>, Invalid> {
    let (then, now) = (one_time(then, "then_from")?, one_time(now, "now_from")?);
    let whole = || days.iter().filter(|day| day.clubs >= BAG_DAY);
    let Some(now) = now.or_else(|| whole().next().map(|day| [day.on; 2])) else {
        return Ok(None);
    };
    let earlier = |day: &&BagDay| (now[0] - day.on).num_days() >= APART_DAYS;
    let Some(then) = then.or_else(|| whole().find(earlier).map(|day| [day.on; 2])) else {
        return Ok(None);
    };
    if then[1] >= now[0] && now[1] >= then[0] {
        let remedy = "give days that lie before it";
        return Err(Invalid::new(
            "then_to",
            then[1],
            "overlaps the other time",
            remedy,
        ));
    }
    Ok(Some([then, now]))
}

fn one_time(
    [from, to]: [Option<NaiveDate>; 2],
    field: &str,
) -> Result<Option<[NaiveDate; 2]>, Invalid> {
    let Some(from) = from.or(to) else {
        return Ok(None);
    };
    let to = to.unwrap_or(from);
    if from > to {
        let remedy = "give the earlier day first";
        return Err(Invalid::new(field, from, "is after its last day", remedy));
    }
    Ok(Some([from, to]))
}

/// The part of full effort, 0…1, that a ball of a ladder's block was asked for.
pub fn part_effort(purpose: Purpose, plan: &PlannedBlock) -> Option<f64> {
    if purpose != Purpose::EffortLadder {
        return None;
    }
    match felt(&plan.label)? {
        Felt::Share(share) => Some(share),
        Felt::Stock => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(text: &str) -> NaiveDate {
        text.parse().unwrap()
    }

    /// A session of these clubs, so many balls of each.
    fn hit(on: &str, clubs: &[(Club, usize)]) -> Occasion {
        let series = clubs.iter().map(|(club, balls)| {
            let key = (Series::Usual, *club, Quantity::Carry);
            (key, vec![150.0; *balls])
        });
        Occasion {
            date: day(on),
            device: 0,
            indoors: None,
            head: None,
            figures: SessionFigures {
                series: series.collect(),
                ..SessionFigures::default()
            },
        }
    }

    #[test]
    fn a_club_is_told_by_its_latest_sessions_until_there_are_balls_enough() {
        let hit = [
            hit("2024-01-01", &[(Club::Iron7, 12)]),
            hit("2026-01-01", &[(Club::Iron7, 30)]),
            hit("2026-02-01", &[(Club::Iron7, 30), (Club::Driver, 6)]),
            hit("2026-03-01", &[(Club::Iron7, 12)]),
        ];
        let told = telling(&hit, |_| None);
        assert_eq!(told.of[&Club::Iron7], [3, 2]);
        assert_eq!(told.of[&Club::Driver], [2]);
        // A year and more before the latest nothing tells of it any more.
        let few = telling(&hit[..2], |_| None);
        assert_eq!(few.of[&Club::Iron7], [1]);
    }

    #[test]
    fn a_club_that_was_fitted_anew_is_told_by_what_was_hit_since_or_said_to_be_another() {
        let hit = [
            hit("2026-01-01", &[(Club::Iron7, 6), (Club::Driver, 6)]),
            hit("2026-02-01", &[(Club::Iron7, 6)]),
        ];
        let told = telling(&hit, |_| Some(day("2026-01-15")));
        assert_eq!(told.of[&Club::Iron7], [1]);
        assert_eq!(
            (&told.of[&Club::Driver], &told.replaced),
            (&vec![0], &vec![Club::Driver])
        );
    }

    #[test]
    fn two_bags_are_chosen_well_apart_and_times_that_cannot_be_are_named() {
        let bag = |on| BagDay {
            on: day(on),
            clubs: 8,
        };
        let days = [bag("2026-03-10"), bag("2026-03-08"), bag("2026-01-05")];
        let none = [None, None];
        let chosen = two_times(&days, none, none).unwrap().unwrap();
        assert_eq!(chosen, [[day("2026-01-05"); 2], [day("2026-03-10"); 2]]);
        assert_eq!(two_times(&days[..2], none, none), Ok(None));
        assert_eq!(two_times(&[], none, none), Ok(None));
        let from = |a: &str, b: &str| [Some(day(a)), Some(day(b))];
        let backwards = two_times(&days, from("2026-02-02", "2026-02-01"), none);
        assert_eq!(backwards.unwrap_err().field, "then_from");
        let over = two_times(&days, from("2026-03-01", "2026-03-20"), none);
        assert_eq!(over.unwrap_err().field, "then_to");
    }
}
