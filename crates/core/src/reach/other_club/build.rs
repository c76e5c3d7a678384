//! A club as it is built.

use crate::physics::club::Club;
use crate::physics::impact::Head;
use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A club as it is built.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClubBuild {
    /// Loft, deg.
    pub static_loft_deg: f64,
    /// Length, m.
    pub club_length_m: f64,
    /// Mass of the head, g.
    pub head_mass_g: f64,
    /// How much the head resists turning when it is struck off its middle, % of what is usual.
    pub forgiveness_pct: f64,
}

impl ClubBuild {
    /// What is usual of a kind.
    ///
    /// ```
    /// use tally_core::physics::club::Club;
    /// use tally_core::reach::other_club::ClubBuild;
    /// assert_eq!(ClubBuild::usual(Club::Driver).head_mass_g, 203.0);
    /// ```
    pub fn usual(club: Club) -> ClubBuild {
        ClubBuild {
            static_loft_deg: club.usual_loft_deg(),
            club_length_m: club.usual_length(),
            head_mass_g: (1000.0 * club.head_mass()).round(),
            forgiveness_pct: 100.0,
        }
    }

    /// Checks it against the ranges of the bench.
    ///
    /// # Errors
    /// [`Invalid`] outside them.
    pub fn check(&self) -> Result<(), Invalid> {
        inputs::check("static_loft_deg", self.static_loft_deg)?;
        inputs::check("club_length_m", self.club_length_m)?;
        inputs::check("head_mass_g", self.head_mass_g)?;
        inputs::check("forgiveness_pct", self.forgiveness_pct)?;
        Ok(())
    }

    /// Its head: that of the kind with this mass and resistance to turning.
    pub(super) fn head(&self, club: Club) -> Head {
        let usual = club.head();
        let resists = self.forgiveness_pct / 100.0;
        Head {
            mass: usual.mass + self.head_mass_g / 1000.0 - club.head_mass(),
            inertia: usual.inertia.map(|inertia| inertia * resists),
            ..usual
        }
    }
}
