//! Whole traces of a force plate: forces and torque against time, with the moment of impact.
//!
//! They are kept as differences of differences of whole steps, a byte or two each: what a plate
//! tells in JSON would take ten times the room.

use crate::vocabulary::invalid::{Invalid, within};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// Samples of a channel, at most.
pub const MOST_SAMPLES: usize = 8_000;
/// Longest gap within a channel that is bridged, s.
const BRIDGED_S: f64 = 0.02;
/// How long a channel stands at its most when the plate was at its limit, s: a body's own peak
/// is round.
const SATURATED_S: f64 = 0.03;
/// Longest before and after impact that a peak is of the swing, s: later somebody steps off.
const OF_THE_SWING_S: [f64; 2] = [1.5, 0.3];
/// What a kilogram weighs, N.
const STANDARD_GRAVITY: f64 = 9.806_65;

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

/// Forces in newtons as shares of a body's weight, %; torque as it is.
pub fn of_body_weight(channels: &mut BTreeMap<TraceChannel, Vec<Option<f64>>>, mass_kg: f64) {
    let forces = channels
        .iter_mut()
        .filter(|(of, _)| **of != TraceChannel::Torque);
    for value in forces.flat_map(|(_, values)| values.iter_mut().flatten()) {
        *value *= 100.0 / (mass_kg * STANDARD_GRAVITY);
    }
}

/// What a plate told of one swing.
#[derive(Debug, Clone, PartialEq)]
pub struct Trace {
    /// Samples a second.
    pub rate_hz: f64,
    /// Impact, s from the first sample, where it is marked.
    pub impact_s: Option<f64>,
    /// The channels, all of one length.
    pub channels: BTreeMap<TraceChannel, Vec<f64>>,
}

impl Trace {
    /// Takes channels as a device gives them, with nothing where a sample is missing.
    ///
    /// # Errors
    /// [`Invalid`] for no channel, channels of unlike length, a rate outside 20 to 2,000 Hz, too
    /// many samples or too few, a value out of range, a gap of more than 20 ms, or an impact that
    /// is not within the samples.
    pub fn taken(
        rate_hz: f64,
        impact_s: Option<f64>,
        channels: BTreeMap<TraceChannel, Vec<Option<f64>>>,
    ) -> Result<Trace, Invalid> {
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
        if let Some(impact) = impact_s {
            within("impact_s", impact, 0.0..=length as f64 / rate_hz, "s")?;
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
        Ok(Trace {
            rate_hz,
            impact_s,
            channels: taken.collect::<Result<_, Invalid>>()?,
        })
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
        let at = (self.impact_s? - before_s) * self.rate_hz;
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
        let (values, impact) = (self.channels.get(&channel)?, self.impact_s?);
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

    /// The bytes that are kept.
    pub fn packed(&self) -> Vec<u8> {
        let mut bytes = vec![1];
        put(&mut bytes, (self.rate_hz * 100.0).round() as i64);
        put(
            &mut bytes,
            self.impact_s.map_or(-1, |s| (s * 100_000.0).round() as i64),
        );
        put(&mut bytes, self.channels.len() as i64);
        for (channel, values) in &self.channels {
            put(&mut bytes, *channel as i64);
            put(&mut bytes, values.len() as i64);
            let (mut last, mut rise) = (0, 0);
            for value in values {
                let step = (value / channel.step()).round() as i64;
                put(&mut bytes, step - last - rise);
                rise = step - last;
                last = step;
            }
        }
        bytes
    }

    /// Reads them back; nothing of what is no trace.
    pub fn unpacked(bytes: &[u8]) -> Option<Trace> {
        let [1, rest @ ..] = bytes else {
            return None;
        };
        let mut rest = rest.iter();
        let mut next = || take(&mut rest);
        let rate_hz = next()? as f64 / 100.0;
        let impact = next()?;
        let mut channels = BTreeMap::new();
        for _ in 0..usize::try_from(next()?).ok().filter(|n| *n <= 4)? {
            let key = usize::try_from(next()?).ok()?;
            let channel = *<TraceChannel as strum::VariantArray>::VARIANTS.get(key)?;
            let n = usize::try_from(next()?)
                .ok()
                .filter(|n| *n <= MOST_SAMPLES)?;
            let (mut last, mut rise) = (0i64, 0i64);
            let mut values = Vec::with_capacity(n);
            for _ in 0..n {
                rise = rise.checked_add(next()?)?;
                last = last.checked_add(rise)?;
                values.push(last as f64 * channel.step());
            }
            channels.insert(channel, values);
        }
        Some(Trace {
            rate_hz,
            impact_s: (impact >= 0).then_some(impact as f64 / 100_000.0),
            channels,
        })
    }
}

/// A number as so many sevens of bits as it needs, its sign first.
fn put(bytes: &mut Vec<u8>, value: i64) {
    let mut left = ((value << 1) ^ (value >> 63)) as u64;
    while left >= 0x80 {
        bytes.push(left as u8 | 0x80);
        left >>= 7;
    }
    bytes.push(left as u8);
}

fn take<'a>(bytes: &mut impl Iterator<Item = &'a u8>) -> Option<i64> {
    let mut told = 0u64;
    for shift in (0..64).step_by(7) {
        let byte = bytes.next()?;
        told |= u64::from(byte & 0x7f) << shift;
        if byte & 0x80 == 0 {
            return Some((told >> 1) as i64 ^ -((told & 1) as i64));
        }
    }
    None
}

fn bridged(field: &str, values: &[Option<f64>], rate_hz: f64) -> Result<Vec<f64>, Invalid> {
    let most = (BRIDGED_S * rate_hz).max(1.0) as usize;
    let mut whole: Vec<f64> = Vec::with_capacity(values.len());
    let mut missing = 0;
    for (i, value) in values.iter().enumerate() {
        match value {
            None => missing += 1,
            Some(value) if missing == 0 => whole.push(*value),
            Some(value) => {
                let Some(last) = whole.last().copied().filter(|_| missing <= most) else {
                    return Err(gap(field, i - missing, missing, rate_hz));
                };
                let step = (value - last) / (missing + 1) as f64;
                whole.extend((1..=missing).map(|j| last + step * j as f64));
                whole.push(*value);
                missing = 0;
            }
        }
    }
    if missing > 0 {
        return Err(gap(field, values.len() - missing, missing, rate_hz));
    }
    Ok(whole)
}

fn gap(field: &str, at: usize, missing: usize, rate_hz: f64) -> Invalid {
    let shown = format!("{missing} samples from sample {}", at + 1);
    let problem = format!("are missing, {:.0} ms", 1000.0 * missing as f64 / rate_hz);
    let remedy = "send the trace whole, or only the channels that are whole";
    Invalid::new(field, shown, problem, remedy)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn swing(n: usize, peak_at: f64) -> Vec<Option<f64>> {
        let at = |i: usize| i as f64 / 1000.0;
        (0..n)
            .map(|i| Some(75.0 + 60.0 * (-((at(i) - peak_at) / 0.08).powi(2)).exp()))
            .collect()
    }

    fn taken(values: Vec<Option<f64>>) -> Result<Trace, Invalid> {
        Trace::taken(1000.0, Some(1.5), [(TraceChannel::Lead, values)].into())
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
        let trace = Trace::taken(2000.0, Some(1.1), [(TraceChannel::Lead, values)].into());
        assert_eq!(trace.unwrap().saturated(), []);
    }

    #[test]
    fn newtons_are_shares_of_the_body_s_weight() {
        let mut channels = BTreeMap::from([
            (TraceChannel::Lead, vec![Some(784.532), None]),
            (TraceChannel::Torque, vec![Some(100.0)]),
        ]);
        of_body_weight(&mut channels, 80.0);
        assert!((channels[&TraceChannel::Lead][0].unwrap() - 100.0).abs() < 1e-9);
        assert_eq!(channels[&TraceChannel::Torque], [Some(100.0)]);
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
            Trace::taken(1000.0, Some(0.5), channels.into())
        };
        assert_eq!(two(500, 400).unwrap_err().field, "both");
        assert_eq!(two(5, 5).unwrap_err().field, "samples");
        let none = Trace::taken(1000.0, None, BTreeMap::new());
        assert_eq!(none.unwrap_err().field, "channels");
        let one = |rate, impact| {
            Trace::taken(
                rate,
                Some(impact),
                [(TraceChannel::Lead, swing(500, 0.3))].into(),
            )
        };
        assert_eq!(one(9000.0, 0.1).unwrap_err().field, "rate_hz");
        assert_eq!(one(1000.0, 3.0).unwrap_err().field, "impact_s");
        let mut flat = swing(500, 0.3);
        flat[7] = Some(9_000.0);
        let refused = Trace::taken(1000.0, None, [(TraceChannel::Lead, flat)].into());
        assert_eq!(refused.unwrap_err().field, "lead");
        let limit: Vec<Option<f64>> = swing(2000, 1.4)
            .into_iter()
            .map(|v| v.map(|v| v.min(110.0)))
            .collect();
        assert_eq!(taken(limit).unwrap().saturated(), [TraceChannel::Lead]);
    }

    proptest! {
        #[test]
        fn what_is_kept_comes_back_within_half_a_step(
            values in prop::collection::vec(-40.0..450.0f64, 20..300),
            rate in 20.0..2000.0f64,
        ) {
            let given = values.iter().map(|v| Some(*v)).collect();
            let trace = Trace::taken(rate, Some(0.0), [(TraceChannel::Trail, given)].into()).unwrap();
            let back = Trace::unpacked(&trace.packed()).unwrap();
            for (a, b) in values.iter().zip(&back.channels[&TraceChannel::Trail]) {
                prop_assert!((a - b).abs() < 0.051);
            }
            prop_assert!((back.rate_hz - rate).abs() < 0.006);
        }

        #[test]
        fn nothing_that_is_kept_makes_it_fall_over(bytes in prop::collection::vec(any::<u8>(), 0..200)) {
            let _ = Trace::unpacked(&bytes);
        }
    }
}
