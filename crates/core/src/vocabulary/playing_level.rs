//! How well somebody plays.

use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How well somebody plays, as a coach would say it.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum PlayingLevel {
    /// Learns the swing.
    Beginner,
    /// Plays for fun at a club.
    Club,
    /// Plays competitions.
    Competition,
    /// Plays with the best of a country.
    Elite,
}

impl Keyed for PlayingLevel {
    const KIND: &'static str = "a level of play";
}

impl PlayingLevel {
    /// What players of it are called.
    pub fn players(self) -> &'static str {
        match self {
            PlayingLevel::Beginner => "beginners",
            PlayingLevel::Club => "club players",
            PlayingLevel::Competition => "competition players",
            PlayingLevel::Elite => "elite players",
        }
    }
}
