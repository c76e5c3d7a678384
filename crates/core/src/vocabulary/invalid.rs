//! How an input is refused: the field, the value and the remedy, always.

use crate::vocabulary::characters::kept;
use serde::Serialize;
use std::ops::RangeInclusive;
use utoipa::ToSchema;

/// One input that cannot be used, worded for the person who gave it.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize, ToSchema)]
#[error("{field}: {value:?} {problem}; {remedy}")]
pub struct Invalid {
    /// Name of the field as the sender wrote it.
    pub field: String,
    /// The value that was given, shortened when it is very long.
    pub value: String,
    /// What is wrong with it, as a clause: "is not a number".
    pub problem: String,
    /// What to do instead, as a request: "give a number from 1 to 100 m/s".
    pub remedy: String,
}

impl Invalid {
    /// Longest piece of the given value that is repeated in the message, characters.
    const SHOWN: usize = 60;

    /// Refuses `value` of `field`.
    pub fn new(
        field: impl Into<String>,
        value: impl ToString,
        problem: impl Into<String>,
        remedy: impl Into<String>,
    ) -> Self {
        let mut value = kept(&value.to_string());
        if let Some((cut, _)) = value.char_indices().nth(Self::SHOWN) {
            value.truncate(cut);
            value.push('…');
        }
        Self {
            field: field.into(),
            value,
            problem: problem.into(),
            remedy: remedy.into(),
        }
    }

    /// Refuses `field` because nothing was given.
    pub fn missing(field: impl Into<String>, remedy: impl Into<String>) -> Self {
        Self::new(field, "", "is missing", remedy)
    }
}

/// Accepts `value` when it is finite and within `range`, in the words of `unit`.
///
/// # Errors
/// [`Invalid`] naming the field, the value and the accepted range.
pub fn within(
    field: &str,
    value: f64,
    range: RangeInclusive<f64>,
    unit: &str,
) -> Result<f64, Invalid> {
    let remedy = || {
        let unit = if unit.is_empty() {
            String::new()
        } else {
            format!(" {unit}")
        };
        format!(
            "give a number from {} to {}{unit}",
            range.start(),
            range.end()
        )
    };
    if !value.is_finite() {
        return Err(Invalid::new(
            field,
            value,
            "is not a finite number",
            remedy(),
        ));
    }
    if !range.contains(&value) {
        return Err(Invalid::new(field, value, "is out of range", remedy()));
    }
    Ok(value)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_message_names_field_value_and_remedy() {
        let refused = within("launch_angle_deg", 95.0, -10.0..=80.0, "deg").unwrap_err();
        assert_eq!(
            refused.to_string(),
            "launch_angle_deg: \"95\" is out of range; give a number from -10 to 80 deg"
        );
    }

    #[test]
    fn nan_is_refused_even_though_it_compares_with_nothing() {
        assert!(within("x", f64::NAN, 0.0..=1.0, "").is_err());
    }

    #[test]
    fn a_very_long_value_is_shortened_on_a_character_boundary() {
        let refused = Invalid::new("note", "é".repeat(100_000), "is too long", "shorten it");
        assert_eq!(refused.value.chars().count(), Invalid::SHOWN + 1);
    }
}
