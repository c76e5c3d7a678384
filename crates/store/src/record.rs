//! A player over time: goals, and tests that are repeated.

pub mod benchmarks;
pub mod due;
pub mod goals;
