//! The people of a school, its players, its rules, and its records as a whole.

pub mod accounts;
pub mod archive;
pub mod browsers;
mod erasure;
pub mod groups;
pub mod house_rules;
pub mod links;
pub mod people;
pub mod players;
pub mod privacy;
pub mod schools;
pub mod script_tokens;
pub mod tries;
