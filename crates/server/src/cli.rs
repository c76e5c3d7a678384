//! The commands of `amber-tally`.

pub mod demo;
pub mod flight;
pub mod openapi;
pub mod serve;
pub mod simulate;
