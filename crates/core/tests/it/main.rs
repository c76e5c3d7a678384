//! Core from outside: published figures, invariants, and how often the statistics hold.

#![allow(clippy::unwrap_used, reason = "a test may fail loudly")]

#[path = "../../reference/fit.rs"]
mod fit;
#[path = "../../reference/impact.rs"]
mod impact;
#[path = "../../reference/least_squares.rs"]
mod least_squares;
#[path = "../../reference/table.rs"]
mod table;

mod flight_reference;
mod house;
mod impact_reference;
mod level;
mod months;
mod physics_invariants;
mod read_invariants;
mod said;
mod sentences;
mod statistics;
mod stranger;
mod training;
