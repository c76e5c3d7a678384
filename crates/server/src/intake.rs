//! How shots come in: from devices, from a practice device, from files.

pub mod device_client;
pub mod device_line;
pub mod device_talk;
pub(crate) mod import;
pub(crate) mod practice;
