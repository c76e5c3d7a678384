//! Training: what is swung, in which sets, over which weeks, and what a session of it gave.

pub mod after;
pub mod calendar;
pub mod house_protocols;
pub mod implement;
pub mod levels;
pub mod programme;
pub mod protocol;
pub mod run;
