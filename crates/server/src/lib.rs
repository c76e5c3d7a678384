//! The Amber Tally server: web API, live events, device intake, and the web
//! application it serves; and the commands of the `amber-tally` program.
//!
//! Routes are thin: extract, authorise, load, compute in core, answer. A file imports only
//! from folders to its left: `guard` ← `state` ← `http` ← `intake` ← `made_up` ← `routes` ← [`server`] ← [`cli`].

pub mod cli;
pub mod guard;
pub mod http;
pub mod intake;
mod made_up;
mod routes;
pub mod server;
mod state;
