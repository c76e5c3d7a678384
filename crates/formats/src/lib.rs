//! Reading and writing what crosses the edge of the system.
//!
//! [`device_line`] is what launch monitors speak to the intake; [`flight_csv`] and
//! [`impact_csv`] are the tables that `amber-tally flight` and `amber-tally impact`
//! read and write, by way of [`table`]. All turn named units into
//! internal ones and refuse bad input with [`tally_core::invalid::Invalid`].
//! `docs/formats.md` describes them for the people who write the other end.

pub mod device_line;
pub mod flight_csv;
pub mod impact_csv;
pub mod table;
