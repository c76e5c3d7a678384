//! The school: its people, players, rules and records.

pub(crate) mod account;
pub(crate) mod archive;
pub(crate) mod find;
pub(crate) mod groups;
pub(crate) mod house_rules;
pub(crate) mod links;
pub(crate) mod people;
pub(crate) mod players;
pub(crate) mod privacy;
pub(crate) mod schools;
pub(crate) mod script_tokens;
pub(crate) mod sign_in;
pub(crate) mod vocabulary;
