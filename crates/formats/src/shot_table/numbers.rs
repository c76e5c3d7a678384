//! Numbers as people and devices write them, with what stands behind.

use std::borrow::Cow;
use unicode_normalization::UnicodeNormalization;

/// Words that mean no value.
const NOTHING: [&str; 16] = [
    "", "-", "–", "—", "--", "---", "n/a", "na", "nan", "null", "none", "k.a.", "nil", "#n/a", "?",
    ".",
];

/// Whether a cell holds nothing.
pub fn is_nothing(cell: &str) -> bool {
    NOTHING.iter().any(|none| cell.eq_ignore_ascii_case(none))
}

/// What a single mark before three figures is: everything else tells itself. `6.900` is 6,900
/// turns a minute, and `12,345` no more than 12.3 degrees, whoever wrote it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Marks {
    /// It stands before decimals.
    Decimals,
    /// It parts thousands: values are in the thousands and have no decimals.
    Thousands,
}

/// A number and whatever stands behind it: "92.4 mph" → (92.4, "mph"). Nothing for a text
/// that is no number, or one whose marks part no thousands where they stand.
pub fn number(cell: &str, marks: Marks) -> Option<(f64, &str)> {
    let (digits, behind) = split(cell);
    if let Some((ten_to, behind)) = power(behind) {
        // "1.36E+02", as spreadsheets write what their cells are too narrow for.
        return Some((
            parsed(&digits, Marks::Decimals)? * 10f64.powi(ten_to),
            behind,
        ));
    }
    Some((parsed(&digits, marks)?, behind))
}

/// The power of ten at the beginning of what stands behind figures, and what is behind that.
fn power(behind: &str) -> Option<(i32, &str)> {
    let rest = behind.strip_prefix(['E', 'e'])?;
    let figures = rest.strip_prefix(['+', '-'])?;
    let end = figures
        .find(|c: char| !c.is_ascii_digit())
        .unwrap_or(figures.len());
    let power: i32 = figures[..end].parse().ok().filter(|power| *power < 13)?;
    let sign = if rest.starts_with('-') { -1 } else { 1 };
    Some((sign * power, figures[end..].trim_start()))
}

/// The part of a cell that is figures and marks, and the rest.
fn split(cell: &str) -> (String, &str) {
    let is_part = |i: usize, c: char| {
        c.is_ascii_digit()
            || matches!(
                c,
                '.' | ',' | '\'' | '’' | ' ' | '\u{a0}' | '\u{202f}' | '\u{2009}'
            )
            || (i == 0 && matches!(c, '+' | '-' | '−' | '–'))
    };
    let end = cell
        .char_indices()
        .find(|(i, c)| !is_part(*i, *c))
        .map_or(cell.len(), |(i, _)| i);
    // A mark behind all figures parts none: "98'" is feet.
    let end = cell[..end].trim_end_matches(['\'', '’']).len();
    let digits = cell[..end]
        .trim_matches(|c: char| c.is_whitespace())
        .chars()
        .map(|c| match c {
            '−' | '–' => '-',
            '’' | ' ' | '\u{a0}' | '\u{202f}' | '\u{2009}' => '\'',
            other => other,
        })
        .collect();
    (digits, cell[end..].trim())
}

fn parsed(digits: &str, marks: Marks) -> Option<f64> {
    let (sign, bare) = match digits.strip_prefix(['-', '+']) {
        Some(rest) => (if digits.starts_with('-') { -1.0 } else { 1.0 }, rest),
        None => (1.0, digits),
    };
    let bare = bare.trim_start_matches('\'');
    if !bare.contains(|c: char| c.is_ascii_digit()) {
        return None;
    }
    let points = bare.matches('.').count();
    let commas = bare.matches(',').count();
    // Which of the two stands before decimals, if any does.
    let decimal = match (points, commas) {
        (0, 0) => None,
        (_, 0) | (0, _) => {
            let mark = if points > 0 { '.' } else { ',' };
            let once = points + commas == 1;
            // "92,4" is no group of thousands, whatever it is of.
            (once && (marks == Marks::Decimals || !grouped(bare, mark))).then_some(mark)
        }
        // The last one of two stands before decimals.
        _ if bare.rfind('.') > bare.rfind(',') && points == 1 => Some('.'),
        _ if bare.rfind(',') > bare.rfind('.') && commas == 1 => Some(','),
        _ => return None,
    };
    let (whole, part) = match decimal {
        Some(mark) => bare.split_once(mark)?,
        None => (bare, ""),
    };
    if !part.chars().all(|c| c.is_ascii_digit()) {
        return None;
    }
    let whole = without_groups(whole)?;
    format!("{whole}.{part}0")
        .parse::<f64>()
        .ok()
        .map(|value| sign * value)
}

/// Whether three figures stand behind a mark and one to three, of which the first is not 0,
/// before it: what may part thousands as well as decimals.
fn grouped(bare: &str, mark: char) -> bool {
    bare.split_once(mark).is_some_and(|(before, after)| {
        let figures = |text: &str| text.chars().all(|c| c.is_ascii_digit());
        after.len() == 3
            && figures(after)
            && figures(before)
            && (1..=3).contains(&before.len())
            && !before.starts_with('0')
    })
}

/// Figures without the marks between groups of three; nothing where they stand elsewhere.
fn without_groups(whole: &str) -> Option<String> {
    let mut groups = whole.split(['.', ',', '\'']);
    let first = groups.next()?;
    let mut all = first.to_owned();
    let mut parted = false;
    for group in groups {
        if group.len() != 3 {
            return None;
        }
        parted = true;
        all.push_str(group);
    }
    let fits =
        all.chars().all(|c| c.is_ascii_digit()) && (!parted || (1..=3).contains(&first.len()));
    fits.then_some(if all.is_empty() { "0".to_owned() } else { all })
}

/// A cell with figures and marks of full width as ordinary ones.
pub fn narrow(cell: &str) -> Cow<'_, str> {
    if cell.chars().any(|c| ('\u{ff01}'..='\u{ff5e}').contains(&c)) {
        Cow::Owned(cell.nfkc().collect())
    } else {
        Cow::Borrowed(cell)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn value(cell: &str, marks: Marks) -> Option<f64> {
        number(cell, marks).map(|(value, _)| value)
    }

    #[test]
    fn a_mark_is_read_as_it_can_only_be_meant() {
        use Marks::{Decimals, Thousands};
        for (cell, marks, wanted) in [
            ("92.4", Decimals, Some(92.4)),
            ("92,4", Decimals, Some(92.4)),
            ("92,4", Thousands, Some(92.4)),
            ("12,345", Decimals, Some(12.345)),
            ("6,900", Thousands, Some(6900.0)),
            ("6.900", Thousands, Some(6900.0)),
            ("0.900", Thousands, Some(0.9)),
            ("1.201,5", Decimals, Some(1201.5)),
            ("1,201.5", Thousands, Some(1201.5)),
            ("1'201.5", Decimals, Some(1201.5)),
            ("1,201,500", Decimals, Some(1_201_500.0)),
            ("6\u{202f}900", Decimals, Some(6900.0)),
            ("−3.2", Decimals, Some(-3.2)),
            (".5", Decimals, Some(0.5)),
            ("5.", Decimals, Some(5.0)),
            ("12,34,5", Decimals, None),
            ("1.2.3", Decimals, None),
            ("12 5", Decimals, None),
            ("fast", Decimals, None),
            ("-", Decimals, None),
        ] {
            assert_eq!(value(cell, marks), wanted, "{cell}");
        }
        assert_eq!(number("92.4 mph", Decimals), Some((92.4, "mph")));
        assert_eq!(number("2.45E+03 rpm", Thousands), Some((2450.0, "rpm")));
        assert_eq!(number("1,5e-01", Decimals), Some((0.15000000000000002, "")));
        assert_eq!(number("5E", Decimals), Some((5.0, "E")));
        assert_eq!(number("98'", Decimals), Some((98.0, "'")));
        assert_eq!(narrow("９２．４"), "92.4");
    }
}
