//! Training: what is swung, in which sets, over which weeks.

pub(crate) mod calendars;
pub(crate) mod implements;
pub(crate) mod plan;
pub(crate) mod programmes;
pub(crate) mod protocols;
pub(crate) mod runs;
pub(crate) mod today;
