//! The line of a trace.

use super::sequence_of;
use crate::trace_fields::{CHECKPOINTS, FORCES_ARE_MIXED, TRACE_FIELDS, field_of};
use serde_json::{Map, Value as Json};
use std::collections::BTreeMap;
use tally_core::shots::trace::{Marks, Trace, TraceChannel};
use tally_core::vocabulary::invalid::Invalid;

/// The trace of a shot.
#[derive(Debug, Clone, PartialEq)]
pub struct TraceLine {
    /// Number of its shot within the run.
    pub sequence: i64,
    /// Samples a second.
    pub rate_hz: f64,
    /// What is marked in it.
    pub marks: Marks,
    /// The channels, with nothing where a sample is missing: forces in % of body weight or in N.
    pub channels: BTreeMap<TraceChannel, Vec<Option<f64>>>,
    /// Whether forces are in N, so that the player's mass is needed.
    pub newtons: bool,
}

pub(super) fn parse_trace(object: &Map<String, Json>) -> Result<TraceLine, Invalid> {
    let number = |field: &str, remedy: &str| match object.get(field) {
        None | Some(Json::Null) => Ok(None),
        Some(given) => given
            .as_f64()
            .map(Some)
            .ok_or_else(|| Invalid::new(field, given, "is not a number", remedy)),
    };
    let rate = "give the samples a second, such as 1000";
    let rate_hz = number("rate_hz", rate)?.ok_or_else(|| Invalid::missing("rate_hz", rate))?;
    let mut channels = BTreeMap::new();
    let (mut newtons, mut share) = (false, false);
    for of in &TRACE_FIELDS {
        let field = of.name;
        let Some(given) = object.get(field) else {
            continue;
        };
        let Json::Array(given) = given else {
            let remedy = "give a list of numbers, null where a sample is missing";
            return Err(Invalid::new(field, given, "is not a list", remedy));
        };
        let sample = |value: &Json| match value {
            Json::Null => Ok(None),
            value => value.as_f64().map(|v| Some(v * of.size)).ok_or_else(|| {
                let remedy = "give a number, or null where a sample is missing";
                Invalid::new(field, value, "is not a number", remedy)
            }),
        };
        let values = given
            .iter()
            .map(sample)
            .collect::<Result<Vec<_>, Invalid>>()?;
        if channels.insert(of.channel, values).is_some() {
            let problem = "is given in two units";
            return Err(Invalid::new(field, "", problem, "give it once"));
        }
        newtons |= of.is_force();
        share |= of.is_share();
        if newtons && share {
            let [problem, remedy] = FORCES_ARE_MIXED;
            return Err(Invalid::new(field, "", problem, remedy));
        }
    }
    let moment = "give seconds from the first sample";
    let mut checkpoints = BTreeMap::new();
    for (field, checkpoint) in CHECKPOINTS {
        if let Some(at) = number(field, moment)? {
            checkpoints.insert(checkpoint, at);
        }
    }
    Ok(TraceLine {
        sequence: sequence_of(object)?,
        rate_hz,
        marks: Marks {
            impact_s: number("impact_s", moment)?,
            checkpoints,
        },
        channels,
        newtons,
    })
}

/// Writes a trace line, newline included.
pub fn write_trace(sequence: i64, trace: &Trace) -> String {
    let mut line = serde_json::json!({
        "type": "trace",
        "sequence": sequence,
        "rate_hz": trace.rate_hz,
    });
    if let Some(impact) = trace.marks.impact_s {
        line["impact_s"] = impact.into();
    }
    for (field, checkpoint) in CHECKPOINTS {
        if let Some(at) = trace.marks.checkpoints.get(&checkpoint) {
            line[field] = (*at).into();
        }
    }
    for (channel, values) in &trace.channels {
        let rounded = values.iter().map(|value| (value * 10.0).round() / 10.0);
        line[field_of(*channel)] = rounded.collect::<Vec<f64>>().into();
    }
    format!("{line}\n")
}

#[cfg(test)]
mod tests {
    use super::super::tests::{hello, refused};
    use super::super::{Line, parse};
    use super::*;
    use tally_core::shots::trace::Checkpoint;

    #[test]
    fn a_trace_is_written_as_it_is_read_and_refused_by_its_field() {
        let told = |more: &str| format!(r#"{{"type":"trace","sequence":7,"rate_hz":1000{more}}}"#);
        let values: Vec<Option<f64>> = (0..40).map(|i| Some(f64::from(i))).collect();
        let channels = [(TraceChannel::Lead, values)].into();
        let marks = Marks {
            impact_s: Some(0.02),
            checkpoints: [(Checkpoint::ShaftUpright, 0.01)].into(),
        };
        let trace = Trace::taken(1000.0, marks, channels).unwrap();
        let Ok(Line::Trace(read)) = parse(&write_trace(7, &trace), Some(&hello())) else {
            panic!("refused");
        };
        assert_eq!((read.sequence, read.newtons), (7, false));
        assert_eq!(
            Trace::taken(read.rate_hz, read.marks, read.channels),
            Ok(trace)
        );
        for (bad, field) in [
            (r#","lead_pct_bw":7"#, "lead_pct_bw"),
            (r#","lead_pct_bw":[1,"x"]"#, "lead_pct_bw"),
            (r#","lead_pct_bw":[1],"lead_n":[1]"#, "lead_n"),
            (r#","lead_pct_bw":[1],"both_n":[1]"#, "both_n"),
            (r#","impact_s":"now""#, "impact_s"),
        ] {
            assert_eq!(refused(&told(bad)).1.field, field, "{bad}");
        }
        assert_eq!(parse(&told(""), None).unwrap_err().1.field, "type");
    }

    #[test]
    fn checkpoints_come_along_and_kilograms_are_a_force() {
        let samples = vec!["40"; 30].join(",");
        let line = format!(
            r#"{{"type":"trace","sequence":3,"rate_hz":500,"impact_s":0.05,"shaft_level_s":0.02,"lead_kg":[{samples}]}}"#
        );
        let Ok(Line::Trace(told)) = parse(&line, Some(&hello())) else {
            panic!("refused");
        };
        assert_eq!(told.marks.checkpoints[&Checkpoint::ShaftLevel], 0.02);
        assert!(told.newtons);
        let newtons = told.channels[&TraceChannel::Lead][0].unwrap();
        assert!((newtons - 40.0 * 9.80665).abs() < 1e-9);
    }
}
