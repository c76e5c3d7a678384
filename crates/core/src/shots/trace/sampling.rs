//! Samples as they come in: in newtons, with gaps, at uneven times.

use super::{Samples, TraceChannel};
use crate::statistics::quantile::median;
use crate::vocabulary::invalid::Invalid;
use crate::vocabulary::units::STANDARD_GRAVITY;

/// Longest gap within a channel that is bridged, s.
const BRIDGED_S: f64 = 0.02;

/// Forces in newtons as shares of a body's weight, %; torque as it is.
pub fn of_body_weight(channels: &mut Samples, mass_kg: f64) {
    let forces = channels
        .iter_mut()
        .filter(|(of, _)| **of != TraceChannel::Torque);
    for value in forces.flat_map(|(_, values)| values.iter_mut().flatten()) {
        *value *= 100.0 / (mass_kg * STANDARD_GRAVITY);
    }
}

/// Samples at uneven times (s) as even ones: the rate, Hz, and each channel between its samples.
/// Where the times are even already, or nearly, nothing is changed.
///
/// # Errors
/// [`Invalid`] for times that do not rise, and for two further apart than 20 ms.
pub fn evenly(times: &[f64], channels: Samples) -> Result<(f64, Samples), Invalid> {
    let steps: Vec<f64> = times.windows(2).map(|pair| pair[1] - pair[0]).collect();
    if steps.is_empty() {
        return Err(Invalid::missing("time", "give the time of each sample"));
    }
    if let Some(at) = steps.iter().position(|step| *step <= 0.0) {
        let problem = "is not after the time before it";
        let remedy = "put the samples in the order of time";
        return Err(Invalid::new("time", times[at + 1], problem, remedy));
    }
    let step = median(&steps);
    let rate_hz = 1.0 / step;
    if let Some(at) = steps
        .iter()
        .position(|far| *far > BRIDGED_S.max(1.5 * step))
    {
        let problem = format!(
            "comes {:.0} ms after the sample before it",
            1000.0 * steps[at]
        );
        let remedy = "give the trace whole";
        return Err(Invalid::new("time", times[at + 1], problem, remedy));
    }
    // A clock's last digit is no uneven sampling.
    if steps.iter().all(|other| (other / step - 1.0).abs() < 0.05) {
        let whole = (times.len() - 1) as f64 / (times[times.len() - 1] - times[0]);
        return Ok((whole, channels));
    }
    let n = ((times[times.len() - 1] - times[0]) * rate_hz).floor() as usize + 1;
    let place = |at: f64| {
        times
            .partition_point(|time| *time <= at)
            .clamp(1, times.len() - 1)
    };
    let between = |values: &Vec<Option<f64>>| -> Vec<Option<f64>> {
        let value = |i: usize| values.get(i).copied().flatten();
        (0..n)
            .map(|i| {
                let at = times[0] + i as f64 * step;
                let next = place(at);
                let share = (at - times[next - 1]) / (times[next] - times[next - 1]);
                Some(value(next - 1)? * (1.0 - share) + value(next)? * share)
            })
            .collect()
    };
    let channels = channels
        .iter()
        .map(|(channel, values)| (*channel, between(values)));
    Ok((rate_hz, channels.collect()))
}

pub(super) fn bridged(
    field: &str,
    values: &[Option<f64>],
    rate_hz: f64,
) -> Result<Vec<f64>, Invalid> {
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
    use std::collections::BTreeMap;

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
    fn uneven_samples_become_even_ones_and_what_is_missing_is_named() {
        let truth = |t: f64| 80.0 + 40.0 * (6.0 * t).sin();
        let mut t = 0.0;
        let times: Vec<f64> = (0..900)
            .map(|i| {
                t += if i % 3 == 0 { 0.0015 } else { 0.001 };
                t
            })
            .collect();
        let values: Vec<_> = times.iter().map(|t| Some(truth(*t))).collect();
        let channels = BTreeMap::from([(TraceChannel::Lead, values)]);
        let (rate, even) = evenly(&times, channels.clone()).unwrap();
        assert!((rate - 1000.0).abs() < 1e-6);
        for (i, value) in even[&TraceChannel::Lead].iter().enumerate() {
            let at = times[0] + i as f64 / rate;
            assert!((value.unwrap() - truth(at)).abs() < 0.01);
        }
        let mut apart = times.clone();
        apart[500..].iter_mut().for_each(|t| *t += 0.2);
        assert_eq!(evenly(&apart, channels.clone()).unwrap_err().field, "time");
        let mut back = times;
        back.swap(10, 11);
        assert!(
            evenly(&back, channels)
                .unwrap_err()
                .problem
                .contains("not after")
        );
    }
}
