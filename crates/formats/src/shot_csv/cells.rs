//! Single cells: numbers with and without units, sides, dates, clubs.

use super::{DateStyle, When};
use chrono::{DateTime, NaiveDate, NaiveDateTime, NaiveTime, Utc};
use tally_core::physics::club::Club;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Dimension, Unit};

/// Words that mean no value.
const NOTHING: [&str; 8] = ["", "-", "–", "--", "n/a", "na", "nan", "null"];

/// Whether a cell holds nothing.
pub fn is_nothing(cell: &str) -> bool {
    NOTHING.iter().any(|none| cell.eq_ignore_ascii_case(none))
}

/// A number and whatever stands behind it: "92.4 mph" → (92.4, "mph").
pub fn number(cell: &str, decimal_comma: bool) -> Option<(f64, &str)> {
    let end = cell
        .char_indices()
        .find(|(i, c)| {
            !(c.is_ascii_digit()
                || matches!(c, '.' | ',' | '\'' | ' ' | '\u{a0}')
                || (*i == 0 && matches!(c, '+' | '-' | '−')))
        })
        .map_or(cell.len(), |(i, _)| i);
    let digits: String = cell[..end]
        .chars()
        .filter(|c| !matches!(c, '\'' | ' ' | '\u{a0}' | '+'))
        .map(|c| if c == '−' { '-' } else { c })
        .collect();
    let plain = if decimal_comma {
        digits.replace('.', "").replace(',', ".")
    } else {
        digits.replace(',', "")
    };
    let value = plain.parse().ok()?;
    Some((value, cell[end..].trim()))
}

/// A value of a shot, internal units.
///
/// # Errors
/// [`Invalid`] for what is not a number, a unit that does not fit, and a value out of
/// range.
pub fn value(
    quantity: Quantity,
    column_unit: Unit,
    cell: &str,
    decimal_comma: bool,
) -> Result<f64, Invalid> {
    let field = quantity.key();
    // "L 12" and "12 L": left is less than nothing.
    let upper = cell.trim().to_uppercase();
    let turned = |letter: char| upper.starts_with(letter) || upper.ends_with(letter);
    let sided = signed(quantity) && (turned('L') || turned('R'));
    let bare = if sided {
        cell.trim().trim_matches(['l', 'L', 'r', 'R']).trim()
    } else {
        cell.trim()
    };
    let Some((number, behind)) = number(bare, decimal_comma) else {
        let remedy = if decimal_comma {
            "write a number such as 92,4"
        } else {
            "write a number such as 92.4"
        };
        return Err(Invalid::new(field, cell, "is not a number", remedy));
    };
    let number = if sided && turned('L') {
        -number
    } else {
        number
    };
    let unit = if behind.is_empty() {
        column_unit
    } else {
        unit_named(quantity.dimension(), behind).ok_or_else(|| {
            let units: Vec<_> = quantity
                .dimension()
                .accepted()
                .iter()
                .map(|u| u.symbol())
                .collect();
            let remedy = format!("use {}", units.join(", "));
            Invalid::new(
                field,
                cell,
                format!("has {behind:?} behind its number"),
                remedy,
            )
        })?
    };
    quantity.accept(number, unit).map_err(|why| Invalid {
        value: cell.to_owned(),
        ..why
    })
}

/// Whether left and right are told apart by its sign.
fn signed(quantity: Quantity) -> bool {
    matches!(
        quantity,
        Quantity::Side
            | Quantity::LaunchDirection
            | Quantity::SpinAxis
            | Quantity::ClubPath
            | Quantity::FaceAngle
    )
}

/// A unit of a dimension by any of the names that people write.
pub fn unit_named(dimension: Dimension, name: &str) -> Option<Unit> {
    let name = name
        .trim()
        .trim_matches(['(', ')', '[', ']', '.', ','])
        .to_lowercase();
    let name = name.trim();
    let unit = match name {
        "mph" | "mi/h" | "mile/h" | "miles/h" => Unit::Mph,
        "m/s" | "mps" | "m_s" | "meter/s" | "metres/s" => Unit::Mps,
        "km/h" | "kmh" | "kph" | "km_h" => Unit::Kmh,
        "yd" | "yds" | "yard" | "yards" => Unit::Yd,
        "m" | "meter" | "meters" | "metre" | "metres" => Unit::M,
        "ft" | "feet" | "foot" | "'" => Unit::Ft,
        "deg" | "degs" | "degree" | "degrees" | "°" | "º" => Unit::Deg,
        "rpm" | "rev/min" | "1/min" => Unit::Rpm,
        "s" | "sec" | "secs" | "seconds" => Unit::S,
        "ms" | "msec" => Unit::Ms,
        "mm" => Unit::Mm,
        "%" | "% bw" | "%bw" | "pct_bw" => Unit::PctBw,
        "n" | "newton" | "newtons" => Unit::N,
        "kg" | "kgf" => Unit::Kg,
        "lb" | "lbs" | "lbf" => Unit::Lb,
        "n·m" | "nm" => Unit::Nm,
        "n·m/kg" | "nm/kg" | "nm_per_kg" => Unit::NmPerKg,
        _ => return None,
    };
    dimension.accepted().contains(&unit).then_some(unit)
}

/// A day and perhaps a time: `2026-04-18T10:15:30Z`, `18.04.2026 10:15`,
/// `4/18/2026 10:15 AM`.
///
/// # Errors
/// [`Invalid`] with the styles that are understood.
pub fn date(cell: &str, style: DateStyle) -> Result<When, Invalid> {
    let cell = cell.trim();
    if let Ok(moment) = DateTime::parse_from_rfc3339(cell) {
        return Ok(When::At(moment.with_timezone(&Utc)));
    }
    let (day, time) = match cell.find([' ', 'T']) {
        Some(at) => (&cell[..at], cell[at + 1..].trim()),
        None => (cell, ""),
    };
    let parsed = day_of(day, style).and_then(|day| {
        if time.is_empty() {
            return Some(When::Day(day));
        }
        Some(When::Local(NaiveDateTime::new(day, time_of(time)?)))
    });
    parsed.ok_or_else(|| {
        let remedy =
            "write 2026-04-18, 18.04.2026 or 04/18/2026, with the time behind it as 10:15:30";
        Invalid::new("date", cell, "is not a date", remedy)
    })
}

fn day_of(text: &str, style: DateStyle) -> Option<NaiveDate> {
    let parts: Vec<u32> = text
        .split(['-', '/', '.'])
        .map(|part| part.parse().ok())
        .collect::<Option<_>>()?;
    let [a, b, c] = parts[..] else { return None };
    let (year, month, day) = if a > 31 {
        (a, b, c)
    } else {
        let year = if c < 100 { 2000 + c } else { c };
        match style {
            DateStyle::DayFirst => (year, b, a),
            DateStyle::MonthFirst => (year, a, b),
        }
    };
    let year = i32::try_from(year)
        .ok()
        .filter(|year| (1980..=2200).contains(year))?;
    NaiveDate::from_ymd_opt(year, month, day)
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

/// A time of day: `10:15`, `10:15:30.25`, `3:07 PM`.
pub fn time_of(text: &str) -> Option<NaiveTime> {
    let text = text.trim().trim_end_matches('Z').trim().to_uppercase();
    ["%H:%M:%S%.f", "%H:%M", "%I:%M:%S %p", "%I:%M %p"]
        .iter()
        .find_map(|form| NaiveTime::parse_from_str(&text, form).ok())
}

/// A club by its key, its label, or what people write for it: "7i", "PW", "3W".
pub fn club(cell: &str) -> Option<Club> {
    let plain = |text: &str| -> String {
        text.to_lowercase()
            .chars()
            .filter(char::is_ascii_alphanumeric)
            .collect()
    };
    let name = plain(cell);
    Club::all().find(|club| {
        let (key, label) = (plain(club.key()), plain(club.label()));
        if name == key || name == label {
            return true;
        }
        let number: String = key.chars().filter(char::is_ascii_digit).collect();
        let short = |words: &[&str]| {
            words
                .iter()
                .any(|w| name == format!("{number}{w}") || name == format!("{w}{number}"))
        };
        match club.key() {
            "driver" => matches!(name.as_str(), "d" | "dr" | "drv" | "1w" | "w1"),
            "wedge_pitching" => matches!(name.as_str(), "pw" | "pitching"),
            "wedge_gap" => matches!(name.as_str(), "gw" | "gap" | "aw" | "approach" | "uw"),
            "wedge_sand" => matches!(name.as_str(), "sw" | "sand"),
            "wedge_lob" => matches!(name.as_str(), "lw" | "lob"),
            other if other.starts_with("wood") => short(&["w", "wood"]),
            other if other.starts_with("iron") => short(&["i", "iron"]),
            other if other.starts_with("hybrid") => name.contains('h') && short(&["h", "hybrid"]),
            _ => false,
        }
    })
}
