//! How far two devices agree on the same shots (Bland & Altman 1986).
//!
//! The bias is the mean of the differences; the limits of agreement hold a share
//! (95 % by default) of them: `bias ± z · s`. Both come with their intervals, the
//! limits' by Bland & Altman's approximation, variance of a limit ≈ 3 s²/n.

use crate::shots::reading::Reading;
use crate::shots::told::is_calculated;
use crate::statistics::summary::{Estimate, student_t, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, Normal};
use utoipa::ToSchema;

/// One shot as both devices saw it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct PairedValue {
    /// Mean of the two, internal units.
    pub mean: f64,
    /// The second device's value minus the first's.
    pub difference: f64,
}

/// The agreement of two devices on one quantity.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Agreement {
    /// Which.
    pub quantity: Quantity,
    /// The pairs, in the order given.
    pub pairs: Vec<PairedValue>,
    /// Mean difference, second minus first.
    pub bias: Estimate,
    /// Standard deviation of the differences.
    pub spread: f64,
    /// Lower limit of agreement.
    pub lower: Estimate,
    /// Upper limit of agreement.
    pub upper: Estimate,
    /// Share of differences that the limits are to hold, 0…1.
    pub share: f64,
    /// Whether the bias is known well enough to be taken out: within what makes no
    /// difference in the house.
    pub known_well: bool,
    /// Pairs left out because one device only calculated the value.
    pub calculated_left_out: usize,
    /// What that means, in a sentence.
    pub sentence: Sentence,
}

/// What two devices reported of a quantity for the same shots, and how many pairs were
/// left out: a measured value is held against a measured one. Where hardly any pair is,
/// values that the house counts anyway are compared as they are.
pub fn pairs_of<'a>(
    quantity: Quantity,
    shots: impl Iterator<Item = [&'a Reading; 2]> + Clone,
    rules: &HouseRules,
) -> (Vec<[f64; 2]>, usize) {
    let values = |measured: bool| -> Vec<[f64; 2]> {
        shots
            .clone()
            .filter(|pair| !measured || !pair.iter().any(|r| is_calculated(r, quantity)))
            .filter_map(|[a, b]| Some([a.get(quantity)?, b.get(quantity)?]))
            .collect()
    };
    let (measured, all) = (values(true), values(false));
    let spin = matches!(quantity, Quantity::SpinRate | Quantity::SpinAxis);
    if measured.len() < 3 && (!spin || rules.counts_calculated_spin()) {
        return (all, 0);
    }
    let left_out = all.len() - measured.len();
    (measured, left_out)
}

/// Compares what two devices, named `first` and `second`, reported of the same shots, as
/// [`pairs_of`] gives it.
/// Returns `None` below three pairs: nothing could be said of how sure it is.
pub fn agree(
    quantity: Quantity,
    (pairs, left_out): (&[[f64; 2]], usize),
    [first, second]: [&str; 2],
    rules: &HouseRules,
) -> Option<Agreement> {
    if pairs.len() < 3 {
        return None;
    }
    let differences: Vec<f64> = pairs.iter().map(|[a, b]| b - a).collect();
    let summary = summarise(&differences, rules.interval_level)?;
    let (bias, spread) = (summary.interval?, summary.spread?);
    let n = bias.n;
    let z = Normal::standard().inverse_cdf(0.5 + rules.agreement_level / 2.0);
    let half = student_t(rules.interval_level, n - 1) * spread * (3.0 / n as f64).sqrt();
    let limit = |value: f64| Estimate {
        value,
        low: value - half,
        high: value + half,
        n,
    };
    Some(Agreement {
        quantity,
        pairs: pairs
            .iter()
            .map(|[a, b]| PairedValue {
                mean: (a + b) / 2.0,
                difference: b - a,
            })
            .collect(),
        bias,
        spread,
        lower: limit(bias.value - z * spread),
        upper: limit(bias.value + z * spread),
        share: rules.agreement_level,
        known_well: bias.half_width() <= rules.margin(quantity),
        calculated_left_out: left_out,
        sentence: match left_out {
            0 => sentence(quantity, &bias, z * spread, [first, second]),
            n => sentence(quantity, &bias, z * spread, [first, second]).words(format!(
                " {n} more {} only calculated by one of them and left out.",
                if n == 1 { "was" } else { "were" }
            )),
        },
    })
}

impl Agreement {
    /// The offset of the second device that takes the bias away, when `offset` was
    /// added to its values so far.
    pub fn offset_without_bias(&self, offset: f64) -> f64 {
        offset - self.bias.value
    }
}

fn sentence(
    quantity: Quantity,
    bias: &Estimate,
    half: f64,
    [first, second]: [&str; 2],
) -> Sentence {
    let dimension = quantity.dimension();
    let told = if bias.low <= 0.0 && bias.high >= 0.0 {
        Sentence::of(format!(
            "On average {second} and {first} agree: these {} shots show no sure difference.",
            bias.n
        ))
    } else {
        let way = if bias.value > 0.0 { "more" } else { "less" };
        Sentence::of(format!("{second} shows "))
            .figure(bias.value.abs(), dimension)
            .words(format!(" {way} than {first} on average."))
    };
    told.words(" On a single shot they may lie ")
        .figure(half, dimension)
        .words(" either side of that.")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::Units;

    /// Peak expiratory flow by a large and a mini meter, l/min: first measurements of
    /// Bland & Altman (1986), table 1.
    const FLOW: [[f64; 2]; 17] = [
        [494.0, 512.0],
        [395.0, 430.0],
        [516.0, 520.0],
        [434.0, 428.0],
        [476.0, 500.0],
        [557.0, 600.0],
        [413.0, 364.0],
        [442.0, 380.0],
        [650.0, 658.0],
        [433.0, 445.0],
        [417.0, 432.0],
        [656.0, 626.0],
        [267.0, 260.0],
        [478.0, 477.0],
        [178.0, 259.0],
        [423.0, 350.0],
        [427.0, 451.0],
    ];

    fn flow() -> Agreement {
        let mut rules = HouseRules::default();
        rules.set("interval_level", Some(0.95)).unwrap();
        agree(Quantity::Carry, (&FLOW, 0), ["large", "mini"], &rules).unwrap()
    }

    #[test]
    fn the_published_example_comes_out_as_published() {
        let told = flow();
        // Mean difference −2.1 (large minus mini), s 38.8; interval −22.0 to 17.8;
        // limits −79.7 to 75.5 with two s, and the lower one's interval −114.3 to −45.1.
        assert!((told.bias.value - 2.1).abs() < 0.05);
        assert!((told.spread - 38.8).abs() < 0.05);
        assert!((told.bias.low + 17.8).abs() < 0.1 && (told.bias.high - 22.0).abs() < 0.1);
        assert!((told.upper.value - (2.1 + 1.96 * 38.8)).abs() < 0.2);
        assert!((told.upper.high - told.upper.value - 34.6).abs() < 0.2);
    }

    #[test]
    fn a_bias_within_its_interval_is_not_called_one() {
        let said = flow().sentence.show(Units::MpsM);
        assert!(said.contains("no sure difference"), "{said}");
        let apart: Vec<[f64; 2]> = FLOW
            .iter()
            .map(|[a, _]| [*a, a + 9.0 + a / 500.0])
            .collect();
        let rules = HouseRules::default();
        let told = agree(Quantity::Carry, (&apart, 0), ["Deck", "Barn"], &rules).unwrap();
        let said = told.sentence.show(Units::MpsM);
        assert!(said.starts_with("Barn shows 10 m more than Deck"), "{said}");
    }

    #[test]
    fn the_offset_it_proposes_takes_the_bias_away() {
        let offset = flow().offset_without_bias(0.5) - 0.5;
        let put_right = FLOW.map(|[a, b]| [a, b + offset]);
        let rules = HouseRules::default();
        let told = agree(Quantity::Carry, (&put_right, 0), ["large", "mini"], &rules).unwrap();
        assert!(told.bias.value.abs() < 1e-9);
        assert!((told.spread - flow().spread).abs() < 1e-9);
    }

    #[test]
    fn two_pairs_say_nothing() {
        let rules = HouseRules::default();
        assert_eq!(
            agree(Quantity::Carry, (&FLOW[..2], 0), ["a", "b"], &rules),
            None
        );
    }
}
