//! What a block's label says of the swing it asks for.

use crate::session::gear::BETWEEN;

/// What the player set out to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Felt {
    /// A share of full effort, 0…1.
    Share(f64),
    /// The usual swing.
    Stock,
}

/// The effort that a block's label asks for: "70 %" and "stock" are read, others are not.
///
/// ```
/// use tally_core::session::label::{Felt, felt};
/// assert_eq!(felt("70 %"), Some(Felt::Share(0.7)));
/// assert_eq!(felt(" Stock"), Some(Felt::Stock));
/// assert_eq!(felt("70 % · low spin, tee 38 mm"), Some(Felt::Share(0.7)));
/// assert_eq!(felt("smooth"), None);
/// ```
pub fn felt(label: &str) -> Option<Felt> {
    // What a block was hit with stands behind its label.
    let label = label.split(BETWEEN).next().unwrap_or(label);
    let label = label.trim().to_lowercase();
    if label == "stock" || label.starts_with("stock ") {
        return Some(Felt::Stock);
    }
    let number = label.strip_suffix('%')?.trim_end().parse::<f64>().ok()?;
    (10.0..=150.0)
        .contains(&number)
        .then_some(Felt::Share(number / 100.0))
}

/// Whether a label asks for all there is: such blocks are held when there is pain.
///
/// ```
/// use tally_core::session::label::asks_full_effort;
/// assert!(asks_full_effort("All-out 2") && asks_full_effort("100 %"));
/// assert!(!asks_full_effort("Full") && !asks_full_effort("80 %"));
/// ```
pub fn asks_full_effort(label: &str) -> bool {
    let plain = label.trim().to_lowercase().replace(['-', '_'], " ");
    let all = [
        "all out",
        "allout",
        "max",
        "maximum",
        "full speed",
        "full effort",
    ];
    let begins = |words: &str| {
        plain
            .strip_prefix(words)
            .is_some_and(|rest| rest.is_empty() || rest.starts_with([' ', ',']))
    };
    all.iter().any(|words| begins(words))
        || plain.ends_with(" all out")
        || matches!(felt(label), Some(Felt::Share(share)) if share >= 0.9)
}

/// A label without the number of its turn: "All-out 2" is another turn of "All-out".
///
/// ```
/// use tally_core::session::label::without_turn;
/// assert_eq!(without_turn("All-out 2"), "All-out");
/// assert_eq!(without_turn("100 %"), "100 %");
/// assert_eq!(without_turn("7"), "7");
/// ```
pub fn without_turn(label: &str) -> &str {
    let label = label.trim();
    match label.rsplit_once(' ') {
        Some((name, turn))
            if turn.len() < 3 && turn.bytes().all(|b| b.is_ascii_digit()) && !turn.is_empty() =>
        {
            name.trim_end()
        }
        _ => label,
    }
}
