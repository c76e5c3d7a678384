//! Virtual golfers against what is known of them.

#![allow(clippy::unwrap_used, reason = "a test may fail loudly")]

mod verdicts;
