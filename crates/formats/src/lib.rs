//! Reading and writing what crosses the edge of the system.
//!
//! [`device_line`] is what launch monitors speak to the intake; [`flight_csv`] is the
//! table that `amber-tally flight` reads and writes. Both turn named units into
//! internal ones and refuse bad input with [`tally_core::invalid::Invalid`].
//! `docs/formats.md` describes them for the people who write the other end.

pub mod device_line;
pub mod flight_csv;
