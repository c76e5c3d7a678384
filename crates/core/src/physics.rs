//! What a club does to a ball, and the air and the ground to its flight.
//!
//! No coach's opinion stands here: given a delivery or a launch and the conditions of the
//! day, where does the ball go?

pub mod air;
pub mod ball_flight;
pub mod ball_kind;
pub mod club;
pub mod conditions;
mod equations;
pub mod flight;
pub mod furthest;
pub mod impact;
mod lanes;
pub mod launch;
pub mod motion;
pub mod normalise;
pub mod run;
pub mod turf;
pub mod wind;
