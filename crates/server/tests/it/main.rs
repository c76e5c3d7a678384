//! The API and the intake against a real PostgreSQL.

mod api;
mod command_line;
mod device_line;
mod stage;
