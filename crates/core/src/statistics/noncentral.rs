//! Student's t about something other than nought (Fisher 1931): what a limit
//! `mean + z·s` over few values may be off by.

use crate::statistics::crossing::crossing;
use statrs::distribution::{ChiSquared, Continuous, ContinuousCDF, Normal};

/// Places of the chi-squared distribution that are averaged over.
const PLACES: usize = 200;

/// The noncentral t with some degrees of freedom.
pub(crate) struct NoncentralT {
    /// √(χ²/ν) in the middle of equal shares: an average over them is one over its
    /// distribution.
    scales: Vec<f64>,
    normal: Normal,
}

impl NoncentralT {
    /// With `degrees` of freedom, more than none.
    pub fn new(degrees: f64) -> NoncentralT {
        let chi = ChiSquared::new(degrees).expect("degrees of freedom are positive");
        let normal = Normal::standard();
        let scale = |i: usize| {
            let share = (i as f64 + 0.5) / PLACES as f64;
            (quantile_of(&chi, degrees, share, normal.inverse_cdf(share)) / degrees).sqrt()
        };
        NoncentralT {
            scales: (0..PLACES).map(scale).collect(),
            normal,
        }
    }

    /// The quantile at `p` about `delta`.
    pub fn quantile(&self, p: f64, delta: f64) -> f64 {
        let under = |t: f64| {
            let at = |s: &f64| self.normal.cdf(t * s - delta);
            self.scales.iter().map(at).sum::<f64>() / PLACES as f64
        };
        let (mut low, mut high) = (delta - 10.0, delta + 10.0);
        while under(low) > p {
            low -= high - low;
        }
        while under(high) < p {
            high += high - low;
        }
        crossing(low, high, |t| under(t) - p)
    }
}

/// Degrees of freedom from which Wilson & Hilferty's (1931) quantile is near enough to be put
/// right in a few steps; looking for it from nothing takes a hundred times as long.
const NEAR_FROM: f64 = 30.0;
/// Newton's steps from there, each of which doubles the right figures.
const STEPS: usize = 3;

/// The quantile of chi-squared at `share`, where the normal's is `z`.
fn quantile_of(chi: &ChiSquared, degrees: f64, share: f64, z: f64) -> f64 {
    if degrees < NEAR_FROM {
        return chi.inverse_cdf(share);
    }
    let ninth = 2.0 / (9.0 * degrees);
    let near = degrees * (1.0 - ninth + z * ninth.sqrt()).powi(3);
    (0..STEPS).fold(near, |x, _| x - (chi.cdf(x) - share) / chi.pdf(x))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::statistics::summary::student_t_of;

    #[test]
    fn one_sided_tolerance_factors_come_out_as_tabled() {
        // Odeh & Owen (1980): factors that bound 95 % of a normal population with 95 %
        // confidence, of 10, 20 and 50 values.
        let z = Normal::standard().inverse_cdf(0.95);
        for (n, tabled) in [(10.0, 2.911), (20.0, 2.396), (50.0, 2.065)] {
            let root = f64::sqrt(n);
            let factor = NoncentralT::new(n - 1.0).quantile(0.95, z * root) / root;
            assert!((factor - tabled).abs() < 0.006, "{n}: {factor}");
        }
    }

    #[test]
    fn quantiles_of_chi_squared_are_those_that_its_own_distribution_gives() {
        for degrees in [30.0, 47.3, 120.0, 999.0, 4_000.0] {
            let chi = ChiSquared::new(degrees).unwrap();
            for share in [0.0025, 0.1, 0.5, 0.9, 0.9975] {
                let z = Normal::standard().inverse_cdf(share);
                let there = quantile_of(&chi, degrees, share, z);
                assert!((chi.cdf(there) - share).abs() < 1e-9, "{degrees}, {share}");
            }
        }
    }

    #[test]
    fn about_nought_it_is_student_s_own() {
        let t = NoncentralT::new(9.0).quantile(0.95, 0.0);
        assert!((t - student_t_of(0.9, 9.0)).abs() < 0.01, "{t}");
    }
}
