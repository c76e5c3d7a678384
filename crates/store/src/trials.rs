//! What was decided on the strength of a test.

pub mod decisions;
