//! The rows of a table, one after the other.

use super::formulas::taken_back;
use super::{CellTrouble, ColumnUse, Encoding, ImportedShot, LONGEST_ROW, Layout, When, cells};
use csv::{ReaderBuilder, StringRecord};
use encoding_rs_io::DecodeReaderBytesBuilder;
use std::cell::Cell;
use std::io::Read;
use std::rc::Rc;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::{SwingSide, Swung};
use tally_core::vocabulary::characters::{kept, unkeepable};
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::text::text_within;

/// Why a table cannot be read further.
#[derive(Debug, thiserror::Error)]
pub enum RowsError {
    /// A row has no end.
    #[error(
        "row {row}: a quote is not closed within a million characters; close it, or take it out, and import the file again"
    )]
    NeverEnds {
        /// The row, from 1, the header included.
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
}

/// One row.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadRow {
    /// From 1, the header included.
    pub row: u64,
    /// The shot, or what is wrong with it.
    pub shot: Result<ImportedShot, BadRow>,
}

/// A row that cannot be used.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BadRow {
    /// Its cells, as they stand.
    pub cells: Vec<String>,
    /// Everything that is wrong with it.
    pub troubles: Vec<CellTrouble>,
}

/// The rows of a table in order.
pub struct Rows<R: Read> {
    reader: csv::Reader<Watched<R>>,
    since_row: Rc<Cell<u64>>,
    layout: Layout,
    names: Vec<String>,
    row: u64,
    done: bool,
}

/// Text from bytes of an encoding; a byte-order mark is taken off.
pub(super) fn decoded<R: Read>(
    input: R,
    encoding: Encoding,
) -> encoding_rs_io::DecodeReaderBytes<R, Vec<u8>> {
    let assumed = match encoding {
        Encoding::Utf8 => encoding_rs::UTF_8,
        Encoding::Latin1 => encoding_rs::WINDOWS_1252,
    };
    DecodeReaderBytesBuilder::new()
        .encoding(Some(assumed))
        .bom_override(true)
        .build(input)
}

/// Counts what was read since the last row, so that a quote that is never closed does
/// not fill the memory.
struct Watched<R: Read> {
    inner: encoding_rs_io::DecodeReaderBytes<R, Vec<u8>>,
    since_row: Rc<Cell<u64>>,
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

impl<R: Read> Rows<R> {
    /// Begins to read a table.
    pub fn new(input: R, layout: Layout) -> Self {
        let since_row = Rc::new(Cell::new(0));
        let watched = Watched {
            inner: decoded(input, layout.encoding),
            since_row: Rc::clone(&since_row),
        };
        let reader = ReaderBuilder::new()
            .delimiter(layout.delimiter as u8)
            .has_headers(false)
            .flexible(true)
            .from_reader(watched);
        Self {
            reader,
            since_row,
            names: (1..=layout.columns.len())
                .map(|i| format!("Column {i}"))
                .collect(),
            layout,
            row: 0,
            done: false,
        }
    }

    /// The next row; `None` at the end.
    ///
    /// # Errors
    /// [`RowsError`] when the rest cannot be read.
    pub fn next_row(&mut self) -> Option<Result<ReadRow, RowsError>> {
        let mut record = StringRecord::new();
        loop {
            if self.done {
                return None;
            }
            self.row += 1;
            match self.reader.read_record(&mut record) {
                Ok(false) => return None,
                Ok(true) => {
                    self.since_row.set(0);
                    if self.row == 1 && self.layout.header {
                        self.names = record.iter().map(|name| kept(name.trim())).collect();
                        continue;
                    }
                    if record.iter().all(|cell| cell.trim().is_empty()) {
                        continue;
                    }
                    return Some(Ok(ReadRow {
                        row: self.row,
                        shot: self.shot(&record).map_err(|troubles| BadRow {
                            cells: record.iter().map(kept).collect(),
                            troubles,
                        }),
                    }));
                }
                Err(error) => {
                    self.done = true;
                    return Some(Err(self.broken(error)));
                }
            }
        }
    }

    /// The columns' names.
    pub fn names(&self) -> &[String] {
        &self.names
    }

    fn broken(&self, error: csv::Error) -> RowsError {
        let row = self.row;
        if self.since_row.get() > LONGEST_ROW {
            return RowsError::NeverEnds { row };
        }
        let source = match error.into_kind() {
            csv::ErrorKind::Io(source) => source,
            other => std::io::Error::other(format!("{other:?}")),
        };
        RowsError::Broken { row, source }
    }

    fn shot(&self, record: &StringRecord) -> Result<ImportedShot, Vec<CellTrouble>> {
        let mut troubles = Vec::new();
        let (told, expected) = (record.len(), self.layout.columns.len());
        if told != expected {
            let problem = format!("has {told} cells and the table has {expected} columns");
            let remedy = "check its delimiters and quotes";
            let shown = record.iter().collect::<Vec<_>>().join(" | ");
            let why = Invalid::new("row", shown, problem, remedy);
            return Err(vec![CellTrouble::of(self.row, 0, "", why)]);
        }
        let mut shot = ImportedShot {
            when: When::Unknown,
            club: None,
            block: None,
            swung: None,
            effort_pct: None,
            set_aside: false,
            reading: Reading::default(),
        };
        let mut time = None;
        let mut swung = Swung {
            implement: String::new(),
            side: None,
            position: None,
        };
        for (i, (cell, column)) in record.iter().zip(&self.layout.columns).enumerate() {
            let cell = taken_back(cell.trim());
            if cells::is_nothing(cell) {
                continue;
            }
            if let Err(why) = self.take(cell, *column, &mut shot, &mut swung, &mut time) {
                let name = self.names.get(i).map_or("", String::as_str);
                troubles.push(CellTrouble::of(self.row, i + 1, name, why));
            }
        }
        if let (Some(time), When::Day(day)) = (time, shot.when) {
            shot.when = When::Local(day.and_time(time));
        }
        self.set_provenance(record, &mut shot.reading);
        shot.swung = (!swung.implement.is_empty()).then_some(swung);
        if troubles.is_empty() && shot.reading.0.is_empty() {
            let why = Invalid::new(
                "row",
                "",
                "holds no value",
                "leave the row out, or fill it in",
            );
            troubles.push(CellTrouble::of(self.row, 0, "", why));
        }
        if troubles.is_empty() {
            Ok(shot)
        } else {
            Err(troubles)
        }
    }

    fn take(
        &self,
        cell: &str,
        column: ColumnUse,
        shot: &mut ImportedShot,
        swung: &mut Swung,
        time: &mut Option<chrono::NaiveTime>,
    ) -> Result<(), Invalid> {
        if cell.contains('\n') && !matches!(column, ColumnUse::Unused | ColumnUse::Block) {
            let remedy = "close the quote that begins this cell, or take it out";
            return Err(Invalid::new(
                "cell",
                cell,
                "goes over several lines",
                remedy,
            ));
        }
        let odd = |c: char| unkeepable(c) && !matches!(c, '\n' | '\t');
        if let Some(odd) = cell.chars().find(|c| odd(*c))
            && !matches!(column, ColumnUse::Unused)
        {
            let problem = format!("has a character that is not kept, {}", odd.escape_unicode());
            return Err(Invalid::new("cell", cell, problem, "type plain text"));
        }
        match column {
            ColumnUse::Unused | ColumnUse::From { .. } => {}
            ColumnUse::Value { quantity, unit } => {
                let si = cells::value(quantity, unit, cell, self.layout.decimal_comma)?;
                shot.reading.set(quantity, si, self.layout.provenance);
            }
            ColumnUse::Date => shot.when = cells::date(cell, self.layout.dates)?,
            ColumnUse::Time => {
                let told = cells::time_of(cell).ok_or_else(|| {
                    Invalid::new(
                        "time",
                        cell,
                        "is not a time of day",
                        "write 10:15 or 10:15:30",
                    )
                })?;
                *time = Some(told);
            }
            ColumnUse::Club => {
                let club = cells::club(cell).ok_or_else(|| {
                    let remedy = "write a club such as driver, 5-wood, 7-iron or pitching wedge";
                    Invalid::new("club", cell, "is not a club this system knows", remedy)
                })?;
                shot.club = Some(club);
            }
            ColumnUse::Block => shot.block = Some(cell.chars().take(100).collect()),
            ColumnUse::Standing => shot.set_aside = cell == "set_aside",
            ColumnUse::Implement => swung.implement = text_within("implement", cell, 40)?,
            ColumnUse::SwingSide => {
                let side = cell.to_lowercase();
                swung.side = Some(SwingSide::from_key("swing_side", &side)?);
            }
            ColumnUse::Position => {
                swung.position = Some(text_within("position", &cell.to_lowercase(), 40)?);
            }
            ColumnUse::Effort => shot.effort_pct = Some(cells::effort(cell)?),
        }
        Ok(())
    }

    fn set_provenance(&self, record: &StringRecord, reading: &mut Reading) {
        for (cell, column) in record.iter().zip(&self.layout.columns) {
            let ColumnUse::From { quantity } = column else {
                continue;
            };
            let from = match cell.trim() {
                "measured" => Provenance::Measured,
                "calculated" => Provenance::Calculated,
                "entered" => Provenance::Entered,
                _ => continue,
            };
            if let Some(si) = reading.get(*quantity) {
                reading.set(*quantity, si, from);
            }
        }
    }
}
