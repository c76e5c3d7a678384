//! Virtual golfers and simulated devices.
//!
//! A [`golfer::Golfer`] swings: club speed, attack, dynamic loft and strike scatter go
//! through core's impact and flight. A [`monitor::Monitor`] watches and reports what a
//! device of its kind would, with its own noise and provenance. Everything comes from
//! a seed, so that a demo has true answers to compare with.

pub mod golfer;
pub mod monitor;
pub mod practice;
pub mod scenario;
