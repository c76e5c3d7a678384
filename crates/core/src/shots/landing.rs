//! Where balls land, seen from above: ellipse, ranges, circle, chance of a fairway.
//!
//! Points are [right (+) of the target line, distance along it], m. The pattern is taken
//! as bivariate normal; what few balls do not tell of it enters by draws from its
//! posterior (inverse Wishart, Box & Tiao 1973), from fixed seeds.

mod circle;

use crate::shots::ball::Ball;
use crate::statistics::summary::Estimate;
use crate::verdicts::house_rules::HouseRules;
use crate::vocabulary::quantity::Quantity;
use crate::vocabulary::units::Dimension;
pub use circle::{Circle, smallest_circle};
use rand::SeedableRng;
use rand_distr::{ChiSquared, Distribution, StandardNormal};
use rand_pcg::Pcg64;
use serde::Serialize;
use statrs::distribution::{Beta, ContinuousCDF, FisherSnedecor, Normal};
use utoipa::ToSchema;

/// Balls that an ellipse and a circle need.
pub const LEAST_BALLS: usize = 5;
/// Draws from a posterior.
const DRAWS: usize = 602;
const SEED: u64 = 19_730_101;
/// By how many n-ths the middle is drawn wider than its standard error.
const MIDDLE_WIDER: f64 = 1.5;
/// Balls at which ranges are compared, because a range grows with its balls.
const RANGE_AT: usize = 10;

/// An extent that grows with the number of balls.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Extent {
    /// From one end to the other, as seen, m.
    pub seen: f64,
    /// What ten balls of this spread reach on average (Tippett 1925), m: fair to sets of
    /// unequal size.
    pub of_ten: f64,
}

/// The ellipse in which the next ball lands with a given chance.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Ellipse {
    /// Half the long axis, m.
    pub long: f64,
    /// Half the short axis, m.
    pub short: f64,
    /// Direction of the long axis, deg clockwise from the target line.
    pub turned_deg: f64,
    /// Share of balls that it holds.
    pub share: f64,
}

/// A landing pattern.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Pattern {
    /// Balls in it.
    pub n: usize,
    /// Middle: right of the line and along it, m.
    pub middle: [f64; 2],
    /// Spread left to right, m.
    pub side_spread: f64,
    /// Spread short to long, m.
    pub distance_spread: f64,
    /// Left to right.
    pub left_right: Extent,
    /// Short to long.
    pub short_long: Extent,
    /// The ellipse; absent for few balls.
    pub ellipse: Option<Ellipse>,
    /// The smallest circle; absent for few balls.
    pub circle: Option<Circle>,
    /// Chance to hit a fairway of `fairway_width`, aimed along the target line.
    pub fairway: Estimate,
    /// Whether that is counted, because the balls do not lie as a normal pattern would.
    pub fairway_counted: bool,
    /// Width of that fairway, m.
    pub fairway_width: f64,
}

/// Where a ball came to earth: right of the line and carry, m.
pub fn landed(ball: &Ball) -> Option<[f64; 2]> {
    Some([
        ball.reading.get(Quantity::Side)?,
        ball.reading.get(Quantity::Carry)?,
    ])
}

/// The pattern of at least two points.
pub fn pattern(points: &[[f64; 2]], fairway_width: f64, rules: &HouseRules) -> Option<Pattern> {
    let moments = Moments::of(points)?;
    let n = points.len();
    let spread = |i: usize| moments.covariance(i, i).sqrt();
    let extent = |i: usize| {
        let along = points.iter().map(|p| p[i]);
        let seen =
            along.clone().fold(f64::NEG_INFINITY, f64::max) - along.fold(f64::INFINITY, f64::min);
        Extent {
            seen,
            of_ten: expected_range(RANGE_AT) * spread(i),
        }
    };
    let enough = n >= LEAST_BALLS;
    let normal = Posterior::of(&moments, SEED).fairway(fairway_width, rules.interval_level);
    let counted = counted_fairway(points, &normal, fairway_width, rules.interval_level);
    Some(Pattern {
        n,
        middle: moments.mean,
        side_spread: spread(0),
        distance_spread: spread(1),
        left_right: extent(0),
        short_long: extent(1),
        ellipse: enough.then(|| ellipse(&moments, rules.pattern_share)),
        circle: enough.then(|| smallest_circle(points, rules.pattern_share)),
        fairway: counted.unwrap_or(normal),
        fairway_counted: counted.is_some(),
        fairway_width,
    })
}

/// Balls from which their count can speak against a normal pattern.
const COUNTED_FROM: usize = 8;

/// The chance of a fairway by count (Jeffreys' interval; Brown, Cai & DasGupta 2001), where
/// it speaks against the normal pattern's: two ways to miss, or mishits, are none.
pub(crate) fn counted_fairway(
    points: &[[f64; 2]],
    normal: &Estimate,
    width: f64,
    level: f64,
) -> Option<Estimate> {
    let n = points.len();
    if n < COUNTED_FROM {
        return None;
    }
    let hits = points.iter().filter(|p| p[0].abs() <= width / 2.0).count();
    let beta = Beta::new(hits as f64 + 0.5, (n - hits) as f64 + 0.5).ok()?;
    let [low, high] = [0.5 - level / 2.0, 0.5 + level / 2.0].map(|tail| beta.inverse_cdf(tail));
    let counted = Estimate {
        value: hits as f64 / n as f64,
        low: if hits == 0 { 0.0 } else { low },
        high: if hits == n { 1.0 } else { high },
        n,
    };
    (normal.value < counted.low || normal.value > counted.high).then_some(counted)
}

/// The ellipse that holds the next ball with chance `share` (Chew 1966): it is wider for
/// few balls, because their covariance is not known well.
fn ellipse(moments: &Moments, share: f64) -> Ellipse {
    let n = moments.n;
    let f = FisherSnedecor::new(2.0, n - 2.0)
        .expect("there are more than two balls")
        .inverse_cdf(share);
    let size = 2.0 * (n - 1.0) / (n - 2.0) * (1.0 + 1.0 / n) * f;
    let (a, b, c) = (
        moments.covariance(0, 0),
        moments.covariance(0, 1),
        moments.covariance(1, 1),
    );
    let middle = 0.5 * (a + c);
    let half = (0.25 * (a - c).powi(2) + b * b).sqrt();
    // Angle of the long axis from the side axis, then from the target line.
    let from_side = 0.5 * (2.0 * b).atan2(a - c);
    let turned = 90.0 - from_side.to_degrees();
    Ellipse {
        long: (size * (middle + half)).sqrt(),
        short: (size * (middle - half).max(0.0)).sqrt(),
        turned_deg: if turned > 90.0 {
            turned - 180.0
        } else {
            turned
        },
        share,
    }
}

/// Mean range of `n` draws from a normal distribution of spread one (Tippett 1925).
pub(crate) fn expected_range(n: usize) -> f64 {
    let normal = Normal::standard();
    const STEP: f64 = 0.01;
    (-800..800)
        .map(|i| {
            let below = normal.cdf((f64::from(i) + 0.5) * STEP);
            STEP * (1.0 - below.powf(n as f64) - (1.0 - below).powf(n as f64))
        })
        .sum()
}

/// Count, mean and scatter of points.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Moments {
    /// Balls, m.
    pub n: f64,
    /// Middle.
    pub mean: [f64; 2],
    /// Sums of squares and products about the middle, m².
    pub scatter: [[f64; 2]; 2],
    /// Degrees of freedom behind the scatter.
    pub freedom: f64,
}

impl Moments {
    /// Of at least two points. The device's step is part of the scatter, so that
    /// identical numbers are not taken as certain.
    pub fn of(points: &[[f64; 2]]) -> Option<Moments> {
        let n = points.len() as f64;
        if points.len() < 2 {
            return None;
        }
        let mean = [0, 1].map(|i| points.iter().map(|p| p[i]).sum::<f64>() / n);
        let grain = Dimension::Distance.grain();
        let scatter = [0, 1].map(|i| {
            [0, 1].map(|j| {
                let sum: f64 = points
                    .iter()
                    .map(|p| (p[i] - mean[i]) * (p[j] - mean[j]))
                    .sum();
                if i == j {
                    sum.max((n - 1.0) * grain * grain / 12.0)
                } else {
                    sum
                }
            })
        });
        Some(Moments {
            n,
            mean,
            scatter,
            freedom: n - 1.0,
        })
    }

    /// An entry of the covariance, m².
    pub fn covariance(&self, i: usize, j: usize) -> f64 {
        self.scatter[i][j] / self.freedom
    }
}

/// One bivariate normal pattern: its middle, and what standard normal draws are
/// multiplied with.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Normal2 {
    middle: [f64; 2],
    factor: [[f64; 2]; 2],
}

impl Normal2 {
    /// A pattern of which every ball lands at one point.
    #[cfg(test)]
    pub fn certain(middle: [f64; 2]) -> Normal2 {
        Normal2 {
            middle,
            factor: [[0.0; 2]; 2],
        }
    }

    /// The point that two standard normal numbers become.
    pub fn at(&self, z: [f64; 2]) -> [f64; 2] {
        [0, 1].map(|i| self.middle[i] + self.factor[i][0] * z[0] + self.factor[i][1] * z[1])
    }

    /// Chance to land within `half` m of the target line.
    pub fn within(&self, half: f64) -> f64 {
        let spread = self.factor[0][0].hypot(self.factor[0][1]);
        let normal = Normal::standard();
        normal.cdf((half - self.middle[0]) / spread) - normal.cdf((-half - self.middle[0]) / spread)
    }
}

/// What the pattern may truly be, given the balls.
#[derive(Debug, Clone)]
pub(crate) struct Posterior(pub Vec<Normal2>);

impl Posterior {
    /// Draws from the posterior of `moments`.
    pub fn of(moments: &Moments, seed: u64) -> Posterior {
        let mut rng = Pcg64::seed_from_u64(seed);
        let s = moments.scatter;
        // Cholesky factor of the scatter.
        let l11 = s[0][0].sqrt();
        let l21 = s[0][1] / l11;
        let grain = Dimension::Distance.grain();
        let l22 = (s[1][1] - l21 * l21)
            .max(moments.freedom * grain * grain / 12.0)
            .sqrt();
        // A plain posterior puts the chance of a fairway too low with few balls: it moves
        // the middle away from the line more often than towards it. One more degree of
        // freedom for the spread and a wider middle make its intervals hold the truth as
        // often as they say, from five balls on (see the test).
        let whole = ChiSquared::new(moments.freedom + 2.0).expect("freedom is positive");
        let less = ChiSquared::new(moments.freedom + 1.0).expect("freedom is positive");
        let root = moments.n.sqrt() / (1.0 + MIDDLE_WIDER / moments.n);
        let pair = |_| {
            let mut normal = || -> f64 { StandardNormal.sample(&mut rng) };
            let (a12, mean) = (normal(), [normal(), normal()]);
            let a22 = whole.sample(&mut rng).sqrt();
            let a11 = less.sample(&mut rng).sqrt();
            // Each draw with its mirror image, so that means hardly depend on the draws.
            [1.0, -1.0].map(|sign| {
                // Bartlett (1933): the factor of the covariance is L · A⁻ᵀ, with A upper
                // triangular so that the side's own freedom is n.
                let factor = [
                    [l11 / a11, 0.0],
                    [l21 / a11 - sign * l22 * a12 / (a11 * a22), l22 / a22],
                ];
                let unit = Normal2 {
                    middle: moments.mean,
                    factor,
                };
                Normal2 {
                    middle: unit.at(mean.map(|z| sign * z / root)),
                    factor,
                }
            })
        };
        let draws = (0..DRAWS.div_ceil(2)).flat_map(pair).collect();
        Posterior(draws)
    }

    /// Chance of a fairway of this width.
    pub fn fairway(&self, width: f64, level: f64) -> Estimate {
        self.estimate(level, |pattern| pattern.within(width / 2.0))
    }

    /// Mean and interval of something over the draws.
    pub fn estimate(&self, level: f64, value: impl Fn(&Normal2) -> f64) -> Estimate {
        let mut values: Vec<f64> = self.0.iter().map(value).collect();
        interval(&mut values, level)
    }
}

/// Mean and central interval of draws; `n` is left at their number.
pub(crate) fn interval(values: &mut [f64], level: f64) -> Estimate {
    let mean = values.iter().sum::<f64>() / values.len() as f64;
    values.sort_by(f64::total_cmp);
    let at = |share: f64| {
        let place = share * (values.len() - 1) as f64;
        let (low, part) = (place.floor() as usize, place.fract());
        let high = (low + 1).min(values.len() - 1);
        values[low] + part * (values[high] - values[low])
    };
    Estimate {
        value: mean,
        low: at(0.5 - level / 2.0),
        high: at(0.5 + level / 2.0),
        n: values.len(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vocabulary::units::YARD;

    /// Balls of a known pattern: 10 m either way, from a fixed seed.
    fn balls(n: usize, seed: u64) -> Vec<[f64; 2]> {
        let mut rng = Pcg64::seed_from_u64(seed);
        let mut normal = || -> f64 { StandardNormal.sample(&mut rng) };
        (0..n)
            .map(|_| [10.0 * normal(), 200.0 + 8.0 * normal()])
            .collect()
    }

    fn of(points: &[[f64; 2]]) -> Pattern {
        pattern(points, 32.0 * YARD, &HouseRules::default()).unwrap()
    }

    #[test]
    fn the_mean_range_is_as_tippett_tabled_it() {
        for (n, range) in [(3, 1.69257), (5, 2.32593), (10, 3.07751), (50, 4.49815)] {
            assert!((expected_range(n) - range).abs() < 1e-4, "{n}");
        }
    }

    #[test]
    fn the_ellipse_holds_the_next_ball_as_often_as_it_says() {
        let mut held = 0;
        for seed in 0..2000 {
            let all = balls(9, seed);
            let seen = of(&all[..8]);
            let e = seen.ellipse.unwrap();
            let turn = e.turned_deg.to_radians();
            let [x, y] = [all[8][0] - seen.middle[0], all[8][1] - seen.middle[1]];
            let along = x * turn.sin() + y * turn.cos();
            let across = x * turn.cos() - y * turn.sin();
            held += usize::from((along / e.long).powi(2) + (across / e.short).powi(2) <= 1.0);
        }
        // 80 % of 2,000, within three standard errors.
        assert!((1546..=1654).contains(&held), "{held}");
    }

    #[test]
    fn the_fairway_s_interval_holds_the_truth_as_often_as_it_says() {
        let normal = Normal::standard();
        let half = 16.0 * YARD;
        for (n, aside) in [(5, 0.0), (5, 8.0), (12, 0.0), (12, 8.0), (40, 0.0)] {
            let truth = normal.cdf((half - aside) / 10.0) - normal.cdf((-half - aside) / 10.0);
            let held = (0..1_000)
                .filter(|seed| {
                    let points = balls(n, *seed).into_iter().map(|[x, y]| [x + aside, y]);
                    let fairway = of(&points.collect::<Vec<_>>()).fairway;
                    fairway.low <= truth && truth <= fairway.high
                })
                .count();
            let told = format!("{n} balls {aside} m aside: {held} of 1,000");
            assert!((870..=930).contains(&held), "{told}");
        }
    }

    #[test]
    fn mirrored_balls_have_a_mirrored_pattern() {
        let points = balls(12, 4);
        let mirrored: Vec<_> = points.iter().map(|p| [-p[0], p[1]]).collect();
        let (one, other) = (of(&points), of(&mirrored));
        assert!((one.middle[0] + other.middle[0]).abs() < 1e-9);
        let (a, b) = (one.ellipse.unwrap(), other.ellipse.unwrap());
        assert!((a.long - b.long).abs() < 1e-9);
        assert!((a.turned_deg + b.turned_deg).abs() < 1e-6);
    }

    #[test]
    fn a_ball_straight_ahead_of_another_makes_an_ellipse_along_the_line() {
        let points: Vec<_> = (0..6).map(|i| [0.0, 200.0 + 5.0 * f64::from(i)]).collect();
        let ellipse = of(&points).ellipse.unwrap();
        assert!(ellipse.turned_deg.abs() < 1e-6 && ellipse.long > 10.0 * ellipse.short);
    }

    #[test]
    fn one_ball_makes_no_pattern_and_identical_ones_no_nan() {
        assert!(pattern(&[[0.0, 200.0]], 30.0, &HouseRules::default()).is_none());
        let same = of(&[[1.0, 200.0]; 8]);
        assert!(same.fairway.value > 0.999 && same.ellipse.unwrap().long.is_finite());
        assert!(!serde_json::to_string(&same).unwrap().contains("null"));
    }
}
