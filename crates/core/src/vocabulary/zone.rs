//! Time zones, by their names in the IANA database.

use crate::vocabulary::invalid::Invalid;
use chrono::{DateTime, NaiveDate, Utc};
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
