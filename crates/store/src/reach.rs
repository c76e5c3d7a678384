//! What a player aims for.

pub mod target_windows;
