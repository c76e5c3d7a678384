//! Heights and lengths as people write them.

use crate::vocabulary::invalid::{Invalid, within};
use crate::vocabulary::units::FOOT;
use std::ops::RangeInclusive;

/// An inch, m.
const INCH: f64 = FOOT / 12.0;

/// A length as it was written: `126 cm`, `1.26 m`, `49.6 in`, `4 ft 2 in` or `4'2"`.
///
/// ```
/// use tally_core::vocabulary::lengths::written_length;
/// let told = |text: &str| written_length("height", text, 0.6..=2.5);
/// assert!((told("126 cm")? - 1.26).abs() < 1e-9);
/// assert!((told("1,26 m")? - 1.26).abs() < 1e-9);
/// assert!((told("4 ft 2 in")? - 1.27).abs() < 1e-3);
/// assert_eq!(told("4'2\"")?, told("50 in")?);
/// assert!(told("126").unwrap_err().problem.contains("no unit"));
/// assert!(told("tall").unwrap_err().problem.contains("not a length"));
/// assert!(told("12.6 m").unwrap_err().problem.contains("out of range"));
/// # Ok::<(), tally_core::vocabulary::invalid::Invalid>(())
/// ```
///
/// # Errors
/// [`Invalid`] for what is no length, has no unit or is out of range.
pub fn written_length(field: &str, text: &str, range: RangeInclusive<f64>) -> Result<f64, Invalid> {
    const REMEDY: &str = "write it as 126 cm, 1.26 m, 49.6 in or 4 ft 2 in";
    let plain = text
        .trim()
        .to_lowercase()
        .replace(',', ".")
        .replace("''", "\"")
        .replace(['’', '′'], "'")
        .replace(['”', '″'], "\"");
    let wrong = |problem: &str| Invalid::new(field, text, problem, REMEDY);
    let mut metres = 0.0;
    let mut rest = plain.trim();
    while !rest.is_empty() {
        let digits = rest.find(|c: char| !c.is_ascii_digit() && c != '.');
        let (number, behind) = rest.split_at(digits.unwrap_or(rest.len()));
        let number: f64 = number.parse().map_err(|_| wrong("is not a length"))?;
        let behind = behind.trim_start();
        let unit = behind.find(|c: char| c.is_ascii_digit() || c == ' ');
        let (unit, behind) = behind.split_at(unit.unwrap_or(behind.len()));
        metres += number
            * match unit {
                "m" => 1.0,
                "cm" => 0.01,
                "mm" => 0.001,
                "ft" | "'" | "feet" | "foot" => FOOT,
                "in" | "\"" | "inch" | "inches" => INCH,
                "" => return Err(wrong("has no unit")),
                _ => return Err(wrong("is not a length")),
            };
        rest = behind.trim_start();
    }
    if plain.is_empty() {
        return Err(Invalid::missing(field, REMEDY));
    }
    let cm = |metres: f64| (metres * 1000.0).round() / 10.0;
    within(
        field,
        cm(metres),
        cm(*range.start())..=cm(*range.end()),
        "cm",
    )?;
    Ok(metres)
}
