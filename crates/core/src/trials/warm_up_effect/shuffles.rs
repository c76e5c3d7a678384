//! What the same swings look like in another order: whether a warm-up is more than luck.

use crate::statistics::least_squares::least_squares;
use crate::statistics::warming::column;
use rand::SeedableRng;
use rand::seq::SliceRandom;
use rand_pcg::Pcg64;

/// Shuffles; the seed is fixed, so that the same swings give the same answer.
const SHUFFLES: usize = 999;
const SEED: u64 = 20_261_125;

/// How often shuffled swings look as much like a warm-up, once the likeness of neighbours
/// is taken out: swings that are alike by themselves must not pass for one.
pub(super) fn looks_warm(plateaus: &[Vec<f64>], order: &[f64], speeds: &[f64]) -> f64 {
    let shapes: Vec<Vec<f64>> = [2.0, 4.0, 7.0, 12.0].map(|tau| column(order, tau)).into();
    let alike = likeness(plateaus, &shapes, speeds);
    // Each less what it shares with the one before (Cochrane & Orcutt 1949).
    let fresh = |values: &[f64]| -> Vec<f64> {
        let after = values.windows(2).map(|w| w[1] - alike * w[0]);
        let first = values.first().map(|v| v * (1.0 - alike * alike).sqrt());
        first.into_iter().chain(after).collect()
    };
    let all =
        |columns: &[Vec<f64>]| -> Vec<Vec<f64>> { columns.iter().map(|c| fresh(c)).collect() };
    shuffled(&all(plateaus), &all(&shapes), &fresh(speeds))
}

/// Likeness of neighbours over what plateaus and a warm-up leave, with what the fit takes
/// from it given back; none where it is less than that of chance.
fn likeness(plateaus: &[Vec<f64>], shapes: &[Vec<f64>], speeds: &[f64]) -> f64 {
    let mut columns = plateaus.to_vec();
    columns.push(shapes[1].clone());
    columns.push(shapes[3].clone());
    // Of fewer swings nothing is known of it.
    if speeds.len() < 4 * columns.len() {
        return 0.0;
    }
    let Some(fit) = least_squares(&columns, speeds) else {
        return 0.0;
    };
    let left: Vec<f64> = (0..speeds.len())
        .map(|i| {
            let fitted = columns.iter().zip(fit.coefficients.iter());
            speeds[i] - fitted.map(|(column, c)| c * column[i]).sum::<f64>()
        })
        .collect();
    let squares: f64 = left.iter().map(|l| l * l).sum();
    if squares < 1e-12 {
        return 0.0;
    }
    let n = speeds.len() as f64;
    let neighbours: f64 = left.windows(2).map(|w| w[0] * w[1]).sum();
    let taken = columns.len() as f64 / n;
    (0.8 * (neighbours / squares + taken)).clamp(0.0, 0.7)
}

/// Share of shuffles in which the same speeds, less what `columns` explain, look as much
/// like one of the shapes of a warm-up.
fn shuffled(columns: &[Vec<f64>], shapes: &[Vec<f64>], speeds: &[f64]) -> f64 {
    // An orthonormal basis of the columns, to take out what they explain (Gram-Schmidt).
    let dot = |a: &[f64], b: &[f64]| -> f64 { a.iter().zip(b).map(|(a, b)| a * b).sum() };
    let mut basis: Vec<Vec<f64>> = Vec::new();
    let rest = |basis: &[Vec<f64>], y: &[f64]| -> Vec<f64> {
        let mut left = y.to_vec();
        for q in basis {
            let along = dot(q, &left);
            left.iter_mut().zip(q).for_each(|(l, q)| *l -= along * q);
        }
        left
    };
    for column in columns {
        let mut left = rest(&basis, column);
        let length = dot(&left, &left).sqrt();
        if length > 1e-6 {
            left.iter_mut().for_each(|l| *l /= length);
            basis.push(left);
        }
    }
    let mut left = rest(&basis, speeds);
    if dot(&left, &left) < 1e-12 {
        return 1.0;
    }
    // Directions of a warm-up that the columns do not explain, of length one.
    let directions: Vec<Vec<f64>> = shapes
        .iter()
        .filter_map(|shape| {
            let direction = rest(&basis, shape);
            let length = dot(&direction, &direction).sqrt();
            (length > 1e-6).then(|| direction.iter().map(|d| d / length).collect())
        })
        .collect();
    // A warm-up is a slower start. It is held against what no column explains, so that
    // shuffled swings are judged by the same measure (Freedman & Lane 1983).
    let looks = |left: &[f64]| {
        let explained: f64 = basis.iter().map(|q| dot(q, left).powi(2)).sum();
        let length = (dot(left, left) - explained).max(1e-12).sqrt();
        let most = directions.iter().map(|d| -dot(d, left));
        most.fold(f64::NEG_INFINITY, f64::max) / length
    };
    let seen = looks(&left);
    let mut rng = Pcg64::seed_from_u64(SEED);
    let as_much = (0..SHUFFLES)
        .filter(|_| {
            left.shuffle(&mut rng);
            looks(&left) >= seen - 1e-12
        })
        .count();
    (as_much + 1) as f64 / (SHUFFLES + 1) as f64
}

/// Mean of the last stretch over the best running one, and what that is on average when
/// the same swings are shuffled: the best of many means is high by luck alone.
pub(super) fn retention(speeds: &[f64], stretch: usize) -> Option<(f64, f64)> {
    if speeds.len() < 3 * stretch {
        return None;
    }
    let share = |speeds: &[f64]| {
        let mean = |s: &[f64]| s.iter().sum::<f64>() / s.len() as f64;
        let best = speeds.windows(stretch).map(mean).fold(0.0, f64::max);
        mean(&speeds[speeds.len() - stretch..]) / best
    };
    let seen = share(speeds);
    let mut shuffled = speeds.to_vec();
    let mut rng = Pcg64::seed_from_u64(SEED);
    let sum: f64 = (0..200)
        .map(|_| {
            shuffled.shuffle(&mut rng);
            share(&shuffled)
        })
        .sum();
    Some((seen, sum / 200.0))
}
