//! A player over time: goals, and tests that are repeated.

pub mod benchmarks;
pub mod figures;
pub mod goals;
pub mod standings;
