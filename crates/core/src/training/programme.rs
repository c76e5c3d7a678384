//! Programmes: protocols over weeks, on a player's own days, with rest between.

use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::moment::day;
use crate::vocabulary::text::{lines_within, text_within};
use crate::vocabulary::zone::zone;
use chrono::{NaiveDate, NaiveTime, Weekday};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A day of the week.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum TrainingDay {
    /// Monday.
    Monday,
    /// Tuesday.
    Tuesday,
    /// Wednesday.
    Wednesday,
    /// Thursday.
    Thursday,
    /// Friday.
    Friday,
    /// Saturday.
    Saturday,
    /// Sunday.
    Sunday,
}

impl Keyed for TrainingDay {
    const KIND: &'static str = "a day of the week";
}

impl TrainingDay {
    /// The day of a weekday.
    pub fn of(weekday: Weekday) -> TrainingDay {
        <TrainingDay as strum::VariantArray>::VARIANTS[weekday.num_days_from_monday() as usize]
    }
}

/// Sessions of one protocol in a week.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MixPart {
    /// The protocol.
    pub protocol: Uuid,
    /// How often a week.
    pub a_week: u32,
}

/// When a level is left.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Progression {
    /// Whole sessions after which the next level comes.
    pub up_after: u32,
    /// Days without a session after which the level before comes again.
    pub back_after_days: u32,
}

/// Protocols over weeks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Programme {
    /// What it is called.
    pub name: String,
    /// Its first day.
    pub begins: NaiveDate,
    /// Weeks it goes on.
    pub weeks: u32,
    /// The player's own days.
    pub days: Vec<TrainingDay>,
    /// Days without training between two sessions, at least.
    pub rest_days: u32,
    /// What a week is made of.
    pub mix: Vec<MixPart>,
    /// Every so many weeks, and in the last, a check-in stands in place of a session; 0: never.
    pub check_in_weeks: u32,
    /// Every so many weeks is a lighter one: half of each set; 0: never.
    pub lighter_weeks: u32,
    /// When a level is left.
    pub progression: Progression,
    /// Time of day, where it was agreed.
    #[serde(default)]
    pub at: Option<NaiveTime>,
    /// Name of the time zone.
    pub zone: String,
}

/// Most weeks of a programme.
const MOST_WEEKS: u32 = 104;

impl Programme {
    /// Sessions of a week.
    pub fn a_week(&self) -> u32 {
        self.mix.iter().map(|part| part.a_week).sum()
    }

    /// Full-effort swings that a week asks for; `full` tells those of a session of a protocol.
    pub fn week_asks(&self, full: impl Fn(Uuid) -> u32) -> u32 {
        let of = |part: &MixPart| part.a_week * full(part.protocol);
        self.mix.iter().map(of).sum()
    }

    /// Its last day.
    pub fn ends(&self) -> NaiveDate {
        self.begins + chrono::Duration::days(i64::from(self.weeks) * 7 - 1)
    }

    /// Checks what was typed, and that the sessions fit the player's days.
    ///
    /// # Errors
    /// Every [`Invalid`] number or text, or one that says why its days do not fit.
    pub fn check(&self) -> Result<(), Vec<Invalid>> {
        let number =
            |name: &str, value: u32, range| within(name, f64::from(value), range, "").err();
        let mut errors: Vec<Invalid> = [
            text_within("name", &self.name, 60).err(),
            day("begins", self.begins).err(),
            number("weeks", self.weeks, 1.0..=f64::from(MOST_WEEKS)),
            number("rest_days", self.rest_days, 0.0..=6.0),
            number("check_in_weeks", self.check_in_weeks, 0.0..=52.0),
            number("lighter_weeks", self.lighter_weeks, 0.0..=52.0),
            number(
                "progression.up_after",
                self.progression.up_after,
                1.0..=50.0,
            ),
            number(
                "progression.back_after_days",
                self.progression.back_after_days,
                3.0..=120.0,
            ),
            zone("zone", &self.zone).err(),
        ]
        .into_iter()
        .flatten()
        .collect();
        if self.mix.is_empty() {
            errors.push(Invalid::missing("mix", "choose at least one protocol"));
        }
        for (at, part) in self.mix.iter().enumerate() {
            errors.extend(number(&format!("mix[{at}].a_week"), part.a_week, 1.0..=7.0));
            if self.mix[..at]
                .iter()
                .any(|before| before.protocol == part.protocol)
            {
                let remedy = "name each protocol once, with all its sessions";
                let field = format!("mix[{at}].protocol");
                errors.push(Invalid::new(field, part.protocol, "stands twice", remedy));
            }
        }
        if errors.is_empty() {
            self.pattern().map(|_| ()).map_err(|unfit| vec![unfit])
        } else {
            Err(errors)
        }
    }

    /// The days of each week on which there is a session, as evenly apart as they can be; the
    /// same every week, so that it becomes a habit.
    ///
    /// # Errors
    /// [`Invalid`] where the sessions do not fit the player's days with the rest asked.
    pub fn pattern(&self) -> Result<Vec<TrainingDay>, Invalid> {
        let wanted = self.a_week() as usize;
        let gap = self.rest_days as usize + 1;
        let sessions = counted(wanted, "session");
        let rest = counted(self.rest_days as usize, "rest day");
        if wanted * gap > 7 {
            let problem = format!(
                "cannot fit a week: {sessions} with {rest} after each need {} days",
                wanted * gap
            );
            let most = 7 / gap;
            let remedy = format!(
                "take {} a week or fewer, or ask for less rest",
                counted(most, "session")
            );
            return Err(Invalid::new("mix", wanted, problem, remedy));
        }
        let mut own: Vec<TrainingDay> = self.days.clone();
        own.sort_unstable();
        own.dedup();
        let mut best: Option<(usize, Vec<TrainingDay>)> = None;
        // At most 128 ways.
        for chosen in 0_u32..1 << own.len() {
            if chosen.count_ones() as usize != wanted {
                continue;
            }
            let days: Vec<TrainingDay> = (0..own.len())
                .filter(|bit| chosen & (1 << bit) != 0)
                .map(|bit| own[bit])
                .collect();
            let least = least_gap(&days);
            if least >= gap && best.as_ref().is_none_or(|(before, _)| least > *before) {
                best = Some((least, days));
            }
        }
        best.map(|(_, days)| days).ok_or_else(|| {
            let problem = format!("do not hold {sessions} with {rest} between");
            let days: Vec<&str> = own.iter().map(|day| day.key()).collect();
            let remedy = "give more days of the week, fewer sessions or less rest";
            Invalid::new("days", days.join(", "), problem, remedy)
        })
    }
}

/// The least number of days from a session to the next, also into the week after.
fn least_gap(days: &[TrainingDay]) -> usize {
    let place = |at: usize| days[at % days.len()] as usize + 7 * (at / days.len());
    let gaps = (0..days.len()).map(|at| place(at + 1) - place(at));
    gaps.min().unwrap_or(7)
}

/// `3 sessions`, `1 session`, `no sessions`.
fn counted(n: usize, what: &str) -> String {
    match n {
        0 => format!("no {what}s"),
        1 => format!("1 {what}"),
        _ => format!("{n} {what}s"),
    }
}

/// Something that changes the plan of a programme.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "kind")]
pub enum ProgrammeAct {
    /// A session is held on another day; those after it make way.
    Move {
        /// The day it stood on.
        from: NaiveDate,
        /// The day it stands on.
        to: NaiveDate,
    },
    /// No training from a day until the player is back: illness, travel, pain.
    Away {
        /// The first day without.
        from: NaiveDate,
        /// The last; not known yet when absent.
        to: Option<NaiveDate>,
        /// Why.
        why: Away,
        /// In the coach's words.
        #[serde(default)]
        note: String,
    },
    /// The player trains again from this day on.
    Back {
        /// The first day.
        on: NaiveDate,
    },
    /// The programme ends before its time.
    End {
        /// The first day without it.
        on: NaiveDate,
    },
}

/// Why a player does not train.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Away {
    /// Ill.
    Ill,
    /// Pain: nothing at full effort until those who may judge it agree.
    Pain,
    /// Anything else: exams, travel, holidays.
    Other,
}

impl ProgrammeAct {
    /// Checks what was typed.
    ///
    /// # Errors
    /// [`Invalid`] for days that cannot be, or that end before they begin.
    pub fn check(&self) -> Result<(), Invalid> {
        match self {
            ProgrammeAct::Move { from, to } => {
                day("from", *from)?;
                day("to", *to).map(|_| ())
            }
            ProgrammeAct::Away { from, to, note, .. } => {
                day("from", *from)?;
                if !note.is_empty() {
                    lines_within("note", note, 300)?;
                }
                match to {
                    Some(to) if to < from => Err(Invalid::new(
                        "to",
                        to,
                        "is before the first day",
                        format!("give {from} or later, or leave it open"),
                    )),
                    Some(to) => day("to", *to).map(|_| ()),
                    None => Ok(()),
                }
            }
            ProgrammeAct::Back { on } | ProgrammeAct::End { on } => day("on", *on).map(|_| ()),
        }
    }
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    /// Two of one protocol and one of another on three days of the week.
    pub(crate) fn usual() -> Programme {
        Programme {
            name: "Spring".to_owned(),
            begins: NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
            weeks: 8,
            days: vec![
                TrainingDay::Monday,
                TrainingDay::Wednesday,
                TrainingDay::Friday,
                TrainingDay::Saturday,
            ],
            rest_days: 1,
            mix: vec![
                MixPart {
                    protocol: Uuid::from_u128(1),
                    a_week: 2,
                },
                MixPart {
                    protocol: Uuid::from_u128(2),
                    a_week: 1,
                },
            ],
            check_in_weeks: 4,
            lighter_weeks: 4,
            progression: Progression {
                up_after: 3,
                back_after_days: 14,
            },
            at: None,
            zone: "Europe/Zurich".to_owned(),
        }
    }

    #[test]
    fn the_sessions_of_a_week_stand_as_far_apart_as_the_days_allow() {
        use TrainingDay::{Friday, Monday, Wednesday};
        assert_eq!(usual().pattern(), Ok(vec![Monday, Wednesday, Friday]));
    }

    #[test]
    fn a_programme_that_cannot_fit_says_how_many_days_it_needs() {
        let tight = Programme {
            rest_days: 2,
            ..usual()
        };
        let refused = tight.check().unwrap_err();
        assert_eq!(
            refused[0].to_string(),
            "mix: \"3\" cannot fit a week: 3 sessions with 2 rest days after each need 9 days; \
             take 2 sessions a week or fewer, or ask for less rest"
        );
        let weekend = Programme {
            days: vec![TrainingDay::Saturday, TrainingDay::Sunday],
            ..usual()
        };
        let refused = weekend.check().unwrap_err();
        assert_eq!(refused[0].field, "days");
        assert_eq!(refused[0].value, "saturday, sunday");
    }

    #[test]
    fn an_absence_ends_after_it_begins() {
        let on = |day| NaiveDate::from_ymd_opt(2026, 3, day).unwrap();
        let away = ProgrammeAct::Away {
            from: on(9),
            to: Some(on(2)),
            why: Away::Ill,
            note: String::new(),
        };
        assert_eq!(away.check().unwrap_err().field, "to");
    }
}
