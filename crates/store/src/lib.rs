//! The school's records in PostgreSQL, through Diesel.
//!
//! One file a subject; every query takes the school it may see. Derived figures are
//! never stored: [`session`] and [`shots`] load what core needs to compute them.
//!
//! A file imports only from folders to its left:
//! [`base`] ← [`school`] ← [`session`] ← [`shots`] ← [`reach`] ← [`trials`] ← [`record`] ← [`training`]
//! ← [`report`].

pub mod base;
pub mod reach;
pub mod record;
pub mod report;
pub mod school;
pub mod session;
pub mod shots;
#[cfg(feature = "testing")]
pub mod testing;
pub mod training;
pub mod trials;

pub use base::error::StoreError;
pub use base::store::Store;
