//! The readers on input that was broken on purpose.

#![allow(clippy::unwrap_used, reason = "a test may fail loudly")]

mod asked;
mod fuzz;
mod order;
mod shapes;
mod words;
mod workbooks;
