//! Shots, the devices and files they come from, and what was done with them.

pub mod device_pairs;
pub mod devices;
pub mod hit_sessions;
pub mod import_writer;
pub mod imports;
pub mod session_shots;
pub mod shot_edits;
pub mod shot_intake;
pub mod traces;
