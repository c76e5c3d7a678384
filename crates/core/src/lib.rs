//! The rules of the job and every computation of Amber Tally.
//!
//! Pure: no I/O, no clock, no async, no database, no web. Given the same input it
//! returns the same output to the last digit. Quantities are SI inside, with
//! degrees and rpm where a name says so; [`vocabulary::units`] converts at the edges.
//!
//! A file stands in the folder of the question it answers, and imports only from
//! folders to its left:
//!
//! [`vocabulary`] ← [`physics`] ← [`statistics`] ← [`verdicts`] ← [`shots`] ← [`reach`]
//! ← [`session`] ← [`trials`] ← [`record`] ← [`training`] ← [`report`]; [`school`] stands beside
//! them.

pub mod physics;
pub mod reach;
pub mod record;
pub mod report;
pub mod school;
pub mod session;
pub mod shots;
pub mod statistics;
pub mod training;
pub mod trials;
pub mod verdicts;
pub mod vocabulary;
