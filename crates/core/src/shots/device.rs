//! What readings come from.

use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::keyed::Keyed;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What kind of device a reading came from.
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
pub enum DeviceKind {
    /// Follows the ball by radar.
    Radar,
    /// Photographs club and ball at impact.
    Camera,
    /// A small radar that tells speeds alone.
    HandRadar,
    /// Feels the ground under the feet.
    ForcePlate,
    /// No device: a file that was imported.
    File,
}

impl Keyed for DeviceKind {
    const KIND: &'static str = "a kind of device";
}

impl DeviceKind {
    /// The kinds that speak the device line, in the order they are offered.
    pub const SPEAKING: [DeviceKind; 4] = [
        DeviceKind::Radar,
        DeviceKind::Camera,
        DeviceKind::HandRadar,
        DeviceKind::ForcePlate,
    ];

    /// The name on screen.
    pub fn label(self) -> &'static str {
        match self {
            DeviceKind::Radar => "Radar",
            DeviceKind::Camera => "Camera",
            DeviceKind::HandRadar => "Hand radar",
            DeviceKind::ForcePlate => "Force plate",
            DeviceKind::File => "File",
        }
    }

    /// Finds a kind that speaks the device line.
    ///
    /// # Errors
    /// [`Invalid`] naming the kinds there are.
    pub fn speaking(field: &str, key: &str) -> Result<DeviceKind, Invalid> {
        let found = Self::SPEAKING.into_iter().find(|kind| kind.key() == key);
        found.ok_or_else(|| {
            let keys = Self::SPEAKING.map(Keyed::key).join(", ");
            let remedy = format!("give one of {keys}");
            Invalid::new(field, key, "is not a kind of device", remedy)
        })
    }
}
