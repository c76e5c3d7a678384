//! The cells of a file, row by row, whatever it is written in.
//!
//! Text goes through as it arrives. A workbook and JSON are held whole and therefore bounded;
//! what a workbook holds is counted before it is unpacked, and nothing in it is ever run.

use super::layout::{MOST_COLUMNS, Source};
use calamine::{Data, Reader as _, Sheets, open_workbook_auto_from_rs};
use csv::{ReaderBuilder, StringRecord};
use encoding_rs_io::DecodeReaderBytesBuilder;
use serde_json::{Map, Value};
use std::cell::Cell;
use std::io::{Cursor, Read};
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::rc::Rc;
use tally_core::vocabulary::invalid::Invalid;

/// Longest row of a text, bytes: beyond it a quote was not closed.
pub const LONGEST_ROW: u64 = 1 << 20;
/// Largest workbook, JSON or table turned on its side, bytes: they are held whole.
pub const HELD_WHOLE: usize = 24 << 20;
/// Most rows of a sheet.
const MOST_ROWS: usize = 2_000_000;
/// Most that a workbook may unpack to, bytes.
const UNPACKED: u64 = 256 << 20;

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

/// Whether it begins as workbooks do: packed, or as the older ones were.
pub(super) fn is_workbook(head: &[u8]) -> bool {
    head.starts_with(b"PK\x03\x04") || head.starts_with(&[0xD0, 0xCF, 0x11, 0xE0])
}

/// Whether it begins as JSON does.
pub(super) fn is_json(head: &[u8]) -> bool {
    let head = head.strip_prefix(b"\xef\xbb\xbf").unwrap_or(head);
    let mut plain = head.iter().filter(|byte| !byte.is_ascii_whitespace());
    match plain.next() {
        Some(b'{') => matches!(plain.next(), Some(b'"' | b'}')),
        Some(b'[') => matches!(plain.next(), Some(b'{' | b']')),
        _ => false,
    }
}

/// A row as it stands in the file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Line {
    /// From 1, blank rows included.
    pub row: u64,
    /// Its cells.
    pub cells: StringRecord,
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
    let most = format!("{} MB", HELD_WHOLE >> 20);
    let problem = format!("is larger than {most}, the most of a file that must be held whole");
    let remedy = "save it as CSV, or in parts";
    RowsError::Unreadable(Invalid::new("file", "", problem, remedy))
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

/// The first rows of a workbook's sheets, with their names; it is opened once.
///
/// # Errors
/// [`Invalid`] when it cannot be read.
pub(super) fn sheets(bytes: &[u8], sheets: usize, rows: usize) -> Result<Vec<Sheet>, Invalid> {
    with_workbook(bytes, |book| {
        let names = book.sheet_names();
        let each = names.into_iter().take(sheets).map(|name| {
            let lines = match rows {
                0 => Vec::new(),
                rows => lines_of(book, &name, rows).unwrap_or_default(),
            };
            Sheet { name, lines }
        });
        Ok(each.collect())
    })
}

/// A sheet of a workbook.
pub(super) struct Sheet {
    /// Its name.
    pub name: String,
    /// Its first rows.
    pub lines: Vec<Line>,
}

fn sheet_lines(bytes: &[u8], name: &str) -> Result<Vec<Line>, Invalid> {
    with_workbook(bytes, |book| lines_of(book, name, MOST_ROWS))
}

fn lines_of(
    book: &mut Sheets<Cursor<&[u8]>>,
    name: &str,
    most: usize,
) -> Result<Vec<Line>, Invalid> {
    let range = book.worksheet_range(name).map_err(|_| {
        let there = book.sheet_names().join(", ");
        Invalid::new(
            "sheet",
            name,
            "is not in the workbook",
            format!("choose from {there}"),
        )
    })?;
    let (first, before) = range.start().unwrap_or((0, 0));
    let lines = range
        .rows()
        .zip(u64::from(first) + 1..)
        .map(|(cells, row)| {
            let blank = std::iter::repeat_n(String::new(), before as usize);
            Line {
                row,
                cells: blank.chain(cells.iter().map(cell_text)).collect(),
            }
        });
    Ok(lines.take(most).collect())
}

/// Opens a workbook once it is known what it unpacks to.
fn with_workbook<T>(
    bytes: &[u8],
    then: impl FnOnce(&mut Sheets<Cursor<&[u8]>>) -> Result<T, Invalid>,
) -> Result<T, Invalid> {
    let unreadable = || {
        let remedy = "open it and save it again, as a workbook without a password or as CSV";
        Invalid::new("file", "", "is a workbook that cannot be read", remedy)
    };
    if bytes.starts_with(b"PK") {
        unpacks_within(bytes, UNPACKED)?;
    }
    // A workbook that was broken on purpose must not take the server's thread with it.
    let opened = catch_unwind(AssertUnwindSafe(|| {
        let mut book = open_workbook_auto_from_rs(Cursor::new(bytes)).map_err(|_| unreadable())?;
        then(&mut book)
    }));
    opened.unwrap_or_else(|_| Err(unreadable()))
}

/// Refuses what would fill the memory, by unpacking it into nothing first.
fn unpacks_within(bytes: &[u8], most: u64) -> Result<(), Invalid> {
    let broken = |_| {
        let remedy = "open it and save it again";
        Invalid::new("file", "", "is a workbook that is broken", remedy)
    };
    let mut packed = zip::ZipArchive::new(Cursor::new(bytes)).map_err(broken)?;
    let mut unpacked = 0;
    for i in 0..packed.len() {
        let Ok(part) = packed.by_index(i) else {
            continue;
        };
        let rest = most.saturating_sub(unpacked) + 1;
        unpacked += std::io::copy(&mut part.take(rest), &mut std::io::sink()).unwrap_or(0);
        if unpacked > most {
            let problem = format!("unpacks to more than {} MB", most >> 20);
            let remedy = "save the sheet of shots alone, or as CSV";
            return Err(Invalid::new("file", "", problem, remedy));
        }
    }
    Ok(())
}

/// A cell of a sheet as text: what was computed, never the formula.
fn cell_text(cell: &Data) -> String {
    match cell {
        Data::Empty => String::new(),
        Data::Int(number) => number.to_string(),
        // As many figures as tell numbers of a sheet apart, without the tail of a binary one.
        Data::Float(number) => {
            let rounded = format!("{number:.10}");
            let short = rounded.trim_end_matches('0').trim_end_matches('.');
            if number.abs() < 1e15 { short } else { &rounded }.to_owned()
        }
        Data::String(text) | Data::DateTimeIso(text) | Data::DurationIso(text) => text.clone(),
        Data::Bool(is) => is.to_string(),
        Data::Error(error) => format!("{error:?}"),
        Data::DateTime(moment) => {
            let Some(at) = moment.as_datetime() else {
                return moment.as_f64().to_string();
            };
            if moment.as_f64() < 1.0 {
                at.format("%H:%M:%S%.f").to_string()
            } else if moment.as_f64().fract() == 0.0 {
                at.format("%Y-%m-%d").to_string()
            } else {
                at.format("%Y-%m-%d %H:%M:%S%.f").to_string()
            }
        }
    }
}

/// JSON as a table: a column for each name, in the order they first come.
fn json_lines(bytes: &[u8]) -> Result<Vec<Line>, Invalid> {
    let bytes = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    let shots = json_shots(bytes)?;
    let mut names: Vec<String> = Vec::new();
    let mut at = std::collections::HashMap::new();
    let mut rows: Vec<Vec<String>> = Vec::new();
    for shot in &shots {
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
        flatten("", shot, &mut put);
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
    let width = names.len();
    let header = Line {
        row: 1,
        cells: names.iter().map(String::as_str).collect(),
    };
    let shots = rows.into_iter().zip(2..).map(|(mut cells, row)| {
        cells.resize(width, String::new());
        Line {
            row,
            cells: cells.into(),
        }
    });
    Ok(std::iter::once(header).chain(shots).collect())
}

/// The shots of a JSON text: a list, a list within an object, or an object a line.
fn json_shots(bytes: &[u8]) -> Result<Vec<Map<String, Value>>, Invalid> {
    let refused = |at: String, problem: String| {
        let remedy = "send a list of shots, or one shot a line";
        Invalid::new("file", at, problem, remedy)
    };
    let mut shots = Vec::new();
    for (value, nth) in serde_json::Deserializer::from_slice(bytes)
        .into_iter::<Value>()
        .zip(1..)
    {
        let value = value.map_err(|error| {
            let at = format!("line {}, column {}", error.line(), error.column());
            refused(at, format!("is not JSON: {error}"))
        })?;
        let list = match value {
            Value::Array(list) => list,
            Value::Object(mut object) => match list_within(&object) {
                Some(name) => match object.remove(&name) {
                    Some(Value::Array(list)) => list,
                    _ => Vec::new(),
                },
                None => vec![Value::Object(object)],
            },
            other => vec![other],
        };
        for item in list {
            let Value::Object(shot) = item else {
                let problem = "holds something that is not a shot with names".to_owned();
                return Err(refused(format!("item {nth}"), problem));
            };
            shots.push(shot);
        }
    }
    Ok(shots)
}

/// The name of the only list of objects in an object.
fn list_within(object: &Map<String, Value>) -> Option<String> {
    let is_list = |value: &Value| {
        value
            .as_array()
            .is_some_and(|list| !list.is_empty() && list.iter().all(Value::is_object))
    };
    let mut lists = object.iter().filter(|(_, value)| is_list(value));
    let (name, _) = lists.next()?;
    lists.next().is_none().then(|| name.clone())
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_unpacks_to_too_much_is_refused_before_it_is_held() {
        let mut packed = zip::ZipWriter::new(Cursor::new(Vec::new()));
        let how = zip::write::SimpleFileOptions::default();
        packed.start_file("xl/workbook.xml", how).unwrap();
        std::io::Write::write_all(&mut packed, &vec![b' '; 3 << 20]).unwrap();
        let bomb = packed.finish().unwrap().into_inner();
        assert!(bomb.len() < 1 << 16);
        assert!(unpacks_within(&bomb, 4 << 20).is_ok());
        let refused = unpacks_within(&bomb, 2 << 20).unwrap_err();
        assert!(
            refused.problem.contains("unpacks to more than 2 MB"),
            "{refused}"
        );
    }
}
