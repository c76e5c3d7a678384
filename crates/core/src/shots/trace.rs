//! Whole traces of a force plate: forces and torque against time, with the moment of impact.

mod packing;
mod sampling;

use crate::vocabulary::invalid::{Invalid, within};
use sampling::bridged;
pub use sampling::{evenly, of_body_weight};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Samples of a channel, at most.
pub const MOST_SAMPLES: usize = 8_000;
/// How long a channel stands at its most when the plate was at its limit, s: a body's own peak
/// is round.
const SATURATED_S: f64 = 0.03;
/// Longest before and after impact that a peak is of the swing, s: later somebody steps off.
const OF_THE_SWING_S: [f64; 2] = [1.5, 0.3];
/// What a channel tells.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum TraceChannel {
    /// Vertical force of the lead foot, % of body weight.
    Lead,
    /// Of the trail foot.
    Trail,
    /// Of both feet.
    Both,
    /// Torque about the vertical, N·m.
    Torque,
}

impl crate::vocabulary::keyed::Keyed for TraceChannel {
    const KIND: &'static str = "a channel of a trace";
}

impl TraceChannel {
    /// The step that is kept.
    fn step(self) -> f64 {
        // What plates resolve: a tenth of a per cent, a tenth of a newton metre.
        0.1
    }

    fn range(self) -> std::ops::RangeInclusive<f64> {
        match self {
            TraceChannel::Torque => -500.0..=500.0,
            _ => -50.0..=500.0,
        }
    }
}

/// Samples by channel as they come in, with nothing where one is missing.
pub type Samples = BTreeMap<TraceChannel, Vec<Option<f64>>>;

/// A place of the club within the swing.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    ToSchema,
    strum::IntoStaticStr,
    strum::VariantArray,
)]
#[serde(rename_all = "snake_case")]
#[strum(serialize_all = "snake_case")]
pub enum Checkpoint {
    /// The lead arm is level.
    LeadArmLevel,
    /// The shaft is level.
    ShaftLevel,
    /// The shaft is upright.
    ShaftUpright,
}

impl crate::vocabulary::keyed::Keyed for Checkpoint {
    const KIND: &'static str = "a checkpoint";
}

impl Checkpoint {
    /// As said within a sentence.
    pub fn in_words(self) -> &'static str {
        match self {
            Checkpoint::LeadArmLevel => "lead arm level",
            Checkpoint::ShaftLevel => "shaft level",
            Checkpoint::ShaftUpright => "shaft upright",
        }
    }
}

/// What is marked within a trace, s from its first sample.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Marks {
    /// Impact.
    pub impact_s: Option<f64>,
    /// Checkpoints.
    #[serde(default)]
    #[schema(value_type = BTreeMap<String, f64>)]
    pub checkpoints: BTreeMap<Checkpoint, f64>,
}

/// What a plate told of one swing.
#[derive(Debug, Clone, PartialEq)]
pub struct Trace {
    /// Samples a second.
    pub rate_hz: f64,
    /// What is marked in it.
    pub marks: Marks,
    /// The channels, all of one length.
    pub channels: BTreeMap<TraceChannel, Vec<f64>>,
}

impl Trace {
    /// Takes channels as a device gives them, with nothing where a sample is missing.
    ///
    /// # Errors
    /// [`Invalid`] for no channel, channels of unlike length, a rate outside 20 to 2,000 Hz, too
    /// many samples or too few, a value out of range, a gap of more than 20 ms, or a mark that
    /// cannot be.
    pub fn taken(rate_hz: f64, marks: Marks, channels: Samples) -> Result<Trace, Invalid> {
        within("rate_hz", rate_hz, 20.0..=2000.0, "Hz")?;
        let mut lengths = channels
            .iter()
            .map(|(channel, values)| (channel, values.len()));
        let Some((_, length)) = lengths.next() else {
            return Err(Invalid::missing(
                "channels",
                "give lead, trail, both or torque",
            ));
        };
        within("samples", length as f64, 20.0..=MOST_SAMPLES as f64, "")?;
        if let Some((channel, other)) = lengths.find(|(_, other)| *other != length) {
            let problem = format!("has {other} samples where another has {length}");
            let field = <&str>::from(*channel);
            return Err(Invalid::new(field, other, problem, "give as many of each"));
        }
        let taken = channels.into_iter().map(|(channel, values)| {
            let bridged = bridged(<&str>::from(channel), &values, rate_hz)?;
            if let Some(odd) = bridged.iter().find(|v| !channel.range().contains(v)) {
                let problem = "is out of range";
                let remedy = "check the unit: % of body weight, or N·m for torque";
                return Err(Invalid::new(<&str>::from(channel), odd, problem, remedy));
            }
            Ok((channel, bridged))
        });
        let trace = Trace {
            rate_hz,
            marks: Marks::default(),
            channels: taken.collect::<Result<_, Invalid>>()?,
        };
        trace.marked(marks)
    }

    /// The same with these marks in place of its own.
    ///
    /// # Errors
    /// [`Invalid`] for a mark that is not within the samples, and for a checkpoint that is not
    /// before impact.
    pub fn marked(self, marks: Marks) -> Result<Trace, Invalid> {
        if let Some(impact) = marks.impact_s {
            within("impact_s", impact, 0.0..=self.length_s(), "s")?;
        }
        for (checkpoint, at) in &marks.checkpoints {
            let field = format!("{}_s", <&str>::from(*checkpoint));
            within(&field, *at, 0.0..=self.length_s(), "s")?;
            if marks.impact_s.is_some_and(|impact| *at >= impact) {
                let problem = "is not before impact";
                let remedy = "mark where the club was on its way to the ball";
                return Err(Invalid::new(field, format!("{at:.3} s"), problem, remedy));
            }
        }
        Ok(Trace { marks, ..self })
    }

    /// From the first sample to the last, s.
    pub fn length_s(&self) -> f64 {
        let samples = self.channels.values().map(Vec::len).min().unwrap_or(0);
        samples as f64 / self.rate_hz
    }

    /// Channels that stood at their most for so long that the plate was at its limit.
    pub fn saturated(&self) -> Vec<TraceChannel> {
        let long = (SATURATED_S * self.rate_hz).max(3.0) as usize;
        let stands = |values: &Vec<f64>| {
            let most = values.iter().copied().fold(f64::MIN, f64::max);
            let mut run = 0;
            values.iter().any(|v| {
                run = if most - v < 1e-9 { run + 1 } else { 0 };
                run >= long
            })
        };
        let of = self.channels.iter().filter(|(_, values)| stands(values));
        of.map(|(channel, _)| *channel).collect()
    }

    /// A channel's value at a time before impact (s; negative after it), between samples.
    pub fn at(&self, channel: TraceChannel, before_s: f64) -> Option<f64> {
        let values = self.channels.get(&channel)?;
        let at = (self.marks.impact_s? - before_s) * self.rate_hz;
        let (low, share) = (at.floor(), at - at.floor());
        let sample = |i: f64| {
            (i >= 0.0)
                .then(|| values.get(i as usize).copied())
                .flatten()
        };
        Some(match sample(low + 1.0) {
            Some(next) => (1.0 - share) * sample(low)? + share * next,
            None => sample(low)?,
        })
    }

    /// The highest value of a channel within the swing and when it came, s before impact;
    /// smoothed over 10 ms, so that a spike is no peak.
    pub fn peak(&self, channel: TraceChannel) -> Option<[f64; 2]> {
        let (values, impact) = (self.channels.get(&channel)?, self.marks.impact_s?);
        let half = (0.005 * self.rate_hz).round() as usize;
        let smooth = |i: usize| {
            let around = &values[i.saturating_sub(half)..(i + half + 1).min(values.len())];
            around.iter().sum::<f64>() / around.len() as f64
        };
        let [earliest, latest] = OF_THE_SWING_S;
        let before = |i: usize| impact - i as f64 / self.rate_hz;
        let (at, most) = (0..values.len())
            .filter(|i| (-latest..=earliest).contains(&before(*i)))
            .map(|i| (i, smooth(i)))
            .max_by(|a, b| a.1.total_cmp(&b.1))?;
        Some([most, before(at)])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    pub(super) fn swing(n: usize, peak_at: f64) -> Vec<Option<f64>> {
        let at = |i: usize| i as f64 / 1000.0;
        (0..n)
            .map(|i| Some(75.0 + 60.0 * (-((at(i) - peak_at) / 0.08).powi(2)).exp()))
            .collect()
    }

    pub(super) fn impact(at: f64) -> Marks {
        Marks {
            impact_s: Some(at),
            ..Marks::default()
        }
    }

    fn taken(values: Vec<Option<f64>>) -> Result<Trace, Invalid> {
        Trace::taken(1000.0, impact(1.5), [(TraceChannel::Lead, values)].into())
    }

    #[test]
    fn a_peak_is_found_where_it_is_and_a_spike_is_none() {
        let mut values = swing(2000, 1.38);
        values[400] = Some(180.0);
        let [most, before] = taken(values).unwrap().peak(TraceChannel::Lead).unwrap();
        assert!(
            (before - 0.12).abs() < 0.004 && (most - 135.0).abs() < 1.0,
            "{most} {before}"
        );
    }

    #[test]
    fn who_steps_off_the_plate_afterwards_made_no_peak_of_the_swing() {
        let mut values = swing(2600, 1.38);
        for value in &mut values[2200..2400] {
            *value = Some(220.0);
        }
        let [most, before] = taken(values).unwrap().peak(TraceChannel::Lead).unwrap();
        assert!(
            most < 140.0 && (before - 0.12).abs() < 0.004,
            "{most} {before}"
        );
    }

    #[test]
    fn a_round_peak_at_two_kilohertz_is_no_limit_of_the_plate() {
        let round = |i: usize| 60.0 * (-((i as f64 / 2000.0 - 1.0) / 0.2).powi(2)).exp();
        let step = |value: f64| (value * 10.0).round() / 10.0;
        let values = (0..4000).map(|i| Some(step(75.0 + round(i)))).collect();
        let trace = Trace::taken(2000.0, impact(1.1), [(TraceChannel::Lead, values)].into());
        assert_eq!(trace.unwrap().saturated(), []);
    }

    #[test]
    fn small_gaps_are_bridged_and_long_ones_named() {
        let mut values = swing(2000, 1.4);
        for value in &mut values[700..715] {
            *value = None;
        }
        assert!(taken(values.clone()).is_ok());
        for value in &mut values[700..800] {
            *value = None;
        }
        let refused = taken(values).unwrap_err();
        assert_eq!(
            (refused.field.as_str(), refused.value.as_str()),
            ("lead", "100 samples from sample 701")
        );
    }

    #[test]
    fn bad_traces_are_refused_by_their_field() {
        let two = |a: usize, b: usize| {
            let channels = [
                (TraceChannel::Lead, swing(a, 1.0)),
                (TraceChannel::Both, swing(b, 1.0)),
            ];
            Trace::taken(1000.0, impact(0.5), channels.into())
        };
        assert_eq!(two(500, 400).unwrap_err().field, "both");
        assert_eq!(two(5, 5).unwrap_err().field, "samples");
        let none = Trace::taken(1000.0, Marks::default(), BTreeMap::new());
        assert_eq!(none.unwrap_err().field, "channels");
        let one = |rate, at| {
            Trace::taken(
                rate,
                impact(at),
                [(TraceChannel::Lead, swing(500, 0.3))].into(),
            )
        };
        assert_eq!(one(9000.0, 0.1).unwrap_err().field, "rate_hz");
        assert_eq!(one(1000.0, 3.0).unwrap_err().field, "impact_s");
        let mut flat = swing(500, 0.3);
        flat[7] = Some(9_000.0);
        let refused = Trace::taken(
            1000.0,
            Marks::default(),
            [(TraceChannel::Lead, flat)].into(),
        );
        assert_eq!(refused.unwrap_err().field, "lead");
        let limit: Vec<Option<f64>> = swing(2000, 1.4)
            .into_iter()
            .map(|v| v.map(|v| v.min(110.0)))
            .collect();
        assert_eq!(taken(limit).unwrap().saturated(), [TraceChannel::Lead]);
    }

    #[test]
    fn marks_lie_within_the_trace_and_checkpoints_before_impact() {
        let trace = taken(swing(2000, 1.4)).unwrap();
        let marks = |arm: f64, at: f64| Marks {
            impact_s: Some(at),
            checkpoints: [
                (Checkpoint::LeadArmLevel, arm),
                (Checkpoint::ShaftLevel, 1.3),
            ]
            .into(),
        };
        let marked = trace.clone().marked(marks(1.1, 1.5)).unwrap();
        let back = Trace::unpacked(&marked.packed()).unwrap();
        assert_eq!(back.marks, marks(1.1, 1.5));
        let late = trace.clone().marked(marks(1.1, 1.2)).unwrap_err();
        assert_eq!(
            (late.field.as_str(), late.problem.as_str()),
            ("shaft_level_s", "is not before impact")
        );
        assert_eq!(
            trace.clone().marked(marks(-0.1, 1.5)).unwrap_err().field,
            "lead_arm_level_s"
        );
        assert_eq!(trace.marked(marks(1.1, 2.5)).unwrap_err().field, "impact_s");
    }
}
