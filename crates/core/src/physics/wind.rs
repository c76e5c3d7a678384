//! How the wind blows over a hole, from what a coach can read.
//!
//! A forecast gives the wind ten metres up. Below and above, over short grass, it
//! follows the logarithmic profile of the neutral surface layer,
//! `u(z) = u₁₀ · ln(1 + z/z₀) / ln(1 + 10 m/z₀)` (Wieringa 1993), so that a ball
//! leaves into less wind than it meets at its apex.

use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Roughness length of mown grass with few obstacles, m (Wieringa 1993).
pub(crate) const ROUGHNESS: f64 = 0.03;

/// A steady wind.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Wind {
    /// Speed ten metres above the ground, m/s.
    pub speed_mps: f64,
    /// Where it comes from, deg clockwise from the target seen from above: 0 is
    /// straight against, 90 from the right, 180 from behind.
    pub from_deg: f64,
}

impl Wind {
    /// The air's own velocity at the reading height, m/s: towards the target, and to
    /// the right.
    ///
    /// # Errors
    /// [`Invalid`] outside speed 0…30 m/s and direction −360…360°.
    pub fn velocity(&self) -> Result<[f64; 2], Invalid> {
        let speed = inputs::check("wind_mps", self.speed_mps)?;
        let from = inputs::check("wind_from_deg", self.from_deg)?.to_radians();
        Ok([-speed * from.cos(), -speed * from.sin()])
    }

    /// The same wind seen in a mirror along the target line.
    pub fn mirrored(&self) -> Wind {
        Wind {
            from_deg: -self.from_deg,
            ..*self
        }
    }
}

/// 1 / ln(1 + 10 m / [`ROUGHNESS`]), worked out by hand and held by a test.
pub(crate) const PER_LOG: f64 = 0.172_053_7;

/// Wind at height `z` (m) as a share of the wind that was read.
pub(crate) fn share_at(z: f64) -> f64 {
    (1.0 + z.max(0.0) / ROUGHNESS).ln() * PER_LOG
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_wind_is_what_was_read_at_ten_metres_and_nothing_at_the_ground() {
        assert!((share_at(10.0) - 1.0).abs() < 1e-6);
        assert_eq!(share_at(0.0), 0.0);
        assert!((1.1..1.3).contains(&share_at(30.0)));
    }

    #[test]
    fn a_wind_from_the_target_blows_against_and_one_from_the_right_to_the_left() {
        let wind = |from_deg| Wind {
            speed_mps: 5.0,
            from_deg,
        };
        let [along, right] = wind(0.0).velocity().unwrap();
        assert!((along + 5.0).abs() < 1e-9 && right.abs() < 1e-9);
        let [along, right] = wind(90.0).velocity().unwrap();
        assert!(along.abs() < 1e-9 && (right + 5.0).abs() < 1e-9);
    }

    #[test]
    fn a_gale_is_refused_by_name() {
        let gale = Wind {
            speed_mps: 80.0,
            from_deg: 0.0,
        };
        assert_eq!(gale.velocity().unwrap_err().field, "wind_mps");
    }
}
