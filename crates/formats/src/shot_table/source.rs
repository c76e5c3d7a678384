//! The cells of a file, row by row, whatever it is written in.
//!
//! Text goes through as it arrives. A workbook and JSON are held whole and therefore bounded.

use super::layout::{MOST_COLUMNS, Source};
use super::line::Line;
use super::workbook::{is_workbook, sheet_lines};
use csv::{ReaderBuilder, StringRecord};
use encoding_rs_io::DecodeReaderBytesBuilder;
use serde_json::value::RawValue;
use serde_json::{Map, Value};
use std::cell::Cell;
use std::collections::{BTreeMap, HashMap};
use std::io::Read;
use std::rc::Rc;
use tally_core::vocabulary::invalid::Invalid;

/// Longest row of a text, bytes: beyond it a quote was not closed.
pub const LONGEST_ROW: u64 = 1 << 20;
/// Largest workbook, JSON or table turned on its side, bytes: they are held whole.
pub const HELD_WHOLE: usize = 24 << 20;

/// Why a table cannot be read further.
#[derive(Debug, thiserror::Error)]
pub enum RowsError {
    /// A row has no end.
    #[error(
        "row {row}: a quote is not closed within a million characters; close it, or take it out, and import the file again"
    )]
    NeverEnds {
        /// The row, from 1.
        row: u64,
    },
    /// The file broke off.
    #[error("row {row}: the file could not be read further: {source}")]
    Broken {
        /// The row, from 1.
        row: u64,
        /// Why.
        source: std::io::Error,
    },
    /// The file is not what its layout says.
    #[error("{0}")]
    Unreadable(Invalid),
}

/// Whether a file is one that is held whole, by its first bytes: a workbook or JSON.
pub fn is_held_whole(head: &[u8]) -> bool {
    is_workbook(head) || is_json(head)
}

/// Whether it begins as JSON does.
pub(super) fn is_json(head: &[u8]) -> bool {
    let head = head.strip_prefix(b"\xef\xbb\xbf").unwrap_or(head);
    let mut plain = head.iter().filter(|byte| !byte.is_ascii_whitespace());
    match plain.next() {
        Some(b'{') => matches!(plain.next(), Some(b'"' | b'}')),
        Some(b'[') => matches!(plain.next(), Some(b'{' | b']' | b'[')),
        _ => false,
    }
}

/// The rows of a file in order.
pub struct Lines<R: Read>(Inner<R>);

enum Inner<R: Read> {
    Text(Box<TextLines<R>>),
    Held(std::vec::IntoIter<Line>),
    Ended,
}

impl<R: Read> Lines<R> {
    /// Begins to read.
    ///
    /// # Errors
    /// [`RowsError`] when the file is not what `source` says, or too large to be held.
    pub fn open(input: R, source: &Source, across: bool) -> Result<Self, RowsError> {
        let lines = match source {
            Source::Text {
                encoding,
                delimiter,
            } => {
                let lines = TextLines::new(input, encoding, *delimiter);
                if !across {
                    return Ok(Self(Inner::Text(Box::new(lines))));
                }
                held_text(lines)?
            }
            Source::Sheet { name } => {
                sheet_lines(&held(input)?, name).map_err(RowsError::Unreadable)?
            }
            Source::Json => json_lines(&held(input)?).map_err(RowsError::Unreadable)?,
        };
        let lines = if across { turned(&lines)? } else { lines };
        Ok(Self(Inner::Held(lines.into_iter())))
    }

    /// Rows that were read before.
    pub fn held(lines: Vec<Line>) -> Self {
        Self(Inner::Held(lines.into_iter()))
    }

    /// The next row; `None` at the end.
    ///
    /// # Errors
    /// [`RowsError`] when the rest cannot be read.
    pub fn next_line(&mut self) -> Option<Result<Line, RowsError>> {
        let next = match &mut self.0 {
            Inner::Text(lines) => lines.next_line(),
            Inner::Held(lines) => lines.next().map(Ok),
            Inner::Ended => None,
        };
        if !matches!(next, Some(Ok(_))) {
            self.0 = Inner::Ended;
        }
        next
    }
}

/// Text from bytes of an encoding; a byte-order mark is taken off.
pub(super) fn decoded<R: Read>(
    input: R,
    encoding: &str,
) -> encoding_rs_io::DecodeReaderBytes<R, Vec<u8>> {
    let known = encoding_rs::Encoding::for_label(encoding.as_bytes());
    DecodeReaderBytesBuilder::new()
        .encoding(Some(known.unwrap_or(encoding_rs::UTF_8)))
        .bom_override(true)
        .build(input)
}

/// Counts what was read since the last row, so that a quote that is never closed does
/// not fill the memory.
struct Watched<R: Read> {
    inner: Spaced<encoding_rs_io::DecodeReaderBytes<R, Vec<u8>>>,
    since_row: Rc<Cell<u64>>,
}

/// Puts a blank into blank lines: the reader passes over empty ones, and people count them.
struct Spaced<R: Read> {
    inner: R,
    /// What was read and is to be given out, from here on.
    held: Vec<u8>,
    given: usize,
    begins_line: bool,
    quoted: bool,
}

impl<R: Read> Spaced<R> {
    fn new(inner: R) -> Self {
        Self {
            inner,
            held: Vec::new(),
            given: 0,
            begins_line: true,
            quoted: false,
        }
    }

    fn refill(&mut self) -> std::io::Result<()> {
        let mut piece = [0; 32 << 10];
        let read = self.inner.read(&mut piece)?;
        self.held.clear();
        self.given = 0;
        for byte in &piece[..read] {
            if self.begins_line && !self.quoted && matches!(byte, b'\n' | b'\r') {
                self.held.push(b' ');
            }
            self.quoted ^= *byte == b'"';
            self.begins_line = *byte == b'\n';
            self.held.push(*byte);
        }
        Ok(())
    }
}

impl<R: Read> Read for Spaced<R> {
    fn read(&mut self, buffer: &mut [u8]) -> std::io::Result<usize> {
        if self.given == self.held.len() {
            self.refill()?;
        }
        let rest = &self.held[self.given..];
        let most = rest.len().min(buffer.len());
        buffer[..most].copy_from_slice(&rest[..most]);
        self.given += most;
        Ok(most)
    }
}

impl<R: Read> Read for Watched<R> {
    fn read(&mut self, buffer: &mut [u8]) -> std::io::Result<usize> {
        if self.since_row.get() > LONGEST_ROW {
            return Err(std::io::ErrorKind::InvalidData.into());
        }
        let read = self.inner.read(buffer)?;
        self.since_row.set(self.since_row.get() + read as u64);
        Ok(read)
    }
}

struct TextLines<R: Read> {
    reader: csv::Reader<Watched<R>>,
    since_row: Rc<Cell<u64>>,
    row: u64,
}

impl<R: Read> TextLines<R> {
    fn new(input: R, encoding: &str, delimiter: char) -> Self {
        let since_row = Rc::new(Cell::new(0));
        let watched = Watched {
            inner: Spaced::new(decoded(input, encoding)),
            since_row: Rc::clone(&since_row),
        };
        let reader = ReaderBuilder::new()
            .delimiter(delimiter as u8)
            .has_headers(false)
            .flexible(true)
            .from_reader(watched);
        Self {
            reader,
            since_row,
            row: 0,
        }
    }

    fn next_line(&mut self) -> Option<Result<Line, RowsError>> {
        let mut cells = StringRecord::new();
        match self.reader.read_record(&mut cells) {
            Ok(false) => None,
            Ok(true) => {
                self.since_row.set(0);
                self.row += 1;
                Some(Ok(Line {
                    row: self.row,
                    cells,
                }))
            }
            Err(error) => Some(Err(self.broken(error))),
        }
    }

    fn broken(&self, error: csv::Error) -> RowsError {
        let row = self.row + 1;
        if self.since_row.get() > LONGEST_ROW {
            return RowsError::NeverEnds { row };
        }
        let source = match error.into_kind() {
            csv::ErrorKind::Io(source) => source,
            other => std::io::Error::other(format!("{other:?}")),
        };
        RowsError::Broken { row, source }
    }
}

/// All lines of a text that is turned on its side.
fn held_text<R: Read>(mut lines: TextLines<R>) -> Result<Vec<Line>, RowsError> {
    let (mut all, mut bytes) = (Vec::new(), 0);
    while let Some(line) = lines.next_line() {
        let line = line?;
        bytes += line.cells.as_slice().len();
        if bytes > HELD_WHOLE {
            return Err(too_large());
        }
        all.push(line);
    }
    Ok(all)
}

/// A table with its columns as rows.
pub(super) fn turned(lines: &[Line]) -> Result<Vec<Line>, RowsError> {
    let width = lines.iter().map(|line| line.cells.len()).max().unwrap_or(0);
    if width.saturating_mul(lines.len()) > HELD_WHOLE / 4 {
        return Err(too_large());
    }
    let column = |i: usize| Line {
        row: i as u64 + 1,
        cells: lines
            .iter()
            .map(|line| line.cells.get(i).unwrap_or(""))
            .collect(),
    };
    Ok((0..width).map(column).collect())
}

fn too_large() -> RowsError {
    RowsError::Unreadable(too_much())
}

fn too_much() -> Invalid {
    let most = format!("{} MB", HELD_WHOLE >> 20);
    let problem = format!("is larger than {most}, the most of a file that must be held whole");
    let remedy = "save it as CSV, or in parts";
    Invalid::new("file", "", problem, remedy)
}

fn held(input: impl Read) -> Result<Vec<u8>, RowsError> {
    let mut bytes = Vec::new();
    let most = HELD_WHOLE as u64 + 1;
    let read = input.take(most).read_to_end(&mut bytes);
    read.map_err(|source| RowsError::Broken { row: 1, source })?;
    if bytes.len() > HELD_WHOLE {
        return Err(too_large());
    }
    Ok(bytes)
}

/// JSON as a table: a column for each name, in the order they first come, or rows as they stand.
fn json_lines(bytes: &[u8]) -> Result<Vec<Line>, Invalid> {
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    match json_items(bytes)? {
        Items::Shots(shots) => lines_of_shots(&shots),
        Items::Rows(rows) => lines_of_rows(&rows),
        Items::Columns(columns) => lines_of_columns(&columns),
    }
}

/// What a JSON text lists, each still as it is written: a tree of all would fill the memory.
enum Items<'a> {
    /// Objects.
    Shots(Vec<&'a RawValue>),
    /// Lists of cells, of which the first names the columns.
    Rows(Vec<&'a RawValue>),
    /// Lists of cells by the name of their column.
    Columns(BTreeMap<String, &'a RawValue>),
}

fn not_listed(at: String, problem: impl Into<String>) -> Invalid {
    let remedy = "send a list of shots, or one shot a line";
    Invalid::new("file", at, problem, remedy)
}

fn no_json(at: &str, error: &serde_json::Error) -> Invalid {
    let at = match at {
        "" => format!("line {}, column {}", error.line(), error.column()),
        at => at.to_owned(),
    };
    not_listed(at, format!("is not JSON: {error}"))
}

/// What a text begins with, and what stands within that first.
fn begins(json: &RawValue) -> [u8; 2] {
    let mut bytes = json
        .get()
        .bytes()
        .filter(|byte| !byte.is_ascii_whitespace());
    [bytes.next().unwrap_or(0), bytes.next().unwrap_or(0)]
}

fn listed(value: &RawValue) -> Result<Vec<&RawValue>, Invalid> {
    serde_json::from_str(value.get()).map_err(|error| no_json("", &error))
}

/// A list, a list within an object, a table by its columns and its data, or an object a line.
fn json_items(bytes: &[u8]) -> Result<Items<'_>, Invalid> {
    let mut shots = Vec::new();
    for value in serde_json::Deserializer::from_slice(bytes).into_iter::<&RawValue>() {
        let value = value.map_err(|error| no_json("", &error))?;
        match begins(value) {
            [b'[', b'['] => return Ok(Items::Rows(listed(value)?)),
            [b'[', _] => shots.extend(listed(value)?),
            [b'{', _] => {
                let held: BTreeMap<String, &RawValue> =
                    serde_json::from_str(value.get()).map_err(|error| no_json("", &error))?;
                if let (Some(columns), Some(data)) = (held.get("columns"), held.get("data"))
                    && begins(data) == *b"[["
                {
                    let rows =
                        std::iter::once(Ok(*columns)).chain(listed(data)?.into_iter().map(Ok));
                    return Ok(Items::Rows(rows.collect::<Result<_, Invalid>>()?));
                }
                let lists_of_cells = |within: &&RawValue| {
                    let [first, second] = begins(within);
                    first == b'[' && !matches!(second, b'[' | b'{')
                };
                if held.len() > 1 && held.values().all(lists_of_cells) {
                    return Ok(Items::Columns(held));
                }
                let numbered = |(name, within): (&String, &&RawValue)| {
                    name.bytes().all(|byte| byte.is_ascii_digit()) && begins(within)[0] == b'{'
                };
                if held.len() > 1 && held.iter().all(numbered) {
                    let mut by_number: Vec<(u64, &RawValue)> = held
                        .iter()
                        .map(|(name, within)| (name.parse().unwrap_or(u64::MAX), *within))
                        .collect();
                    by_number.sort_by_key(|(number, _)| *number);
                    shots.extend(by_number.into_iter().map(|(_, within)| within));
                    continue;
                }
                let mut lists = held.values().filter(|within| begins(within) == *b"[{");
                match (lists.next(), lists.next()) {
                    (Some(only), None) => shots.extend(listed(only)?),
                    _ => shots.push(value),
                }
            }
            _ => shots.push(value),
        }
    }
    // An object alone may hold its shots deeper within.
    if let [only] = shots[..]
        && let Some(list) = only_list_within(only, NESTED)?
    {
        return Ok(Items::Shots(listed(list)?));
    }
    Ok(Items::Shots(shots))
}

/// How deep a list of shots may lie.
const NESTED: usize = 4;

/// The only list of objects within the objects of an object; nothing where there are none or
/// several.
fn only_list_within(value: &RawValue, deep: usize) -> Result<Option<&RawValue>, Invalid> {
    if begins(value)[0] != b'{' || deep == 0 {
        return Ok(None);
    }
    let held: BTreeMap<String, &RawValue> =
        serde_json::from_str(value.get()).map_err(|error| no_json("", &error))?;
    let mut found = None;
    for within in held.into_values() {
        let list = match begins(within) {
            [b'[', b'{'] => Some(within),
            _ => only_list_within(within, deep - 1)?,
        };
        if list.is_some() && found.is_some() {
            return Ok(None);
        }
        found = found.or(list);
    }
    Ok(found)
}

fn lines_of_shots(shots: &[&RawValue]) -> Result<Vec<Line>, Invalid> {
    let mut names: Vec<String> = Vec::new();
    let mut at = HashMap::new();
    let mut rows: Vec<Vec<String>> = Vec::new();
    for (nth, shot) in (1..).zip(shots) {
        let place = format!("item {nth}");
        if begins(shot)[0] != b'{' {
            return Err(not_listed(place, "is not a shot with names"));
        }
        let shot: Map<String, Value> =
            serde_json::from_str(shot.get()).map_err(|error| no_json(&place, &error))?;
        let mut row = vec![String::new(); names.len()];
        let mut put = |name: String, cell: String| {
            let place = *at.entry(name.clone()).or_insert_with(|| {
                names.push(name);
                names.len() - 1
            });
            if row.len() <= place {
                row.resize(place + 1, String::new());
            }
            row[place] = cell;
        };
        flatten("", &shot, &mut put);
        if names.len() > MOST_COLUMNS {
            let remedy = format!("keep {MOST_COLUMNS} at most");
            return Err(Invalid::new(
                "file",
                names.len(),
                "names are too many",
                remedy,
            ));
        }
        rows.push(row);
    }
    rows.insert(0, names);
    numbered(rows)
}

fn lines_of_rows(rows: &[&RawValue]) -> Result<Vec<Line>, Invalid> {
    let cells = rows.iter().zip(1..);
    let cells = cells.map(|(row, nth)| cells_of(row, &format!("item {nth}")));
    numbered(cells.collect::<Result<_, Invalid>>()?)
}

fn cells_of(list: &RawValue, place: &str) -> Result<Vec<String>, Invalid> {
    let text = |cell: Value| match cell {
        Value::Null => String::new(),
        Value::String(text) => text,
        other => other.to_string(),
    };
    let cells: Vec<Value> =
        serde_json::from_str(list.get()).map_err(|error| no_json(place, &error))?;
    Ok(cells.into_iter().map(text).collect())
}

fn lines_of_columns(columns: &BTreeMap<String, &RawValue>) -> Result<Vec<Line>, Invalid> {
    let mut all = Vec::new();
    for (name, list) in columns {
        let mut cells = cells_of(list, name)?;
        cells.insert(0, name.clone());
        all.push(cells);
    }
    let lines = turned(&numbered(all)?);
    lines.map_err(|_| too_much())
}

/// Rows with their numbers, all as wide as the widest.
fn numbered(rows: Vec<Vec<String>>) -> Result<Vec<Line>, Invalid> {
    let width = rows.iter().map(Vec::len).max().unwrap_or(0);
    // A name in one of a million items is a cell in each.
    if width.saturating_mul(rows.len()) > HELD_WHOLE / 4 {
        return Err(too_much());
    }
    let lines = rows.into_iter().zip(1..).map(|(mut cells, row)| {
        cells.resize(width, String::new());
        Line {
            row,
            cells: cells.into(),
        }
    });
    Ok(lines.collect())
}

/// Names within names become one name; a value with its unit one cell.
fn flatten(before: &str, object: &Map<String, Value>, put: &mut impl FnMut(String, String)) {
    for (name, value) in object {
        let name = if before.is_empty() {
            name.clone()
        } else {
            format!("{before} {name}")
        };
        match value {
            Value::Object(inner) => match with_unit(inner) {
                Some(cell) => put(name, cell),
                None => flatten(&name, inner, put),
            },
            Value::Null => put(name, String::new()),
            Value::String(text) => put(name, text.clone()),
            other => put(name, other.to_string()),
        }
    }
}

fn with_unit(object: &Map<String, Value>) -> Option<String> {
    let value = object.get("value")?;
    let unit = object
        .get("unit")
        .or_else(|| object.get("units"))?
        .as_str()?;
    (object.len() == 2).then(|| match value {
        Value::String(text) => format!("{text} {unit}"),
        other => format!("{other} {unit}"),
    })
}
