//! The equations of motion of a ball and one step of their integration, written once for a
//! ball alone and for many abreast.
//!
//! Both are of [`Number`]s: one in double precision, or one of each ball in the lanes of the
//! machine's vector unit. A step waits for its quotients and roots, one after the other; so
//! what is known before them is worked out before them. What is compiled for a vector unit must be
//! inlined whole, or each product of a lane becomes a call: so there is no closure here, nor
//! anything that takes one, as nothing makes those be inlined.

use crate::physics::launch::{Aero, BALL_RADIUS};
use crate::physics::wind;
use std::ops::{Add, Mul, Sub};

pub(crate) use crate::vocabulary::units::STANDARD_GRAVITY as GRAVITY;
/// Spin decay constant (Smits & Smith 1994).
pub(crate) const SPIN_DECAY: f64 = 2.0e-5;

/// A number of one ball, or one number of each of many.
pub(crate) trait Number:
    Copy + Add<Output = Self> + Sub<Output = Self> + Mul<Output = Self>
{
    /// The same for all.
    fn of(value: f64) -> Self;
    /// `self · factor + term`.
    fn times_plus(self, factor: Self, term: Self) -> Self;
    fn sqrt(self) -> Self;
    fn abs(self) -> Self;
    fn inverse(self) -> Self;
    fn at_least(self, least: f64) -> Self;
    fn at_most(self, most: f64) -> Self;
    fn larger(self, other: Self) -> Self;
    /// Natural logarithm of a number of at least 1.
    fn ln(self) -> Self;
    /// The fifth root to 7 %, read off the bits: a step's length needs no more.
    fn fifth_root(self) -> Self;

    #[inline(always)]
    fn scaled(self, factor: f64) -> Self {
        self * Self::of(factor)
    }

    /// `self · factor + term` with the same factor for all.
    #[inline(always)]
    fn scaled_plus(self, factor: f64, term: Self) -> Self {
        self.times_plus(Self::of(factor), term)
    }
}

/// Velocity along x, y and z (m/s), and spin (rad/s): what the air changes.
pub(crate) type Moving<N> = [N; 4];

/// How the air pulls, with what does not change worked out once. In still air nothing depends
/// on the height, and none is worked out.
#[derive(Clone, Copy)]
pub(crate) struct Pull<N, const WINDY: bool> {
    pressure_per_mass: N,
    /// (Reynolds number / [`Aero::slow_re`])² per squared speed, over the cube root of
    /// [`PARTS`].
    slow_per_square: N,
    wind: [N; 2],
    lift_most: N,
    lift_half: N,
    drag_least: N,
    drag_spin: N,
    drag_half: N,
    drag_slow: N,
}

/// What a step came to.
pub(crate) struct Stepped<N> {
    pub place: [N; 3],
    pub moving: Moving<N>,
    /// How fast that changes at the end of the step.
    pub slope: Moving<N>,
    /// The largest error in velocity (m/s) and in height (m).
    pub error: N,
    /// How long the next step may be, or this one if its error is too large, s.
    pub next: N,
}

/// In how many equal parts an exponent is taken: `exp(−y) = (1 / exp(y / 16))¹⁶`.
const PARTS: f64 = 16.0;

/// `exp(y)` of a part of an exponent, by its series.
#[inline(always)]
fn series<N: Number>(part: N) -> N {
    let rest = part.scaled_plus(1.0 / 6.0, N::of(0.5));
    (part * part).times_plus(rest, part + N::of(1.0))
}

/// A weighted sum.
#[inline(always)]
fn sum<N: Number, const M: usize>(weights: [f64; M], terms: [N; M]) -> N {
    let mut sum = terms[0].scaled(weights[0]);
    for i in 1..M {
        sum = terms[i].scaled_plus(weights[i], sum);
    }
    sum
}

/// From a start, `h` seconds on, by the slopes before, whose sum is `known`, and the newest.
#[inline(always)]
fn onto<N: Number>(start: N, known: N, weight: N, newest: N, h: N) -> N {
    newest.times_plus(weight, known.times_plus(h, start))
}

/// An array of what an expression is for each place of it.
macro_rules! of_each {
    (3, $i:ident, $each:expr) => {
        [
            {
                let $i = 0;
                $each
            },
            {
                let $i = 1;
                $each
            },
            {
                let $i = 2;
                $each
            },
        ]
    };
    (4, $i:ident, $each:expr) => {
        [
            {
                let $i = 0;
                $each
            },
            {
                let $i = 1;
                $each
            },
            {
                let $i = 2;
                $each
            },
            {
                let $i = 3;
                $each
            },
        ]
    };
}

/// The tableau of Dormand & Prince (1980): weights of the slopes before, the newest last, which
/// is added last as it is known last.
const SECOND: f64 = 1.0 / 5.0;
const THIRD: ([f64; 1], f64) = ([3.0 / 40.0], 9.0 / 40.0);
const FOURTH: ([f64; 2], f64) = ([44.0 / 45.0, -56.0 / 15.0], 32.0 / 9.0);
const FIFTH: ([f64; 3], f64) = (
    [19372.0 / 6561.0, -25360.0 / 2187.0, 64448.0 / 6561.0],
    -212.0 / 729.0,
);
const SIXTH: ([f64; 4], f64) = (
    [
        9017.0 / 3168.0,
        -355.0 / 33.0,
        46732.0 / 5247.0,
        49.0 / 176.0,
    ],
    -5103.0 / 18656.0,
);
/// Of the first slope and the third to the sixth.
const WHOLE: ([f64; 4], f64) = (
    [
        35.0 / 384.0,
        500.0 / 1113.0,
        125.0 / 192.0,
        -2187.0 / 6784.0,
    ],
    11.0 / 84.0,
);
/// By how much the embedded fourth order differs: of the first slope and the third to the
/// seventh.
const OFF: [f64; 6] = [
    71.0 / 57600.0,
    -71.0 / 16695.0,
    71.0 / 1920.0,
    -17253.0 / 339_200.0,
    22.0 / 525.0,
    -1.0 / 40.0,
];

impl<N: Number, const WINDY: bool> Pull<N, WINDY> {
    /// Of air with ½ρA/m (1/m), the Reynolds number per speed (s/m), the wind ten metres up
    /// along x and y (m/s), and how it takes hold of the ball.
    #[inline(always)]
    pub fn of(
        pressure_per_mass: f64,
        reynolds_per_speed: f64,
        wind: Option<[f64; 2]>,
        aero: &Aero,
    ) -> Self {
        let slow = reynolds_per_speed / aero.slow_re;
        let wind = wind.unwrap_or_default();
        Pull {
            pressure_per_mass: N::of(pressure_per_mass),
            slow_per_square: N::of(slow * slow / PARTS.cbrt()),
            wind: [N::of(wind[0]), N::of(wind[1])],
            lift_most: N::of(aero.lift_most),
            lift_half: N::of(aero.lift_half),
            drag_least: N::of(aero.drag_least),
            drag_spin: N::of(aero.drag_spin),
            drag_half: N::of(aero.drag_half),
            drag_slow: N::of(aero.drag_slow),
        }
    }

    /// How fast velocity and spin change at a height.
    #[inline(always)]
    pub fn slope(
        &self,
        height: N,
        [vx, vy, vz, spin]: Moving<N>,
        [ax, ay, az]: &[N; 3],
    ) -> Moving<N> {
        let (ux, uy) = if WINDY {
            let above = height.at_least(0.0);
            let above = above.scaled_plus(1.0 / wind::ROUGHNESS, N::of(1.0));
            let share = above.ln().scaled(wind::PER_LOG);
            (vx - share * self.wind[0], vy - share * self.wind[1])
        } else {
            (vx, vy)
        };
        let square = ux.times_plus(ux, uy.times_plus(uy, vz * vz));
        let square = square.at_least(1e-12);
        let speed = square.sqrt();
        // S / (S + half) is skin / (skin + half · speed); both quotients and that of the slow
        // ball's drag, exp(−(Re / slow_re)⁶), at most 4e-5 off, are taken by one division.
        let skin = spin.scaled(BALL_RADIUS);
        let for_drag = speed.times_plus(self.drag_half, skin);
        let for_lift = speed.times_plus(self.lift_half, skin);
        let reynolds = square * self.slow_per_square;
        let series = series((reynolds * reynolds * reynolds).at_most(60.0 / PARTS));
        let both = for_drag * for_lift;
        let inverse = (both * series).inverse();
        let (per_both, root) = (inverse * series, inverse * both);
        let root = root * root;
        let root = root * root;
        let root = root * root;
        let slow = root * root;
        let push = speed * self.pressure_per_mass;
        let turned = per_both * (for_drag * skin * (self.lift_most * push));
        let drag = per_both.times_plus(
            for_lift * (skin * self.drag_spin),
            slow.times_plus(self.drag_slow, self.drag_least),
        );
        let across = [
            turned * (*ay * vz - *az * uy),
            turned * (*az * ux - *ax * vz),
            turned.times_plus(*ax * uy - *ay * ux, N::of(-GRAVITY)),
        ];
        let drag = drag.scaled(-1.0);
        [
            drag.times_plus(push * ux, across[0]),
            drag.times_plus(push * uy, across[1]),
            drag.times_plus(push * vz, across[2]),
            spin * speed.scaled(-SPIN_DECAY / BALL_RADIUS),
        ]
    }

    /// One step of Dormand & Prince (1980), `h` seconds long, from a place, a motion and its
    /// slope there. Spin has no part in the error: it is in other units and far smoother.
    #[inline(always)]
    pub fn step(
        &self,
        at: [N; 3],
        v1: Moving<N>,
        k1: Moving<N>,
        axis: &[N; 3],
        h: N,
        tolerance: N,
    ) -> Stepped<N> {
        // In still air nothing depends on the height.
        macro_rules! height {
            ($known:expr, $weight:expr, $newest:expr) => {
                if WINDY {
                    onto(at[2], $known, h.scaled($weight), $newest, h)
                } else {
                    at[2]
                }
            };
        }
        let first = h.scaled(SECOND);
        let v2 = of_each!(4, i, k1[i].times_plus(first, v1[i]));
        let k2 = self.slope(v1[2].times_plus(first, at[2]), v2, axis);

        let (known, newest) = THIRD;
        let weight = h.scaled(newest);
        let v3 = of_each!(4, i, onto(v1[i], sum(known, [k1[i]]), weight, k2[i], h));
        let z = height!(sum(known, [v1[2]]), newest, v2[2]);
        let k3 = self.slope(z, v3, axis);

        let (known, newest) = FOURTH;
        let weight = h.scaled(newest);
        let v4 = of_each!(
            4,
            i,
            onto(v1[i], sum(known, [k1[i], k2[i]]), weight, k3[i], h)
        );
        let z = height!(sum(known, [v1[2], v2[2]]), newest, v3[2]);
        let k4 = self.slope(z, v4, axis);

        let (known, newest) = FIFTH;
        let weight = h.scaled(newest);
        let v5 = of_each!(4, i, {
            let known = sum(known, [k1[i], k2[i], k3[i]]);
            onto(v1[i], known, weight, k4[i], h)
        });
        let z = height!(sum(known, [v1[2], v2[2], v3[2]]), newest, v4[2]);
        let k5 = self.slope(z, v5, axis);

        let (known, newest) = SIXTH;
        let weight = h.scaled(newest);
        let v6 = of_each!(4, i, {
            let known = sum(known, [k1[i], k2[i], k3[i], k4[i]]);
            onto(v1[i], known, weight, k5[i], h)
        });
        let z = height!(sum(known, [v1[2], v2[2], v3[2], v4[2]]), newest, v5[2]);
        let k6 = self.slope(z, v6, axis);

        let (known, newest) = WHOLE;
        let weight = h.scaled(newest);
        let moving = of_each!(4, i, {
            let known = sum(known, [k1[i], k3[i], k4[i], k5[i]]);
            onto(v1[i], known, weight, k6[i], h)
        });
        let place = of_each!(3, i, {
            let known = sum(known, [v1[i], v3[i], v4[i], v5[i]]);
            onto(at[i], known, weight, v6[i], h)
        });
        let k7 = self.slope(place[2], moving, axis);

        let [x, y, z] = of_each!(
            3,
            i,
            sum(OFF, [k1[i], k3[i], k4[i], k5[i], k6[i], k7[i]]).abs()
        );
        let up = sum(OFF, [v1[2], v3[2], v4[2], v5[2], v6[2], moving[2]]).abs();
        let error = x.larger(y).larger(z).larger(up) * h;
        let longer = error.at_least(1e-9).inverse() * tolerance;
        let longer = longer.fifth_root().scaled(0.9);
        Stepped {
            place,
            moving,
            slope: k7,
            error,
            next: longer.at_least(0.2).at_most(4.0) * h,
        }
    }
}

impl Number for f64 {
    #[inline(always)]
    fn of(value: f64) -> Self {
        value
    }

    // Not by `mul_add`, which is slow where the machine has no such instruction.
    #[inline(always)]
    fn times_plus(self, factor: Self, term: Self) -> Self {
        self * factor + term
    }

    #[inline(always)]
    fn sqrt(self) -> Self {
        f64::sqrt(self)
    }

    #[inline(always)]
    fn abs(self) -> Self {
        f64::abs(self)
    }

    #[inline(always)]
    fn inverse(self) -> Self {
        1.0 / self
    }

    #[inline(always)]
    fn at_least(self, least: f64) -> Self {
        if self > least { self } else { least }
    }

    #[inline(always)]
    fn at_most(self, most: f64) -> Self {
        if self < most { self } else { most }
    }

    #[inline(always)]
    fn larger(self, other: Self) -> Self {
        if self > other { self } else { other }
    }

    /// To 4e-8: the exponent is read off the bits, the rest is a polynomial (its coefficients
    /// by Lawson's iteration). A call to the library's would have to put every number by.
    #[inline(always)]
    fn ln(self) -> Self {
        const LOW: [f64; 4] = [
            0.999_996_423_548_460_7,
            -0.499_874_044_849_79,
            0.331_798_254_691_417_5,
            -0.240_730_760_830_732_75,
        ];
        const HIGH: [f64; 4] = [
            0.167_647_870_780_315_2,
            -0.095_322_512_870_261_14,
            0.036_084_534_453_456_67,
            -0.006_452_616_461_834_69,
        ];
        let bits = self.to_bits();
        let exponent = (bits >> 52) as i64 as f64 - 1023.0;
        let rest = f64::from_bits((bits & 0x000f_ffff_ffff_ffff) | 0x3ff0_0000_0000_0000) - 1.0;
        let square = rest * rest;
        let low = (LOW[0] + LOW[1] * rest) + (LOW[2] + LOW[3] * rest) * square;
        let high = (HIGH[0] + HIGH[1] * rest) + (HIGH[2] + HIGH[3] * rest) * square;
        exponent * std::f64::consts::LN_2 + rest * (low + high * (square * square))
    }

    #[inline(always)]
    fn fifth_root(self) -> Self {
        const ONE: i64 = 0x3ff0_0000_0000_0000;
        let logarithm = (self.to_bits() as i64 - ONE) as f64;
        f64::from_bits(((0.2 * logarithm) as i64 + ONE) as u64)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn logarithms_and_fifth_roots_are_as_close_as_they_say() {
        for i in 0..4000 {
            let value = 1.0 + 1.7_f64.powi(i % 17) * f64::from(i) / 4000.0;
            assert!((Number::ln(value) - value.ln()).abs() < 4e-8, "{value}");
            let root = value.fifth_root() / value.powf(0.2);
            assert!((root - 1.0).abs() < 0.07, "{value} {root}");
        }
    }

    #[test]
    fn a_part_of_an_exponent_makes_the_whole() {
        for i in 0..=600 {
            let y = f64::from(i) / 10.0;
            let whole = series(y / PARTS).powi(-(PARTS as i32));
            assert!((whole - (-y).exp()).abs() < 4e-5, "{y}: {whole}");
        }
    }

    #[test]
    fn the_weights_of_every_stage_are_those_of_a_consistent_method() {
        // A slope of one everywhere leads exactly h further, and is told without error.
        let sum = |known: &[f64], newest: f64| known.iter().sum::<f64>() + newest;
        for (total, at) in [
            (sum(&THIRD.0, THIRD.1), 3.0 / 10.0),
            (sum(&FOURTH.0, FOURTH.1), 4.0 / 5.0),
            (sum(&FIFTH.0, FIFTH.1), 8.0 / 9.0),
            (sum(&SIXTH.0, SIXTH.1), 1.0),
            (sum(&WHOLE.0, WHOLE.1), 1.0),
            (sum(&OFF, 0.0), 0.0),
        ] {
            assert!((total - at).abs() < 1e-12, "{total} {at}");
        }
    }
}
