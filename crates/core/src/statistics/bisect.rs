//! Where a rising function crosses a value, by halving.

/// Halvings: of any range that a double holds the place is then as exact as it can be told.
const HALVINGS: usize = 48;

/// The place from `low` to `high` up to which `below` holds.
pub(crate) fn bisect(mut low: f64, mut high: f64, below: impl Fn(f64) -> bool) -> f64 {
    for _ in 0..HALVINGS {
        let middle = 0.5 * (low + high);
        if below(middle) {
            low = middle;
        } else {
            high = middle;
        }
    }
    0.5 * (low + high)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_root_is_found_to_the_last_digits() {
        let root = bisect(0.0, 2.0, |x| x * x < 2.0);
        assert!((root - 2f64.sqrt()).abs() < 1e-12, "{root}");
    }
}
