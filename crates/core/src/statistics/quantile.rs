//! Quantiles of what was seen.

/// A quantile of sorted values, between neighbours where it lies between.
///
/// ```
/// use tally_core::statistics::quantile::quantile;
/// assert_eq!(quantile(&[1.0, 2.0, 4.0], 0.75), 3.0);
/// ```
///
/// # Panics
/// When there is no value.
pub fn quantile(sorted: &[f64], share: f64) -> f64 {
    let at = share * (sorted.len() - 1) as f64;
    let (low, high) = (at.floor() as usize, at.ceil() as usize);
    sorted[low] + (at - at.floor()) * (sorted[high] - sorted[low])
}

/// The middle of values in any order.
///
/// ```
/// use tally_core::statistics::quantile::median;
/// assert_eq!(median(&[4.0, 1.0, 2.0]), 2.0);
/// ```
///
/// # Panics
/// When there is no value.
pub fn median(values: &[f64]) -> f64 {
    let mut values = values.to_vec();
    let odd = values.len() % 2 == 1;
    let middle = values.len() / 2;
    let (below, upper, _) = values.select_nth_unstable_by(middle, f64::total_cmp);
    let lower = below.iter().copied().max_by(f64::total_cmp);
    match lower {
        Some(lower) if !odd => 0.5 * (lower + *upper),
        _ => *upper,
    }
}
