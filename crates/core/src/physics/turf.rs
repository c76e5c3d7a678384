//! What a ball comes down on: how turf gives, rubs and slows.
//!
//! Penner's (2002) values are for a green. A fairway's friction, dent and drag, and what
//! firmness does to dent, rebound and rolling, are ours, set so that on an average fairway
//! flat drives run 25 to 30 yd, elite drives about 15, a middle iron 6 and a wedge 3.

use crate::vocabulary::inputs;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Friction of a ball on a green (Penner 2002).
const GREEN_FRICTION: f64 = 0.40;

/// What the ball comes down on.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Hash,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Surface {
    /// Mown fairway.
    Fairway,
    /// A putting green.
    Green,
}

impl Keyed for Surface {
    const KIND: &'static str = "a ground";
}

/// A piece of level ground.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Ground {
    /// What grows there.
    pub surface: Surface,
    /// How firm it is: 0 soft, 0.5 average, 1 hard.
    pub firmness: f64,
}

impl Ground {
    /// A fairway neither soft nor hard.
    pub const AVERAGE_FAIRWAY: Ground = Ground {
        surface: Surface::Fairway,
        firmness: 0.5,
    };

    /// Checks the firmness.
    ///
    /// # Errors
    /// [`Invalid`] outside 0…1.
    pub fn check(&self) -> Result<(), Invalid> {
        inputs::check("firmness", self.firmness).map(|_| ())
    }

    /// Dent against Penner's green.
    pub(crate) fn dent(&self) -> f64 {
        let grass = match self.surface {
            Surface::Green => 1.0,
            // The mat of grass spreads the blow.
            Surface::Fairway => 0.4,
        };
        grass * (1.4 - 0.8 * self.firmness)
    }

    /// Friction of the ball on the turf.
    pub(crate) fn friction(&self) -> f64 {
        match self.surface {
            Surface::Green => GREEN_FRICTION,
            // Blades bent under the ball slide with it.
            Surface::Fairway => 0.10,
        }
    }

    /// Share of the level speed that each touch leaves in the grass.
    pub(crate) fn ploughing(&self) -> f64 {
        match self.surface {
            Surface::Green => 0.0,
            Surface::Fairway => 0.55,
        }
    }

    /// Restitution of a blow at `speed` (m/s) across the surface.
    pub(crate) fn restitution(&self, speed: f64) -> f64 {
        let green = if speed < 20.0 {
            0.510 - 0.0375 * speed + 0.000_903 * speed * speed
        } else {
            0.120
        };
        let grass = match self.surface {
            Surface::Green => 1.0,
            // Longer grass takes up part of the blow.
            Surface::Fairway => 0.9,
        };
        green * grass * (0.6 + 0.8 * self.firmness)
    }

    /// Deceleration of a rolling ball, in g.
    pub(crate) fn rolling_resistance(&self) -> f64 {
        match self.surface {
            // About 1.8…3.9 m after the usual 1.83 m/s release.
            Surface::Green => 0.105 - 0.06 * self.firmness,
            Surface::Fairway => 0.92 - 0.52 * self.firmness,
        }
    }
}
