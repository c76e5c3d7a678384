//! How far there is to go.

pub(crate) mod bench;
pub(crate) mod launch_spin;
pub(crate) mod other_club;
pub(crate) mod target_windows;
