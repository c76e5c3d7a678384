//! What keeps the server standing however many come, and whatever they send.

pub(crate) mod address;
pub mod answers;
pub(crate) mod compute;
pub mod doors;
pub mod few;
pub(crate) mod held;
pub(crate) mod quiet;
pub(crate) mod refused;
pub(crate) mod sampled;
pub(crate) mod turns;
