//! A linear model beside a warm-up of unknown length: `y = Xb − g·exp(−n/τ)`.
//!
//! For each τ the rest is linear least squares. What is not known of τ goes into every
//! interval: estimates are mixtures of Student's t over a grid of τ (Box & Tiao 1973),
//! weighted by the profile likelihood and by how usual such a warm-up is, in length and
//! in gain. Without the latter a very long one, which is nearly a straight line, could
//! pass for anything.

use crate::statistics::crossing::crossing;
use crate::statistics::least_squares::{LeastSquares, least_squares};
use crate::statistics::summary::{Estimate, student_t_of};
use rayon::prelude::*;
use statrs::distribution::{ContinuousCDF, StudentsT};

/// Swings in which the gap to the plateau falls to 1/e, from at once to a third of a
/// bucket of balls.
const TAUS: [f64; 12] = [
    1.5, 1.9, 2.4, 3.0, 3.7, 4.6, 5.8, 7.2, 9.0, 11.2, 14.0, 17.5,
];
/// The usual τ, and how far its logarithm strays: most players are warm after ten to
/// thirty swings (our own choice; a test holds that warm-ups of τ 3 to 8 are taken out).
const USUAL_TAU: f64 = 5.0;
const TAU_STRAYS: f64 = 0.5;
/// How far gains stray from none, as a share of the speed (our own choice, wide: one of
/// five per cent is a large one).
const GAIN_STRAYS: f64 = 0.05;
/// Weights below this do not move a digit that is shown.
const LEAST_WEIGHT: f64 = 1e-4;

/// The model, fitted for every τ.
pub(crate) struct Warming {
    /// τ, weight, and the fit; the last coefficient is −g.
    pub fits: Vec<(f64, f64, LeastSquares)>,
    n: usize,
}

/// The warm-up's column of a model.
pub(crate) fn column(order: &[f64], tau: f64) -> Vec<f64> {
    order.iter().map(|n| (-n / tau).exp()).collect()
}

/// How far tiring over a swing strays from none, as a share of the speed (our own choice:
/// one per cent over fifty swings), once there are so many swings; of fewer it is
/// held nearer to none, by the square of their number.
const TIRING_STRAYS: f64 = 0.0002;
const TIRING_TOLD_FROM: f64 = 30.0;

/// Fits with the gain's own likelihood, and that of tiring where a column has it, as more
/// rows, which have no say where the swings do.
fn with_usual_gain(
    mut columns: Vec<Vec<f64>>,
    y: &[f64],
    tiring: Option<usize>,
) -> Option<LeastSquares> {
    // What is held near none takes no freedom.
    let free: Vec<Vec<f64>> = columns
        .iter()
        .enumerate()
        .filter(|(i, _)| Some(*i) != tiring)
        .map(|(_, column)| column.clone())
        .collect();
    let plain = least_squares(&free, y)?;
    let noise = (plain.rss / plain.freedom as f64).sqrt();
    let usual = y.iter().map(|v| v.abs()).sum::<f64>() / y.len() as f64;
    let last = columns.len() - 1;
    let mut told = y.to_vec();
    let told_of_tiring = (y.len() as f64 / TIRING_TOLD_FROM).min(1.0);
    let held = [
        Some((last, GAIN_STRAYS)),
        tiring.map(|at| (at, TIRING_STRAYS * told_of_tiring.powi(2))),
    ];
    for (at, strays) in held.into_iter().flatten() {
        for (i, column) in columns.iter_mut().enumerate() {
            let here = noise / (strays * usual);
            column.push(if i == at { here } else { 0.0 });
        }
        told.push(0.0);
    }
    let mut fit = least_squares(&columns, &told)?;
    fit.freedom = plain.freedom;
    Some(fit)
}

impl Warming {
    /// Fits `y`, hit after `order` swings, by `columns` and a warm-up. `grain` is the
    /// step of the device; `tiring` the column that counts the swings, where one does.
    pub fn fit(
        columns: &[Vec<f64>],
        order: &[f64],
        y: &[f64],
        grain: f64,
        tiring: Option<usize>,
    ) -> Option<Warming> {
        // Rounding alone leaves so much, however even the numbers look.
        let least = y.len() as f64 * grain * grain / 12.0;
        let fits: Vec<_> = TAUS
            .into_par_iter()
            .filter_map(|tau| {
                let mut columns = columns.to_vec();
                columns.push(column(order, tau));
                let mut fit = with_usual_gain(columns, y, tiring)?;
                fit.rss = fit.rss.max(least);
                Some((tau, fit))
            })
            .collect();
        let best = fits
            .iter()
            .map(|(_, fit)| fit.rss)
            .fold(f64::INFINITY, f64::min);
        let weights: Vec<f64> = fits
            .iter()
            .map(|(tau, fit)| {
                let usual = (tau / USUAL_TAU).ln() / TAU_STRAYS;
                (fit.rss / best).powf(-(fit.freedom as f64) / 2.0) * (-0.5 * usual * usual).exp()
            })
            .collect();
        let total: f64 = weights.iter().sum();
        let kept: Vec<_> = fits
            .into_iter()
            .zip(weights)
            .map(|((tau, fit), weight)| (tau, weight / total, fit))
            .filter(|(_, weight, _)| *weight > LEAST_WEIGHT)
            .collect();
        (!kept.is_empty()).then_some(Warming {
            fits: kept,
            n: y.len(),
        })
    }

    /// τ and fit that explain most.
    pub fn best(&self) -> (f64, &LeastSquares) {
        let (tau, _, fit) = self
            .fits
            .iter()
            .max_by(|a, b| a.1.total_cmp(&b.1))
            .expect("there is at least one fit");
        (*tau, fit)
    }

    /// A sum of coefficients with weights that may depend on τ.
    pub fn estimate(&self, level: f64, weights: impl Fn(f64) -> Vec<f64>) -> Estimate {
        let parts: Vec<_> = self
            .fits
            .iter()
            .map(|(tau, weight, fit)| {
                let (value, error) = fit.contrast(&weights(*tau));
                (*weight, value, error.max(1e-12))
            })
            .collect();
        let share: f64 = parts.iter().map(|(weight, ..)| weight).sum();
        // Every τ leaves as much freedom.
        let freedom = self.best().1.freedom as f64;
        let t = StudentsT::new(0.0, 1.0, freedom).expect("some freedom is left");
        let far = student_t_of(level, freedom);
        let below = |x: f64| {
            let sum: f64 = parts
                .iter()
                .map(|(weight, value, error)| weight * t.cdf((x - value) / error))
                .sum();
            sum / share
        };
        // A mixture's quantile lies among those of its parts.
        let quantile = |far: f64, wanted: f64| {
            let ends = parts.iter().map(|(_, value, error)| value + far * error);
            let low = ends.clone().fold(f64::INFINITY, f64::min);
            let high = ends.fold(f64::NEG_INFINITY, f64::max);
            crossing(low, high, |x| below(x) - wanted)
        };
        Estimate {
            value: parts.iter().map(|(w, v, ..)| w * v).sum::<f64>() / share,
            low: quantile(-far, 0.5 - level / 2.0),
            high: quantile(far, 0.5 + level / 2.0),
            n: self.n,
        }
    }

    /// Swings until 95 % of the gain is there.
    pub fn warm_after(&self, level: f64) -> Estimate {
        let mut shares: Vec<(f64, f64)> = self.fits.iter().map(|(t, w, _)| (*t, *w)).collect();
        shares.sort_by(|a, b| a.0.total_cmp(&b.0));
        let total: f64 = shares.iter().map(|(_, w)| w).sum();
        let at = |wanted: f64| {
            let mut so_far = 0.0;
            shares
                .iter()
                .find(|(_, weight)| {
                    so_far += weight / total;
                    so_far >= wanted
                })
                .or(shares.last())
                .map_or(0.0, |(tau, _)| tau * 20f64.ln())
        };
        Estimate {
            value: self.best().0 * 20f64.ln(),
            low: at(0.5 - level / 2.0),
            high: at(0.5 + level / 2.0),
            n: self.n,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_warm_up_without_noise_is_found_again() {
        let order: Vec<f64> = (0..30).map(f64::from).collect();
        let y: Vec<f64> = order
            .iter()
            .map(|n| 45.0 - 2.0 * (-n / 4.6).exp())
            .collect();
        let warming = Warming::fit(&[vec![1.0; 30]], &order, &y, 1e-6, None).unwrap();
        let gain = warming.estimate(0.9, |_| vec![0.0, -1.0]);
        assert!((gain.value - 2.0).abs() < 1e-3, "{gain:?}");
        assert!((warming.estimate(0.9, |_| vec![1.0, 0.0]).value - 45.0).abs() < 1e-3);
        assert!((warming.warm_after(0.9).value - 4.6 * 20f64.ln()).abs() < 1e-9);
    }

    #[test]
    fn identical_numbers_leave_the_device_s_own_doubt() {
        let order: Vec<f64> = (0..12).map(f64::from).collect();
        let warming = Warming::fit(&[vec![1.0; 12]], &order, &[40.0; 12], 0.05, None).unwrap();
        let gain = warming.estimate(0.9, |_| vec![0.0, -1.0]);
        assert!(gain.value.abs() < 1e-9 && gain.high > gain.low && gain.high < 0.1);
    }
}
