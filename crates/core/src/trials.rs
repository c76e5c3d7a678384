//! What a test showed: comparisons, ladders, warm-ups and holes.

pub mod compare;
pub mod effort;
pub mod force_traces;
pub mod hole;
pub mod opening;
pub mod speed_ladder;
pub mod strokes;
pub mod warm_up_effect;
