//! What a set of values amounts to: how many, mean, spread, best, and how sure.
//!
//! The interval of a mean is Student's (1908); the spread is the sample standard
//! deviation with n − 1.

use crate::vocabulary::sentence::Sentence;
use crate::vocabulary::units::{Dimension, grouped};
use serde::Serialize;
use statrs::distribution::{ContinuousCDF, StudentsT};
use utoipa::ToSchema;

/// A number worked out from `n` shots, with the interval it may lie in.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Estimate {
    /// The estimate itself.
    pub value: f64,
    /// Lower end of the interval.
    pub low: f64,
    /// Upper end of the interval.
    pub high: f64,
    /// Number of shots behind it.
    pub n: usize,
}

impl Estimate {
    /// The estimate with its interval and count, in words.
    pub fn said(&self, dimension: Dimension) -> Sentence {
        Sentence::default()
            .figure(self.value, dimension)
            .words(" (")
            .bare(self.low, dimension)
            .words(" to ")
            .bare(self.high, dimension)
            .words(format!("), n {}", self.n))
    }

    /// The estimate of something without a unit, with its interval, in words.
    pub fn bare(&self, decimals: u8) -> String {
        let [value, low, high] = [self.value, self.low, self.high].map(|n| grouped(n, decimals));
        format!("{value} ({low} to {high})")
    }

    /// The estimate of so many times the same.
    pub fn times(&self, factor: f64) -> Estimate {
        let (one, other) = (self.low * factor, self.high * factor);
        Estimate {
            value: self.value * factor,
            low: one.min(other),
            high: one.max(other),
            n: self.n,
        }
    }

    /// Half the width of the interval.
    pub fn half_width(&self) -> f64 {
        (self.high - self.low) / 2.0
    }
}

/// The summary of a set of values, in their own unit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Summary {
    /// Number of values.
    pub n: usize,
    /// Arithmetic mean.
    pub mean: f64,
    /// Largest value.
    pub best: f64,
    /// Smallest value.
    pub least: f64,
    /// Sample standard deviation; absent for a single value.
    pub spread: Option<f64>,
    /// The mean with its interval; absent for a single value.
    pub interval: Option<Estimate>,
}

/// Summarises `values`, with the interval of the mean at `level` (0…1).
///
/// Returns `None` for an empty set: there is nothing to say about it.
///
/// ```
/// use tally_core::statistics::summary::summarise;
/// let told = summarise(&[44.1, 45.0, 44.6, 45.3], 0.9).unwrap();
/// let interval = told.interval.unwrap();
/// assert_eq!((told.n, told.best), (4, 45.3));
/// assert!(interval.low < told.mean && told.mean < interval.high);
/// assert!(summarise(&[], 0.9).is_none());
/// ```
pub fn summarise(values: &[f64], level: f64) -> Option<Summary> {
    let n = values.len();
    let best = values.iter().copied().reduce(f64::max)?;
    let least = values.iter().copied().reduce(f64::min)?;
    let mean = values.iter().sum::<f64>() / n as f64;
    let spread = (n > 1).then(|| {
        let squares: f64 = values.iter().map(|v| (v - mean).powi(2)).sum();
        (squares / (n - 1) as f64).sqrt()
    });
    let interval = spread.map(|spread| {
        let half = student_t(level, n - 1) * spread / (n as f64).sqrt();
        Estimate {
            value: mean,
            low: mean - half,
            high: mean + half,
            n,
        }
    });
    Some(Summary {
        n,
        mean,
        best,
        least,
        spread,
        interval,
    })
}

/// How many values with this `spread` are needed before the interval of their mean
/// is no wider than ±`half`; `None` beyond `most`.
pub fn needed_for(half: f64, spread: f64, level: f64, most: usize) -> Option<usize> {
    (2..=most).find(|&n| student_t(level, n - 1) * spread / (n as f64).sqrt() <= half)
}

/// Two-sided quantile of Student's t.
pub(crate) fn student_t(level: f64, degrees: usize) -> f64 {
    student_t_of(level, degrees as f64)
}

/// The same for degrees of freedom that are not whole.
pub(crate) fn student_t_of(level: f64, degrees: f64) -> f64 {
    StudentsT::new(0.0, 1.0, degrees)
        .expect("degrees of freedom are positive")
        .inverse_cdf(0.5 + level / 2.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_worked_example_comes_out_as_in_student_s_own_table() {
        // Student (1908), the sleep data: ten differences, mean 1.58, s 1.23.
        let hours = [1.2, 2.4, 1.3, 1.3, 0.0, 1.0, 1.8, 0.8, 4.6, 1.4];
        let summary = summarise(&hours, 0.95).unwrap();
        assert!((summary.mean - 1.58).abs() < 1e-12);
        assert!((summary.spread.unwrap() - 1.230).abs() < 5e-4);
        // t(0.975, 9) = 2.262, so 1.58 ± 0.880.
        let interval = summary.interval.unwrap();
        assert!((interval.low - 0.700).abs() < 1e-3);
        assert!((interval.high - 2.460).abs() < 1e-3);
    }

    #[test]
    fn nothing_is_said_of_no_shots_and_no_spread_of_one() {
        assert_eq!(summarise(&[], 0.9), None);
        let one = summarise(&[179.0], 0.9).unwrap();
        assert_eq!((one.n, one.mean, one.best), (1, 179.0, 179.0));
        assert_eq!((one.spread, one.interval), (None, None));
    }

    #[test]
    fn the_number_needed_is_the_least_that_suffices() {
        let n = needed_for(1.0, 3.0, 0.9, 500).unwrap();
        let half = |n: usize| student_t(0.9, n - 1) * 3.0 / (n as f64).sqrt();
        assert!(half(n) <= 1.0 && half(n - 1) > 1.0, "{n}");
        assert_eq!(needed_for(0.01, 3.0, 0.9, 500), None);
    }

    proptest! {
        #[test]
        fn the_interval_holds_the_mean_and_widens_with_the_level(
            values in prop::collection::vec(-100.0..100.0f64, 2..40),
        ) {
            let narrow = summarise(&values, 0.8).unwrap().interval.unwrap();
            let wide = summarise(&values, 0.95).unwrap().interval.unwrap();
            prop_assert!(wide.low <= narrow.low && narrow.low <= narrow.value);
            prop_assert!(narrow.value <= narrow.high && narrow.high <= wide.high);
        }
    }
}
