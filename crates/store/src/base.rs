//! What every query stands on: connections, scope, locks, the list of tables.

pub mod columns;
pub(crate) mod connection;
pub mod connections;
pub mod error;
pub(crate) mod home;
pub(crate) mod json;
pub mod keys;
pub mod live;
pub(crate) mod locks;
pub mod packed_trace;
pub(crate) mod pools;
pub mod readers;
pub(crate) mod schema;
pub(crate) mod scoped;
pub mod signed_in;
pub mod store;
pub mod tables;
