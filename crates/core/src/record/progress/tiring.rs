//! Whether a value falls while a session goes on.

use super::{DayRead, NINETY};
use crate::statistics::summary::Estimate;

/// Balls that the change is told over.
pub const OVER: f64 = 10.0;
/// Balls of a day from which on it says something.
const LEAST: usize = 6;
/// Days from which on it is told: one session may have its own reason.
const DAYS: usize = 3;
/// Latest days that are looked at.
const LATEST: usize = 12;

/// The change over ten balls of a session, by the slope of each of the latest days weighed by
/// its balls; nothing of too few days. Days differ by more than their balls tell, so that the
/// error is the larger of the two.
pub fn tiring(days: &[DayRead]) -> Option<Estimate> {
    let slopes: Vec<(f64, f64, f64)> = days
        .iter()
        .rev()
        .filter(|day| day.values.len() >= LEAST)
        .take(LATEST)
        .map(|day| slope(&day.values))
        .collect();
    if slopes.len() < DAYS {
        return None;
    }
    let weight: f64 = slopes.iter().map(|(_, weight, _)| weight).sum();
    let mean = slopes
        .iter()
        .map(|(slope, weight, _)| slope * weight)
        .sum::<f64>()
        / weight;
    let left: f64 = slopes.iter().map(|(.., left)| left).sum();
    let balls: usize = days.iter().map(|day| day.values.len()).sum();
    let free = slopes.len() as f64;
    let within = left / (balls as f64 - 2.0 * free).max(1.0) / weight;
    let apart: f64 = slopes
        .iter()
        .map(|(slope, share, _)| share * (slope - mean).powi(2))
        .sum();
    let between = apart / weight / (free - 1.0);
    let error = within.max(between).sqrt();
    // Few days tell their own spread badly: half a degree of freedom's worth is given away.
    let wide = NINETY * (1.0 + 1.5 / (free - 1.0)) * error;
    Some(Estimate {
        value: OVER * mean,
        low: OVER * (mean - wide),
        high: OVER * (mean + wide),
        n: slopes.len(),
    })
}

/// Slope by ball, how much it weighs, and the squares that are left.
fn slope(values: &[f64]) -> (f64, f64, f64) {
    let n = values.len() as f64;
    let mean = values.iter().sum::<f64>() / n;
    let middle = (n - 1.0) / 2.0;
    let each = || {
        values
            .iter()
            .enumerate()
            .map(|(i, v)| (i as f64 - middle, v - mean))
    };
    let weight: f64 = each().map(|(x, _)| x * x).sum();
    let slope = each().map(|(x, y)| x * y).sum::<f64>() / weight;
    let left = each().map(|(x, y)| (y - slope * x).powi(2)).sum();
    (slope, weight, left)
}
