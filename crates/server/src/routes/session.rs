//! Preparing, warming up for, hitting and reading a session.

pub(crate) mod acts;
pub(crate) mod bag;
pub(crate) mod boards;
pub(crate) mod corrections;
pub(crate) mod devices_in_use;
pub(crate) mod hit;
pub(crate) mod live;
pub(crate) mod practice;
pub(crate) mod prepare;
pub(crate) mod read;
pub(crate) mod sessions;
pub(crate) mod setting;
pub(crate) mod test_plan;
pub(crate) mod under_way;
