//! What keeps the server standing however many come, and whatever they send.

pub mod address;
pub mod answers;
pub(crate) mod compute;
pub mod doors;
pub mod few;
pub(crate) mod held;
pub mod looks;
pub mod quiet;
pub mod refused;
pub mod sampled;
pub mod turns;
