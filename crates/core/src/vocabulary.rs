//! The words of the trade: quantities, units, inputs, refusals and sentences.
//!
//! Every other room speaks in these; they know nothing of golf balls in the air.

pub mod characters;
pub mod glossary;
pub mod inputs;
pub mod invalid;
pub mod keyed;
pub mod lengths;
pub mod moment;
pub mod playing_level;
pub mod quantity;
pub mod sentence;
pub mod text;
pub mod units;
pub mod zone;
