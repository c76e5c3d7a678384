//! What tests showed, and what was decided on the strength of one.

pub mod comparisons;
pub mod decisions;
