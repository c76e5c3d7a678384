//! Reading and writing what crosses the edge of the system.
//!
//! [`device_line`] is what launch monitors speak to the intake; [`flight_csv`] and
//! [`impact_csv`] are the tables that `amber-tally flight` and `amber-tally impact`
//! read and write, by way of [`table`]; [`shot_table`] reads tables of shots from
//! anywhere and writes our own; [`trace_csv`] reads and writes whole traces of a force plate;
//! [`archive`] is a whole school; [`icalendar`] is a programme in a calendar. All turn named
//! units into internal ones and refuse bad input with [`tally_core::vocabulary::invalid::Invalid`].
//! `docs/formats.md` describes them for the people who write the other end.

pub mod archive;
pub mod device_line;
pub mod flight_csv;
pub mod icalendar;
pub mod impact_csv;
pub mod shot_table;
pub mod table;
pub mod trace_csv;
pub mod trace_fields;
