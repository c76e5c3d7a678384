//! Numbers as people type them, each with its unit.

use serde::Deserialize;
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::units::Dimension;
use utoipa::ToSchema;

/// A number in a unit of the sender's choice.
#[derive(Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Given {
    /// Absent when what was typed is not a number.
    pub value: Option<f64>,
    pub unit: String,
}

impl Given {
    /// The number as typed.
    pub fn number(&self, field: &str) -> Result<f64, Invalid> {
        self.value
            .ok_or_else(|| Invalid::new(field, "", "is not a number", "give a number such as 12.5"))
    }

    /// The value in internal units.
    pub fn of(&self, dimension: Dimension, field: &str) -> Result<f64, Invalid> {
        let unit = dimension.unit_of_suffix(&format!("{field}.unit"), &self.unit)?;
        Ok(unit.to_internal(self.number(field)?))
    }

    /// The value in internal units, within a range of these that is told in the unit it
    /// was given in.
    pub fn within(
        &self,
        dimension: Dimension,
        field: &str,
        range: std::ops::RangeInclusive<f64>,
    ) -> Result<f64, Invalid> {
        let unit = dimension.unit_of_suffix(&format!("{field}.unit"), &self.unit)?;
        let shown = |end: &f64| (unit.from_internal(*end) * 10.0).round() / 10.0;
        let range = shown(range.start())..=shown(range.end());
        let value = within(field, self.number(field)?, range, unit.symbol())?;
        Ok(unit.to_internal(value))
    }

    /// A mass, kg, within a range of kilograms.
    pub fn kilograms(
        &self,
        field: &str,
        range: std::ops::RangeInclusive<f64>,
    ) -> Result<f64, Invalid> {
        let one = match self.unit.as_str() {
            "kg" => 1.0,
            "g" => 0.001,
            "lb" => 0.453_592_37,
            "oz" => 0.453_592_37 / 16.0,
            other => {
                let problem = "is not a unit for this value";
                let field = format!("{field}.unit");
                return Err(Invalid::new(field, other, problem, "use kg, g, lb, oz"));
            }
        };
        let shown = |end: &f64| (end / one).round();
        let range = shown(range.start())..=shown(range.end());
        Ok(within(field, self.number(field)?, range, &self.unit)? * one)
    }

    /// A temperature, °C.
    pub fn celsius(&self) -> Result<f64, Invalid> {
        let value = self.number("temperature")?;
        match self.unit.as_str() {
            "c" => Ok(value),
            "f" => Ok((value - 32.0) / 1.8),
            other => Err(Invalid::new(
                "temperature.unit",
                other,
                "is not a unit for this value",
                "use c, f",
            )),
        }
    }
}
