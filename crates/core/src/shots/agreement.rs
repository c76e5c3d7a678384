//! How far two devices agree on the same shots (Bland & Altman 1986).
//!
//! The bias is the mean of the differences; the limits of agreement hold a share
//! (95 % by default) of them: `bias ± z · s`. A set-up differs from day to day, so the
//! session is the unit: its spread between sessions is taken from the analysis of
//! variance, the bias's interval is Hartung & Knapp's (2001) over session means, and the
//! limits' intervals are exact tolerance limits (Carkeet 2015) on Satterthwaite's (1946)
//! degrees of freedom. A difference that grows with the value is tested as a slope
//! (Bland & Altman 1999), which no one offset takes out.

use crate::shots::reading::Reading;
use crate::shots::told::is_calculated;
use crate::statistics::noncentral::NoncentralT;
use crate::statistics::summary::{Estimate, student_t, summarise};
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::sentence::Sentence;
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, Normal};
use std::collections::BTreeMap;
use utoipa::ToSchema;

/// What both devices reported of one shot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pair {
    /// Which of the sessions.
    pub session: usize,
    /// The first device's value and the second's, internal units.
    pub values: [f64; 2],
}

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
    /// Sessions that the pairs are of.
    pub sessions: usize,
    /// Standard deviation of the differences, within and between sessions.
    pub spread: f64,
    /// By how much the difference grows for each unit of the value, when that is sure.
    pub slope: Option<Estimate>,
    /// Lower limit of agreement.
    pub lower: Estimate,
    /// Upper limit of agreement.
    pub upper: Estimate,
    /// Share of differences that the limits are to hold, 0…1.
    pub share: f64,
    /// Whether the bias is known well enough to be taken out: over more than one session,
    /// within what makes no difference in the house, and alike at every value.
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
    shots: impl Iterator<Item = (usize, [&'a Reading; 2])> + Clone,
    rules: &HouseRules,
) -> (Vec<Pair>, usize) {
    let values = |measured: bool| -> Vec<Pair> {
        shots
            .clone()
            .filter(|(_, pair)| !measured || !pair.iter().any(|r| is_calculated(r, quantity)))
            .filter_map(|(session, [a, b])| {
                let values = [a.get(quantity)?, b.get(quantity)?];
                Some(Pair { session, values })
            })
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
    (pairs, left_out): (&[Pair], usize),
    [first, second]: [&str; 2],
    rules: &HouseRules,
) -> Option<Agreement> {
    if pairs.len() < 3 {
        return None;
    }
    let level = rules.interval_level;
    let by_session = Sessions::of(pairs);
    let known = by_session.known(level)?;
    let n = pairs.len();
    let z = Normal::standard().inverse_cdf(0.5 + rules.agreement_level / 2.0);
    // As many independent differences as would leave the mean as sure.
    let worth = (known.spread / known.error).powi(2).max(1.0);
    let spread_of_limits = NoncentralT::new(known.freedom);
    let bound = |p: f64, z: f64| {
        let t = spread_of_limits.quantile(p, z * worth.sqrt());
        known.bias.value + known.spread * t / worth.sqrt()
    };
    let limit = |z: f64| Estimate {
        value: known.bias.value + z * known.spread,
        low: bound((1.0 - level) / 2.0, z),
        high: bound((1.0 + level) / 2.0, z),
        n,
    };
    let slope = slope(pairs, level);
    let margin = rules.margin(quantity);
    let sessions = by_session.0.len();
    let means = || pairs.iter().map(|p| (p.values[0] + p.values[1]) / 2.0);
    let range = means().fold(f64::NEG_INFINITY, f64::max) - means().fold(f64::INFINITY, f64::min);
    let grows = slope.is_some_and(|slope| slope.value.abs() * range / 2.0 > margin);
    let mut said = sentence(quantity, &known.bias, z * known.spread, [first, second]);
    if let Some(slope) = slope.filter(|_| grows) {
        let way = if slope.value > 0.0 { "grows" } else { "falls" };
        said = said.words(format!(
            " It {way} by {:.1} % of the value, so no one offset takes it out.",
            slope.value.abs() * 100.0
        ));
    }
    if sessions == 1 {
        said = said.words(" All are of one session: another day's set-up may lie elsewhere.");
    }
    if left_out > 0 {
        said = said.words(format!(
            " {left_out} more {} only calculated by one of them and left out.",
            if left_out == 1 { "was" } else { "were" }
        ));
    }
    Some(Agreement {
        quantity,
        pairs: pairs
            .iter()
            .map(|Pair { values: [a, b], .. }| PairedValue {
                mean: (a + b) / 2.0,
                difference: b - a,
            })
            .collect(),
        bias: known.bias,
        sessions,
        spread: known.spread,
        slope,
        lower: limit(-z),
        upper: limit(z),
        share: rules.agreement_level,
        known_well: sessions > 1 && !grows && known.bias.half_width() <= margin,
        calculated_left_out: left_out,
        sentence: said,
    })
}

/// The differences of each session.
struct Sessions(Vec<Vec<f64>>);

/// What they tell.
struct Known {
    bias: Estimate,
    /// Standard error of the bias.
    error: f64,
    /// Standard deviation of a single difference on any day.
    spread: f64,
    /// Degrees of freedom of that.
    freedom: f64,
}

impl Sessions {
    fn of(pairs: &[Pair]) -> Sessions {
        let mut sessions: BTreeMap<usize, Vec<f64>> = BTreeMap::new();
        for Pair { session, values } in pairs {
            let of_session = sessions.entry(*session).or_default();
            of_session.push(values[1] - values[0]);
        }
        Sessions(sessions.into_values().collect())
    }

    fn known(&self, level: f64) -> Option<Known> {
        let all: Vec<f64> = self.0.iter().flatten().copied().collect();
        let plain = summarise(&all, level)?;
        let (bias, spread) = (plain.interval?, plain.spread?);
        let (n, k) = (all.len() as f64, self.0.len() as f64);
        if self.0.len() < 2 {
            return Some(Known {
                bias,
                error: spread / n.sqrt(),
                spread,
                freedom: n - 1.0,
            });
        }
        let sizes = || self.0.iter().map(|s| s.len() as f64);
        let means: Vec<f64> = self
            .0
            .iter()
            .map(|s| s.iter().sum::<f64>() / s.len() as f64)
            .collect();
        let within: f64 = self
            .0
            .iter()
            .zip(&means)
            .flat_map(|(s, mean)| s.iter().map(move |d| (d - mean).powi(2)))
            .sum();
        let between: f64 = sizes()
            .zip(&means)
            .map(|(size, mean)| size * (mean - plain.mean).powi(2))
            .sum();
        let (inner, outer) = ((n - k).max(1.0), k - 1.0);
        let (ms_within, ms_between) = (within / inner, between / outer);
        let usual = (n - sizes().map(|size| size * size).sum::<f64>() / n) / outer;
        let of_sessions = ((ms_between - ms_within) / usual).max(0.0);
        let weights: Vec<f64> = sizes()
            .map(|size| 1.0 / (of_sessions + ms_within / size).max(f64::MIN_POSITIVE))
            .collect();
        let weight: f64 = weights.iter().sum();
        let value = weights.iter().zip(&means).map(|(w, m)| w * m).sum::<f64>() / weight;
        let scatter: f64 = weights
            .iter()
            .zip(&means)
            .map(|(w, m)| w * (m - value).powi(2))
            .sum();
        let error = (scatter / (outer * weight)).sqrt();
        let half = student_t(level, self.0.len() - 1) * error;
        let (a, b) = (ms_between / usual, (1.0 - 1.0 / usual) * ms_within);
        let total = a + b;
        // Of few sessions Satterthwaite's are too many: a session's worth is taken off.
        let freedom = total.powi(2) / (a * a * (outer + 1.0) / (outer * outer) + b * b / inner);
        let spread = total.sqrt();
        Some(Known {
            bias: Estimate {
                value,
                low: value - half,
                high: value + half,
                n: all.len(),
            },
            error: (ms_between.max(ms_within) / n).sqrt(),
            spread,
            freedom: freedom.max(1.0),
        })
    }
}

/// Pairs without which no slope is tested.
const SLOPE_FROM: usize = 10;
/// Share of the values' squares that lies within sessions, below which rounding made it.
const NEXT_TO_NONE: f64 = 1e-9;

/// The slope of the difference over the value, sessions apart, when it is sure.
fn slope(pairs: &[Pair], level: f64) -> Option<Estimate> {
    if pairs.len() < SLOPE_FROM {
        return None;
    }
    // Each session about its own means: what a column for each of them would give, without as
    // many columns as there are sessions.
    let mut sessions: BTreeMap<usize, Vec<[f64; 2]>> = BTreeMap::new();
    for Pair {
        session,
        values: [a, b],
    } in pairs
    {
        let of_session = sessions.entry(*session).or_default();
        of_session.push([(a + b) / 2.0, b - a]);
    }
    let freedom = pairs.len().checked_sub(sessions.len() + 1)?;
    let about = |points: &Vec<[f64; 2]>| {
        let mean = |i: usize| points.iter().map(|p| p[i]).sum::<f64>() / points.len() as f64;
        let means = [mean(0), mean(1)];
        let off = |p: &[f64; 2]| [p[0] - means[0], p[1] - means[1]];
        points.iter().map(off).collect::<Vec<_>>()
    };
    let points: Vec<[f64; 2]> = sessions.values().flat_map(about).collect();
    let sum = |of: &dyn Fn(&[f64; 2]) -> f64| points.iter().map(of).sum::<f64>();
    let across = sum(&|[x, _]| x * x);
    let whole: f64 = sessions.values().flatten().map(|[x, _]| x * x).sum();
    // Of values that are as good as the same nothing is told.
    if freedom == 0 || across <= NEXT_TO_NONE * whole {
        return None;
    }
    let value = sum(&|[x, y]| x * y) / across;
    let left = sum(&|[x, y]| (y - value * x).powi(2));
    let error = (left / freedom as f64 / across).sqrt();
    let half = student_t(level, freedom) * error;
    (value.abs() > half).then_some(Estimate {
        value,
        low: value - half,
        high: value + half,
        n: pairs.len(),
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
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardNormal};
    use rand_pcg::Pcg64;

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

    fn of_one_day(values: &[[f64; 2]]) -> Vec<Pair> {
        let pair = |values: &[f64; 2]| Pair {
            session: 0,
            values: *values,
        };
        values.iter().map(pair).collect()
    }

    fn flow() -> Agreement {
        let mut rules = HouseRules::default();
        rules.set("interval_level", Some(0.95)).unwrap();
        let pairs = of_one_day(&FLOW);
        agree(Quantity::Carry, (&pairs, 0), ["large", "mini"], &rules).unwrap()
    }

    #[test]
    fn the_published_example_comes_out_as_published() {
        let told = flow();
        // Mean difference −2.1 (large minus mini), s 38.8; interval −22.0 to 17.8; limits
        // −79.7 to 75.5 with two s. Exact limits reach further out than in.
        assert!((told.bias.value - 2.1).abs() < 0.05);
        assert!((told.spread - 38.8).abs() < 0.05);
        assert!((told.bias.low + 17.8).abs() < 0.1 && (told.bias.high - 22.0).abs() < 0.1);
        assert!((told.upper.value - (2.1 + 1.96 * 38.8)).abs() < 0.2);
        let (inward, outward) = (
            told.upper.value - told.upper.low,
            told.upper.high - told.upper.value,
        );
        assert!(
            inward > 20.0 && outward > 1.4 * inward,
            "{inward} {outward}"
        );
    }

    #[test]
    fn a_bias_within_its_interval_is_not_called_one() {
        let said = flow().sentence.show(Units::MpsM);
        assert!(said.contains("no sure difference"), "{said}");
        assert!(said.contains("of one session"), "{said}");
        let apart: Vec<[f64; 2]> = FLOW
            .iter()
            .map(|[a, _]| [*a, a + 9.0 + a / 500.0])
            .collect();
        let rules = HouseRules::default();
        let pairs = of_one_day(&apart);
        let told = agree(Quantity::Carry, (&pairs, 0), ["Deck", "Barn"], &rules).unwrap();
        let said = told.sentence.show(Units::MpsM);
        assert!(said.starts_with("Barn shows 10 m more than Deck"), "{said}");
    }

    #[test]
    fn the_offset_it_proposes_takes_the_bias_away() {
        let offset = flow().offset_without_bias(0.5) - 0.5;
        let put_right = of_one_day(&FLOW.map(|[a, b]| [a, b + offset]));
        let rules = HouseRules::default();
        let told = agree(Quantity::Carry, (&put_right, 0), ["large", "mini"], &rules).unwrap();
        assert!(told.bias.value.abs() < 1e-9);
        assert!((told.spread - flow().spread).abs() < 1e-9);
    }

    #[test]
    fn two_pairs_say_nothing() {
        let rules = HouseRules::default();
        let pairs = of_one_day(&FLOW[..2]);
        assert_eq!(
            agree(Quantity::Carry, (&pairs, 0), ["a", "b"], &rules),
            None
        );
    }

    /// Pairs over some sessions, each with a set-up of its own.
    fn drawn(rng: &mut Pcg64, sizes: &[usize], between: f64, slope: f64) -> Vec<Pair> {
        let mut pairs = Vec::new();
        for (session, size) in sizes.iter().enumerate() {
            let set_up: f64 = between * Distribution::<f64>::sample(&StandardNormal, rng);
            for _ in 0..*size {
                let mut noise = || -> f64 { StandardNormal.sample(rng) };
                let carry = 200.0 + 25.0 * noise();
                let other = carry + 1.0 + set_up + 1.5 * noise() + slope * (carry - 200.0);
                let values = [carry, other];
                pairs.push(Pair { session, values });
            }
        }
        pairs
    }

    #[test]
    fn the_intervals_of_bias_and_limits_hold_them_over_sessions() {
        const RUNS: usize = 400;
        let rules = HouseRules::default();
        let z = Normal::standard().inverse_cdf(0.5 + rules.agreement_level / 2.0);
        let mut rng = Pcg64::seed_from_u64(41);
        for (sizes, between) in [
            (&[10, 10, 10][..], 1.5),
            (&[10, 10, 10][..], 0.0),
            (&[4, 8, 18, 6, 9][..], 1.0),
            (&[16][..], 0.0),
        ] {
            let (mut bias, mut upper) = (0, 0);
            let limit = 1.0 + z * f64::hypot(1.5, between);
            for _ in 0..RUNS {
                let pairs = drawn(&mut rng, sizes, between, 0.0);
                let told = agree(Quantity::Carry, (&pairs, 0), ["a", "b"], &rules).unwrap();
                let holds =
                    |e: &Estimate, truth: f64| usize::from(e.low <= truth && truth <= e.high);
                bias += holds(&told.bias, 1.0);
                upper += holds(&told.upper, limit);
            }
            let share = |held: usize| held as f64 / RUNS as f64;
            println!(
                "{sizes:?} {between}: bias {:.3}, limit {:.3}",
                share(bias),
                share(upper)
            );
            assert!(
                (0.85..=0.955).contains(&share(bias)),
                "{sizes:?} {}",
                share(bias)
            );
            assert!(
                (0.83..=0.97).contains(&share(upper)),
                "{sizes:?} {}",
                share(upper)
            );
        }
    }

    #[test]
    fn a_difference_that_grows_is_told_as_a_slope_and_no_offset_is_offered() {
        let rules = HouseRules::default();
        let mut rng = Pcg64::seed_from_u64(43);
        let sizes = [12, 12, 12, 12];
        let pairs = drawn(&mut rng, &sizes, 0.0, 0.12);
        let told = agree(Quantity::Carry, (&pairs, 0), ["a", "b"], &rules).unwrap();
        assert!(
            (told.slope.unwrap().value - 0.12).abs() < 0.03,
            "{:?}",
            told.slope
        );
        assert!(!told.known_well);
        assert!(told.sentence.show(Units::MphYd).contains("no one offset"));
        let mut sure = 0;
        for _ in 0..200 {
            let pairs = drawn(&mut rng, &sizes, 0.5, 0.0);
            let told = agree(Quantity::Carry, (&pairs, 0), ["a", "b"], &rules).unwrap();
            sure += usize::from(told.slope.is_some());
        }
        assert!(
            sure <= 32,
            "a slope was told {sure} times of 200 without one"
        );
    }
}
