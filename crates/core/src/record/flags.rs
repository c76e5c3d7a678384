//! What a player's record asks a coach to look at, in a sentence each.

use crate::physics::club::Club;
use crate::record::progress::{ChangeKind, DayRead, ProgressRead};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use chrono::{Datelike, NaiveDate};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What there is to look at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FlagKind {
    /// Pain held the session, and the hold was not lifted.
    Held,
    /// The latest session was under the player's own band.
    OffDay,
    /// Nothing has changed for some weeks.
    Level,
    /// Club speed is another than that the club was fitted at.
    FittingCheck,
    /// Readings that nobody has decided on.
    Doubted,
    /// No guardian's consent is noted for a child.
    Consent,
    /// A device is expected and says nothing.
    SilentDevice,
}

impl FlagKind {
    /// Whether it stays until somebody sees to it; what does not is over after some weeks.
    fn stays(self) -> bool {
        !matches!(self, FlagKind::Held | FlagKind::OffDay | FlagKind::Level)
    }
}

/// How things to look at are put in order.
#[derive(
    Debug,
    Clone,
    Copy,
    Default,
    PartialEq,
    Eq,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum FlagOrder {
    /// What can wait the least first.
    #[default]
    Urgency,
    /// The latest first.
    Day,
    /// By name.
    Name,
}

impl Keyed for FlagOrder {
    const KIND: &'static str = "an order of things to look at";
}

impl FlagKind {
    /// How little it can wait: pain before a device that a session waits for, before consent.
    fn urgency(self) -> u8 {
        match self {
            FlagKind::Held => 0,
            FlagKind::SilentDevice => 1,
            FlagKind::Consent => 2,
            FlagKind::OffDay => 3,
            FlagKind::Doubted => 4,
            FlagKind::FittingCheck => 5,
            FlagKind::Level => 6,
        }
    }
}

/// What decides on where a thing to look at stands among others.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
pub struct FlagHead {
    /// What.
    pub kind: FlagKind,
    /// The last day that shows it.
    pub seen: NaiveDate,
}

/// The first of things in the order asked for, `most` of them; `told` tells what each is, and
/// its name.
///
/// ```
/// use tally_core::record::flags::{FlagHead, FlagKind, FlagOrder, first_in_order};
/// let flag = |kind, on: &str| FlagHead { kind, seen: on.parse().unwrap() };
/// let all = [
///     ("Ada", flag(FlagKind::Level, "2026-04-10")),
///     ("Cyr", flag(FlagKind::OffDay, "2026-04-12")),
///     ("Bo", flag(FlagKind::Held, "2026-04-01")),
/// ];
/// let names = |order, most| {
///     let first = first_in_order(all.to_vec(), order, most, |(name, flag)| (*flag, name));
///     first.into_iter().map(|(name, _)| name).collect::<Vec<_>>()
/// };
/// assert_eq!(names(FlagOrder::Urgency, 3), ["Bo", "Cyr", "Ada"]);
/// assert_eq!(names(FlagOrder::Day, 2), ["Cyr", "Ada"]);
/// assert_eq!(names(FlagOrder::Name, 9), ["Ada", "Bo", "Cyr"]);
/// ```
pub fn first_in_order<T>(
    things: Vec<T>,
    order: FlagOrder,
    most: usize,
    told: impl Fn(&T) -> (FlagHead, &str),
) -> Vec<T> {
    // What goes before the name, and what goes after it.
    let around = |head: FlagHead| {
        let urgent = i64::from(head.kind.urgency());
        let latest = -i64::from(head.seen.num_days_from_ce());
        match order {
            FlagOrder::Urgency => ([urgent, latest], [0, 0]),
            FlagOrder::Day => ([latest, urgent], [0, 0]),
            FlagOrder::Name => ([0, 0], [urgent, latest]),
        }
    };
    // Of thousands a page shows a few: of those that what goes before the name puts behind these,
    // no name is looked at.
    let mut before: Vec<[i64; 2]> = things.iter().map(|one| around(told(one).0).0).collect();
    let last = (most < before.len()).then(|| *before.select_nth_unstable(most).1);
    // The name in small letters; and where it stood, so that equals stay as they were.
    let key = |(place, thing): (usize, T)| {
        let (head, name) = told(&thing);
        let (before, after) = around(head);
        let ahead = last.is_none_or(|last| before <= last);
        let key = ahead.then(|| (before, name.to_lowercase(), after, place));
        Some((key?, thing))
    };
    let mut keyed: Vec<_> = things.into_iter().enumerate().filter_map(key).collect();
    // The others are put in no order.
    if most < keyed.len() {
        keyed.select_nth_unstable_by(most, |a, b| a.0.cmp(&b.0));
        keyed.truncate(most);
    }
    keyed.sort_unstable_by(|a, b| a.0.cmp(&b.0));
    keyed.into_iter().map(|(_, thing)| thing).collect()
}

/// Days for which an off day, a level or pain is looked at.
const LOOKED_AT_FOR: i64 = 42;

impl FlagHead {
    /// Whether it is still to be looked at on a day.
    pub fn stands(self, today: NaiveDate) -> bool {
        self.kind.stays() || (today - self.seen).num_days() <= LOOKED_AT_FOR
    }
}

impl Flag {
    /// What decides on where it stands among others.
    pub fn head(&self) -> FlagHead {
        FlagHead {
            kind: self.kind,
            seen: self.seen,
        }
    }
}

/// Something to look at.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Flag {
    /// What.
    pub kind: FlagKind,
    /// In words.
    pub said: Sentence,
    /// Since when.
    pub since: NaiveDate,
    /// The last day that shows it.
    pub seen: NaiveDate,
}

/// A stretch that goes on is looked at by this many check-ins at least: two agree by chance.
const CHECK_INS: usize = 3;

/// What the progress of a player's usual swings asks to be looked at; `fitted` is the day on
/// which the club came into the bag as it is now, where that is known.
pub fn flags(
    progress: &ProgressRead,
    club: Option<Club>,
    fitted: Option<NaiveDate>,
    rules: &HouseRules,
) -> Vec<Flag> {
    let mut flags = Vec::new();
    let Some(last) = progress.days.last() else {
        return flags;
    };
    flags.extend(last.off.then(|| off_day(progress, last)));
    flags.extend(level(progress, last, rules));
    let speed = progress.quantity == Quantity::ClubSpeed;
    let club = club.filter(|_| speed);
    flags.extend(
        club.zip(fitted)
            .and_then(|(club, fitted)| fitting_check(progress, last, club, fitted, rules)),
    );
    flags
}

fn off_day(progress: &ProgressRead, last: &DayRead) -> Flag {
    let dimension = progress.quantity.dimension();
    let mut said = Sentence::of("Off day: ").figure(last.mean, dimension);
    if let Some(expected) = last.expected {
        said = said
            .words(" where ")
            .figure(expected, dimension)
            .words(" was to be expected");
    }
    Flag {
        kind: FlagKind::OffDay,
        said: said.words(". Recover, and do not chase it."),
        since: last.date,
        seen: last.date,
    }
}

/// A rise that stopped, or check-ins that never moved.
fn level(progress: &ProgressRead, last: &DayRead, rules: &HouseRules) -> Option<Flag> {
    let never = progress.changes.first()?.kind == ChangeKind::Same;
    let from = match progress.level_since() {
        Some(plateau) => plateau.from,
        None if never => 0,
        None => return None,
    };
    let since = progress.days[from].date;
    let weeks = (last.date - since).num_weeks();
    let check_ins = progress.days.len() - from;
    if (weeks as f64) < rules.level_weeks || check_ins < CHECK_INS {
        return None;
    }
    Some(Flag {
        kind: FlagKind::Level,
        said: Sentence::of("Level at ")
            .figure(last.level?.value, progress.quantity.dimension())
            .words(format!(" for {weeks} weeks, {check_ins} check-ins.")),
        since,
        seen: last.date,
    })
}

fn fitting_check(
    progress: &ProgressRead,
    last: &DayRead,
    club: Club,
    fitted: NaiveDate,
    rules: &HouseRules,
) -> Option<Flag> {
    let then = progress.days.iter().find(|day| day.date >= fitted)?;
    let change = then.until_now?;
    let sure = change.low > 0.0 || change.high < 0.0;
    if !sure || change.value.abs() < rules.fitting_speed {
        return None;
    }
    let name = club.label().to_lowercase();
    let (way, what) = if change.value > 0.0 {
        ("up", "a stiffer or heavier shaft and less loft")
    } else {
        ("down", "a softer or lighter shaft and more loft")
    };
    Some(Flag {
        kind: FlagKind::FittingCheck,
        said: Sentence::of(format!("Usual speed with the {name} is {way} "))
            .figure(change.value.abs(), progress.quantity.dimension())
            .words(" since it came into the bag on ")
            .day(fitted, last.date)
            .words(format!(": have its fit looked at; {what} may suit now.")),
        since: then.date,
        seen: last.date,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::record::figures::Series;
    use crate::record::series::tests::weekly;
    use crate::record::series::{SeriesKey, follow};
    use crate::vocabulary::units::{MPH, Units};

    fn read(speed: impl Fn(usize) -> f64) -> ProgressRead {
        let occasions = weekly(|week| {
            let value = speed(week) * MPH;
            let other = (Quantity::Carry, 200.0);
            [
                (Quantity::ClubSpeed, value),
                other,
                (Quantity::BallSpeed, value),
            ]
        });
        let key = SeriesKey::hit(Series::Usual, Club::Driver, Quantity::ClubSpeed);
        follow(&occasions, &key, None, None, &HouseRules::default())
    }

    fn kinds(speed: impl Fn(usize) -> f64, fitted: Option<NaiveDate>) -> Vec<FlagKind> {
        let flags = flags(
            &read(speed),
            Some(Club::Driver),
            fitted,
            &HouseRules::default(),
        );
        flags.into_iter().map(|flag| flag.kind).collect()
    }

    /// A player who holds a speed, as nearly as days allow.
    fn held(week: usize) -> f64 {
        100.0 + [0.1, -0.2, 0.15, 0.0, -0.1, 0.2, -0.15, 0.05][week]
    }

    #[test]
    fn a_level_an_off_day_and_a_club_outgrown_are_flagged_each_by_itself() {
        assert_eq!(kinds(held, None), [FlagKind::Level]);
        let stopped = |week: usize| held(week) + 2.0 * week.min(3) as f64;
        assert_eq!(kinds(stopped, None), [FlagKind::Level]);
        let off = |week| if week == 7 { 92.0 } else { held(week) };
        assert!(kinds(off, None).contains(&FlagKind::OffDay));
        let rising = |week| 100.0 + week as f64;
        let new_year = NaiveDate::from_ymd_opt(2026, 1, 1);
        assert_eq!(kinds(rising, new_year), [FlagKind::FittingCheck]);
        let february = NaiveDate::from_ymd_opt(2026, 2, 12);
        assert_eq!(kinds(rising, february), [], "fitted at nearly that speed");
        assert_eq!(kinds(rising, None), [], "nobody knows when it was fitted");
    }

    #[test]
    fn a_slower_player_is_sent_the_other_way() {
        let fitted = NaiveDate::from_ymd_opt(2026, 1, 1);
        let slower = read(|week| 100.0 - week as f64);
        let flags = flags(&slower, Some(Club::Driver), fitted, &HouseRules::default());
        let said = flags.last().unwrap().said.show(Units::MphYd);
        assert!(
            said.contains("is down") && said.contains("more loft"),
            "{said}"
        );
    }

    #[test]
    fn the_first_few_are_the_beginning_of_all_in_order_and_equals_stay_as_they_were() {
        let of = |i: usize| FlagHead {
            kind: [FlagKind::Level, FlagKind::Held, FlagKind::Doubted][i * 7 % 3],
            seen: NaiveDate::from_ymd_opt(2026, 3, 1 + (i * 5 % 4) as u32).unwrap(),
        };
        // Few names and days among many: most have an equal somewhere.
        let all: Vec<(usize, &str)> = (0..97)
            .map(|i| (i, ["Mira", "ayla", "Ayla", "Teo"][i * 11 % 4]))
            .collect();
        for order in [FlagOrder::Urgency, FlagOrder::Day, FlagOrder::Name] {
            let first = |most| first_in_order(all.clone(), order, most, |(i, name)| (of(*i), name));
            let whole = first(all.len());
            for pair in whole.windows(2) {
                let [(i, a), (j, b)] = [pair[0], pair[1]];
                let equal = of(i) == of(j) && a.to_lowercase() == b.to_lowercase();
                assert!(!equal || i < j, "{i} {j}");
            }
            for most in [0, 1, 2, 13, 60, 96, 200] {
                assert_eq!(first(most), whole[..most.min(all.len())], "{most}");
            }
        }
    }
}
