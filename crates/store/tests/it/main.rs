//! The store on a real PostgreSQL.

#![allow(clippy::unwrap_used, reason = "a test may fail loudly")]

mod devices;
mod imports;
mod isolation;
mod packed_trace;
mod people;
mod privacy;
mod school;
mod shots;
