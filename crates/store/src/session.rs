//! Sessions, what is planned for them and what is done in them.

pub mod acts;
pub mod bag;
pub mod blocks;
pub mod boards;
pub mod corrections;
pub mod places;
pub mod plan_templates;
pub mod session_lines;
pub mod sessions;
pub mod swings;
