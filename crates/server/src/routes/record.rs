//! A player over time.

pub(crate) mod benchmarks;
pub(crate) mod goals;
mod occasions;
pub(crate) mod progress;
mod standing;
pub(crate) mod today;
