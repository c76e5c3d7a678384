//! Days and moments that records can have.

use crate::vocabulary::invalid::Invalid;
use chrono::{DateTime, Datelike, NaiveDate, Utc};
use std::ops::RangeInclusive;

/// The years of days that are kept.
const YEARS: RangeInclusive<i32> = 1900..=2199;

/// Accepts a day of the years 1900 to 2199.
///
/// # Errors
/// [`Invalid`].
pub fn day(field: &str, day: NaiveDate) -> Result<NaiveDate, Invalid> {
    if YEARS.contains(&day.year()) {
        return Ok(day);
    }
    let remedy = format!("give a day from {} to {}", YEARS.start(), YEARS.end());
    Err(Invalid::new(field, day, "is no day of a record", remedy))
}

/// Accepts a moment of these years.
///
/// # Errors
/// [`Invalid`].
pub fn moment(field: &str, at: DateTime<Utc>) -> Result<DateTime<Utc>, Invalid> {
    day(field, at.date_naive()).map(|_| at)
}

/// Days back for which a month needs no year.
const MONTHS_WITHOUT_YEAR: i64 = 330;

/// Whether a day is said with its year: another of its name may lie between.
pub(crate) fn needs_year(date: NaiveDate, now: NaiveDate) -> bool {
    (now - date).num_days() > MONTHS_WITHOUT_YEAR
}

/// A day as it is said: "4 March", or "4 March 2026".
pub(crate) fn day_said(date: NaiveDate, year: bool) -> String {
    let form = if year { "%-d %B %Y" } else { "%-d %B" };
    date.format(form).to_string()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_day_far_from_any_record_is_refused() {
        let at = |text: &str| moment("from", text.parse().unwrap());
        assert!(at("2026-04-18T10:00:00Z").is_ok());
        for far in [
            "1899-12-31T23:59:59Z",
            "2200-01-01T00:00:00Z",
            "+262142-01-01T00:00:00Z",
        ] {
            let refused = at(far).unwrap_err();
            assert!(
                refused.to_string().contains("from 1900 to 2199"),
                "{refused}"
            );
        }
    }
}
