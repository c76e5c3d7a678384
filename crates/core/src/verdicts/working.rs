//! How a conclusion was worked out, in sections as a coach reads them.

use crate::physics::conditions::Conditions;
use crate::physics::turf::Surface;
use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::Dimension;
use serde::Serialize;
use utoipa::ToSchema;

/// The working of a conclusion.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Working {
    /// What went in.
    pub inputs: Vec<WorkingRow>,
    /// The method in words and symbols.
    pub formula: Vec<Sentence>,
    /// House rules that were used.
    pub rules: Vec<WorkingRow>,
    /// What it came to.
    pub results: Vec<WorkingRow>,
    /// Where the method comes from.
    pub sources: Vec<String>,
}

/// A named value of the working.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WorkingRow {
    /// Its name.
    pub label: String,
    /// Its value.
    pub value: Sentence,
}

/// A named value.
pub(crate) fn row(label: &str, value: Sentence) -> WorkingRow {
    WorkingRow {
        label: label.to_owned(),
        value,
    }
}

/// A named figure.
pub(crate) fn figure_row(label: &str, si: f64, dimension: Dimension) -> WorkingRow {
    row(label, Sentence::default().figure(si, dimension))
}

/// A level of intervals, 0…1, as it is said: whole per cents, and a tenth where looking again and
/// again took it so high that it would read 100.
pub(crate) fn level_said(level: f64) -> String {
    match 100.0 * level {
        high if high > 99.0 => format!("{:.1} %", high.min(99.9)),
        percent => format!("{percent:.0} %"),
    }
}

/// The level of the intervals, 0…1, in one row.
pub(crate) fn level_row(level: f64) -> WorkingRow {
    row("Interval level", Sentence::of(level_said(level)))
}

/// The conditions, in one row.
pub(crate) fn air_row(conditions: &Conditions) -> WorkingRow {
    let said = Sentence::default()
        .figure(conditions.altitude_m, Dimension::Height)
        .words(format!(
            " above the sea, {:.0} °C, humidity {:.0} %",
            conditions.temperature_c, conditions.humidity_pct
        ));
    let said = match conditions.wind {
        Some(wind) => said
            .words(", wind ")
            .figure(wind.speed_mps, Dimension::Speed)
            .words(format!(" from {:.0}° (0° is against)", wind.from_deg)),
        None => said,
    };
    let said = match conditions.ground {
        Some(ground) => said.words(format!(
            ", {} of firmness {:.2}",
            match ground.surface {
                Surface::Fairway => "fairway",
                Surface::Green => "green",
            },
            ground.firmness
        )),
        None => said,
    };
    row("Air", said)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::turf::Ground;
    use crate::physics::wind::Wind;
    use crate::vocabulary::units::Units;

    #[test]
    fn the_conditions_are_told_with_wind_and_ground_when_there_are_any() {
        let windy = Conditions {
            altitude_m: 1140.0,
            wind: Some(Wind {
                speed_mps: 5.0,
                from_deg: 90.0,
            }),
            ground: Some(Ground::AVERAGE_FAIRWAY),
            ..Conditions::REFERENCE
        };
        assert_eq!(
            air_row(&windy).value.show(Units::MpsM),
            "1,140 m above the sea, 25 °C, humidity 50 %, wind 5.0 m/s from 90° (0° is against), fairway of firmness 0.50"
        );
        assert!(
            !air_row(&Conditions::REFERENCE)
                .value
                .show(Units::MpsM)
                .contains("wind")
        );
    }
}
