//! Traces as bytes: differences of differences of whole steps, a byte or two each. What a plate
//! tells in JSON would take ten times the room.

use super::{Checkpoint, MOST_SAMPLES, Marks, Trace, TraceChannel};
use std::collections::BTreeMap;

impl Trace {
    /// The bytes that are kept.
    pub fn packed(&self) -> Vec<u8> {
        let mut bytes = vec![2];
        put(&mut bytes, (self.rate_hz * 100.0).round() as i64);
        let moment = |s: f64| (s * 100_000.0).round() as i64;
        put(&mut bytes, self.marks.impact_s.map_or(-1, moment));
        put(&mut bytes, self.marks.checkpoints.len() as i64);
        for (checkpoint, at) in &self.marks.checkpoints {
            put(&mut bytes, *checkpoint as i64);
            put(&mut bytes, moment(*at));
        }
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
        let [form @ 1..=2, rest @ ..] = bytes else {
            return None;
        };
        let mut rest = rest.iter();
        let mut next = || take(&mut rest);
        let rate_hz = next()? as f64 / 100.0;
        let impact = next()?;
        let mut checkpoints = BTreeMap::new();
        // The first form had none.
        let marked = if *form == 1 { 0 } else { next()? };
        for _ in 0..usize::try_from(marked).ok().filter(|n| *n <= 3)? {
            let key = usize::try_from(next()?).ok()?;
            let checkpoint = *<Checkpoint as strum::VariantArray>::VARIANTS.get(key)?;
            checkpoints.insert(checkpoint, next()? as f64 / 100_000.0);
        }
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
            marks: Marks {
                impact_s: (impact >= 0).then_some(impact as f64 / 100_000.0),
                checkpoints,
            },
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

#[cfg(test)]
mod tests {
    use super::super::tests::{impact, swing};
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_trace_that_was_kept_before_checkpoints_were_is_read() {
        let mut bytes = Trace::taken(
            1000.0,
            impact(0.2),
            [(TraceChannel::Lead, swing(300, 0.1))].into(),
        )
        .unwrap()
        .packed();
        // The first form: no count of checkpoints, which stands after rate and impact.
        bytes[0] = 1;
        let mut rest = bytes[1..].iter();
        take(&mut rest).unwrap();
        take(&mut rest).unwrap();
        let at = bytes.len() - rest.len();
        assert_eq!(bytes.remove(at), 0);
        let back = Trace::unpacked(&bytes).unwrap();
        assert_eq!((back.marks, back.channels.len()), (impact(0.2), 1));
    }

    proptest! {
        #[test]
        fn what_is_kept_comes_back_within_half_a_step(
            values in prop::collection::vec(-40.0..450.0f64, 20..300),
            rate in 20.0..2000.0f64,
        ) {
            let given = values.iter().map(|v| Some(*v)).collect();
            let trace = Trace::taken(rate, impact(0.0), [(TraceChannel::Trail, given)].into()).unwrap();
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
