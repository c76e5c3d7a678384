//! A player over time: levels, what changed, what is the best, what is to come.

pub mod benchmark;
pub mod club_length;
pub mod figures;
pub mod flags;
pub mod gapping;
pub mod goal;
pub mod next;
pub mod off_days;
pub mod peers;
pub mod progress;
pub mod records;
pub mod reference_levels;
pub mod series;
pub mod standings;
pub mod went;
