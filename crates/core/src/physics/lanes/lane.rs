//! Sixteen numbers that are worked on at once.
//!
//! Plain arrays and loops: compiled for the machine's widest vector unit
//! ([`super`] chooses at run time), each operation becomes two or four of its instructions.

#![expect(
    clippy::needless_range_loop,
    reason = "the same for every lane by its number is what becomes one instruction"
)]

use crate::physics::equations::Number;
use std::ops::{Add, Mul, Sub};

/// How many flights are worked on at once: two of the usual unit's widths, so that one is worked
/// on while the other waits for its quotients and roots.
pub(super) const WIDE: usize = 16;

/// One number of each flight.
#[derive(Clone, Copy)]
#[repr(align(64))]
pub(super) struct Lane(pub [f32; WIDE]);

macro_rules! elementwise {
    ($trait:ident, $function:ident, $operator:tt) => {
        impl $trait for Lane {
            type Output = Self;
            #[inline(always)]
            fn $function(mut self, other: Self) -> Self {
                for i in 0..WIDE {
                    self.0[i] $operator other.0[i];
                }
                self
            }
        }
    };
}

elementwise!(Add, add, +=);
elementwise!(Sub, sub, -=);
elementwise!(Mul, mul, *=);

impl Lane {
    #[inline(always)]
    pub fn smaller(mut self, other: Self) -> Self {
        for i in 0..WIDE {
            self.0[i] = if self.0[i] < other.0[i] {
                self.0[i]
            } else {
                other.0[i]
            };
        }
        self
    }

    /// This where `keep` says so, `other` elsewhere.
    #[inline(always)]
    pub fn unless(mut self, keep: &[bool; WIDE], other: Self) -> Self {
        for i in 0..WIDE {
            self.0[i] = if keep[i] { self.0[i] } else { other.0[i] };
        }
        self
    }
}

macro_rules! each {
    ($lane:ident, $value:ident => $new:expr) => {{
        let mut lane = $lane;
        for i in 0..WIDE {
            let $value = lane.0[i];
            lane.0[i] = $new;
        }
        lane
    }};
}

impl Number for Lane {
    #[inline(always)]
    fn of(value: f64) -> Self {
        Lane([value as f32; WIDE])
    }

    #[inline(always)]
    fn times_plus(mut self, factor: Self, term: Self) -> Self {
        for i in 0..WIDE {
            self.0[i] = f32::mul_add(self.0[i], factor.0[i], term.0[i]);
        }
        self
    }

    #[inline(always)]
    fn sqrt(self) -> Self {
        each!(self, value => value.sqrt())
    }

    #[inline(always)]
    fn abs(self) -> Self {
        each!(self, value => value.abs())
    }

    #[inline(always)]
    fn inverse(self) -> Self {
        each!(self, value => 1.0 / value)
    }

    #[inline(always)]
    fn at_least(self, least: f64) -> Self {
        let least = least as f32;
        each!(self, value => if value > least { value } else { least })
    }

    #[inline(always)]
    fn at_most(self, most: f64) -> Self {
        let most = most as f32;
        each!(self, value => if value < most { value } else { most })
    }

    #[inline(always)]
    fn larger(mut self, other: Self) -> Self {
        for i in 0..WIDE {
            self.0[i] = if self.0[i] > other.0[i] {
                self.0[i]
            } else {
                other.0[i]
            };
        }
        self
    }

    /// To 1e-5: the exponent is read off the bits, the rest is a polynomial (Hastings 1955).
    #[inline(always)]
    fn ln(self) -> Self {
        each!(self, value => {
            let bits = value.to_bits();
            let exponent = (bits >> 23) as i32 as f32 - 127.0;
            let rest = f32::from_bits((bits & 0x007f_ffff) | 0x3f80_0000) - 1.0;
            let sum = f32::mul_add(0.032_158_45, rest, -0.136_062_75);
            let sum = f32::mul_add(sum, rest, 0.289_474_8);
            let sum = f32::mul_add(sum, rest, -0.491_908_96);
            let sum = f32::mul_add(sum, rest, 0.999_495_56);
            f32::mul_add(exponent, std::f32::consts::LN_2, sum * rest)
        })
    }

    #[inline(always)]
    fn fifth_root(self) -> Self {
        each!(self, value => {
            let logarithm = (value.to_bits() as i32 - 0x3f80_0000) as f32;
            f32::from_bits(((0.2 * logarithm) as i32 + 0x3f80_0000) as u32)
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn logarithms_and_fifth_roots_are_as_close_as_they_say() {
        for i in 0..4000 {
            let value = 1.0 + 1.7_f32.powi(i % 17) * (i as f32) / 4000.0;
            let lane = Lane::of(value.into());
            assert!((lane.ln().0[3] - value.ln()).abs() < 2e-5, "{value}");
            let root = lane.fifth_root().0[5] / value.powf(0.2);
            assert!((root - 1.0).abs() < 0.07, "{value} {root}");
        }
    }
}
