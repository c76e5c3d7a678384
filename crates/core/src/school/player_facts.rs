//! What a player can be: bounds that a slip of the finger leaves.

use std::ops::RangeInclusive;

/// Standing height, m: from a small child to the tallest.
pub const HEIGHT_M: RangeInclusive<f64> = 0.6..=2.5;
/// Mass, kg.
pub const MASS_KG: RangeInclusive<f64> = 10.0..=250.0;
/// The first year of birth that is taken.
pub const FIRST_BORN: i32 = 1900;

/// What stands for a name on a page that others see.
///
/// ```
/// use tally_core::school::player_facts::initials;
/// assert_eq!(initials("Ayla ten Brook"), "AtB");
/// ```
pub fn initials(name: &str) -> String {
    let words = name.split_whitespace();
    words.filter_map(|word| word.chars().next()).collect()
}
