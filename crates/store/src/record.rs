//! A player over time: goals, and tests that are repeated.

pub mod benchmarks;
pub mod figures;
pub mod goals;
pub mod next_choices;
pub mod peers;
pub mod standings;
