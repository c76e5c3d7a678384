//! Journeys of a coach through the real application.

#![allow(clippy::unwrap_used, reason = "a test may fail loudly")]

mod access;
mod bench;
mod boards;
mod club_length;
mod decide;
mod files;
mod find;
mod gapping;
mod page;
mod people;
mod player_facts;
mod read;
mod record;
mod run_a_session;
mod sign_in;
mod training;
