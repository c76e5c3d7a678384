//! Time zones, by their names in the IANA database.

use crate::vocabulary::invalid::Invalid;
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
