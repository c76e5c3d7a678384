//! The API and the intake against a real PostgreSQL.

#![allow(clippy::unwrap_used, missing_docs, reason = "a test may fail loudly")]

mod access;
mod api;
mod at_the_mat;
mod bench;
mod boards;
mod club_length;
mod cluster;
mod command_line;
mod copies;
mod corrections;
mod crashes;
mod decide;
mod description;
mod device_line;
mod devices;
mod doors;
mod durability;
mod failover;
mod files;
mod gapping;
mod house_rules;
mod made_up;
mod numbers;
mod page;
mod plans;
mod player_facts;
mod pooler;
mod privacy;
mod program;
mod record;
mod replica;
mod roster;
mod run_a_session;
mod scenarios;
mod scripts;
mod sign_in;
mod stage;
mod tls;
mod traces;
mod training;
mod watched;
