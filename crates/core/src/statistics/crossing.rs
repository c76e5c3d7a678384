//! Where a rising function crosses none.

/// How near the place is told, as a share of the larger end.
const NEAR: f64 = 1e-13;
/// How far a step is drawn from the secant to the middle at first, as a share of the range.
const DRAWN: f64 = 0.2;
/// Steps allowed beyond those that halving takes.
const MORE: i32 = 1;

/// The place from `low` to `high` at which `over` is nothing: below it, it is less. By
/// secants drawn to the middle (Oliveira & Takahashi 2020), which take few steps along a curve and
/// hardly more than halving where it leaps. An end where it crosses nowhere.
pub(crate) fn crossing(mut low: f64, mut high: f64, over: impl Fn(f64) -> f64) -> f64 {
    let (mut below, mut above) = (over(low), over(high));
    if below >= 0.0 {
        return low;
    }
    if above <= 0.0 {
        return high;
    }
    let near = NEAR * low.abs().max(high.abs());
    let drawn = DRAWN / (high - low);
    let mut left = ((high - low) / (2.0 * near)).log2().ceil() as i32 + MORE;
    while high - low > 2.0 * near {
        let (middle, wide) = (0.5 * (low + high), high - low);
        // No further from the middle than halving could still make up for.
        let most = near * 2f64.powi(left) - 0.5 * wide;
        let secant = (low * above - high * below) / (above - below);
        let off = middle - secant;
        let draw = drawn * wide * wide;
        let at = if off.abs() > draw {
            let off = (off.abs() - draw).min(most.max(0.0)).copysign(off);
            middle - off
        } else {
            middle
        };
        match over(at) {
            0.0 => return at,
            here if here < 0.0 => (low, below) = (at, here),
            here => (high, above) = (at, here),
        }
        left -= 1;
    }
    0.5 * (low + high)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::cell::Cell;

    fn found(low: f64, high: f64, over: impl Fn(f64) -> f64) -> (f64, usize) {
        let asked = Cell::new(0);
        let at = crossing(low, high, |x| {
            asked.set(asked.get() + 1);
            over(x)
        });
        (at, asked.get())
    }

    #[test]
    fn a_root_is_found_to_the_last_digits_in_few_steps() {
        let (root, asked) = found(0.0, 2.0, |x| x * x - 2.0);
        assert!((root - 2f64.sqrt()).abs() < 1e-12, "{root}");
        assert!(asked < 16, "{asked}");
    }

    #[test]
    fn a_curve_that_is_flat_steps_or_has_no_end_is_crossed_where_it_is() {
        let flat = found(-400.0, 400.0, |x| (x - 1.5).tanh());
        assert!((flat.0 - 1.5).abs() < 1e-9, "{flat:?}");
        let step = found(0.0, 10.0, |x| if x < 3.7 { -1e-9 } else { 5.0 });
        assert!((step.0 - 3.7).abs() < 1e-9, "{step:?}");
        let endless = found(1.0, 3.0, |x| if x < 2.5 { x - 2.0 } else { f64::INFINITY });
        assert!((endless.0 - 2.0).abs() < 1e-9, "{endless:?}");
        assert_eq!(found(1.0, 3.0, |x| x).0, 1.0);
        assert_eq!(found(1.0, 3.0, |x| x - 9.0).0, 3.0);
    }

    proptest! {
        #[test]
        fn wherever_a_steep_or_gentle_curve_crosses_it_is_found(
            at in -50.0..50.0f64,
            steep in 0.01..100.0f64,
            before in 0.001..500.0f64,
            after in 0.001..500.0f64,
            bend in 0.0..1.0f64,
        ) {
            let over = |x: f64| {
                let x = steep * (x - at);
                (1.0 - bend) * x.atan() + bend * x * x * x
            };
            let (root, asked) = found(at - before, at + after, over);
            prop_assert!((root - at).abs() < 1e-9, "{root} {at}");
            prop_assert!(asked < 60, "{asked}");
        }
    }
}
