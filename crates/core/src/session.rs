//! How a session is prepared, warmed up for, hit and read.

pub mod acts;
pub mod bag;
pub mod bounds;
pub mod gear;
pub mod hit;
pub mod label;
pub mod last_time;
pub mod notes;
pub mod plan;
pub mod purpose;
pub mod read;
pub mod stop;
pub mod tags;
pub mod test_plan;
pub mod warm_up;
