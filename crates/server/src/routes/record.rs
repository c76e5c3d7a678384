//! A player over time.

pub(crate) mod benchmarks;
pub(crate) mod club_length;
pub(crate) mod gapping;
pub(crate) mod goals;
pub(crate) mod next;
pub(crate) mod occasions;
pub(crate) mod peers;
pub(crate) mod progress;
pub(crate) mod records;
pub(crate) mod standings;
pub(crate) mod today;
