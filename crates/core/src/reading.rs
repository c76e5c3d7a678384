//! What one device reported for one shot, and where each value came from.

use crate::quantity::Quantity;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Where a value came from. A value that no device gave is simply absent.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Provenance {
    /// The device sensed it.
    Measured,
    /// The device worked it out from other values.
    Calculated,
    /// A person typed it.
    Entered,
}

/// One value of a reading.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Reported {
    /// The value in internal units (m/s, m, deg, rpm, s).
    pub si: f64,
    /// Where it came from.
    pub from: Provenance,
}

/// The values one device reported for one shot.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
#[schema(value_type = BTreeMap<String, Reported>)]
pub struct Reading(pub BTreeMap<Quantity, Reported>);

impl Reading {
    /// The value of `quantity` with its provenance.
    pub fn value(&self, quantity: Quantity) -> Option<Reported> {
        self.0.get(&quantity).copied()
    }

    /// The value of `quantity` in internal units, whatever its provenance.
    pub fn get(&self, quantity: Quantity) -> Option<f64> {
        self.value(quantity).map(|value| value.si)
    }

    /// Adds or replaces a value.
    pub fn set(&mut self, quantity: Quantity, si: f64, from: Provenance) {
        self.0.insert(quantity, Reported { si, from });
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_reading_is_stored_by_name_and_comes_back_whole() {
        let mut reading = Reading::default();
        reading.set(Quantity::SpinRate, 4310.0, Provenance::Calculated);
        let json = serde_json::to_string(&reading).unwrap();
        assert_eq!(json, r#"{"spin_rate":{"si":4310.0,"from":"calculated"}}"#);
        assert_eq!(serde_json::from_str::<Reading>(&json).unwrap(), reading);
    }
}
