//! Days and times as they are written.

use super::When;
use super::layout::{DateStyle, DaysWritten, YEARS};
use super::names::plain_text;
use chrono::{DateTime, Days, NaiveDate, NaiveDateTime, NaiveTime, TimeDelta, Utc};
use tally_core::vocabulary::invalid::Invalid;

/// Days that spreadsheets count from: day 1 is the first of January 1900, and they count a
/// 29th of February that year had not.
const SERIAL_ZERO: &str = "1899-12-30";
/// Serial numbers of days from 1990 to 2100.
const SERIALS: std::ops::Range<f64> = 32_874.0..73_051.0;

/// A day and perhaps a time: `2026-04-18T10:15:30Z`, `18.04.2026 10:15`,
/// `4/18/2026 10:15 AM`, `18-Apr-26`, `18. April 2026`, `2026年4月18日`, the number by which a
/// spreadsheet keeps it, seconds or milliseconds since 1970.
///
/// # Errors
/// [`Invalid`] with the styles that are understood.
pub fn date(cell: &str, days: impl Into<DaysWritten>) -> Result<When, Invalid> {
    let cell = cell.trim();
    if let Ok(moment) = DateTime::parse_from_rfc3339(cell) {
        return Ok(When::At(moment.with_timezone(&Utc)));
    }
    counted(cell)
        .or_else(|| written(cell, days.into()))
        .ok_or_else(|| {
            let remedy =
                "write 2026-04-18, 18.04.2026 or 04/18/2026, with the time behind it as 10:15:30";
            Invalid::new("date", cell, "is not a date", remedy)
        })
}

/// A moment by a number alone.
fn counted(cell: &str) -> Option<When> {
    if !cell
        .chars()
        .all(|c| c.is_ascii_digit() || matches!(c, '.' | ','))
    {
        return None;
    }
    let figures = cell.chars().all(|c| c.is_ascii_digit());
    if figures && cell.len() == 8 {
        return NaiveDate::parse_from_str(cell, "%Y%m%d")
            .ok()
            .filter(in_range)
            .map(When::Day);
    }
    if figures && (cell.len() == 10 || cell.len() == 13) {
        let count: i64 = cell.parse().ok()?;
        let millis = if cell.len() == 10 {
            count * 1000
        } else {
            count
        };
        return DateTime::from_timestamp_millis(millis).map(When::At);
    }
    if cell.matches(['.', ',']).count() > 1 {
        return None;
    }
    let serial: f64 = cell.replace(',', ".").parse().ok()?;
    let zero: NaiveDate = SERIAL_ZERO.parse().ok()?;
    SERIALS.contains(&serial).then_some(())?;
    let day = zero.checked_add_signed(TimeDelta::days(serial.trunc() as i64))?;
    let millis = (serial.fract() * 86_400_000.0).round() as i64;
    if millis == 0 {
        return Some(When::Day(day));
    }
    let at = day.and_time(NaiveTime::MIN) + TimeDelta::milliseconds(millis);
    Some(When::Local(at))
}

/// A day of words and numbers, with a time behind it or none.
fn written(cell: &str, days: DaysWritten) -> Option<When> {
    // The longest beginning that is a day, with a time behind it.
    let breaks = cell
        .char_indices()
        .filter(|(_, c)| matches!(c, ' ' | 'T' | ',' | '日' | '일' | '_'))
        .map(|(i, c)| {
            (
                i + if matches!(c, '日' | '일') {
                    c.len_utf8()
                } else {
                    0
                },
                i + c.len_utf8(),
            )
        });
    let ends = breaks.chain([(cell.len(), cell.len())]).collect::<Vec<_>>();
    for (end, rest) in ends.into_iter().rev() {
        let Some(day) = day_of(&cell[..end], days) else {
            continue;
        };
        let time =
            cell[rest..].trim_matches(|c: char| c.is_whitespace() || matches!(c, ',' | '-' | '@'));
        if time.is_empty() {
            return Some(When::Day(day));
        }
        // Behind a day, "10.15" is no number.
        let pointed = || NaiveTime::parse_from_str(time, "%H.%M").ok();
        if let Some(time) = time_of(time).or_else(pointed) {
            return Some(When::Local(NaiveDateTime::new(day, time)));
        }
    }
    None
}

/// How the numbers of a day may be ordered: those of the styles that make a day of it.
pub fn fits(cell: &str, days: impl Into<DaysWritten>) -> Option<NaiveDate> {
    match date(cell, days).ok()? {
        When::Day(day) => Some(day),
        When::Local(at) => Some(at.date()),
        When::At(at) => Some(at.date_naive()),
        When::Clock(_) | When::Unknown => None,
    }
}

/// A day that is one however its numbers are ordered.
pub fn plainly(text: &str) -> Option<NaiveDate> {
    let mut read = DateStyle::ALL.map(|style| fits(text, style)).into_iter();
    let day = read.next()??;
    read.all(|other| other == Some(day)).then_some(day)
}

/// How days of numbers may be ordered, the likeliest first: the styles that make most of the
/// cells a day that has come, one of those that make the same days.
pub fn styles(cells: &[&str], year: Option<i32>, today: NaiveDate) -> Vec<DateStyle> {
    let late = today.checked_add_days(Days::new(1)).unwrap_or(today);
    let read = |style| -> Vec<Option<NaiveDate>> {
        let days = DaysWritten { style, year };
        let day = |cell: &&str| fits(cell, days).filter(|day| *day <= late);
        cells.iter().map(day).collect()
    };
    let all = DateStyle::ALL.map(|style| (style, read(style)));
    let good = |days: &[Option<NaiveDate>]| days.iter().filter(|day| day.is_some()).count();
    let most = all.iter().map(|(_, days)| good(days)).max().unwrap_or(0);
    let mut styles: Vec<(DateStyle, &Vec<Option<NaiveDate>>)> = Vec::new();
    for (style, days) in &all {
        if good(days) == most && !styles.iter().any(|(_, other)| other == &days) {
            styles.push((*style, days));
        }
    }
    styles.into_iter().map(|(style, _)| style).collect()
}

/// What stands between the parts of a day.
const PARTS: [char; 13] = [
    '-', '/', '.', ' ', ',', '年', '月', '日', '년', '월', '일', '’', '\'',
];

fn day_of(text: &str, DaysWritten { style, year }: DaysWritten) -> Option<NaiveDate> {
    // "18 de abril de 2026".
    let tells = |part: &&str| !part.is_empty() && !["de", "del", "of"].contains(part);
    let parts: Vec<&str> = text.split(PARTS).filter(tells).collect();
    let mut parts = without_weekday(&parts);
    let year = year.map(|year| year.to_string());
    if let ([_, _], Some(year)) = (&parts[..], &year) {
        parts.insert(if style == DateStyle::YearFirst { 0 } else { 2 }, year);
    }
    let [a, b, c] = parts[..] else { return None };
    // A month in words tells the order.
    for (at, word) in [a, b].into_iter().enumerate() {
        if let Some(month) = month_of(word) {
            let other = [b, a][at];
            let day = other.trim_end_matches(|c: char| c.is_ascii_alphabetic() || c == 'º');
            // "2026 Apr 18": the year first.
            return if day.len() == 4 {
                make(day, month, c)
            } else {
                make(c, month, day)
            };
        }
    }
    let month = |text: &str| text.parse::<u32>().ok();
    if a.len() == 4 {
        return make(a, month(b)?, c);
    }
    match style {
        DateStyle::DayFirst => make(c, month(b)?, a),
        DateStyle::MonthFirst => make(c, month(a)?, b),
        DateStyle::YearFirst => (c.len() != 4).then(|| make(a, month(b)?, c)).flatten(),
    }
}

fn make(year: &str, month: u32, day: &str) -> Option<NaiveDate> {
    let count: i32 = year.parse().ok()?;
    let year = match year.len() {
        4 => count,
        2 => 2000 + count,
        _ => return None,
    };
    NaiveDate::from_ymd_opt(year, month, day.parse().ok()?).filter(in_range)
}

fn in_range(day: &NaiveDate) -> bool {
    use chrono::Datelike;
    YEARS.contains(&day.year())
}

fn without_weekday<'a>(parts: &[&'a str]) -> Vec<&'a str> {
    match parts {
        [first, rest @ ..] if rest.len() == 3 && !first.contains(|c: char| c.is_ascii_digit()) => {
            rest.to_vec()
        }
        all => all.to_vec(),
    }
}

/// Months by the beginnings of their names in several languages, without marks.
const MONTHS: [(u32, &[&str]); 12] = [
    (1, &["jan", "janv", "ene", "gen"]),
    (2, &["feb", "fev", "fevr"]),
    (3, &["mar", "mars", "mrz", "mrt", "maart"]),
    (4, &["apr", "avr", "abr"]),
    (5, &["may", "mai", "maj", "mei", "mag"]),
    (6, &["jun", "juin", "giu"]),
    (7, &["jul", "juil", "lug"]),
    (8, &["aug", "aou", "ago"]),
    (9, &["sep", "set"]),
    (10, &["oct", "okt", "ott"]),
    (11, &["nov"]),
    (12, &["dec", "dez", "dic"]),
];

fn month_of(word: &str) -> Option<u32> {
    let plain = plain_text(word);
    if plain.chars().count() < 3 || !plain.chars().all(char::is_alphabetic) {
        return None;
    }
    let begins = |(_, names): &&(u32, &[&str])| names.iter().any(|name| plain.starts_with(name));
    MONTHS.iter().find(begins).map(|(month, _)| *month)
}

/// A time of day: `10:15`, `10:15:30.25`, `3:07 PM`, `10h15`, `10.15.30`.
pub fn time_of(text: &str) -> Option<NaiveTime> {
    let upper = text.trim().to_uppercase();
    let text = upper
        .trim_end_matches('Z')
        .trim_end_matches("UHR")
        .trim()
        .replace("A.M.", "AM")
        .replace("P.M.", "PM")
        .replace("A. M.", "AM")
        .replace("P. M.", "PM");
    let text = text.replace('H', ":");
    let text = text.trim_end_matches(':').replacen(',', ".", 1);
    [
        "%H:%M:%S%.f",
        "%H:%M",
        "%I:%M:%S %p",
        "%I:%M:%S%p",
        "%I:%M %p",
        "%I:%M%p",
        "%H.%M.%S",
    ]
    .iter()
    .find_map(|form| NaiveTime::parse_from_str(&text, form).ok())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_day_is_known_however_it_is_written() {
        let day: NaiveDate = "2026-04-18".parse().unwrap();
        for cell in [
            "2026-04-18",
            "18.04.2026",
            "18/4/26",
            "18-Apr-26",
            "Apr 18, 2026",
            "18. April 2026",
            "18 avril 2026",
            "18 abr. 2026",
            "18 de abril de 2026",
            "2026年4月18日",
            "2026년 4월 18일",
            "20260418",
            "46130",
            "Saturday, 18 April 2026",
            "2026 Apr 18",
            "2026. 4. 18.",
        ] {
            assert_eq!(
                date(cell, DateStyle::DayFirst),
                Ok(When::Day(day)),
                "{cell}"
            );
        }
        assert_eq!(date("26-04-18", DateStyle::YearFirst), Ok(When::Day(day)));
        assert_eq!(
            date("04/18/2026", DateStyle::MonthFirst),
            Ok(When::Day(day))
        );
        for cell in [
            "18.04.2026 15:07",
            "18-Apr-2026 3:07 PM",
            "2026-04-18T15:07",
            "2026年4月18日 15:07",
            "18.04.2026, 15:07 Uhr",
            "18/04/2026 15h07",
            "18/04/2026 15.07",
            "18/04/2026 3:07:00 p. m.",
        ] {
            let at = When::Local(day.and_hms_opt(15, 7, 0).unwrap());
            assert_eq!(date(cell, DateStyle::DayFirst), Ok(at), "{cell}");
        }
        assert_eq!(
            date("46130.5", DateStyle::DayFirst),
            Ok(When::Local(day.and_hms_opt(12, 0, 0).unwrap()))
        );
        let moment = When::At("2026-04-18T10:15:30Z".parse().unwrap());
        assert_eq!(date("1776507330", DateStyle::DayFirst), Ok(moment));
        for odd in [
            "31.02.2026",
            "18.04",
            "yesterday",
            "92.4",
            "18.04.1926",
            "7",
            "",
        ] {
            assert!(date(odd, DateStyle::DayFirst).is_err(), "{odd}");
        }
    }
}
