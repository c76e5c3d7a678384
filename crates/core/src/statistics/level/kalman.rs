//! Filter and smoother of one set of SDs.

use super::{Before, Day, End};
use nalgebra::{SMatrix, SVector};
use rand::{RngExt, SeedableRng};
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64;

/// Level, slope, and the shifts that any day shows: `N` of them in all.
type Vector<const N: usize> = SVector<f64, N>;
type Matrix<const N: usize> = SMatrix<f64, N, N>;

/// What a lay-off adds to the level's SD, in usual SDs between days.
const LAY_OFF: f64 = 2.0;
const SEED: u64 = 19_600_301;

/// The SDs that are not known.
#[derive(Debug, Clone, Copy)]
pub(super) struct Scales {
    /// Between days.
    pub between: f64,
    /// Of the random walk over a week.
    pub walk: f64,
    /// Of the slope, a week.
    pub slope: f64,
    /// Rate at which the slope forgets itself, 1/week.
    pub forgets: f64,
}

/// A way over all days with one set of SDs.
#[derive(Debug, Clone)]
pub(super) struct Pass<const N: usize> {
    pub scales: Scales,
    pub log_likelihood: f64,
    /// Mean and covariance from the days up to this one, then from all.
    states: Vec<(Vector<N>, Matrix<N>)>,
    /// The same before this day was seen, and how the state got there.
    foretold: Vec<(Vector<N>, Matrix<N>, Matrix<N>)>,
    /// What takes a later day's news back to each day.
    gains: Vec<Matrix<N>>,
    /// Covariance of the level at each day with that at the last.
    with_last: Vec<f64>,
    /// Each day's mean, what of the state it shows, its variance as it counts and in full.
    seen: Vec<(f64, Vector<N>, f64, f64)>,
}

/// How the state gets over `weeks`: the matrix, and the variance it adds.
fn over<const N: usize>(weeks: f64, scales: &Scales) -> (Matrix<N>, Matrix<N>) {
    let forgets = scales.forgets;
    let kept = (-forgets * weeks).exp();
    let mut moves = Matrix::identity();
    moves[(0, 1)] = (1.0 - kept) / forgets;
    moves[(1, 1)] = kept;
    let square = scales.slope.powi(2);
    let mut adds = Matrix::zeros();
    let drift = weeks - 2.0 * (1.0 - kept) / forgets + (1.0 - kept * kept) / (2.0 * forgets);
    adds[(0, 0)] = scales.walk.powi(2) * weeks + 2.0 * square / forgets * drift;
    adds[(1, 1)] = square * (1.0 - kept * kept);
    adds[(0, 1)] = square / forgets * (1.0 - kept).powi(2);
    adds[(1, 0)] = adds[(0, 1)];
    (moves, adds)
}

/// Filters the days.
pub(super) fn pass<const N: usize>(
    days: &[Day],
    before: &Before,
    counts: &[f64],
    rests: &[usize],
    scales: Scales,
) -> Pass<N> {
    let wide = days.iter().map(|d| (d.mean - days[0].mean).abs());
    let wide = 10.0 * (before.days + before.balls + wide.fold(0.0, f64::max));
    let mut spread = [1e-9; N];
    (spread[0], spread[1]) = (wide, scales.slope.max(1e-9));
    for (of, sd) in spread.iter_mut().skip(2).zip(before.shift) {
        *of = sd.max(1e-9);
    }
    let mut mean = Vector::<N>::zeros();
    mean[0] = days[0].mean;
    let mut cov = Matrix::from_diagonal(&Vector::from(spread.map(|sd| sd * sd)));
    let mut told = Pass {
        scales,
        log_likelihood: 0.0,
        states: Vec::with_capacity(days.len()),
        foretold: Vec::with_capacity(days.len()),
        gains: vec![],
        with_last: vec![],
        seen: Vec::with_capacity(days.len()),
    };
    for (i, day) in days.iter().enumerate() {
        let (moves, mut adds) = match i {
            0 => (Matrix::identity(), Matrix::zeros()),
            _ => over(day.week - days[i - 1].week, &scales),
        };
        if rests.contains(&i) {
            adds[(0, 0)] += (LAY_OFF * before.days).powi(2);
        }
        mean = moves * mean;
        cov = moves * cov * moves.transpose() + adds;
        told.foretold.push((mean, cov, moves));
        let mut shows = Vector::<N>::zeros();
        shows[0] = 1.0;
        for (s, there) in day.shift.iter().enumerate().take(N - 2) {
            shows[2 + s] = f64::from(u8::from(*there));
        }
        let balls = before.balls.powi(2) / day.n as f64;
        let own = scales.between.powi(2) / counts[i] + balls;
        let across = cov * shows;
        let variance = shows.dot(&across) + own;
        let news = day.mean - shows.dot(&mean);
        if i > 0 {
            told.log_likelihood -= 0.5 * (variance.ln() + news * news / variance);
        }
        mean += across * (news / variance);
        cov -= across * across.transpose() / variance;
        told.states.push((mean, cov));
        let full = scales.between.powi(2) + balls;
        told.seen.push((day.mean, shows, own, full));
    }
    told
}

impl<const N: usize> Pass<N> {
    /// Takes what later days tell back to every day (Rauch, Tung & Striebel 1965).
    pub fn smooth(&mut self) {
        let last = self.last();
        self.gains = vec![Matrix::identity(); last];
        for i in (0..last).rev() {
            let (ahead, wide, moves) = &self.foretold[i + 1];
            let (mean, cov) = self.states[i];
            let inverse = (wide + Matrix::identity() * 1e-12)
                .cholesky()
                .map_or_else(Matrix::zeros, |c| c.inverse());
            let gain = cov * moves.transpose() * inverse;
            let (later, sure) = self.states[i + 1];
            self.states[i] = (
                mean + gain * (later - ahead),
                cov + gain * (sure - wide) * gain.transpose(),
            );
            self.gains[i] = gain;
        }
        let mut carried = self.states[last].1;
        self.with_last = vec![carried[(0, 0)]; last + 1];
        for i in (0..last).rev() {
            carried = self.gains[i] * carried;
            self.with_last[i] = carried[(0, 0)];
        }
    }

    /// Place of the last day.
    pub fn last(&self) -> usize {
        self.states.len() - 1
    }

    /// Mean and variance of the level at a day.
    pub fn level_at(&self, i: usize) -> [f64; 2] {
        let (mean, cov) = &self.states[i];
        [mean[0], cov[(0, 0)]]
    }

    /// The level at the last day less that at this one: mean and variance.
    pub fn until_last(&self, i: usize) -> [f64; 2] {
        let ([a, va], [b, vb]) = (self.level_at(i), self.level_at(self.last()));
        [b - a, (va + vb - 2.0 * self.with_last[i]).max(0.0)]
    }

    /// The level at one day less that at an earlier one: mean and variance.
    pub fn change(&self, from: usize, to: usize) -> [f64; 2] {
        let carried = self.gains[from..to]
            .iter()
            .fold(Matrix::identity(), |a, g| a * g);
        let common = (carried * self.states[to].1)[(0, 0)];
        let ([a, va], [b, vb]) = (self.level_at(from), self.level_at(to));
        [b - a, (va + vb - 2.0 * common).max(0.0)]
    }

    /// What a day shows beyond its smoothed level, and how unsure that is.
    pub fn left_over(&self, i: usize) -> (f64, f64) {
        let (value, shows, ..) = &self.seen[i];
        let (mean, cov) = &self.states[i];
        (value - shows.dot(mean), shows.dot(&(cov * shows)))
    }

    /// How far a day lies from what all others foretell of it, with the variance of that.
    pub fn without(&self, i: usize) -> [f64; 2] {
        let (_, _, own, full) = &self.seen[i];
        let (left, unsure) = self.left_over(i);
        // Taking a day out again: what it added to its own state is known.
        let rest = (1.0 - unsure / own).max(1e-6);
        [left / rest, unsure / rest + full]
    }

    /// How it goes on.
    pub fn end(&self) -> End {
        let (mean, cov) = &self.states[self.last()];
        End {
            mean: [mean[0], mean[1]],
            cov: [[cov[(0, 0)], cov[(0, 1)]], [cov[(1, 0)], cov[(1, 1)]]],
            scales: self.scales,
        }
    }
}

/// Levels to come from the ends by their weights, a value a week.
pub(super) fn to_come(ends: &[(f64, End)], weeks: usize, paths: usize) -> Vec<Vec<f64>> {
    let mut rng = Pcg64::seed_from_u64(SEED);
    let mut path = || {
        let mut at: f64 = rng.random();
        let end = ends.iter().find(|(weight, _)| {
            at -= weight;
            at <= 0.0
        });
        let end = end.unwrap_or(&ends[ends.len() - 1]).1;
        let mut draw = || -> f64 { StandardNormal.sample(&mut rng) };
        let [[a, b], [_, d]] = end.cov;
        let root = a.max(0.0).sqrt();
        let (z, y) = (draw(), draw());
        let mut level = end.mean[0] + root * z;
        let across = if root > 0.0 { b / root } else { 0.0 };
        let mut slope = end.mean[1] + across * z + (d - across * across).max(0.0).sqrt() * y;
        let (moves, adds) = over::<2>(1.0, &end.scales);
        let root = adds[(0, 0)].max(0.0).sqrt();
        let across = if root > 0.0 { adds[(0, 1)] / root } else { 0.0 };
        let rest = (adds[(1, 1)] - across * across).max(0.0).sqrt();
        let mut step = || {
            let (z, y) = (draw(), draw());
            level += moves[(0, 1)] * slope + root * z;
            slope = moves[(1, 1)] * slope + across * z + rest * y;
            level
        };
        (0..weeks).map(|_| step()).collect()
    };
    (0..paths).map(|_| path()).collect()
}
