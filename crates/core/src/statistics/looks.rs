//! How wide an interval must be when somebody looks while balls are hit.
//!
//! Whoever looks at every ball and stops at the first verdict is wrong far more often
//! than a verdict admits. So the level rises the earlier it is looked: by the spending of
//! Lan & DeMets (1983) in the manner of O'Brien & Fleming (1979), the normal bound at a
//! share `t` of the planned balls is `c/√t`. Looks without end would take
//! `c = Φ⁻¹(1 − (1 − level)/4)`; a fifth instead of a quarter leaves something for looks
//! beyond the plan, where the bound grows by `√(1 + 2.5 ln t)`. Both are our own choice,
//! held by simulation to more than three times the plan.

use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, Normal};
use utoipa::ToSchema;

/// Beyond this bound hardly anything is spent.
const MOST: f64 = 4.0;

/// Whether somebody looked while the balls were hit.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Looks {
    /// Once, when all were hit.
    #[default]
    Once,
    /// At any ball; so many were planned in all.
    Throughout {
        /// Planned balls, of all sets together.
        planned: usize,
    },
}

/// Balls of each set that are taken as planned where no plan tells.
const UNPLANNED: usize = 12;

impl Looks {
    /// Looks at any ball of so many `planned`, of `sets` sets together.
    pub fn throughout(planned: usize, sets: usize) -> Looks {
        Looks::Throughout {
            planned: planned.max(UNPLANNED * sets),
        }
    }

    /// The level of an interval over `hit` balls, so that one at `level` is kept over all
    /// looks together.
    pub fn level(self, level: f64, hit: usize) -> f64 {
        let Looks::Throughout { planned } = self else {
            return level;
        };
        let normal = Normal::standard();
        let at_the_end = normal.inverse_cdf(1.0 - (1.0 - level) / 5.0);
        let share = hit.max(1) as f64 / planned.max(2) as f64;
        let bound = if share <= 1.0 {
            at_the_end / share.sqrt()
        } else {
            at_the_end * (1.0 + 2.5 * share.ln()).sqrt()
        };
        2.0 * normal.cdf(bound.min(MOST)) - 1.0
    }

    /// Balls of each of `sets` that are still planned once `hit` were hit in all.
    pub fn to_come(self, hit: usize, sets: usize) -> Option<usize> {
        match self {
            Looks::Once => None,
            Looks::Throughout { planned } => {
                let left = planned.saturating_sub(hit).div_ceil(sets.max(1));
                (left > 0).then_some(left)
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardNormal};
    use rand_pcg::Pcg64;

    #[test]
    fn looking_at_every_ball_is_wrong_no_more_often_than_promised() {
        let mut rng = Pcg64::seed_from_u64(99);
        let normal = Normal::standard();
        for (planned, looked_to) in [(24, 24), (24, 80), (80, 80)] {
            let looks = Looks::Throughout { planned };
            let bounds: Vec<f64> = (4..=looked_to)
                .map(|n| normal.inverse_cdf(0.5 + looks.level(0.9, n) / 2.0))
                .collect();
            const RUNS: usize = 3000;
            let wrong = (0..RUNS).filter(|_| {
                let mut sum: f64 = 0.0;
                (1..=looked_to).any(|n| {
                    let step: f64 = StandardNormal.sample(&mut rng);
                    sum += step;
                    n >= 4 && sum.abs() / (n as f64).sqrt() > bounds[n - 4]
                })
            });
            let share = wrong.count() as f64 / RUNS as f64;
            assert!(share < 0.10, "{planned} {looked_to}: {share}");
        }
    }

    #[test]
    fn a_single_look_is_what_it_was_and_the_last_of_many_hardly_wider() {
        assert_eq!(Looks::Once.level(0.9, 5), 0.9);
        let live = Looks::Throughout { planned: 24 };
        assert!((live.level(0.9, 24) - 0.96).abs() < 1e-9);
        assert!(live.level(0.9, 6) > 0.999);
        assert_eq!((live.to_come(10, 2), live.to_come(24, 2)), (Some(7), None));
    }
}
