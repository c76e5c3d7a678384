//! The Amber Tally server: web API, live events, device intake, and the web
//! application it serves; and the commands of the `amber-tally` program.
//!
//! Routes are thin: extract, authorise, load, compute in core, answer.

pub mod access;
pub mod app;
mod assets;
mod balls;
pub mod cli;
mod coach;
pub mod device_client;
mod extract;
mod import;
pub mod intake;
pub mod password;
mod practice;
mod problem;
mod routes;
mod token;
mod watch;
