//! Single cells: values with and without units, sides and signs.

use super::names::plain_text;
use super::numbers::{Marks, narrow, number};
use super::units::unit_named;
use std::collections::BTreeSet;
use tally_core::shots::reading::Provenance;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Dimension, Unit};

/// A value of a shot, internal units, with how it came about where the cell tells: a star
/// behind it and a "~" before it say that it was not measured. `letters` says whether letters of
/// other languages than English tell its side.
///
/// # Errors
/// [`Invalid`] for what is not a number, a unit that does not fit, a side that contradicts its
/// sign, and a value out of range.
pub fn value(
    quantity: Quantity,
    column_unit: Unit,
    cell: &str,
    letters: bool,
) -> Result<(f64, Option<Provenance>), Invalid> {
    let field = quantity.key();
    let narrow = narrow(cell);
    let starred = narrow.trim();
    let bare = starred.trim_matches(['*', '~', '≈', '†']).trim();
    let from = (bare.len() < starred.len()).then_some(Provenance::Calculated);
    let (bare, turned) = without_direction(quantity, bare, letters);
    let Some((mut number, behind)) = number(bare, marks(quantity)) else {
        return Err(Invalid::new(
            field,
            cell,
            "is not a number",
            "write a number such as 92.4",
        ));
    };
    if number == 0.0 && zero_is_nothing(quantity) {
        return Ok((0.0, from));
    }
    if let Some(sign) = turned {
        if number * sign < 0.0 && number.is_sign_negative() && sign > 0.0 {
            let problem = "has a sign and a side that say different things";
            return Err(Invalid::new(
                field,
                cell,
                problem,
                "keep the sign or the side",
            ));
        }
        number = number.abs() * sign;
    }
    let times = quantity == Quantity::SmashFactor && matches!(behind, "x" | "X" | "×");
    let unit = if behind.is_empty() || times {
        column_unit
    } else {
        unit_named(quantity.dimension(), behind).ok_or_else(|| {
            let units: Vec<_> = quantity
                .dimension()
                .accepted()
                .iter()
                .map(|u| u.symbol())
                .collect();
            let problem =
                format!("has {behind:?} behind its number, which is no unit of this value");
            let remedy = match quantity.dimension() {
                Dimension::Ratio => "write the number alone, such as 1.45".to_owned(),
                _ => format!("write {} or no unit", units.join(", ")),
            };
            Invalid::new(field, cell, problem, remedy)
        })?
    };
    quantity
        .accept(number, unit)
        .map(|si| (si, from))
        .map_err(|refused| Invalid {
            value: cell.trim().to_owned(),
            ..refused
        })
}

/// Whether a value has a side or a sign, so that 0 is as good a number as any.
pub fn signed(quantity: Quantity) -> bool {
    matches!(
        quantity,
        Quantity::Side
            | Quantity::LaunchDirection
            | Quantity::SpinAxis
            | Quantity::ClubPath
            | Quantity::FaceAngle
            | Quantity::AngleOfAttack
            | Quantity::ImpactToe
            | Quantity::ImpactHigh
    )
}

/// Whether 0 can be nothing but a value that is missing.
pub fn zero_is_nothing(quantity: Quantity) -> bool {
    !signed(quantity)
        && !matches!(quantity, Quantity::LaunchAngle | Quantity::DynamicLoft)
        && !matches!(quantity.dimension(), Dimension::Moment)
}

/// How single marks are read in the numbers of a value.
pub fn marks(quantity: Quantity) -> Marks {
    match quantity.dimension() {
        Dimension::Spin | Dimension::Force => Marks::Thousands,
        _ => Marks::Decimals,
    }
}

/// Words for left and down, which are less than nothing, and for right and up.
const WORDS: [(f64, &[&str]); 2] = [
    (
        -1.0,
        &[
            "l",
            "left",
            "links",
            "gauche",
            "izquierda",
            "izq",
            "sinistra",
            "sx",
            "esquerda",
            "vänster",
            "venstre",
            "左",
            "왼쪽",
            "좌",
            "←",
        ],
    ),
    (
        1.0,
        &[
            "r",
            "right",
            "rechts",
            "droite",
            "derecha",
            "der",
            "dcha",
            "destra",
            "dx",
            "direita",
            "höger",
            "højre",
            "høyre",
            "右",
            "오른쪽",
            "우",
            "→",
        ],
    ),
];
/// Letters for left and right in other languages than ours: beside a distance to the side, and
/// beside angles where [`tell_sides`] says so: "H" is a heel and "D" a draw elsewhere.
const LETTERS: [(f64, &[&str]); 2] = [(-1.0, &["g", "i", "v"]), (1.0, &["d", "h"])];
/// The same with the S of sinistra, which is a slice elsewhere.
const MORE_LETTERS: [(f64, &[&str]); 2] = [(-1.0, &["g", "i", "v", "s", "e"]), (1.0, &["d", "h"])];
/// Letters for left and right as they go together.
const TOGETHER: [[char; 2]; 5] = [['g', 'd'], ['i', 'd'], ['s', 'd'], ['e', 'd'], ['v', 'h']];
const HEIGHTS: [(f64, &[&str]); 2] = [(-1.0, &["down", "↓"]), (1.0, &["up", "↑"])];

/// Whether letters beside numbers tell left and right in a language other than English: two of them
/// do that go together, and no other letter stands there.
pub fn tell_sides<'a>(cells: impl Iterator<Item = &'a str>) -> bool {
    let letter = |cell: &str| {
        let letters = || cell.chars().filter(|c| c.is_alphabetic());
        let [only] = letters().collect::<Vec<_>>()[..] else {
            return None;
        };
        let edge = cell.starts_with(only) || cell.ends_with(only);
        edge.then(|| only.to_ascii_lowercase())
    };
    let seen: BTreeSet<char> = cells.filter_map(letter).collect();
    TOGETHER.iter().any(|two| seen == BTreeSet::from(*two))
}

/// Words for neither side.
const NEITHER: [&str; 10] = [
    "straight", "center", "centre", "c", "middle", "on line", "0", "mitte", "gerade", "centro",
];

/// The sign that a cell gives which tells a side and nothing else: -1 for left, 1 for right, 0 for
/// neither. `letters` as in [`value`].
pub fn side(cell: &str, letters: bool) -> Option<f64> {
    let plain = narrow(cell).trim().to_lowercase();
    if NEITHER.contains(&plain.as_str()) {
        return Some(0.0);
    }
    let words = [Some(WORDS), letters.then_some(MORE_LETTERS)];
    let mut all = words.into_iter().flatten().flatten();
    let found = all.find(|(_, words)| words.contains(&plain.as_str()));
    found.map(|(sign, _)| sign)
}

/// Whether a cell is a word for a side that is another one for left-handers.
pub fn is_by_hand(cell: &str) -> bool {
    let plain: String = plain_text(cell)
        .chars()
        .filter(|c| c.is_alphabetic())
        .collect();
    [
        "inout",
        "intoout",
        "insideout",
        "outin",
        "outtoin",
        "outsidein",
        "open",
        "closed",
        "square",
        "draw",
        "fade",
        "hook",
        "slice",
        "straight",
        "toe",
        "heel",
    ]
    .contains(&plain.as_str())
}

/// A cell without the word for its side before or behind it, and the sign that it gives.
pub fn without_direction(quantity: Quantity, cell: &str, letters: bool) -> (&str, Option<f64>) {
    let words: &[[(f64, &[&str]); 2]] = match quantity {
        Quantity::AngleOfAttack => &[HEIGHTS],
        _ if letters && signed(quantity) => &[WORDS, MORE_LETTERS],
        Quantity::Side => &[WORDS, LETTERS],
        other if signed(other) => &[WORDS],
        _ => return (cell, None),
    };
    // A word is one only where something else than a letter ends it.
    let ends = |word: &str, next: Option<char>| {
        !word.is_ascii() || next.is_none_or(|c| !c.is_alphabetic())
    };
    for (sign, words) in words.iter().flatten() {
        for word in *words {
            if let Some(rest) = before(cell, word)
                && ends(word, rest.chars().next())
            {
                return (rest.trim(), Some(*sign));
            }
            if let Some(rest) = behind(cell, word)
                && ends(word, rest.chars().last())
            {
                return (rest.trim(), Some(*sign));
            }
        }
    }
    (cell, None)
}

fn before<'a>(cell: &'a str, word: &str) -> Option<&'a str> {
    let head = cell.get(..word.len())?;
    head.to_lowercase().eq(word).then(|| &cell[word.len()..])
}

fn behind<'a>(cell: &'a str, word: &str) -> Option<&'a str> {
    let at = cell.len().checked_sub(word.len())?;
    let tail = cell.get(at..)?;
    tail.to_lowercase().eq(word).then(|| &cell[..at])
}

/// Effort felt, %: a whole number from 30 to 100, with or without its sign.
///
/// # Errors
/// [`Invalid`] for anything else.
pub fn effort(cell: &str) -> Result<u32, Invalid> {
    let bare = cell.trim().trim_end_matches('%').trim_end();
    bare.parse()
        .ok()
        .filter(|pct| (30..=100).contains(pct))
        .ok_or_else(|| {
            let remedy = "write a whole number of per cent from 30 to 100";
            Invalid::new("effort_pct", cell, "is not an effort", remedy)
        })
}

/// Whether a cell says yes or no; nothing where it says neither.
///
/// A tick and a cross are both ways to mark a row.
pub fn yes(cell: &str) -> Option<bool> {
    let plain = plain_text(cell.trim());
    match plain.trim_end_matches(['.', '!']) {
        "yes" | "y" | "true" | "t" | "1" | "x" | "✓" | "✔" | "ja" | "j" | "oui" | "o" | "vrai"
        | "si" | "s" | "wahr" | "vero" | "verdadero" | "はい" | "예" | "是" | "○" => {
            Some(true)
        }
        "no" | "n" | "false" | "f" | "0" | "nein" | "falsch" | "non" | "faux" | "nej" | "nee"
        | "falso" | "いいえ" | "아니요" | "否" | "×" => Some(false),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use tally_core::vocabulary::units::YARD;

    fn side(cell: &str) -> Result<f64, Invalid> {
        value(Quantity::Side, Unit::Yd, cell, false).map(|(si, _)| (si / YARD * 1e6).round() / 1e6)
    }

    #[test]
    fn a_side_is_read_before_behind_and_in_words() {
        for (cell, wanted) in [
            ("3.2 L", -3.2),
            ("L 3.2", -3.2),
            ("L3,2", -3.2),
            ("3.2L", -3.2),
            ("3.2 yd left", -3.2),
            ("links 3,2", -3.2),
            ("-3.2 L", -3.2),
            ("4 R", 4.0),
            ("+4 right", 4.0),
            ("右4", 4.0),
            ("1,2 G", -1.2),
            ("4,0 D", 4.0),
            ("2 H", 2.0),
            ("-4", -4.0),
            ("4 yds", 4.0),
        ] {
            assert_eq!(side(cell), Ok(wanted), "{cell}");
        }
        assert!(
            side("-4 R")
                .unwrap_err()
                .problem
                .contains("different things")
        );
        for odd in ["4 X", "four", "4 in-out", "R", "4 lefty"] {
            assert!(side(odd).is_err(), "{odd}");
        }
        // Heel and draw are no sides.
        for (quantity, unit) in [
            (Quantity::ImpactToe, Unit::Mm),
            (Quantity::SpinAxis, Unit::Deg),
        ] {
            assert!(value(quantity, unit, "5 H", false).is_err(), "{quantity:?}");
            assert!(value(quantity, unit, "5 D", false).is_err(), "{quantity:?}");
        }
        let down = value(Quantity::AngleOfAttack, Unit::Deg, "3.4° down", false);
        assert_eq!(down, Ok((-3.4, None)));
    }

    #[test]
    fn a_star_says_that_a_value_was_not_measured() {
        let spin = value(Quantity::SpinRate, Unit::Rpm, "6.900*", false);
        assert_eq!(spin, Ok((6900.0, Some(Provenance::Calculated))));
        assert!(value(Quantity::Carry, Unit::Yd, "251*", false).is_ok());
    }
}
