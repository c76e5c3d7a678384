//! What a table is, from its head: how it is written and what its columns hold.

use super::cells::{self, effort, is_nothing, number, unit_named};
use super::{ColumnUse, DateStyle, Encoding, Layout, MOST_COLUMNS};
use csv::ReaderBuilder;
use serde::Serialize;
use std::io::Read;
use tally_core::shots::reading::Provenance;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::{Dimension, MPH, Unit};
use utoipa::ToSchema;

/// Rows looked at.
const LOOKED_AT: usize = 200;

/// What a file seems to be.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Guess {
    /// How it should be read.
    pub layout: Layout,
    /// The columns' names; "Column 3" where there is no header.
    pub names: Vec<String>,
    /// The first cells of each column.
    pub samples: Vec<Vec<String>>,
    /// What is odd about it, in sentences.
    pub remarks: Vec<String>,
}

/// Guesses from the first bytes of a file.
///
/// # Errors
/// [`Invalid`] for an empty file, one with a header alone, and one that is no table.
pub fn guess(head: &[u8]) -> Result<Guess, Invalid> {
    let (text, encoding) = decode(head);
    if text.trim().is_empty() {
        let remedy = "choose a file with a row for each shot";
        return Err(Invalid::new("file", "", "is empty", remedy));
    }
    let delimiter = delimiter_of(&text);
    let (header, names, rows) = named_rows(&text, delimiter)?;
    let decimal_comma = delimiter != ',' && has_decimal_commas(&rows);
    let cells = |i: usize| {
        rows.iter()
            .filter_map(move |row| row.get(i))
            .map(|c| c.trim())
            .filter(|c| !cells::is_nothing(c))
    };
    let mut columns: Vec<ColumnUse> = (0..names.len())
        .map(|i| {
            let name = if header { &names[i] } else { "" };
            column_of(name, &cells(i).collect::<Vec<_>>(), decimal_comma)
        })
        .collect();
    let mut remarks = Vec::new();
    leave_out_doubles(&mut columns, &names, &mut remarks);
    let medians: Vec<Option<f64>> = (0..names.len())
        .map(|i| median(cells(i).filter_map(|c| Some(number(c, decimal_comma)?.0))))
        .collect();
    guess_units(&mut columns, &names, &medians, &mut remarks);
    let dated = (0..names.len()).filter(|&i| columns[i] == ColumnUse::Date);
    let dates = date_style(dated.flat_map(cells));
    if !header {
        remarks.push(
            "The first row holds numbers, so the columns have no names: say what each holds."
                .to_owned(),
        );
    }
    if encoding == Encoding::Latin1 {
        remarks.push("It is not UTF-8, so it is read as Latin-1.".to_owned());
    }
    let samples = (0..names.len())
        .map(|i| cells(i).take(3).map(str::to_owned).collect())
        .collect();
    Ok(Guess {
        layout: Layout {
            encoding,
            delimiter,
            header,
            decimal_comma,
            dates,
            columns,
            provenance: Provenance::Measured,
        },
        names,
        samples,
        remarks,
    })
}

/// Whether the first row names the columns, their names, and the other rows.
type NamedRows = (bool, Vec<String>, Vec<Vec<String>>);

fn named_rows(text: &str, delimiter: char) -> Result<NamedRows, Invalid> {
    let mut rows = split(text, delimiter);
    let width = rows.iter().map(Vec::len).max().unwrap_or(0);
    if width > MOST_COLUMNS {
        let remedy = format!("keep {MOST_COLUMNS} at most");
        return Err(Invalid::new("file", width, "columns are too many", remedy));
    }
    let header = rows.first().is_some_and(|row| is_header(row));
    let names: Vec<String> = if header {
        let first = rows.remove(0);
        first.iter().map(|name| name.trim().to_owned()).collect()
    } else {
        (1..=width).map(|i| format!("Column {i}")).collect()
    };
    if rows.is_empty() {
        return Err(Invalid::new(
            "file",
            names.join(", "),
            "has a header and no rows",
            "choose a file with a row for each shot",
        ));
    }
    Ok((header, names, rows))
}

fn decode(head: &[u8]) -> (String, Encoding) {
    // The head may end within a character.
    let whole = match std::str::from_utf8(head) {
        Ok(_) => true,
        Err(error) => error.error_len().is_none(),
    };
    let marked = head.starts_with(&[0xFF, 0xFE]) || head.starts_with(&[0xFE, 0xFF]);
    let encoding = if whole || marked {
        Encoding::Utf8
    } else {
        Encoding::Latin1
    };
    let mut text = String::new();
    // Decoding replaces what it cannot read and so cannot fail.
    let _ = super::rows::decoded(head, encoding).read_to_string(&mut text);
    (text, encoding)
}

/// The character that splits the first lines most evenly.
fn delimiter_of(text: &str) -> char {
    let lines: Vec<&str> = text
        .lines()
        .filter(|l| !l.trim().is_empty())
        .take(20)
        .collect();
    let score = |delimiter: char| {
        let counts: Vec<usize> = lines.iter().map(|l| l.matches(delimiter).count()).collect();
        let first = counts.first().copied().unwrap_or(0);
        let even = counts.iter().filter(|n| **n == first).count();
        if first == 0 { 0 } else { even * 1000 + first }
    };
    // A comma that stands before decimals splits evenly too: what cannot be part of a
    // number is believed first.
    let strong = [';', '\t', '|']
        .into_iter()
        .max_by_key(|d| score(*d))
        .unwrap_or(';');
    if score(strong) >= 1000 * lines.len().div_ceil(2) {
        strong
    } else {
        ','
    }
}

fn split(text: &str, delimiter: char) -> Vec<Vec<String>> {
    let mut reader = ReaderBuilder::new()
        .delimiter(delimiter as u8)
        .has_headers(false)
        .flexible(true)
        .from_reader(text.as_bytes());
    reader
        .records()
        .take(LOOKED_AT + 1)
        .map_while(Result::ok)
        .map(|row| row.iter().map(str::to_owned).collect())
        .collect()
}

/// A header names things: none of its cells is a number, and one at least is a word.
fn is_header(row: &[String]) -> bool {
    let numbers = row
        .iter()
        .filter(|c| number(c.trim(), true).is_some() || number(c.trim(), false).is_some());
    numbers.count() == 0 && row.iter().any(|c| c.chars().any(char::is_alphabetic))
}

fn has_decimal_commas(rows: &[Vec<String>]) -> bool {
    let decimal = |cell: &String| {
        let (before, after) = cell.trim().split_once(',').unwrap_or(("", ""));
        !before.is_empty() && after.len() != 3 && after.starts_with(|c: char| c.is_ascii_digit())
    };
    let point = |cell: &String| cell.contains('.') && number(cell.trim(), false).is_some();
    let cells = || rows.iter().flatten();
    cells().filter(|c| decimal(c)).count() > cells().filter(|c| point(c)).count()
}

/// What a column holds by its name, or else by its cells.
fn column_of(name: &str, cells: &[&str], decimal_comma: bool) -> ColumnUse {
    let words = words_of(name);
    let has = |wanted: &[&str]| wanted.iter().all(|w| words.iter().any(|word| word == w));
    if let Some(stem) = name.trim().strip_suffix("_from")
        && let Ok(quantity) = Quantity::from_key("column", stem)
    {
        return ColumnUse::From { quantity };
    }
    if let Ok((quantity, unit)) = Quantity::from_field(name.trim()) {
        return ColumnUse::Value { quantity, unit };
    }
    if has(&["implement"]) || has(&["stick"]) {
        return ColumnUse::Implement;
    }
    if has(&["swing", "side"]) || words == ["handed"] {
        return ColumnUse::SwingSide;
    }
    if has(&["position"]) || has(&["stance"]) {
        return ColumnUse::Position;
    }
    let efforts = cells.iter().filter(|cell| !is_nothing(cell));
    if has(&["effort"]) && efforts.clone().count() > 0 && efforts.clone().all(|c| effort(c).is_ok())
    {
        return ColumnUse::Effort;
    }
    if let Some(quantity) = quantity_of(&words) {
        // A force or a torque may be whole or by the body: its unit tells.
        let whole = quantity.whole();
        if let Some((quantity, unit)) = whole.and_then(|q| Some((q, unit_in(name, q.dimension())?)))
        {
            return ColumnUse::Value { quantity, unit };
        }
        let unit = unit_in(name, quantity.dimension()).or_else(|| {
            let behind = cells
                .iter()
                .filter_map(|c| number(c, decimal_comma))
                .find(|(_, b)| !b.is_empty());
            unit_named(quantity.dimension(), behind?.1)
        });
        let unit = unit.unwrap_or(quantity.dimension().accepted()[0]);
        return ColumnUse::Value { quantity, unit };
    }
    if has(&["club"]) || words == ["clubs"] {
        return ColumnUse::Club;
    }
    if has(&["block"]) || has(&["label"]) || has(&["tag"]) || has(&["drill"]) {
        return ColumnUse::Block;
    }
    if has(&["standing"]) {
        return ColumnUse::Standing;
    }
    if has(&["date"])
        || has(&["day"])
        || has(&["datetime"])
        || has(&["timestamp"])
        || has(&["hit", "at"])
    {
        return ColumnUse::Date;
    }
    if has(&["time"]) {
        let day = cells
            .first()
            .is_some_and(|c| cells::date(c, DateStyle::DayFirst).is_ok());
        return if day {
            ColumnUse::Date
        } else {
            ColumnUse::Time
        };
    }
    by_cells(cells)
}

/// What a column whose name says nothing holds by its cells: dates, clubs, or nothing read.
fn by_cells(cells: &[&str]) -> ColumnUse {
    let most = |is: &dyn Fn(&str) -> bool| {
        !cells.is_empty() && cells.iter().filter(|c| is(c)).count() * 10 >= cells.len() * 8
    };
    if most(&|c| {
        cells::date(c, DateStyle::DayFirst).is_ok() || cells::date(c, DateStyle::MonthFirst).is_ok()
    }) {
        return ColumnUse::Date;
    }
    if most(&|c| {
        cells::club(c).is_some() && number(c, false).is_none_or(|(_, behind)| !behind.is_empty())
    }) {
        return ColumnUse::Club;
    }
    ColumnUse::Unused
}

/// The words of a name in lower case, without units: "Club Speed (mph)" → club, speed.
fn words_of(name: &str) -> Vec<String> {
    let bare = name.split(['(', '[']).next().unwrap_or(name);
    let mut spaced = String::new();
    let mut lower = false;
    for c in bare.chars() {
        if c.is_uppercase() && lower {
            spaced.push(' ');
        }
        lower = c.is_lowercase();
        spaced.push(c);
    }
    spaced
        .to_lowercase()
        .split(|c: char| !c.is_alphanumeric())
        .filter(|w| !w.is_empty())
        .map(str::to_owned)
        .collect()
}

fn quantity_of(words: &[String]) -> Option<Quantity> {
    use Quantity as Q;
    let has = |wanted: &[&str]| wanted.iter().all(|w| words.iter().any(|word| word == w));
    // The more particular names first.
    let table: [(&[&str], Q); 51] = [
        (&["hand", "speed"], Q::HandSpeed),
        (&["club", "speed"], Q::ClubSpeed),
        (&["clubhead", "speed"], Q::ClubSpeed),
        (&["clubspeed"], Q::ClubSpeed),
        (&["swing", "speed"], Q::ClubSpeed),
        (&["head", "speed"], Q::ClubSpeed),
        (&["ball", "speed"], Q::BallSpeed),
        (&["ballspeed"], Q::BallSpeed),
        (&["smash"], Q::SmashFactor),
        (&["efficiency"], Q::SmashFactor),
        (&["attack"], Q::AngleOfAttack),
        (&["aoa"], Q::AngleOfAttack),
        (&["club", "path"], Q::ClubPath),
        (&["path"], Q::ClubPath),
        (&["face", "angle"], Q::FaceAngle),
        (&["face"], Q::FaceAngle),
        (&["dynamic", "loft"], Q::DynamicLoft),
        (&["launch", "direction"], Q::LaunchDirection),
        (&["horizontal", "launch"], Q::LaunchDirection),
        (&["launch", "h"], Q::LaunchDirection),
        (&["azimuth"], Q::LaunchDirection),
        (&["launch"], Q::LaunchAngle),
        (&["spin", "axis"], Q::SpinAxis),
        (&["axis"], Q::SpinAxis),
        (&["spin", "rate"], Q::SpinRate),
        (&["total", "spin"], Q::SpinRate),
        (&["backspin"], Q::SpinRate),
        (&["spin"], Q::SpinRate),
        (&["carry", "side"], Q::Side),
        (&["carry", "deviation"], Q::Side),
        (&["side"], Q::Side),
        (&["offline"], Q::Side),
        (&["lateral"], Q::Side),
        (&["carry"], Q::Carry),
        (&["total"], Q::Total),
        (&["apex"], Q::Apex),
        (&["height"], Q::Apex),
        (&["lead", "force"], Q::VerticalForceLead),
        (&["trail", "force"], Q::VerticalForceTrail),
        (&["force", "both"], Q::VerticalForce),
        (&["peak", "force"], Q::VerticalForce),
        (&["vertical", "force"], Q::VerticalForce),
        (&["ground", "force"], Q::VerticalForce),
        (&["landing"], Q::LandingAngle),
        (&["descent"], Q::LandingAngle),
        (&["hang"], Q::HangTime),
        (&["flight", "time"], Q::HangTime),
        (&["air", "time"], Q::HangTime),
        (&["impact", "toe"], Q::ImpactToe),
        (&["impact", "high"], Q::ImpactHigh),
        (&["torque"], Q::Torque),
    ];
    table
        .iter()
        .find(|(wanted, _)| has(wanted))
        .map(|(_, q)| *q)
}

/// The unit in a name: "Carry (yd)", "carry_yd", "Carry [m]".
fn unit_in(name: &str, dimension: Dimension) -> Option<Unit> {
    let bracketed = name
        .split(['(', '['])
        .nth(1)
        .and_then(|rest| rest.split([')', ']']).next());
    let last = name.rsplit([' ', '_', ',', '-']).next();
    bracketed
        .and_then(|text| unit_named(dimension, text))
        .or_else(|| unit_named(dimension, last?))
}

/// A value that stands in two columns is taken from the first.
fn leave_out_doubles(columns: &mut [ColumnUse], names: &[String], remarks: &mut Vec<String>) {
    for i in 0..columns.len() {
        let same = |a: &ColumnUse, b: &ColumnUse| match (a, b) {
            (ColumnUse::Value { quantity: a, .. }, ColumnUse::Value { quantity: b, .. }) => a == b,
            (ColumnUse::Unused, _) => false,
            (a, b) => a == b,
        };
        if let Some(first) = (0..i).find(|j| same(&columns[i], &columns[*j])) {
            remarks.push(format!(
                "Columns {} and {} (“{}” and “{}”) seem to hold the same; the second is left unused.",
                first + 1,
                i + 1,
                names[first],
                names[i]
            ));
            columns[i] = ColumnUse::Unused;
        }
    }
}

/// Units of columns whose name tells none, by the size of their numbers.
fn guess_units(
    columns: &mut [ColumnUse],
    names: &[String],
    medians: &[Option<f64>],
    remarks: &mut Vec<String>,
) {
    let speeds = guess_speeds(columns, names, medians, remarks);
    let imperial = speeds.is_none_or(|unit| unit.size() == MPH);
    for (i, column) in columns.iter_mut().enumerate() {
        let ColumnUse::Value { quantity, unit } = column else {
            continue;
        };
        let dimension = quantity.dimension();
        if !matches!(dimension, Dimension::Distance | Dimension::Height)
            || tells_unit(&names[i], dimension)
        {
            continue;
        }
        let high = medians[i].is_some_and(|m| m > 55.0);
        *unit = match (imperial, dimension) {
            (true, Dimension::Height) if high => Unit::Ft,
            (true, _) => Unit::Yd,
            (false, _) => Unit::M,
        };
        remarks.push(format!(
            "“{}” names no unit; it is taken as {}, as the speeds suggest.",
            names[i],
            unit.symbol()
        ));
    }
}

/// Whether a column's name tells the unit of its numbers.
fn tells_unit(name: &str, dimension: Dimension) -> bool {
    unit_in(name, dimension).is_some() || Quantity::from_field(name.trim()).is_ok()
}

/// Units of speeds whose name tells none; returns the unit of the first speed.
fn guess_speeds(
    columns: &mut [ColumnUse],
    names: &[String],
    medians: &[Option<f64>],
    remarks: &mut Vec<String>,
) -> Option<Unit> {
    let mut speeds = None;
    for (i, column) in columns.iter_mut().enumerate() {
        let ColumnUse::Value { quantity, unit } = column else {
            continue;
        };
        if quantity.dimension() != Dimension::Speed {
            continue;
        }
        if let (false, Some(median)) = (tells_unit(&names[i], Dimension::Speed), medians[i]) {
            let typical = match quantity {
                Quantity::BallSpeed => 60.0,
                Quantity::HandSpeed => 9.0,
                _ => 42.0,
            };
            // The unit in which the median is nearest to what golfers do.
            let off = |unit: Unit| (unit.to_internal(median) / typical).ln().abs();
            if let Some(best) = [Unit::Mph, Unit::Mps, Unit::Kmh]
                .into_iter()
                .min_by(|a, b| off(*a).total_cmp(&off(*b)))
            {
                *unit = best;
                remarks.push(format!(
                    "“{}” names no unit; its numbers look like {}.",
                    names[i],
                    best.symbol()
                ));
            }
        }
        speeds.get_or_insert(*unit);
    }
    speeds
}

fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut values: Vec<f64> = values.map(f64::abs).collect();
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}

/// Month first only where no other reading fits.
fn date_style<'a>(cells: impl Iterator<Item = &'a str>) -> DateStyle {
    let cells: Vec<&str> = cells.collect();
    let fit = |style| {
        cells
            .iter()
            .filter(|c| cells::date(c, style).is_ok())
            .count()
    };
    if fit(DateStyle::MonthFirst) > fit(DateStyle::DayFirst) {
        DateStyle::MonthFirst
    } else {
        DateStyle::DayFirst
    }
}
