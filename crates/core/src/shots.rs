//! What one shot was, and whether its numbers can be believed.
//!
//! From the readings of its devices and what the coach entered to what it was expected to
//! do, how it stands in the figures and what it is worth as a flight.

pub mod again;
pub mod agreement;
pub mod ball;
pub mod device;
pub mod doubt;
pub mod expected_carry;
pub mod face;
pub mod landing;
pub mod mark;
pub mod reading;
pub mod standing;
pub mod swung;
pub mod told;
pub mod trace;
pub mod useful_flight;
