//! The sheets of a workbook, as rows of text: kept by the cells that are in them, once it is known
//! what they hold. Nothing in it is ever run.

mod bounds;

use self::bounds::{
    MOST_CELLS, MOST_TEXT, older_within, too_many_cells, unpacks_within, unreadable,
};
use super::layout::MOST_COLUMNS;
use super::line::Line;
use calamine::{Cell, Data, DataRef, Reader as _, Sheets, Xls, open_workbook_auto_from_rs};
use std::collections::BTreeMap;
use std::io::Cursor;
use std::panic::{AssertUnwindSafe, catch_unwind};
use tally_core::vocabulary::invalid::Invalid;

/// Most rows of a sheet.
const MOST_ROWS: usize = 2_000_000;
/// Most that a workbook may unpack to, bytes.
const UNPACKED: u64 = 128 << 20;

/// A sheet of a workbook.
pub struct Sheet {
    /// Its name.
    pub name: String,
    /// Its first rows.
    pub lines: Vec<Line>,
}

type Book<'a> = Sheets<Cursor<&'a [u8]>>;

/// Whether a file begins as workbooks do: packed, or as the older ones were.
pub fn is_workbook(head: &[u8]) -> bool {
    head.starts_with(b"PK\x03\x04") || head.starts_with(&OLDER)
}

/// Whether it is an archive of files: packed as a workbook is, without what makes one, or in
/// another way.
pub fn is_packed(head: &[u8]) -> bool {
    const OTHERS: [&[u8]; 3] = [&[0x1F, 0x8B], b"7z\xBC\xAF", b"Rar!"];
    if OTHERS.iter().any(|other| head.starts_with(other)) {
        return true;
    }
    let is_part = |name: &str| {
        ["[Content_Types].xml", "content.xml", "mimetype"].contains(&name)
            || name.starts_with("xl/")
    };
    head.starts_with(b"PK\x03\x04")
        && zip::ZipArchive::new(Cursor::new(head))
            .is_ok_and(|packed| !packed.file_names().flatten().any(|name| is_part(&name)))
}

const OLDER: [u8; 4] = [0xD0, 0xCF, 0x11, 0xE0];

/// The first rows of a workbook's sheets, with their names; it is opened once.
///
/// # Errors
/// [`Invalid`] when it cannot be read.
pub fn sheets(bytes: &[u8], sheets: usize, rows: usize) -> Result<Vec<Sheet>, Invalid> {
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

/// The rows of one of its sheets.
///
/// # Errors
/// [`Invalid`] when it has none of this name, or it cannot be read.
pub fn sheet_lines(bytes: &[u8], name: &str) -> Result<Vec<Line>, Invalid> {
    with_workbook(bytes, |book| lines_of(book, name, MOST_ROWS))
}

fn lines_of(book: &mut Book<'_>, name: &str, most: usize) -> Result<Vec<Line>, Invalid> {
    if !book.sheet_names().iter().any(|there| there == name) {
        let there = book.sheet_names().join(", ");
        let remedy = format!("choose from {there}");
        return Err(Invalid::new(
            "sheet",
            name,
            "is not in the workbook",
            remedy,
        ));
    }
    let mut told = Told::new(most);
    match book {
        // A sheet that holds no cells is a chart.
        Sheets::Xlsx(book) => {
            if let Ok(mut cells) = book.worksheet_cells_reader(name) {
                told.take(|| cells.next_cell())?;
            }
        }
        Sheets::Xlsb(book) => {
            if let Ok(mut cells) = book.worksheet_cells_reader(name) {
                told.take(|| cells.next_cell())?;
            }
        }
        // What these hold was counted before they were opened.
        Sheets::Xls(_) | Sheets::Ods(_) => {
            let range = book.worksheet_range(name).map_err(|_| unreadable())?;
            let (first, before) = range.start().unwrap_or((0, 0));
            for (row, column, cell) in range.used_cells() {
                if !told.put((first + row as u32, before + column as u32), cell)? {
                    break;
                }
            }
        }
    }
    told.lines()
}

/// Rows by the cells that hold something.
struct Told {
    rows: BTreeMap<u32, Vec<(u32, String)>>,
    most: usize,
    text: usize,
}

impl Told {
    fn new(most: usize) -> Told {
        Told {
            rows: BTreeMap::new(),
            most,
            text: 0,
        }
    }

    /// Takes cells one after the other, as long as there is room for their rows.
    fn take<'a, E>(
        &mut self,
        mut next: impl FnMut() -> Result<Option<Cell<DataRef<'a>>>, E>,
    ) -> Result<(), Invalid> {
        while let Some(cell) = next().map_err(|_| unreadable())? {
            if !self.put(cell.get_position(), &cell.get_value().clone().into())? {
                break;
            }
        }
        Ok(())
    }

    /// Takes a cell; answers whether there is room for more rows.
    fn put(&mut self, (row, column): (u32, u32), cell: &Data) -> Result<bool, Invalid> {
        let text = cell_text(cell);
        if text.is_empty() {
            return Ok(true);
        }
        if self.rows.len() == self.most && !self.rows.contains_key(&row) {
            return Ok(false);
        }
        self.text += text.len();
        if self.text > MOST_TEXT {
            return Err(too_many_cells());
        }
        self.rows.entry(row).or_default().push((column, text));
        Ok(true)
    }

    /// The rows, all as wide as the widest; where a few alone are so wide that no table is, as
    /// what strayed far beside it makes them, as wide as the others.
    fn lines(self) -> Result<Vec<Line>, Invalid> {
        let fits = |width: &u32| (*width as usize).saturating_mul(self.rows.len()) <= MOST_CELLS;
        let wide = |cells: &Vec<(u32, String)>| cells.iter().map(|(at, _)| at + 1).max();
        let mut widths: Vec<u32> = self.rows.values().filter_map(wide).collect();
        widths.sort_unstable_by(|a, b| b.cmp(a));
        let few = (widths.len() / 100).clamp(1, 10);
        let is_a_table_s = |width: &u32| *width as usize <= MOST_COLUMNS && fits(width);
        let Some(widest) = widths.first().copied() else {
            return Ok(Vec::new());
        };
        let width = widths.iter().take(few + 1).copied().find(is_a_table_s);
        let width = width.or(Some(widest).filter(fits));
        let width = width.ok_or_else(too_many_cells)?;
        let line = |(row, cells): (u32, Vec<(u32, String)>)| {
            let mut all = vec![String::new(); width as usize];
            for (at, text) in cells {
                if let Some(cell) = all.get_mut(at as usize) {
                    *cell = text;
                }
            }
            Line {
                row: u64::from(row) + 1,
                cells: all.into(),
            }
        };
        Ok(self.rows.into_iter().map(line).collect())
    }
}

/// Opens a workbook once it is known what it unpacks to.
fn with_workbook<T>(
    bytes: &[u8],
    then: impl FnOnce(&mut Book<'_>) -> Result<T, Invalid>,
) -> Result<T, Invalid> {
    // A workbook that was broken on purpose must not take the server's thread with it.
    let opened = catch_unwind(AssertUnwindSafe(|| {
        let input = Cursor::new(bytes);
        let mut book = if bytes.starts_with(&OLDER) {
            older_within(bytes)?;
            Sheets::Xls(Xls::new(input).map_err(|_| unreadable())?)
        } else {
            unpacks_within(bytes, UNPACKED)?;
            open_workbook_auto_from_rs(input).map_err(|_| unreadable())?
        };
        then(&mut book)
    }));
    opened.unwrap_or_else(|_| Err(unreadable()))
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
