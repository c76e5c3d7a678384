//! A swing without a ball: what was swung, on which side and how the player stood.
//!
//! Its speed is no club's: it never enters a club's figures.

use crate::statistics::quantile::median;
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
    /// The implement, the side where it is the other one, and how the player stood where that
    /// was not as usual.
    ///
    /// ```
    /// use tally_core::shots::swung::{SwingSide, Swung};
    /// let swung = |side, position: &str| Swung {
    ///     implement: "light".to_owned(),
    ///     side: Some(side),
    ///     position: Some(position.to_owned()),
    /// };
    /// assert_eq!(swung(SwingSide::Dominant, "normal").words(), "light · own side");
    /// assert_eq!(swung(SwingSide::Other, "stepping").words(), "light · other side · stepping");
    /// ```
    pub fn words(&self) -> String {
        let side = self.side.map(|side| match side {
            SwingSide::Dominant => "own side",
            SwingSide::Other => "other side",
        });
        let stood = self.position.as_deref().filter(|stood| *stood != "normal");
        let parts = [Some(self.implement.as_str()), side, stood];
        parts.into_iter().flatten().collect::<Vec<_>>().join(" · ")
    }

    /// Whether a swing that is told like this belongs to a block of `asked`: the same implement
    /// however it is written, and the same side and position where they were told.
    ///
    /// ```
    /// use tally_core::shots::swung::{SwingSide, Swung};
    /// let told = |implement: &str, side| Swung {
    ///     implement: implement.to_owned(),
    ///     side,
    ///     position: None,
    /// };
    /// let asked = told("Light stick", Some(SwingSide::Other));
    /// assert!(told("light stick", None).belongs_to(&asked));
    /// assert!(!told("light stick", Some(SwingSide::Dominant)).belongs_to(&asked));
    /// assert!(!told("heavy stick", None).belongs_to(&asked));
    /// ```
    pub fn belongs_to(&self, asked: &Swung) -> bool {
        let same = |a: &str, b: &str| a.trim().to_lowercase() == b.trim().to_lowercase();
        let stands = |stood: &String| asked.position.as_ref().is_some_and(|at| same(stood, at));
        same(&self.implement, &asked.implement)
            && (self.side.is_none() || self.side == asked.side)
            && self.position.as_ref().is_none_or(stands)
    }

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

/// Swings that no body makes beside these others of the same implement and side: further over
/// their middle than `jump`, or under half of it. Nothing can be told of fewer than three.
///
/// ```
/// use tally_core::shots::swung::leaps;
/// assert_eq!(leaps(&[44.0, 45.0, 71.0, 44.5], 0.15), [false, false, true, false]);
/// assert_eq!(leaps(&[44.0, 71.0], 0.15), [false, false]);
/// ```
pub fn leaps(speeds: &[f64], jump: f64) -> Vec<bool> {
    if speeds.len() < 3 {
        return vec![false; speeds.len()];
    }
    let leaps = |(at, speed): (usize, &f64)| {
        let others: Vec<f64> = [&speeds[..at], &speeds[at + 1..]].concat();
        let middle = median(&others);
        *speed > middle * (1.0 + jump) || *speed < 0.5 * middle
    };
    speeds.iter().enumerate().map(leaps).collect()
}
