//! A player over time.

pub(crate) mod benchmarks;
pub(crate) mod goals;
pub(crate) mod next;
mod occasions;
pub(crate) mod progress;
mod standings;
pub(crate) mod today;
