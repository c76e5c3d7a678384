//! Who may do what in a school.

pub mod access;
pub mod audited;
pub mod find;
pub mod player_facts;
pub mod roster;
