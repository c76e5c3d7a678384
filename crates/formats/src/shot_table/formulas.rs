//! Cells that a spreadsheet would run: written so that it shows them, and read back as they
//! were.

use std::borrow::Cow;

/// What stands before a cell that is not to be run.
const SHOWN: char = '\'';

/// A cell as a spreadsheet shows it and does not run it.
pub fn as_text(cell: &str) -> Cow<'_, str> {
    if runs(cell.trim_start_matches(SHOWN)) && !is_number(cell) {
        Cow::Owned(format!("{SHOWN}{cell}"))
    } else {
        Cow::Borrowed(cell)
    }
}

/// A cell as it was before [`as_text`], or before a program wrote it as a formula so that no
/// spreadsheet takes it for something else: `="007"`.
pub fn taken_back(cell: &str) -> &str {
    let quoted = cell
        .strip_prefix("=\"")
        .and_then(|cell| cell.strip_suffix('"'));
    if let Some(text) = quoted.filter(|text| !text.contains('"')) {
        return text;
    }
    match cell.strip_prefix(SHOWN) {
        Some(before) if runs(before.trim_start_matches(SHOWN)) && !is_number(before) => before,
        _ => cell,
    }
}

fn runs(cell: &str) -> bool {
    cell.starts_with(['=', '+', '-', '@', '\t', '\r', '\n', '＝', '＋', '－', '＠'])
}

/// A number with its sign, and its unit if any: nothing that is run.
fn is_number(cell: &str) -> bool {
    let bare = cell.strip_prefix(['+', '-']).unwrap_or(cell);
    let unit =
        bare.trim_start_matches(|c: char| c.is_ascii_digit() || matches!(c, '.' | ',' | ' '));
    bare.starts_with(|c: char| c.is_ascii_digit())
        && unit
            .chars()
            .all(|c| c.is_alphabetic() || matches!(c, '°' | '%'))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn what_a_spreadsheet_would_run_is_shown_and_numbers_stay_numbers() {
        for run in [
            "=1+2",
            "=HYPERLINK(\"x\")",
            "@SUM(A1)",
            "+cmd|' /C calc'!A0",
            "-2+3+cmd|' /C calc'!A0",
            "\t=1",
            "\r=1",
            "+",
            "＝1",
        ] {
            assert_eq!(as_text(run), format!("'{run}"));
        }
        for plain in [
            "-12.3", "+4,5", "-12 yd", "92.4", "Stock", "7-iron", "'quoted'", "",
        ] {
            assert_eq!(as_text(plain), plain);
        }
    }

    #[test]
    fn what_a_program_wrote_as_a_formula_of_a_text_is_the_text() {
        for (cell, was) in [
            ("=\"007\"", "007"),
            ("=\"\"", ""),
            ("=\"a\"&\"b\"", "=\"a\"&\"b\""),
            ("=\"", "=\""),
        ] {
            assert_eq!(taken_back(cell), was);
        }
    }

    proptest! {
        #[test]
        fn every_cell_comes_back_as_it_was(cell in "['=+@\t\r-]{0,4}.{0,6}") {
            let written = as_text(&cell);
            prop_assert_eq!(taken_back(&written), cell.as_str());
            prop_assert!(is_number(&written) || !runs(&written), "{}", written);
        }
    }
}
