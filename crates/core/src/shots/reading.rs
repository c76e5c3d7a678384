//! What one device reported for one shot, and where each value came from.

use crate::vocabulary::quantity::Quantity;
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

    /// Whether every value of another is its own.
    ///
    /// ```
    /// use tally_core::shots::reading::{Provenance, Reading};
    /// use tally_core::vocabulary::quantity::Quantity;
    /// let mut told = Reading::default();
    /// told.set(Quantity::Carry, 200.0, Provenance::Measured);
    /// let mut more = told.clone();
    /// more.set(Quantity::Total, 215.0, Provenance::Calculated);
    /// assert!(more.holds(&told) && !told.holds(&more));
    /// more.set(Quantity::Carry, 200.0, Provenance::Entered); // Typed over.
    /// assert!(!more.holds(&told));
    /// ```
    pub fn holds(&self, other: &Reading) -> bool {
        let mut others = other.0.iter();
        others.all(|(quantity, value)| self.0.get(quantity) == Some(value))
    }

    /// Adds or replaces a value.
    pub fn set(&mut self, quantity: Quantity, si: f64, from: Provenance) {
        self.0.insert(quantity, Reported { si, from });
    }
}

/// What is added to a device's values before they are used, internal units.
pub type Offsets = BTreeMap<Quantity, f64>;

/// A device's values with what the coach adds to them.
pub fn with_offsets(reading: &Reading, offsets: &Offsets) -> Reading {
    let source = Source { reading, offsets };
    let moved = |(quantity, value): (&Quantity, &Reported)| {
        let value = Reported {
            si: value.si + source.offset(*quantity),
            ..*value
        };
        (*quantity, value)
    };
    Reading(reading.0.iter().map(moved).collect())
}

/// One device's part in a shot.
#[derive(Debug, Clone, Copy)]
pub struct Source<'a> {
    /// What it reported.
    pub reading: &'a Reading,
    /// What the coach adds to its values.
    pub offsets: &'a Offsets,
}

impl Source<'_> {
    fn offset(&self, quantity: Quantity) -> f64 {
        self.offsets.get(&quantity).copied().unwrap_or_default()
    }
}

/// One reading of a shot from all that is known of it. What a person entered stands
/// before what a device measured, and that before what one calculated; among equals
/// the first device stands. Offsets are added to devices' values, never to entered
/// ones. An entry without value takes back the one before it.
pub fn merge(sources: &[Source<'_>], entered: &[(Quantity, Option<f64>)]) -> Reading {
    let mut merged = Reading::default();
    for source in sources {
        for (quantity, value) in &source.reading.0 {
            let better = match merged.value(*quantity) {
                None => true,
                Some(there) => {
                    there.from == Provenance::Calculated && value.from == Provenance::Measured
                }
            };
            if better {
                let si = value.si + source.offset(*quantity);
                merged.set(*quantity, si, value.from);
            }
        }
    }
    let mut typed: BTreeMap<Quantity, Option<f64>> = BTreeMap::new();
    typed.extend(entered.iter().copied());
    for (quantity, value) in &typed {
        if let Some(si) = value {
            merged.set(*quantity, *si, Provenance::Entered);
        }
    }
    refresh_smash(&mut merged, sources, &typed);
    merged
}

/// The smash factor follows the two speeds where no device told it, and once they are no
/// longer one device's own.
fn refresh_smash(
    merged: &mut Reading,
    sources: &[Source<'_>],
    typed: &BTreeMap<Quantity, Option<f64>>,
) {
    let speeds = [Quantity::ClubSpeed, Quantity::BallSpeed];
    let touched = |q: &Quantity| {
        typed.get(q).is_some_and(Option::is_some)
            || sources.iter().any(|s| s.offsets.contains_key(q))
    };
    let typed_itself = typed
        .get(&Quantity::SmashFactor)
        .is_some_and(Option::is_some);
    let missing = merged.value(Quantity::SmashFactor).is_none();
    if typed_itself || !(missing || sources.len() > 1 || speeds.iter().any(touched)) {
        return;
    }
    if let [Some(club), Some(ball)] = speeds.map(|q| merged.get(q))
        && club > 0.0
    {
        merged.set(Quantity::SmashFactor, ball / club, Provenance::Calculated);
    }
}

/// The shot that a second device's reading belongs to: the one nearest in time within
/// `window` seconds that this device has not reported yet. `shots` are times (s) with
/// whether the device has reported it.
pub fn pair(shots: &[(f64, bool)], at: f64, window: f64) -> Option<usize> {
    shots
        .iter()
        .enumerate()
        .filter(|(_, (time, reported))| !reported && (time - at).abs() <= window)
        .min_by(|(_, one), (_, other)| (one.0 - at).abs().total_cmp(&(other.0 - at).abs()))
        .map(|(i, _)| i)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn reading(values: &[(Quantity, f64, Provenance)]) -> Reading {
        let mut reading = Reading::default();
        for (quantity, si, from) in values {
            reading.set(*quantity, *si, *from);
        }
        reading
    }

    #[test]
    fn what_was_entered_stands_before_measured_and_that_before_calculated() {
        use Provenance::{Calculated, Measured};
        use Quantity::{BallSpeed, ClubSpeed, SpinRate};
        let radar = reading(&[(ClubSpeed, 40.0, Measured), (SpinRate, 2000.0, Calculated)]);
        let camera = reading(&[
            (ClubSpeed, 41.0, Measured),
            (BallSpeed, 60.0, Measured),
            (SpinRate, 2600.0, Measured),
        ]);
        let (none, slow) = (Offsets::new(), Offsets::from([(SpinRate, -100.0)]));
        let sources = [
            Source {
                reading: &radar,
                offsets: &none,
            },
            Source {
                reading: &camera,
                offsets: &slow,
            },
        ];
        let merged = merge(&sources, &[]);
        assert_eq!(merged.get(ClubSpeed), Some(40.0));
        assert_eq!(merged.get(SpinRate), Some(2500.0));
        assert_eq!(merged.get(Quantity::SmashFactor), Some(1.5));
        let typed = merge(&sources, &[(ClubSpeed, Some(48.0))]);
        assert_eq!(typed.value(ClubSpeed).unwrap().from, Provenance::Entered);
        assert_eq!(typed.get(Quantity::SmashFactor), Some(1.25));
        let undone = merge(&sources, &[(ClubSpeed, Some(48.0)), (ClubSpeed, None)]);
        assert_eq!(undone, merged);
    }

    #[test]
    fn a_second_device_s_reading_goes_to_the_nearest_shot_it_has_not_told_of() {
        let shots = [(0.0, true), (10.0, false), (11.5, false), (20.0, false)];
        assert_eq!(pair(&shots, 11.0, 2.5), Some(2));
        assert_eq!(pair(&shots, 0.5, 2.5), None);
        assert_eq!(pair(&shots, 16.0, 2.5), None);
    }

    #[test]
    fn a_reading_is_stored_by_name_and_comes_back_whole() {
        let mut reading = Reading::default();
        reading.set(Quantity::SpinRate, 4310.0, Provenance::Calculated);
        let json = serde_json::to_string(&reading).unwrap();
        assert_eq!(json, r#"{"spin_rate":{"si":4310.0,"from":"calculated"}}"#);
        assert_eq!(serde_json::from_str::<Reading>(&json).unwrap(), reading);
    }
}
