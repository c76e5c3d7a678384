//! One curve of speed against length by height, with its peak, where there is one.
//!
//! The curve is level or falls off on both sides of a peak like a parabola. How likely each
//! peak and each fall is beside none at all is worked out on a grid, with what is the same for
//! every child (the mean, and how much taller children are faster) averaged over (Gelman et al.
//! 2013). A peak that is told only when it is likely would be told too surely by an interval
//! that does not know of the choice; one that is worked out like this stays right. Children who
//! swung several lengths count within themselves: their own level is theirs (Laird & Ware 1982).

use nalgebra::{DMatrix, DVector};
use rand::{RngExt, SeedableRng};
use rand_distr::{ChiSquared, Distribution, StandardNormal};
use rand_pcg::Pcg64;

/// A child's mean speed with one length.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Row {
    /// Which child.
    pub child: usize,
    /// Length as a share of height.
    pub x: f64,
    /// Height, m.
    pub height: f64,
    /// Mean speed, m/s.
    pub y: f64,
}

/// What the rows tell.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Curve {
    /// Chance that there is a peak within the lengths that were swung.
    pub peaked: f64,
    /// Quantiles of where it lies, if there is one: the level's ends and the middle.
    pub peak: [f64; 3],
    /// Length by height, then speed: low, middle, high.
    pub line: Vec<[f64; 4]>,
    /// What a tenth of height more than the peak costs, as a share of speed: low, middle, high.
    pub cost: [f64; 3],
}

/// Rows and children that a curve needs.
const LEAST_ROWS: usize = 6;
/// Prior chance of a level curve.
const LEVEL: f64 = 0.5;
/// What a tenth of height away from the peak may cost, as a share of speed.
const FALLS: [f64; 2] = [0.005, 0.90];
const FALL_STEPS: usize = 34;
/// How far beyond the lengths that were swung a peak may lie, as a share of their range.
const BEYOND: f64 = 0.3;
const PEAK_STEPS: usize = 65;
/// Ways that the band is made of.
const WAYS: usize = 1500;
/// Points of the line.
const POINTS: usize = 41;
/// Shares of variance between children that are tried, as a multiple of that within.
const BETWEEN: [f64; 9] = [0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 16.0, 32.0, 64.0];

/// The curve of rows; nothing with too few, or when all swung one length by height.
pub(super) fn curve(rows: &[Row], level: f64) -> Option<Curve> {
    let xs = rows.iter().map(|row| row.x);
    let (low, high) = (
        xs.clone().fold(f64::INFINITY, f64::min),
        xs.fold(f64::NEG_INFINITY, f64::max),
    );
    if rows.len() < LEAST_ROWS || high - low < 0.02 {
        return None;
    }
    let mean = rows.iter().map(|row| row.y).sum::<f64>() / rows.len() as f64;
    let model = Model::of(rows)?;
    let falls: Vec<f64> = (0..FALL_STEPS)
        .map(|i| {
            let share = i as f64 / (FALL_STEPS - 1) as f64;
            mean * 100.0 * FALLS[0] * (FALLS[1] / FALLS[0]).powf(share)
        })
        .collect();
    let peaks: Vec<f64> = (0..PEAK_STEPS)
        .map(|i| {
            let share = i as f64 / (PEAK_STEPS - 1) as f64;
            low + (high - low) * (share * (1.0 + 2.0 * BEYOND) - BEYOND)
        })
        .collect();
    let y = model.turned(&|row| row.y, rows);
    let projected_y = &model.left * &y;
    let level_rss = y.dot(&projected_y);
    let half_freedom = 0.5 * model.freedom;
    // The logarithm beside that of a level curve.
    let weigh = |rss: f64| -half_freedom * (rss / level_rss).ln();
    let mut cells: Vec<(f64, f64, f64, f64)> = Vec::new();
    for peak in &peaks {
        let q = model.turned(&|row| (row.x - peak).powi(2), rows);
        let projected_q = &model.left * &q;
        let (yq, qq) = (y.dot(&projected_q), q.dot(&projected_q));
        for fall in &falls {
            let rss = level_rss + 2.0 * fall * yq + fall * fall * qq;
            cells.push((*peak, *fall, rss, weigh(rss)));
        }
    }
    let most = cells.iter().map(|cell| cell.3).fold(0.0, f64::max);
    let each = (1.0 - LEVEL) / cells.len() as f64;
    let weights: Vec<f64> = cells
        .iter()
        .map(|cell| each * (cell.3 - most).exp())
        .collect();
    let of_level = LEVEL * (-most).exp();
    let of_peaks: f64 = weights.iter().sum();
    let inside = cells
        .iter()
        .zip(&weights)
        .filter(|(cell, _)| (low..=high).contains(&cell.0));
    let inside: f64 = inside.map(|(_, weight)| weight).sum();
    let ends = [0.5 - level / 2.0, 0.5, 0.5 + level / 2.0];
    let mut rng = Pcg64::seed_from_u64(7);
    let ways: Vec<Way> = (0..WAYS)
        .map(|_| {
            let mut at = rng.random::<f64>() * (of_peaks + of_level);
            let chosen = weights.iter().position(|weight| {
                at -= weight;
                at < 0.0
            });
            let (peak, fall, rss) = match chosen {
                Some(i) => (cells[i].0, cells[i].1, cells[i].2),
                None => (0.0, 0.0, level_rss),
            };
            model.way(rows, peak, fall, rss, &y, &mut rng)
        })
        .collect();
    let with_peak = |of: fn(&Way) -> f64| {
        let mut values: Vec<f64> = ways.iter().filter(|w| w.fall > 0.0).map(of).collect();
        values.sort_by(f64::total_cmp);
        values
    };
    let quantiles = |sorted: &[f64]| match sorted {
        [] => [0.0; 3],
        sorted => ends.map(|end| crate::statistics::quantile::quantile(sorted, end)),
    };
    let height = rows.iter().map(|row| row.height).sum::<f64>() / rows.len() as f64;
    let line = (0..POINTS)
        .map(|i| {
            let x = low + (high - low) * i as f64 / (POINTS - 1) as f64;
            let mut values: Vec<f64> = ways.iter().map(|way| way.at(x, height)).collect();
            values.sort_by(f64::total_cmp);
            let [low, middle, high] = quantiles(&values);
            [x, low, middle, high]
        })
        .collect();
    Some(Curve {
        peaked: inside / (of_peaks + of_level),
        peak: quantiles(&with_peak(|way| way.peak)),
        line,
        cost: quantiles(&with_peak(|way| way.fall)).map(|fall| 0.01 * fall / mean),
    })
}

/// One way the truth could be.
struct Way {
    peak: f64,
    fall: f64,
    /// Mean, and what a metre of height adds.
    level: [f64; 2],
    centre: f64,
}

impl Way {
    fn at(&self, x: f64, height: f64) -> f64 {
        self.level[0] + self.level[1] * (height - self.centre) - self.fall * (x - self.peak).powi(2)
    }
}

/// What is averaged over: the mean and the height, with the children's own levels.
struct Model {
    /// Takes out of rows what mean and height explain.
    left: DMatrix<f64>,
    /// Gives mean and height of turned rows.
    solve: DMatrix<f64>,
    /// Triangle of their covariance, for a variance of one.
    spread: DMatrix<f64>,
    columns: usize,
    freedom: f64,
    /// What each row is turned by: a part of its child's mean is taken off.
    shares: Vec<f64>,
    members: Vec<Vec<usize>>,
    centre: f64,
}

impl Model {
    fn of(rows: &[Row]) -> Option<Model> {
        let several = rows
            .iter()
            .enumerate()
            .any(|(i, row)| rows[..i].iter().any(|other| other.child == row.child));
        if !several {
            return Model::with(rows, 0.0);
        }
        // The between share under which a free parabola is most likely (Harville 1977).
        let tried = BETWEEN.iter().filter_map(|between| {
            let model = Model::with(rows, *between)?;
            Some((model.restricted(rows), model))
        });
        tried
            .max_by(|a, b| a.0.total_cmp(&b.0))
            .map(|(_, model)| model)
    }

    fn with(rows: &[Row], between: f64) -> Option<Model> {
        let centre = rows.iter().map(|row| row.height).sum::<f64>() / rows.len() as f64;
        let members: Vec<Vec<usize>> = rows
            .iter()
            .map(|row| {
                let same = rows
                    .iter()
                    .enumerate()
                    .filter(|(_, other)| other.child == row.child);
                same.map(|(i, _)| i).collect()
            })
            .collect();
        let shares: Vec<f64> = members
            .iter()
            .map(|of| 1.0 - 1.0 / (1.0 + between * of.len() as f64).sqrt())
            .collect();
        let tall = rows.iter().any(|row| (row.height - centre).abs() > 0.01) && rows.len() > 7;
        let columns = if tall { 2 } else { 1 };
        let mut model = Model {
            left: DMatrix::zeros(0, 0),
            solve: DMatrix::zeros(0, 0),
            spread: DMatrix::zeros(0, 0),
            columns,
            freedom: rows.len().checked_sub(columns + 1)? as f64,
            shares,
            members,
            centre,
        };
        let x = model.design(rows, columns);
        let inverse = (x.transpose() * &x).cholesky()?;
        model.spread = inverse.inverse().cholesky()?.l();
        model.solve = inverse.inverse() * x.transpose();
        model.left = DMatrix::identity(rows.len(), rows.len()) - &x * &model.solve;
        Some(model)
    }

    fn design(&self, rows: &[Row], columns: usize) -> DMatrix<f64> {
        let ones = self.turned(&|_| 1.0, rows);
        let centre = self.centre;
        let tall = self.turned(&|row| row.height - centre, rows);
        let all = [ones, tall];
        DMatrix::from_columns(&all[..columns])
    }

    /// A value of every row with a part of its child's mean taken off.
    fn turned(&self, of: &dyn Fn(&Row) -> f64, rows: &[Row]) -> DVector<f64> {
        DVector::from_fn(rows.len(), |i, _| {
            let own = &self.members[i];
            let mean = own.iter().map(|j| of(&rows[*j])).sum::<f64>() / own.len() as f64;
            of(&rows[i]) - self.shares[i] * mean
        })
    }

    /// Restricted log likelihood of a free parabola.
    fn restricted(&self, rows: &[Row]) -> f64 {
        let mut columns: Vec<DVector<f64>> = (0..self.columns)
            .map(|i| self.design(rows, self.columns).column(i).into_owned())
            .collect();
        columns.push(self.turned(&|row| row.x, rows));
        columns.push(self.turned(&|row| row.x * row.x, rows));
        let x = DMatrix::from_columns(&columns);
        let y = self.turned(&|row| row.y, rows);
        let cross = x.transpose() * &x;
        let Some(held) = cross.clone().cholesky() else {
            return f64::NEG_INFINITY;
        };
        let fitted = &x * held.solve(&(x.transpose() * &y));
        let rss = (y - fitted).norm_squared().max(1e-12);
        let freedom = (rows.len().saturating_sub(columns.len())).max(1) as f64;
        let mut turned = 0.0;
        for (i, own) in self.members.iter().enumerate() {
            if own[0] == i {
                turned += (1.0 - self.shares[i]).ln();
            }
        }
        turned - 0.5 * freedom * rss.ln() - 0.5 * cross.determinant().max(1e-300).ln()
    }

    /// One way of mean and height for this peak.
    fn way(
        &self,
        rows: &[Row],
        peak: f64,
        fall: f64,
        rss: f64,
        y: &DVector<f64>,
        rng: &mut Pcg64,
    ) -> Way {
        let q = self.turned(&|row| (row.x - peak).powi(2), rows);
        let middle = &self.solve * (y + fall * q);
        let chi: f64 = ChiSquared::new(self.freedom).map_or(self.freedom, |chi| chi.sample(rng));
        let sigma = (rss.max(1e-12) / chi.max(1e-6)).sqrt();
        let z = DVector::from_fn(self.columns, |_, _| {
            let z: f64 = StandardNormal.sample(rng);
            z
        });
        let strays = &self.spread * z;
        let told = |i: usize| {
            if i < self.columns {
                middle[i] + sigma * strays[i]
            } else {
                0.0
            }
        };
        Way {
            peak,
            fall,
            level: [told(0), told(1)],
            centre: self.centre,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// How the children of a truth come to be.
    #[derive(Clone, Copy)]
    struct Truth {
        peak: f64,
        /// What a tenth of height away from it costs, as a share of speed.
        cost: f64,
        /// How children differ, m/s.
        differ: f64,
        heavy: bool,
    }

    fn children(n: usize, truth: Truth, rng: &mut Pcg64) -> Vec<Row> {
        let differ = rand_distr::StudentT::new(4.0).unwrap();
        (0..n)
            .map(|child| {
                let height = 1.2 + 0.4 * rng.random::<f64>();
                let x = 0.55 + 0.2 * rng.random::<f64>();
                let base = 28.0 + 12.0 * (height - 1.4);
                let z: f64 = StandardNormal.sample(rng);
                let odd: f64 = if truth.heavy {
                    differ.sample(rng) / 2f64.sqrt()
                } else {
                    z
                };
                let fall = base * 100.0 * truth.cost * (x - truth.peak).powi(2);
                Row {
                    child,
                    x,
                    height,
                    y: base - fall + truth.differ * odd,
                }
            })
            .collect()
    }

    #[test]
    fn peaks_are_told_with_intervals_that_hold_and_a_level_truth_has_none() {
        let (mut told, mut held, mut wrongly, sims) = (0, 0, 0, 60);
        for n in [12, 24, 40] {
            for heavy in [false, true] {
                let mut rng = Pcg64::seed_from_u64(n as u64 + 1000 * u64::from(heavy));
                for _ in 0..sims {
                    let truth = Truth {
                        peak: 0.56 + 0.18 * rng.random::<f64>(),
                        cost: 0.02 * 10f64.powf(rng.random::<f64>()),
                        differ: 0.8 + rng.random::<f64>(),
                        heavy,
                    };
                    let read = curve(&children(n, truth, &mut rng), 0.9).unwrap();
                    if read.peaked > 0.5 {
                        told += 1;
                        let [low, _, high] = read.peak;
                        held += usize::from((low..=high).contains(&truth.peak));
                    }
                    let flat = Truth { cost: 0.0, ..truth };
                    let read = curve(&children(n, flat, &mut rng), 0.9).unwrap();
                    wrongly += usize::from(read.peaked > 0.5);
                }
            }
        }
        let held = held as f64 / told as f64;
        println!(
            "told {told}, held {held:.3}, wrongly {wrongly} of {}",
            6 * sims
        );
        assert!(told > 100 && (0.85..0.97).contains(&held), "{told} {held}");
        assert!(wrongly <= 18, "{wrongly}");
    }
}
