//! How much full effort a body is used to: what bounds it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a body can be asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Build {
    /// It still grows.
    Growing,
    /// It is new to training at full effort.
    Beginning,
    /// Neither.
    Trained,
}

impl Build {
    /// Whether it still grows.
    pub fn grows(self) -> bool {
        self == Build::Growing
    }

    /// That of a body that grows or not.
    ///
    /// ```
    /// use tally_core::verdicts::build::Build;
    /// assert!(Build::growing(true).grows() && !Build::growing(false).grows());
    /// ```
    pub fn growing(grows: bool) -> Build {
        if grows {
            Build::Growing
        } else {
            Build::Trained
        }
    }

    /// The same, after so many training sessions, of which a beginner has `beginner` or fewer.
    ///
    /// ```
    /// use tally_core::verdicts::build::Build;
    /// assert_eq!(Build::Trained.after(3, 8.0), Build::Beginning);
    /// assert_eq!(Build::Trained.after(9, 8.0), Build::Trained);
    /// assert_eq!(Build::Growing.after(0, 8.0), Build::Growing);
    /// ```
    pub fn after(self, sessions: i64, beginner: f64) -> Build {
        match self {
            Build::Trained if (sessions as f64) < beginner => Build::Beginning,
            build => build,
        }
    }
}
