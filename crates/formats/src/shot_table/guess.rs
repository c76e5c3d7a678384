//! What a table is, from its head: how it is written and what its columns hold.

use super::grid::{Grid, LOOKED_AT, is_units};
use super::layout::{Alike, ColumnUse, DateStyle, Layout, MOST_COLUMNS, Source};
use super::line::Line;
use super::names::{Says, is_foreign, says};
use super::numbers::{Marks, is_nothing, number};
use super::source::{is_json, turned};
use super::workbook::{Sheet, is_packed, is_workbook, sheets};
use super::{cells, clubs, dates, units};
use chardetng::{EncodingDetector, Iso2022JpDetection, Utf8Detection};
use chrono::NaiveDate;
use csv::{ReaderBuilder, StringRecord};
use std::collections::{BTreeMap, BTreeSet};
use std::io::Read;
use tally_core::shots::reading::Provenance;
use tally_core::vocabulary::characters::kept;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Unit;

/// Rows among which the header is looked for.
const HEADER_WITHIN: usize = 60;
/// Sheets of a workbook that are looked at.
const SHEETS: usize = 40;

/// Proposes how a file is to be read, from its first bytes; all of them where it is one that is
/// held whole. Dates are read so that none is after `today` where they can be.
///
/// # Errors
/// [`Invalid`] for an empty file, one with a header alone, and one that is no table.
pub fn guess(head: &[u8], today: NaiveDate) -> Result<Layout, Invalid> {
    if is_packed(head) {
        let remedy = "unpack it and choose the table that is in it, or export the table as CSV or as a workbook";
        let problem = "is an archive of other files";
        return Err(Invalid::new("file", "", problem, remedy));
    }
    if head.starts_with(&[0xFF, 0xFE, 0, 0]) || head.starts_with(&[0, 0, 0xFE, 0xFF]) {
        let remedy = "save it as UTF-8, or as a workbook";
        return Err(Invalid::new("file", "", "is written as UTF-32", remedy));
    }
    if let Some(other) = something_else(head) {
        let remedy = "open it in a spreadsheet and save it as CSV or as a workbook";
        let problem = format!("is {other}, whatever its name says");
        return Err(Invalid::new("file", "", problem, remedy));
    }
    let (source, grid) = opened(head)?;
    let blank = |line: &Line| line.cells.iter().all(|cell| cell.trim().is_empty());
    if grid.lines.iter().all(blank) {
        let remedy = "choose a file with a row for each shot";
        return Err(Invalid::new("file", "", "is empty", remedy));
    }
    let upright = laid_out(&grid, source.clone());
    if grid.width() == 1 && matches!(source, Source::Text { .. }) && upright.header_row == 0 {
        let first = grid.lines.first().and_then(|line| line.cells.get(0));
        let problem = "has nothing between its cells that parts them";
        let remedy = "save it with commas, semicolons or tabs between the cells, or as a workbook";
        return Err(Invalid::new(
            "file",
            kept(first.unwrap_or("")),
            problem,
            remedy,
        ));
    }
    let (layout, grid) = match across(&grid, &source, &upright) {
        Some((turned, grid)) => (filled(turned, &grid, today)?, grid),
        None => (filled(upright, &grid, today)?, grid),
    };
    if grid.shots(&layout).is_empty() && layout.header_row > 0 {
        let problem = "holds no shot: below its names stand sums, headings or names again";
        let remedy = "choose a file with a row for each shot";
        return Err(Invalid::new("file", "", problem, remedy));
    }
    match in_another_shape(&grid, &layout) {
        Some(why) => Err(why),
        None => Ok(layout),
    }
}

/// Why no row of a table is a shot, where its shape tells: a value in each row, or tables beside
/// each other.
fn in_another_shape(grid: &Grid, layout: &Layout) -> Option<Invalid> {
    if layout.columns.iter().any(ColumnUse::holds_values) {
        return None;
    }
    let rows = grid.shots(layout);
    let names = grid.names(layout);
    let is_value = |cell: &&str| match says(cell, None) {
        Says::Holds(held) => held.holds_values(),
        Says::WithoutUnit(_) | Says::Either(..) => true,
        _ => false,
    };
    let names_values = |i: &usize| {
        let told = super::grid::told(&rows, *i);
        let values: Vec<&&str> = told.iter().filter(|cell| is_value(cell)).collect();
        let kinds: BTreeSet<&&str> = values.iter().copied().collect();
        kinds.len() > 1 && kinds.len() < values.len() && values.len() * 10 >= told.len() * 8
    };
    if let Some(at) = (0..layout.columns.len()).find(names_values) {
        let problem = "names a value in each row, where a row has to hold a whole shot";
        let remedy = "give each value a column of its own, as a pivot table does";
        return Some(Invalid::new("file", names[at].as_str(), problem, remedy));
    }
    // Names that stand twice, under a heading each.
    let over = grid
        .lines
        .iter()
        .find(|line| line.row + 1 == layout.header_row)?;
    let header = &grid.header(layout)?.cells;
    let values: Vec<&str> = header.iter().filter(|cell| is_value(cell)).collect();
    let twice = values.iter().collect::<BTreeSet<_>>().len() < values.len();
    let mut beside = over.cells.iter().map(str::trim).collect::<Vec<_>>();
    beside.retain(|cell| !cell.is_empty());
    (twice && beside.len() > 1).then(|| {
        let problem = "stand beside each other, each with columns of its own";
        let remedy = "put their shots below each other, with a column for what they differ in, or save each as a file";
        Invalid::new("file", beside.join(", "), problem, remedy)
    })
}

/// What it is where it is no table: a page of HTML, which some programs save under a workbook's
/// name, and what else people take for one.
fn something_else(head: &[u8]) -> Option<&'static str> {
    const BEGINNINGS: [(&str, &[&str]); 5] = [
        (
            "a web page",
            &["<html", "<!doctype html", "<table", "<meta", "<head"],
        ),
        ("XML", &["<?xml", "<shots", "<session"]),
        ("a PDF", &["%pdf-"]),
        ("a text document", &["{\\rtf"]),
        ("a picture", &["\u{fffd}png\r\n", "gif8"]),
    ];
    let text: String = String::from_utf8_lossy(&head[..head.len().min(1024)])
        .chars()
        .filter(|c| *c != '\0')
        .collect();
    let text = text.to_ascii_lowercase();
    let begins = text.trim_start_matches(['\u{feff}', ' ', '\r', '\n', '\t']);
    let marked = begins.trim_start_matches('\u{fffd}');
    let found = BEGINNINGS.iter().find(|(_, all)| {
        all.iter()
            .any(|tag| begins.starts_with(tag) || marked.starts_with(tag))
    });
    found.map(|(what, _)| *what)
}

/// How the file is written, with its first rows.
fn opened(head: &[u8]) -> Result<(Source, Grid), Invalid> {
    if is_workbook(head) {
        return best_sheet(head);
    }
    let source = if is_json(head) {
        Source::Json
    } else {
        let encoding = encoding_of(head);
        let mut text = String::new();
        // Decoding replaces what it cannot read and so cannot fail.
        let _ = super::source::decoded(head, &encoding).read_to_string(&mut text);
        Source::Text {
            delimiter: delimiter_of(&text),
            encoding,
        }
    };
    let grid = Grid::read(head, &source, false)?;
    Ok((source, grid))
}

/// The sheet whose columns are known best; the first of those that are alike.
fn best_sheet(head: &[u8]) -> Result<(Source, Grid), Invalid> {
    let known = |sheet: &Sheet| {
        let first = sheet.lines.iter().take(HEADER_WITHIN);
        let known = first.map(|line| known_in(&line.cells)).max();
        known.unwrap_or(0) * 10 + usize::from(!sheet.lines.is_empty())
    };
    let all = sheets(head, SHEETS, LOOKED_AT)?;
    // Of several that are alike the last is taken; the first is wanted.
    let best = all.into_iter().rev().max_by_key(known).ok_or_else(|| {
        let problem = "is a workbook without a sheet that can be read";
        Invalid::new(
            "file",
            "",
            problem,
            "choose a workbook with a sheet of shots",
        )
    })?;
    let Sheet { name, lines } = best;
    Ok((Source::Sheet { name }, Grid { lines }))
}

fn encoding_of(head: &[u8]) -> String {
    // The head may end within a character.
    let whole = match std::str::from_utf8(head) {
        Ok(_) => true,
        Err(error) => error.error_len().is_none(),
    };
    let marked = head.starts_with(&[0xFF, 0xFE]) || head.starts_with(&[0xFE, 0xFF]);
    let nothings = |from: usize| {
        head.iter()
            .skip(from)
            .step_by(2)
            .filter(|byte| **byte == 0)
            .count()
    };
    let [even, odd] = [nothings(0), nothings(1)];
    let half = head.len() / 2;
    if !marked && half > 0 && odd * 4 > half && even * 8 < half {
        return "utf-16le".to_owned();
    }
    if !marked && half > 0 && even * 4 > half && odd * 8 < half {
        return "utf-16be".to_owned();
    }
    if whole || marked {
        return "utf-8".to_owned();
    }
    let mut detector = EncodingDetector::new(Iso2022JpDetection::Deny);
    detector.feed(head, true);
    detector
        .guess(None, Utf8Detection::Deny)
        .name()
        .to_lowercase()
}

/// The character that splits most lines into as many cells as the others.
fn delimiter_of(text: &str) -> char {
    if let Some(told) = text.trim_start_matches('\u{feff}').strip_prefix("sep=") {
        let told = told.chars().next().unwrap_or(',');
        if matches!(told, ',' | ';' | '|' | '\t') {
            return told;
        }
    }
    let score = |delimiter: char| {
        let mut reader = ReaderBuilder::new()
            .delimiter(delimiter as u8)
            .has_headers(false)
            .flexible(true)
            .from_reader(text.as_bytes());
        let mut widths: BTreeMap<usize, usize> = BTreeMap::new();
        let mut rows = 0;
        for row in reader.records().take(HEADER_WITHIN).map_while(Result::ok) {
            *widths.entry(row.len()).or_default() += 1;
            rows += 1;
        }
        let widest = widths.into_iter().filter(|(width, _)| *width > 1);
        let (width, alike) = widest
            .max_by_key(|(width, rows)| (*rows, *width))
            .unwrap_or((0, 0));
        (alike, width, rows)
    };
    // A comma that stands before decimals splits evenly too: what cannot be part of a
    // number is believed first.
    let strong = [';', '\t', '|'].into_iter().max_by_key(|d| score(*d));
    match strong {
        Some(strong) if score(strong).0 * 2 >= score(strong).2 && score(strong).0 > 0 => strong,
        _ => {
            let comma = score(',').0;
            strong.filter(|d| score(*d).0 > comma).unwrap_or(',')
        }
    }
}

/// How many cells of a row are names that are known.
fn known_in(cells: &StringRecord) -> usize {
    let known = |cell: &&str| !matches!(says(cell, None), Says::Nothing) && !cell.trim().is_empty();
    cells.iter().filter(known).count()
}

/// A number with nothing but a unit behind it: "60 %" and "7i" are names.
pub(super) fn is_number(cell: &str) -> bool {
    number(cell.trim(), Marks::Decimals).is_some_and(|(_, behind)| {
        behind.is_empty() || matches!(units::named(behind), Some(units::Told::Unit(_)))
    })
}

/// A layout with the header found and nothing in its columns yet.
fn laid_out(grid: &Grid, source: Source) -> Layout {
    let header = header_of(grid);
    let header_row = header.map_or(0, |at| grid.lines[at].row);
    let below = grid.lines.get(header.map_or(0, |at| at + 1));
    Layout {
        source,
        across: false,
        header_row,
        unit_row: header.is_some() && below.is_some_and(|line| is_units(&line.cells)),
        dates: DateStyle::DayFirst,
        year: None,
        columns: Vec::new(),
        provenance: Provenance::Measured,
        zero_is_missing: false,
        side_letters: false,
        alike: Alike::Each,
        clubs: BTreeMap::new(),
        filled_down: false,
        days_down: false,
        newest_first: false,
        only: None,
        settled: BTreeSet::new(),
    }
}

/// The row with the most names that are known and no numbers; or else the first row of words
/// above numbers that is as wide as they are.
fn header_of(grid: &Grid) -> Option<usize> {
    let among = grid.lines.iter().take(HEADER_WITHIN).enumerate();
    let words_only = |cells: &StringRecord| {
        !cells.iter().any(is_number)
            && cells
                .iter()
                .any(|c| c.chars().any(|c| c.is_alphabetic() || c == '%'))
    };
    let known = among
        .clone()
        .map(|(at, line)| (known_in(&line.cells), at))
        .filter(|(known, at)| {
            let cells = &grid.lines[*at].cells;
            // One known name alone may be the title of a report.
            *known >= 2
                || (*known == 1
                    && (words_only(cells) || counts_up(cells))
                    && numbers_below(grid, *at))
        })
        .max_by_key(|(known, at)| (*known, usize::MAX - at));
    if let Some((_, at)) = known {
        return Some(at);
    }
    among
        .clone()
        .find(|(at, line)| {
            let told = line.cells.iter().filter(|c| !c.trim().is_empty()).count();
            words_only(&line.cells) && told * 2 > grid.width() && numbers_below(grid, *at)
        })
        .map(|(at, _)| at)
        .or_else(|| {
            words_only(&grid.lines[0].cells)
                .then_some(0)
                .filter(|_| grid.lines.len() == 1)
        })
}

/// Whether the numbers of a row are 1, 2, 3 and so on, as those of shots are above their columns.
fn counts_up(cells: &StringRecord) -> bool {
    let numbers: Vec<&str> = cells
        .iter()
        .map(str::trim)
        .filter(|c| is_number(c))
        .collect();
    let counted = |(n, nth): (&&str, u32)| n.parse() == Ok(nth);
    numbers.len() > 1 && numbers.iter().zip(1..).all(counted)
}

fn numbers_below(grid: &Grid, at: usize) -> bool {
    let below = grid.lines.iter().skip(at + 1).take(3);
    below.flat_map(|line| line.cells.iter()).any(is_number)
}

/// The same file read on its side, where its first column names values and no row does.
fn across(here: &Grid, source: &Source, upright: &Layout) -> Option<(Layout, Grid)> {
    let turned = Grid {
        lines: turned(&here.lines).ok()?,
    };
    let known = |grid: &Grid, at: usize| grid.lines.get(at).map_or(0, |line| known_in(&line.cells));
    let of_header = here
        .lines
        .iter()
        .position(|line| line.row == upright.header_row);
    let upright_known = of_header.map_or(0, |at| known(here, at));
    let turned_known = known(&turned, 0);
    // A column of labels below each other: three at least, and more than any row has; or two and
    // nothing else, where no row has any.
    let labels: Vec<&str> = match turned.lines.first() {
        Some(line) => line.cells.iter().skip(1).map(str::trim).collect(),
        None => Vec::new(),
    };
    let told = labels.iter().filter(|label| !label.is_empty()).count();
    let two = turned_known == 2 && told == 2 && labels[0] != labels[1] && upright_known == 0;
    let enough = two || (turned_known >= 3 && turned_known > upright_known);
    (enough && turned.lines.len() > 1).then(|| {
        let mut layout = laid_out(&turned, source.clone());
        layout.across = true;
        layout.header_row = 1;
        layout.unit_row = turned
            .lines
            .get(1)
            .is_some_and(|line| is_units(&line.cells));
        (layout, turned)
    })
}

/// The layout with what its columns hold.
pub(super) fn filled(mut layout: Layout, grid: &Grid, today: NaiveDate) -> Result<Layout, Invalid> {
    let header = grid.named(&layout);
    let below: Vec<_> = grid
        .lines
        .iter()
        .filter(|line| line.row > layout.header_row)
        .collect();
    let width = match &header {
        Some(cells) => cells.len(),
        None => grid.width(),
    };
    if width > MOST_COLUMNS {
        let remedy = format!("keep {MOST_COLUMNS} at most");
        return Err(Invalid::new("file", width, "columns are too many", remedy));
    }
    if below
        .iter()
        .all(|line| line.cells.iter().all(|cell| cell.trim().is_empty()))
    {
        let names = header
            .iter()
            .flat_map(|cells| cells.iter())
            .collect::<Vec<_>>()
            .join(", ");
        return Err(Invalid::new(
            "file",
            names,
            "has a header and no rows",
            "choose a file with a row for each shot",
        ));
    }
    layout.columns = vec![ColumnUse::Unused; width];
    let units = grid.units(&layout).map(|line| line.cells.clone());
    let rows: Vec<&StringRecord> = grid
        .shots(&layout)
        .into_iter()
        .map(|line| &line.cells)
        .collect();
    let told = |i: usize| -> Vec<&str> {
        let cells = rows.iter().filter_map(|row| row.get(i)).map(str::trim);
        cells.filter(|cell| !is_nothing(cell)).collect()
    };
    let name = |i: usize| header.as_ref().and_then(|cells| cells.get(i)).unwrap_or("");
    layout.columns = (0..width)
        .map(|i| {
            let unit = units.as_ref().and_then(|cells| cells.get(i));
            column_of(name(i), unit, &told(i), rows.len())
        })
        .collect();
    // Of "Club type" and "Club name" the one counts whose clubs are known.
    let clubs = (0..width).filter(|i| layout.columns[*i] == ColumnUse::Club);
    let clubs: Vec<usize> = clubs.collect();
    let known = |i: &usize| told(*i).iter().filter(|c| clubs::club(c).is_some()).count();
    if let Some(best) = clubs.iter().rev().max_by_key(|i| known(i)) {
        for i in clubs.iter().filter(|i| *i != best) {
            layout.columns[*i] = ColumnUse::Unused;
        }
    }
    for i in 1..width {
        let (before, rest) = layout.columns.split_at_mut(i);
        if !before.iter().any(|other| rest[0].doubles(other)) {
            continue;
        }
        // "10.05.33" beside a day is a time of it.
        let clock = says(name(i), None) == Says::Holds(ColumnUse::Time)
            && most(&told(i), &|cell| dates::time_of(cell).is_some());
        rest[0] = match clock && !before.contains(&ColumnUse::Time) {
            true => ColumnUse::Time,
            false => ColumnUse::Unused,
        };
    }
    // Of "1, 2, 3, Total" the last is what the others come to, and no shot's total.
    let is_total = |i: usize| {
        let total = Quantity::Total;
        let held =
            matches!(layout.columns[i], ColumnUse::Value { quantity, .. } if quantity == total);
        let other = |j: &usize| *j != i && layout.columns[*j] == ColumnUse::Unused;
        let others: Vec<usize> = (0..width).filter(other).collect();
        let value = |row: &StringRecord, j: usize| {
            let told = number(row.get(j).unwrap_or("").trim(), Marks::Decimals);
            told.map(|(value, _)| value)
        };
        let adds_up = |row: &&StringRecord| {
            let parts: Vec<f64> = others.iter().filter_map(|j| value(row, *j)).collect();
            let sum: f64 = parts.iter().sum();
            parts.len() > 1 && value(row, i).is_some_and(|total| (total - sum).abs() < 0.5)
        };
        held && rows.iter().all(adds_up)
    };
    if let Some(i) = (0..width).find(|i| is_total(*i)) {
        layout.columns[i] = ColumnUse::Unused;
    }
    let names: Vec<&str> = (0..width).map(name).collect();
    for i in 0..width {
        if let [quantity] = super::likely::told_by(&layout, &names, i, &told(i))[..] {
            layout.columns[i] = ColumnUse::Units { quantity };
        }
    }
    let dated: Vec<&str> = (0..width)
        .filter(|&i| layout.columns[i] == ColumnUse::Date)
        .flat_map(&told)
        .collect();
    layout.dates = dates::styles(&dated, layout.year, today)[0];
    // In English an S beside a D is a slice, and a D a draw.
    let foreign = header.iter().flatten().any(is_foreign);
    let sided = |i: &usize| match layout.columns[*i] {
        ColumnUse::Value { quantity, .. } => cells::signed(quantity),
        _ => false,
    };
    let sides = (0..width).filter(sided).flat_map(&told);
    layout.side_letters = foreign && cells::tell_sides(sides);
    super::likely::likely_units(&mut layout, grid);
    layout.newest_first = super::order::times_go_back(grid, &layout);
    Ok(layout)
}

/// What a column holds by its name, or else by its cells.
fn column_of(name: &str, unit: Option<&str>, cells: &[&str], rows: usize) -> ColumnUse {
    match says(name, unit) {
        Says::Holds(ColumnUse::Effort) if cells.iter().any(|cell| cells::effort(cell).is_err()) => {
            ColumnUse::Unused
        }
        Says::Holds(ColumnUse::LeftOut | ColumnUse::Counts)
            if cells.iter().any(|cell| cells::yes(cell).is_none()) =>
        {
            ColumnUse::Unused
        }
        // A number that few rows have parts nothing.
        Says::Holds(ColumnUse::Number) if counted(cells) * 10 < rows * 8 => by_cells(name, cells),
        Says::Holds(ColumnUse::Time | ColumnUse::Block) if most(cells, &is_day) => ColumnUse::Date,
        Says::Holds(ColumnUse::Time)
            if most(cells, &|c| dates::time_of(c).is_none() && any_day(c)) =>
        {
            ColumnUse::Date
        }
        // A name of a day above words tells none.
        Says::Holds(ColumnUse::Date) if !cells.is_empty() && !cells.iter().any(|c| any_day(c)) => {
            match most(cells, &|c| dates::time_of(c).is_some()) {
                true => ColumnUse::Time,
                false => by_cells(name, cells),
            }
        }
        // A name of a value above words holds none.
        Says::Holds(held) if held.holds_values() && !cells.is_empty() && !any_number(cells) => {
            by_cells(name, cells)
        }
        Says::Holds(held) => held,
        Says::WithoutUnit(quantity) if any_number(cells) || cells.is_empty() => {
            // A force or a torque may be whole or by the body: the cells tell.
            let either = [Some(quantity), quantity.whole()].into_iter().flatten();
            let behind = cells
                .iter()
                .filter_map(|cell| number(cell, Marks::Decimals));
            let behind = behind
                .map(|(_, behind)| behind)
                .find(|behind| !behind.is_empty());
            let by_cell =
                either.filter_map(|q| Some((q, units::unit_named(q.dimension(), behind?)?)));
            let usual: (_, Unit) = (quantity, quantity.dimension().accepted()[0]);
            let (quantity, unit) = by_cell.into_iter().next().unwrap_or(usual);
            ColumnUse::value(quantity, unit)
        }
        _ => by_cells(name, cells),
    }
}

fn any_number(cells: &[&str]) -> bool {
    cells.iter().any(|cell| {
        let figures = cell
            .chars()
            .any(|c| c.is_ascii_digit() || ('０'..='９').contains(&c));
        figures && dates::time_of(cell).is_none()
    })
}

fn counted(cells: &[&str]) -> usize {
    cells
        .iter()
        .filter(|cell| cell.parse::<u64>().is_ok())
        .count()
}

fn is_day(cell: &str) -> bool {
    cell.parse::<f64>().is_err() && any_day(cell)
}

fn any_day(cell: &str) -> bool {
    DateStyle::ALL
        .iter()
        .any(|style| dates::date(cell, *style).is_ok())
}

fn most(cells: &[&str], is: &dyn Fn(&str) -> bool) -> bool {
    !cells.is_empty() && cells.iter().filter(|c| is(c)).count() * 10 >= cells.len() * 8
}

/// What a column whose name says nothing holds by its cells: dates, clubs, or nothing read.
fn by_cells(name: &str, cells: &[&str]) -> ColumnUse {
    if most(cells, &is_day) {
        return ColumnUse::Date;
    }
    let is_club = |cell: &str| clubs::club(cell).is_some() && cell.chars().count() > 1;
    // A column with another name may be about clubs and still not tell with what was hit.
    if name.trim().is_empty() && most(cells, &is_club) {
        return ColumnUse::Club;
    }
    ColumnUse::Unused
}
