//! Time zones, by their names in the IANA database.

use crate::vocabulary::invalid::Invalid;
use chrono::{DateTime, Duration, LocalResult, NaiveDate, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;

/// The zone of this name.
///
/// ```
/// use tally_core::vocabulary::zone::zone;
/// assert!(zone("zone", "Europe/Zurich").is_ok());
/// let refused = zone("zone", "Mars/Phobos").unwrap_err();
/// assert!(refused.to_string().starts_with("zone: \"Mars/Phobos\" is not a time zone"));
/// ```
///
/// # Errors
/// [`Invalid`] when there is no such zone.
pub fn zone(field: &str, name: &str) -> Result<Tz, Invalid> {
    name.parse().map_err(|_| {
        Invalid::new(
            field,
            name,
            "is not a time zone",
            "use a name such as Europe/Zurich or UTC",
        )
    })
}

/// The day it is in a zone; in UTC where nobody knows the zone.
///
/// ```
/// use tally_core::vocabulary::zone::date_in;
/// let late = "2026-03-01T23:30:00Z".parse().unwrap();
/// assert_eq!(date_in(late, "Europe/Zurich").to_string(), "2026-03-02");
/// ```
pub fn date_in(at: DateTime<Utc>, name: &str) -> NaiveDate {
    let there = name.parse::<Tz>().unwrap_or(Tz::UTC);
    at.with_timezone(&there).date_naive()
}

/// The moment of a time of a day in a zone. In the night in which clocks are put forward that
/// time may not be: the hour after it is then. Where they are put back it is twice, and the
/// first is meant.
///
/// ```
/// use tally_core::vocabulary::zone::{moment_of, zone};
/// let zurich = zone("zone", "Europe/Zurich").unwrap();
/// let [evening, night] = ["17:30:00", "02:30:00"].map(|time| {
///     moment_of("2026-03-29".parse().unwrap(), time.parse().unwrap(), zurich).to_rfc3339()
/// });
/// assert_eq!(evening, "2026-03-29T15:30:00+00:00");
/// assert_eq!(night, "2026-03-29T01:30:00+00:00");
/// ```
pub fn moment_of(date: NaiveDate, time: NaiveTime, zone: Tz) -> DateTime<Utc> {
    let there = date.and_time(time);
    match zone.from_local_datetime(&there) {
        LocalResult::Single(at) | LocalResult::Ambiguous(at, _) => at.to_utc(),
        LocalResult::None => {
            let later = there + Duration::hours(1);
            let at = zone.from_local_datetime(&later).earliest();
            at.map_or_else(|| there.and_utc(), |at| at.to_utc())
        }
    }
}
