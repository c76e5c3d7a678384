//! How far there is to go: what the physics is worth to this player.

pub mod launch_spin;
pub mod other_club;
pub mod own_delivery;
#[expect(
    clippy::module_inception,
    reason = "the question is called what its room is"
)]
pub mod reach;
pub mod side_by_side;
pub mod unclaimed;
pub mod window;
