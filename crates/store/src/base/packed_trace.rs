//! Traces as rows hold them: packed, then deflated.

use flate2::Compression;
use flate2::read::DeflateDecoder;
use flate2::write::DeflateEncoder;
use std::io::{Read, Write};
use tally_core::shots::trace::{Marks, Trace};
use tally_core::vocabulary::invalid::Invalid;

/// What a trace unfolds to at most, bytes: no row fills the memory.
const MOST_UNFOLDED: u64 = 512 * 1024;

/// The bytes of a trace as they are kept: packed, then deflated.
pub(crate) fn kept(told: &Trace) -> Vec<u8> {
    let mut deflate = DeflateEncoder::new(Vec::new(), Compression::best());
    let written = deflate.write_all(&told.packed());
    written
        .and_then(|()| deflate.finish())
        .expect("memory can be written to")
}

/// Reads them back; nothing of what is no trace.
pub(crate) fn read(bytes: &[u8]) -> Option<Trace> {
    let mut packed = Vec::new();
    let inflate = DeflateDecoder::new(bytes);
    inflate.take(MOST_UNFOLDED).read_to_end(&mut packed).ok()?;
    Trace::unpacked(&packed)
}

/// Whether two traces have the same samples, as far as they are kept: what is marked in one may
/// be the coach's.
pub(crate) fn alike(a: &Trace, b: &Trace) -> bool {
    let bare = |trace: &Trace| {
        let marks = Marks::default();
        Trace {
            marks,
            ..trace.clone()
        }
        .packed()
    };
    bare(a) == bare(b)
}

/// A trace as the database writes bytes: `\x` and two digits for each.
pub(crate) fn written_trace(field: &str, text: &str) -> Result<(), Invalid> {
    let digits = text.strip_prefix("\\x").unwrap_or_default();
    let byte = |pair: &[u8]| u8::from_str_radix(std::str::from_utf8(pair).ok()?, 16).ok();
    let bytes: Option<Vec<u8>> = digits.as_bytes().chunks(2).map(byte).collect();
    match bytes.and_then(|bytes| read(&bytes)) {
        Some(_) => Ok(()),
        None => Err(Invalid::new(
            field,
            text,
            "is no trace",
            "leave it as it was exported",
        )),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use tally_core::shots::trace::TraceChannel;

    #[test]
    fn three_channels_of_four_thousand_samples_are_kept_in_less_than_twelve_kilobytes() {
        // A plate's noise that repeats nothing: a few tenths of a per cent either way.
        let mut state = 17u64;
        let mut noise = || {
            state = state
                .wrapping_mul(6_364_136_223_846_793_005)
                .wrapping_add(1);
            let part = |bits: u64| ((state >> bits) & 0xffff) as f64 / 65_535.0;
            0.6 * (part(16) + part(32) + part(48) - 1.5)
        };
        let mut channel = |peak: f64| -> Vec<Option<f64>> {
            let at = |i: usize| (i as f64 / 2000.0 - peak) / 0.09;
            let values = (0..4000).map(|i| 75.0 + 60.0 * (-at(i).powi(2)).exp() + noise());
            values.map(Some).collect()
        };
        let channels = [
            (TraceChannel::Lead, channel(1.4)),
            (TraceChannel::Both, channel(1.35)),
            (TraceChannel::Torque, channel(1.3)),
        ];
        let marks = Marks {
            impact_s: Some(1.5),
            ..Marks::default()
        };
        let trace = Trace::taken(2000.0, marks, channels.into()).unwrap();
        let bytes = kept(&trace);
        println!("{} bytes", bytes.len());
        assert!(bytes.len() < 12_000, "{}", bytes.len());
        assert!(alike(&read(&bytes).unwrap(), &trace));
        assert_eq!(read(b"no trace"), None);
    }
}
