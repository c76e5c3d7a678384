//! What lies between ball and face.

use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What lies between ball and face, which takes friction away.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    Hash,
    Default,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Lie {
    /// Nothing: a dry ball on a dry, clean face.
    #[default]
    Dry,
    /// Water.
    Wet,
    /// Blades of grass.
    Grass,
}

impl Keyed for Lie {
    const KIND: &'static str = "a lie";
}

impl Lie {
    /// What it leaves of the friction. Ours: water takes about a fifth of a sand
    /// wedge's spin, grass a fifth of a 7-iron's and more than half of a sand wedge's;
    /// published tests scatter widely with grooves, ball and grass.
    pub(crate) fn friction_share(self) -> f64 {
        match self {
            Lie::Dry => 1.0,
            Lie::Wet => 0.5,
            Lie::Grass => 0.25,
        }
    }
}
