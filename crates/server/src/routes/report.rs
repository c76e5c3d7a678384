//! What the player takes home.

pub(crate) mod page;
pub(crate) mod page_draft;
