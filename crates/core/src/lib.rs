//! The rules of the job and every computation of Amber Tally.
//!
//! Pure: no I/O, no clock, no async, no database, no web. Given the same input it
//! returns the same output to the last digit. Quantities are SI inside, with
//! degrees and rpm where a name says so; [`units`] converts at the edges.
//!
//! - [`quantity`], [`units`], [`reading`]: what a device reports, and how it is shown.
//! - [`air`], [`wind`], [`flight`], [`ground`], [`impact`], [`club`]: the physics.
//! - [`purpose`], [`plan`], [`warm_up`], [`progress`], [`last_time`], [`hit`]: how a
//!   session is run.
//! - [`agreement`]: how far two devices agree.
//! - [`window`], [`reach`], [`unclaimed`], [`normalise`]: what the physics is worth.
//! - [`summary`], [`expected_carry`], [`own_line`], [`useful_flight`], [`doubt`],
//!   [`launch_spin`], [`read`]: what a coach concludes.
//! - [`warm_up_effect`], [`effort`], [`speed_ladder`], [`compare`], [`landing`],
//!   [`strokes`], [`hole`], [`test_plan`]: what a test shows, and how to plan one.
//! - [`inputs`], [`bench`]: the bench.
//! - [`access`]: who may do what in a school.
//! - [`sentence`], [`verdict`], [`working`], [`house_rules`]: how it is said, and by whose thresholds.

pub mod access;
pub mod agreement;
pub mod air;
pub mod ball;
pub mod bench;
pub mod club;
pub mod compare;
pub mod doubt;
pub mod effort;
pub mod expected_carry;
pub mod flight;
pub mod ground;
pub mod hit;
pub mod hole;
pub mod house_rules;
pub mod impact;
pub mod inputs;
pub mod invalid;
pub mod landing;
pub mod last_time;
pub mod launch_spin;
mod least_squares;
pub mod normalise;
pub mod own_line;
pub mod plan;
pub mod progress;
pub mod purpose;
pub mod quantity;
pub mod reach;
pub mod read;
pub mod reading;
pub mod sentence;
pub mod speed_ladder;
pub mod strokes;
pub mod summary;
pub mod test_plan;
pub mod unclaimed;
pub mod units;
pub mod useful_flight;
pub mod verdict;
pub mod warm_up;
pub mod warm_up_effect;
mod warming;
pub mod wind;
pub mod window;
pub mod working;
