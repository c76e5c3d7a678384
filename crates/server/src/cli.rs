//! The commands of `amber-tally`.

pub mod backup;
pub mod demo;
pub mod files;
pub mod openapi;
pub mod schools;
pub mod serve;
pub mod simulate;
pub mod table;
pub mod window;
