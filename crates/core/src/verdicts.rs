//! By whose thresholds a conclusion is drawn, and in which form it is told.

pub mod build;
pub mod house_rules;
pub mod verdict;
pub mod working;
