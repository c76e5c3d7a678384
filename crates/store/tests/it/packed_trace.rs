//! Traces as rows hold them.

use tally_core::shots::trace::{Marks, Trace, TraceChannel};
use tally_store::base::packed_trace::{alike, kept, read};

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
