//! What the player takes home.

pub mod draft;
pub mod page;
pub mod told;
