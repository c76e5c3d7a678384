//! A programme as an iCalendar file (RFC 5545), for calendar programs to read.

use chrono::{DateTime, Duration, NaiveDate, NaiveTime, Utc};
use chrono_tz::Tz;
use icalendar::{Calendar, Component, Event, EventLike, EventStatus};
use tally_core::vocabulary::zone::moment_of;

/// A day of a calendar.
#[derive(Debug, Clone, PartialEq)]
pub struct CalendarDay {
    /// What it is known by, also when it moves.
    pub uid: String,
    /// When.
    pub date: NaiveDate,
    /// At what time, there; the whole day when absent.
    pub at: Option<(NaiveTime, Tz)>,
    /// What it is called.
    pub title: String,
    /// More about it.
    pub about: String,
    /// Whether it does not take place.
    pub cancelled: bool,
}

/// How long a session takes in a calendar, minutes.
const SESSION_MIN: i64 = 60;

/// The calendar `name` with these days, as it stands `now`.
///
/// ```
/// use tally_formats::icalendar::{CalendarDay, calendar};
/// let day = CalendarDay {
///     uid: "p-0".to_owned(),
///     date: chrono::NaiveDate::from_ymd_opt(2026, 3, 2).unwrap(),
///     at: None,
///     title: "Overspeed".to_owned(),
///     about: String::new(),
///     cancelled: false,
/// };
/// let text = calendar("Spring", &[day], chrono::DateTime::UNIX_EPOCH);
/// assert!(text.contains("DTSTART;VALUE=DATE:20260302\r\n"));
/// ```
pub fn calendar(name: &str, days: &[CalendarDay], now: DateTime<Utc>) -> String {
    let mut told = Calendar::empty();
    for (property, value) in [
        ("VERSION", "2.0"),
        ("PRODID", "-//Amber Tally//Programme//EN"),
        ("CALSCALE", "GREGORIAN"),
    ] {
        told.append_property((property, value));
    }
    told.name(name);
    for day in days {
        let mut event = Event::new();
        event
            .uid(&day.uid)
            .timestamp(now)
            .summary(&day.title)
            .status(if day.cancelled {
                EventStatus::Cancelled
            } else {
                EventStatus::Confirmed
            });
        if !day.about.is_empty() {
            event.description(&day.about);
        }
        match day.at {
            None => event.all_day(day.date),
            Some((time, zone)) => {
                let begins = moment_of(day.date, time, zone);
                event
                    .starts(begins)
                    .ends(begins + Duration::minutes(SESSION_MIN))
            }
        };
        told.push(event.done());
    }
    told.to_string()
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono_tz::Europe::Zurich;

    fn day(date: &str, at: Option<&str>) -> CalendarDay {
        CalendarDay {
            uid: format!("a-{date}"),
            date: date.parse().unwrap(),
            at: at.map(|at| (at.parse().unwrap(), Zurich)),
            title: "Overspeed, level two; both sides".to_owned(),
            about: "Light, medium,\nheavy: 24 swings. ".repeat(6),
            cancelled: false,
        }
    }

    /// Each event's properties by name, as another library reads them.
    fn read(text: &str) -> Vec<Vec<(String, String)>> {
        let parsed = ical::IcalParser::new(text.as_bytes());
        let calendars: Vec<_> = parsed.map(|calendar| calendar.unwrap()).collect();
        assert_eq!(calendars.len(), 1);
        let of = |event: &ical::parser::ical::component::IcalEvent| {
            let each = event.properties.iter();
            each.map(|p| (p.name.clone(), p.value.clone().unwrap_or_default()))
                .collect()
        };
        calendars[0].events.iter().map(of).collect()
    }

    fn start(event: &[(String, String)]) -> &str {
        &event.iter().find(|(name, _)| name == "DTSTART").unwrap().1
    }

    #[test]
    fn another_library_reads_what_was_written() {
        let cancelled = CalendarDay {
            cancelled: true,
            ..day("2026-03-04", None)
        };
        let days = [day("2026-03-02", Some("17:30:00")), cancelled];
        let text = calendar("Bram, spring", &days, DateTime::UNIX_EPOCH);
        assert!(
            text.lines().all(|line| line.len() <= 75),
            "lines are folded"
        );
        assert!(text.split("\r\n").all(|line| !line.contains('\n')));
        let events = read(&text);
        let told = |event: usize, name: &str| {
            let found = events[event].iter().find(|(n, _)| n == name);
            found.map(|(_, value)| value.replace("\\,", ",").replace("\\;", ";"))
        };
        assert_eq!(
            told(0, "SUMMARY").unwrap(),
            "Overspeed, level two; both sides"
        );
        assert!(
            told(0, "DESCRIPTION")
                .unwrap()
                .starts_with("Light, medium,\\nheavy")
        );
        assert_eq!(start(&events[0]), "20260302T163000Z");
        assert_eq!(told(0, "DTEND").unwrap(), "20260302T173000Z");
        assert_eq!(start(&events[1]), "20260304");
        assert_eq!(told(1, "STATUS").unwrap(), "CANCELLED");
        assert_eq!(told(1, "UID").unwrap(), "a-2026-03-04");
    }

    #[test]
    fn the_clock_change_moves_no_session_in_the_player_s_day() {
        // Clocks go forward on 29 March 2026 at 2:00, and back on 25 October at 3:00.
        let days = [
            day("2026-03-28", Some("17:30:00")),
            day("2026-03-29", Some("17:30:00")),
            day("2026-03-29", Some("02:30:00")),
            day("2026-10-25", Some("02:30:00")),
        ];
        let events = read(&calendar("Clock", &days, DateTime::UNIX_EPOCH));
        let starts: Vec<&str> = events.iter().map(|event| start(event)).collect();
        assert_eq!(
            starts,
            [
                "20260328T163000Z",
                "20260329T153000Z",
                "20260329T013000Z",
                "20261025T003000Z"
            ]
        );
    }
}
