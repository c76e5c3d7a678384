//! Why a session is held.

use crate::invalid::Invalid;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The purpose of a session.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Purpose {
    /// Where the player stands.
    Benchmark,
    /// How far this club should go.
    ExpectedCarry,
}

impl Purpose {
    /// All purposes, in the order they are offered.
    pub const ALL: [Purpose; 2] = [Purpose::Benchmark, Purpose::ExpectedCarry];

    /// The name in files and the API.
    pub fn key(self) -> &'static str {
        match self {
            Purpose::Benchmark => "benchmark",
            Purpose::ExpectedCarry => "expected_carry",
        }
    }

    /// The name on screen.
    pub fn label(self) -> &'static str {
        match self {
            Purpose::Benchmark => "Benchmark",
            Purpose::ExpectedCarry => "Expected carry",
        }
    }

    /// Finds the purpose with this key.
    ///
    /// # Errors
    /// [`Invalid`] naming the purposes there are.
    pub fn from_key(field: &str, key: &str) -> Result<Purpose, Invalid> {
        Self::ALL
            .into_iter()
            .find(|p| p.key() == key)
            .ok_or_else(|| {
                let keys = Self::ALL.map(Purpose::key).join(", ");
                Invalid::new(field, key, "is not a purpose", format!("use one of {keys}"))
            })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_purpose_is_found_by_its_key_which_is_its_json_name() {
        for purpose in Purpose::ALL {
            assert_eq!(Purpose::from_key("purpose", purpose.key()), Ok(purpose));
            let json = serde_json::to_string(&purpose).unwrap();
            assert_eq!(json, format!("\"{}\"", purpose.key()));
        }
    }

    #[test]
    fn an_unknown_purpose_lists_the_known_ones() {
        let refused = Purpose::from_key("purpose", "fun").unwrap_err();
        assert_eq!(refused.remedy, "use one of benchmark, expected_carry");
    }
}
