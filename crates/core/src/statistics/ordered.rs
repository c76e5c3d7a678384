//! The difference of two sets whose balls were hit in an order.
//!
//! A player warms up and tires, and neighbouring balls are alike. Each ball is the level
//! of its session, the difference where it belongs to the other set, a warm-up
//! `−g·exp(−n/τ)`, a straight drift, and a stray that remembers the ball before it:
//!
//! `y = level + difference·other − warm-up + drift + stray`,  `corr(stray, k balls on) = ρᵏ`
//!
//! Warm-up and drift are drawn from none by so much of a ball's stray (random effects,
//! Lindley & Smith 1972); how much, how long and how alike is not known, so estimates are
//! mixtures of Student's t over a grid of those, weighted by how well each explains the
//! balls (Box & Tiao 1973) and by how usual it is. The likeness of neighbours is taken out
//! as by Cochrane & Orcutt (1949). In turns the order hardly weighs; one set after the
//! other it does, as it must.

use crate::statistics::summary::Estimate;
use nalgebra::{DMatrix, DVector};
use statrs::distribution::{Continuous, ContinuousCDF, StudentsT};

/// Likeness of neighbours, and how usual each is. Our own choice of grid and weights; a
/// test holds that intervals cover what they promise for none, some and much of each.
const LIKENESS: [(f64, f64); 6] = [
    (-0.15, 0.08),
    (0.0, 0.24),
    (0.15, 0.24),
    (0.3, 0.22),
    (0.45, 0.15),
    (0.6, 0.07),
];
/// Variance of a session's warm-up in squared strays of a ball, its τ in balls, and how
/// usual.
const WARM_UPS: [(f64, f64, f64); 5] = [
    (0.0, 6.0, 0.40),
    (0.5, 4.0, 0.15),
    (0.5, 10.0, 0.15),
    (2.0, 4.0, 0.15),
    (2.0, 10.0, 0.15),
];
/// The same of a drift from a session's first ball to its last.
const DRIFTS: [(f64, f64); 3] = [(0.0, 0.50), (0.5, 0.25), (2.0, 0.25)];
/// Sessions that are modelled one by one; of more, their own differences tell.
pub(crate) const MOST_SESSIONS: usize = 6;
/// Weights below this do not move a digit that is shown.
const LEAST_WEIGHT: f64 = 1e-3;

/// A value with its set and its place.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Placed {
    pub value: f64,
    pub other: bool,
    pub session: usize,
    /// Balls hit before it in its session.
    pub order: f64,
}

/// The difference, by every member of the grid that says anything.
#[derive(Debug, Clone)]
pub(crate) struct Ordered {
    /// Weight, value and standard error.
    parts: Vec<(f64, f64, f64)>,
    freedom: f64,
    n: usize,
}

/// One member of the grid.
struct Member {
    likeness: f64,
    warm_up: (f64, f64),
    drift: f64,
    usual: f64,
}

impl Ordered {
    /// Fits balls in hitting order, session by session; each session holds both sets.
    /// `grain` is the step of the device. Nothing for too few balls or too many sessions.
    pub fn fit(balls: &[Placed], grain: f64) -> Option<Ordered> {
        let mut sessions: Vec<usize> = balls.iter().map(|b| b.session).collect();
        sessions.dedup();
        let fixed = sessions.len() + 1;
        let freedom = balls.len().checked_sub(fixed).filter(|df| *df > 0)? as f64;
        if sessions.len() > MOST_SESSIONS {
            return None;
        }
        let least = balls.len() as f64 * grain * grain / 12.0;
        let mut parts = Vec::new();
        for (likeness, a) in LIKENESS {
            for (size, tau, b) in WARM_UPS {
                for (drift, c) in DRIFTS {
                    let member = Member {
                        likeness,
                        warm_up: (size, tau),
                        drift,
                        usual: a * b * c,
                    };
                    parts.extend(member.fit(balls, &sessions, freedom, least));
                }
            }
        }
        let best = parts.iter().map(|p| p.0).fold(f64::NEG_INFINITY, f64::max);
        let mut parts: Vec<_> = parts
            .into_iter()
            .map(|(log, value, error)| ((log - best).exp(), value, error))
            .collect();
        let total: f64 = parts.iter().map(|p| p.0).sum();
        parts.iter_mut().for_each(|p| p.0 /= total);
        parts.retain(|p| p.0 > LEAST_WEIGHT);
        (!parts.is_empty()).then_some(Ordered {
            parts,
            freedom,
            n: balls.len(),
        })
    }

    /// The difference with its interval at `level`.
    pub fn estimate(&self, level: f64) -> Estimate {
        let share: f64 = self.parts.iter().map(|p| p.0).sum();
        let t = StudentsT::new(0.0, 1.0, self.freedom).expect("some freedom is left");
        let mean = self.parts.iter().map(|(w, v, _)| w * v).sum::<f64>() / share;
        // Chance below a place, and how fast it rises there.
        let below = |x: f64| {
            let mut told = [0.0, 0.0];
            for (weight, value, error) in &self.parts {
                let z = (x - value) / error;
                told[0] += weight * t.cdf(z) / share;
                told[1] += weight * t.pdf(z) / (error * share);
            }
            told
        };
        let widest = self.parts.iter().map(|p| p.2).fold(0.0, f64::max);
        let at = |tail: f64| {
            // Newton's steps, held between bounds that close in.
            let z = t.inverse_cdf(tail);
            let (mut low, mut high) = (f64::NEG_INFINITY, f64::INFINITY);
            let mut x = mean + z * widest;
            for _ in 0..40 {
                let [chance, rise] = below(x);
                if chance < tail {
                    low = x;
                } else {
                    high = x;
                }
                let step = (chance - tail) / rise.max(1e-300);
                let next = x - step;
                let inside = next > low && next < high;
                let next = match (inside, low.is_finite() && high.is_finite()) {
                    (true, _) => next.clamp(x - 4.0 * widest, x + 4.0 * widest),
                    (false, true) => 0.5 * (low + high),
                    (false, false) => x + if chance < tail { widest } else { -widest },
                };
                if (next - x).abs() < 1e-7 * widest {
                    return next;
                }
                x = next;
            }
            x
        };
        Estimate {
            value: mean,
            low: at(0.5 - level / 2.0),
            high: at(0.5 + level / 2.0),
            n: self.n,
        }
    }
}

impl Member {
    /// Logarithm of the weight, the difference, and its standard error.
    fn fit(
        &self,
        balls: &[Placed],
        sessions: &[usize],
        freedom: f64,
        least: f64,
    ) -> Option<(f64, f64, f64)> {
        let rows = Rows::of(self, balls, sessions);
        let inverse = rows.cross.clone().cholesky()?;
        let coefficients = inverse.solve(&rows.with_value);
        let stray = (rows.squares - coefficients.dot(&rows.with_value)).max(least);
        let log_of_cross = 2.0 * inverse.l().diagonal().iter().map(|d| d.ln()).sum::<f64>();
        let log =
            self.usual.ln() - 0.5 * (rows.log_scale + log_of_cross) - 0.5 * freedom * stray.ln();
        let other = sessions.len();
        let mut unit = DVector::zeros(coefficients.len());
        unit[other] = 1.0;
        let variance = inverse.solve(&unit)[other] * stray / freedom;
        Some((log, coefficients[other], variance.max(1e-18).sqrt()))
    }
}

/// Sums of products of the columns, once neighbours' likeness is taken out: a level for
/// each session, the other set, and for each session its warm-up and its drift.
struct Rows {
    cross: DMatrix<f64>,
    with_value: DVector<f64>,
    squares: f64,
    /// Logarithm of the determinants of the strays' and the random effects' scales.
    log_scale: f64,
}

impl Rows {
    fn of(member: &Member, balls: &[Placed], sessions: &[usize]) -> Rows {
        let many = sessions.len();
        let (size, tau) = member.warm_up;
        let warm = (size > 0.0).then_some(many + 1);
        let drift = (member.drift > 0.0).then(|| many + 1 + if size > 0.0 { many } else { 0 });
        let columns =
            many + 1 + many * (usize::from(warm.is_some()) + usize::from(drift.is_some()));
        let mut rows = Rows {
            cross: DMatrix::zeros(columns, columns),
            with_value: DVector::zeros(columns),
            squares: 0.0,
            log_scale: 0.0,
        };
        for (at, session) in sessions.iter().enumerate() {
            let of: Vec<&Placed> = balls.iter().filter(|b| b.session == *session).collect();
            let (first, last) = (of[0].order, of[of.len() - 1].order);
            let length = (last - first).max(1.0);
            // A ball's entries: its level, its set, the warm-up and the drift.
            let entries = |ball: &Placed| {
                [
                    1.0,
                    f64::from(u8::from(ball.other)),
                    (-ball.order / tau).exp(),
                    (ball.order - first) / length - 0.5,
                ]
            };
            let places = [
                Some(at),
                Some(many),
                warm.map(|w| w + at),
                drift.map(|d| d + at),
            ];
            let mut before: Option<(&Placed, [f64; 4])> = None;
            for ball in of {
                let now = entries(ball);
                let alike = before.map_or(0.0, |(b, _)| {
                    member.likeness.powf((ball.order - b.order).max(1.0))
                });
                let scale = 1.0 - alike * alike;
                let mut row = now;
                let mut value = ball.value;
                if let Some((b, was)) = before {
                    row.iter_mut().zip(was).for_each(|(x, w)| *x -= alike * w);
                    value -= alike * b.value;
                }
                rows.log_scale += scale.ln();
                rows.add(&places, &row, value, 1.0 / scale);
                before = Some((ball, now));
            }
        }
        for at in 0..many {
            for (place, variance) in [(warm, size), (drift, member.drift)] {
                if let Some(place) = place {
                    rows.cross[(place + at, place + at)] += 1.0 / variance;
                    rows.log_scale += variance.ln();
                }
            }
        }
        rows
    }

    fn add(&mut self, places: &[Option<usize>; 4], row: &[f64; 4], value: f64, weight: f64) {
        self.squares += weight * value * value;
        for (one, x) in places.iter().zip(row) {
            let Some(one) = *one else { continue };
            self.with_value[one] += weight * x * value;
            for (other, y) in places.iter().zip(row) {
                if let Some(other) = *other {
                    self.cross[(one, other)] += weight * x * y;
                }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::statistics::looks::Looks;
    use rand::SeedableRng;
    use rand_distr::{Distribution, StandardNormal, StudentT};
    use rand_pcg::Pcg64;

    /// What a player does beside the sets.
    #[derive(Clone, Copy, Default)]
    struct Truth {
        warm_up: f64,
        tau: f64,
        drift: f64,
        likeness: f64,
        heavy: bool,
    }

    /// Balls in an order of turns of both sets, without a difference, spread 8.
    fn hit(turns: &[(bool, usize)], truth: Truth, rng: &mut Pcg64) -> Vec<Placed> {
        let sets = turns.iter().flat_map(|(other, n)| vec![*other; *n]);
        let n: usize = turns.iter().map(|(_, n)| n).sum();
        let mut stray = 0.0;
        sets.enumerate()
            .map(|(i, other)| {
                let fresh: f64 = if truth.heavy {
                    StudentT::new(3.0).unwrap().sample(rng) / 3f64.sqrt()
                } else {
                    StandardNormal.sample(rng)
                };
                let alike = if i == 0 { 0.0 } else { truth.likeness };
                stray = alike * stray + (1.0 - alike * alike).sqrt() * fresh;
                let order = i as f64;
                Placed {
                    value: 8.0 * stray - truth.warm_up * (-order / truth.tau.max(1.0)).exp()
                        + truth.drift * order / n as f64,
                    other,
                    session: 0,
                    order,
                }
            })
            .collect()
    }

    fn coverage(turns: &[(bool, usize)], truth: Truth, runs: usize) -> f64 {
        let mut rng = Pcg64::seed_from_u64(4711);
        let holds = (0..runs).filter(|_| {
            let told = Ordered::fit(&hit(turns, truth, &mut rng), 0.1).unwrap();
            let interval = told.estimate(0.9);
            interval.low <= 0.0 && interval.high >= 0.0
        });
        holds.count() as f64 / runs as f64
    }

    const THERE_AND_BACK: [(bool, usize); 3] = [(false, 6), (true, 12), (false, 6)];
    const ONE_AFTER_THE_OTHER: [(bool, usize); 2] = [(false, 10), (true, 10)];

    #[test]
    fn intervals_cover_through_warm_ups_drifts_likeness_and_heavy_tails() {
        let none = Truth::default();
        let ball_by_ball = [(false, 1), (true, 1), (true, 1), (false, 1)].repeat(6);
        let short = [(false, 3), (true, 6), (false, 3)].repeat(2);
        for turns in [
            &THERE_AND_BACK[..],
            &ONE_AFTER_THE_OTHER,
            &ball_by_ball,
            &short,
        ] {
            for (name, truth) in [
                ("nothing", none),
                (
                    "warm-up",
                    Truth {
                        warm_up: 8.0,
                        tau: 7.0,
                        ..none
                    },
                ),
                (
                    "drift",
                    Truth {
                        drift: -6.0,
                        ..none
                    },
                ),
                (
                    "alike",
                    Truth {
                        likeness: 0.3,
                        ..none
                    },
                ),
                (
                    "alike and warm",
                    Truth {
                        likeness: 0.3,
                        warm_up: 6.0,
                        tau: 4.0,
                        ..none
                    },
                ),
                (
                    "heavy",
                    Truth {
                        heavy: true,
                        ..none
                    },
                ),
            ] {
                let held = coverage(turns, truth, 200);
                println!("{name}, {} turns: {held:.3}", turns.len());
                assert!((0.82..=0.995).contains(&held), "{name} {turns:?}: {held}");
            }
        }
    }

    #[test]
    fn looking_at_every_ball_claims_no_more_than_one_look() {
        // From five of each to forty of each, stopping at the first more or less.
        let turns = [(false, 1), (true, 1), (true, 1), (false, 1)].repeat(20);
        for planned in [24, 80] {
            let looks = Looks::Throughout { planned };
            let mut rng = Pcg64::seed_from_u64(2021);
            const RUNS: usize = 80;
            let wrong = (0..RUNS).filter(|_| {
                let balls = hit(&turns, Truth::default(), &mut rng);
                (10..=80).any(|n| {
                    let told = Ordered::fit(&balls[..n], 0.1).unwrap();
                    let interval = told.estimate(looks.level(0.9, n));
                    interval.low > 0.0 || interval.high < 0.0
                })
            });
            let share = wrong.count() as f64 / RUNS as f64;
            println!("claims when looking throughout, {planned} planned: {share:.3}");
            assert!(share <= 0.14, "{planned}: {share}");
        }
    }

    #[test]
    fn a_shift_of_all_balls_and_another_unit_change_nothing_else() {
        let mut rng = Pcg64::seed_from_u64(11);
        let balls = hit(&THERE_AND_BACK, Truth::default(), &mut rng);
        let moved: Vec<Placed> = balls
            .iter()
            .map(|b| Placed {
                value: 3.0 * b.value + 40.0,
                ..*b
            })
            .collect();
        let one = Ordered::fit(&balls, 1e-9).unwrap().estimate(0.9);
        let other = Ordered::fit(&moved, 1e-9).unwrap().estimate(0.9);
        for (a, b) in [
            (one.value, other.value),
            (one.low, other.low),
            (one.high, other.high),
        ] {
            assert!((3.0 * a - b).abs() < 1e-6, "{one:?} {other:?}");
        }
    }

    #[test]
    fn what_cannot_be_told_is_nothing() {
        let ball = |value, other| Placed {
            value,
            other,
            session: 0,
            order: 0.0,
        };
        assert!(Ordered::fit(&[ball(1.0, false), ball(2.0, true)], 0.1).is_none());
    }
}
