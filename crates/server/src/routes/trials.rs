//! What a test showed, and what was decided.

pub(crate) mod comparisons;
pub(crate) mod decide;
pub(crate) mod decisions;
pub(crate) mod force_traces;
pub(crate) mod hole;
pub(crate) mod opening;
