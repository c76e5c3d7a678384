//! What a block is hit with, where that differs within a session.

use crate::physics::ball_kind::BallKind;
use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::keyed::Keyed;
use crate::vocabulary::text::text_within;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What is changed for a block; what is empty is as the session has it.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Gear {
    /// The head, in the coach's words.
    pub head: String,
    /// The shaft, in the coach's words.
    pub shaft: String,
    /// The ball.
    pub ball: Option<BallKind>,
    /// Height of the ball's middle above the ground, m.
    pub tee_m: Option<f64>,
    /// Length that the club is held at, m, where that is not its own: choking down counts.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub length_m: Option<f64>,
}

/// Stands between a block's label and its gear.
pub const BETWEEN: &str = " · ";

impl Gear {
    /// Checks what was typed; `field` names it.
    ///
    /// # Errors
    /// [`Invalid`] for words of more than 60 letters or a tee outside 0…120 mm.
    pub fn check(&self, field: &str) -> Result<(), Invalid> {
        for (name, words) in [("head", &self.head), ("shaft", &self.shaft)] {
            if !words.is_empty() {
                text_within(&format!("{field}.{name}"), words, 60)?;
            }
        }
        if let Some(tee) = self.tee_m {
            within(&format!("{field}.tee_m"), tee * 1e3, 0.0..=120.0, "mm")?;
        }
        if let Some(length) = self.length_m {
            within(
                &format!("{field}.length_m"),
                length * 100.0,
                40.0..=140.0,
                "cm",
            )?;
        }
        Ok(())
    }

    /// A block's label with what it is hit with.
    ///
    /// ```
    /// use tally_core::physics::ball_kind::BallKind;
    /// use tally_core::session::gear::Gear;
    /// let gear = Gear {
    ///     head: "low spin".into(),
    ///     tee_m: Some(0.038),
    ///     ball: Some(BallKind::Range),
    ///     ..Gear::default()
    /// };
    /// assert_eq!(gear.named("A"), "A · low spin, range ball, tee 38 mm");
    /// assert_eq!(Gear::default().named("A"), "A");
    /// ```
    pub fn named(&self, label: &str) -> String {
        let words = [self.head.trim(), self.shaft.trim()].into_iter();
        let mut told: Vec<String> = words
            .filter(|words| !words.is_empty())
            .map(str::to_owned)
            .collect();
        told.extend(self.ball.map(|ball| format!("{} ball", ball.key())));
        told.extend(
            self.length_m
                .map(|length| format!("{:.1} cm long", length * 100.0)),
        );
        told.extend(self.tee_m.map(|tee| format!("tee {:.0} mm", tee * 1e3)));
        if told.is_empty() {
            label.to_owned()
        } else {
            format!("{label}{BETWEEN}{}", told.join(", "))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_tee_as_high_as_a_knee_is_refused_by_name() {
        let gear = Gear {
            tee_m: Some(0.4),
            ..Gear::default()
        };
        let refused = gear.check("blocks[0].gear").unwrap_err();
        assert_eq!(refused.field, "blocks[0].gear.tee_m");
    }
}
