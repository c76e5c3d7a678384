//! Who asks, what they may, and how they are refused.

pub mod access;
pub(crate) mod assets;
pub(crate) mod by_size;
pub(crate) mod coach;
pub(crate) mod consent;
pub(crate) mod download;
pub(crate) mod extract;
pub(crate) mod given;
pub(crate) mod heard_out;
pub mod password;
pub mod problem;
pub(crate) mod request_log;
pub(crate) mod short;
pub mod token;
pub(crate) mod tries;
pub(crate) mod unchanged;
pub mod watch;
