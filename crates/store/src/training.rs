//! Training: implements, protocols, programmes and the sessions that were held by them.

pub mod feeds;
pub mod implements;
pub mod programmes;
pub mod protocols;
pub mod runs;
