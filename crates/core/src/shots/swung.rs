//! A swing without a ball: what was swung, on which side and how the player stood.
//!
//! Its speed is no club's: it never enters a club's figures.

use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::text::text_within;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The side that is swung from.
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
pub enum SwingSide {
    /// The player's own.
    Dominant,
    /// The other one.
    Other,
}

impl Keyed for SwingSide {
    const KIND: &'static str = "a side to swing from";
}

/// What was swung without a ball, and how.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Swung {
    /// The implement by the school's own name: light, heavy, own driver.
    pub implement: String,
    /// The side, where it was told.
    #[serde(default)]
    pub side: Option<SwingSide>,
    /// How the player stood: normal, stepping, kneeling.
    #[serde(default)]
    pub position: Option<String>,
}

impl Swung {
    /// Checks what was typed.
    ///
    /// # Errors
    /// [`Invalid`] for an implement or a position that is empty or longer than 40
    /// characters; fields are named under `field`.
    pub fn check(&self, field: &str) -> Result<(), Invalid> {
        text_within(&format!("{field}.implement"), &self.implement, 40)?;
        if let Some(position) = &self.position {
            text_within(&format!("{field}.position"), position, 40)?;
        }
        Ok(())
    }
}
