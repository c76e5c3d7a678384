//! Patterns of several choices that lend one another spread, because a few balls say
//! little of it alone (Smyth 2004).

use crate::shots::landing::Moments;

/// Strays from which a trend of the spread is looked for.
const TREND_FROM: usize = 10;

/// Moments of each choice, its scatter joined by `lent` balls' worth of what the trend of
/// the spread over real effort gives there.
pub(super) fn shared_moments(
    points: &[Vec<[f64; 2]>],
    real: &[f64],
    lent: f64,
) -> Vec<Option<Moments>> {
    let own: Vec<Option<Moments>> = points.iter().map(|p| Moments::of(p)).collect();
    let trend = trend(&own, points, real);
    // The common covariance, at the middle effort.
    let (mut common, mut freedom) = ([[0.0; 2]; 2], 0.0);
    for (moments, x) in own.iter().zip(real) {
        let Some(moments) = moments else { continue };
        let size = trend.size(*x);
        for (row, own) in common.iter_mut().zip(moments.scatter) {
            for (sum, own) in row.iter_mut().zip(own) {
                *sum += own / size;
            }
        }
        freedom += moments.freedom;
    }
    own.into_iter()
        .zip(real)
        .map(|(moments, x)| {
            let moments = moments?;
            let size = trend.size(*x);
            let mut scatter = moments.scatter;
            for (row, common) in scatter.iter_mut().zip(common) {
                for (own, common) in row.iter_mut().zip(common) {
                    *own += lent * size * common / freedom;
                }
            }
            Some(Moments {
                scatter,
                freedom: moments.freedom + lent,
                ..moments
            })
        })
        .collect()
}

/// How the variance goes with real effort: exp(rate · (effort − middle)).
struct Trend {
    rate: f64,
    middle: f64,
}

impl Trend {
    fn size(&self, effort: f64) -> f64 {
        (self.rate * (effort - self.middle)).exp()
    }
}

/// Regression of the logarithm of squared strays on effort, drawn towards no trend by as
/// much as it is not known (James & Stein 1961).
fn trend(own: &[Option<Moments>], points: &[Vec<[f64; 2]>], real: &[f64]) -> Trend {
    let mut strays: Vec<(f64, f64)> = Vec::new();
    let mut total = [0.0; 2];
    let mut freedom = 0.0;
    for moments in own.iter().flatten() {
        total[0] += moments.scatter[0][0];
        total[1] += moments.scatter[1][1];
        freedom += moments.freedom;
    }
    for ((moments, points), x) in own.iter().zip(points).zip(real) {
        let Some(moments) = moments else { continue };
        let shrunk = moments.freedom / moments.n;
        for point in points {
            let q: f64 = (0..2)
                .map(|k| (point[k] - moments.mean[k]).powi(2) * freedom / total[k])
                .sum();
            strays.push((*x, (q / shrunk).max(1e-3).ln()));
        }
    }
    let n = strays.len() as f64;
    let middle = strays.iter().map(|(x, _)| x).sum::<f64>() / n.max(1.0);
    let none = Trend { rate: 0.0, middle };
    if strays.len() < TREND_FROM {
        return none;
    }
    let mean = strays.iter().map(|(_, y)| y).sum::<f64>() / n;
    let across: f64 = strays.iter().map(|(x, _)| (x - middle).powi(2)).sum();
    if across < 1e-4 {
        return none;
    }
    let along: f64 = strays.iter().map(|(x, y)| (x - middle) * (y - mean)).sum();
    let rate = along / across;
    // Variance of the logarithm of a chi-squared of two degrees: π²/6.
    let doubt = std::f64::consts::PI.powi(2) / 6.0 / across;
    Trend {
        rate: rate * (1.0 - doubt / (rate * rate).max(1e-12)).max(0.0),
        middle,
    }
}
