//! How much a workbook holds, before it is opened.
//!
//! It says in a few bytes that it is larger than any memory: it may unpack to anything, a cell may
//! stand in the last row and column that there are, and one cell may be repeated a million times.

use quick_xml::events::Event;
use std::io::{BufReader, Cursor, Read};
use tally_core::vocabulary::invalid::Invalid;

/// Most cells of a sheet, those that are empty between others among them.
pub const MOST_CELLS: usize = 8 << 20;
/// Most bytes of text in a sheet: cells may share one text.
pub const MOST_TEXT: usize = 64 << 20;
/// Most sheets of an older workbook.
const MOST_SHEETS: usize = 255;
/// Most cells that a sheet of an older workbook may claim to have, filled or not: all there are.
const MOST_CLAIMED: usize = 65_536 * 256;

/// Why a workbook is not read.
pub fn unreadable() -> Invalid {
    let remedy = "open it and save it again, as a workbook without a password or as CSV";
    Invalid::new("file", "", "is a workbook that cannot be read", remedy)
}

/// Why one is not that holds too much.
pub fn too_many_cells() -> Invalid {
    let problem = "is a workbook with a sheet of more cells than are read, full and empty ones";
    let remedy =
        "delete what stands far below or beside the shots, or save the sheet of shots as CSV";
    Invalid::new("file", "", problem, remedy)
}

/// Refuses what would fill the memory, by unpacking it into nothing first.
pub fn unpacks_within(bytes: &[u8], most: u64) -> Result<(), Invalid> {
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
    match packed.by_name("content.xml") {
        Ok(content) => repeats_within(content),
        Err(_) => Ok(()),
    }
}

/// Refuses an OpenDocument table whose cells and rows are repeated more often than can be held.
fn repeats_within(content: impl Read) -> Result<(), Invalid> {
    let mut reader = quick_xml::Reader::from_reader(BufReader::new(content));
    let (mut buffer, mut table) = (Vec::new(), Repeated::default());
    loop {
        buffer.clear();
        let event = reader
            .read_event_into(&mut buffer)
            .map_err(|_| unreadable())?;
        let (tag, closed) = match &event {
            Event::Start(tag) => (tag, false),
            Event::Empty(tag) => (tag, true),
            Event::End(tag) => {
                match tag.name().as_ref() {
                    "table:table-row" => table.end_row()?,
                    "table:table" => table = Repeated::default(),
                    _ => {}
                }
                continue;
            }
            Event::Text(text) => {
                table.text(text.len())?;
                continue;
            }
            Event::Eof => return Ok(()),
            _ => continue,
        };
        let (mut times, mut full) = (1usize, false);
        for attribute in tag.attributes().with_checks(false).flatten() {
            let key = attribute.key;
            match key.as_ref() {
                "table:number-rows-repeated" | "table:number-columns-repeated" => {
                    let text =
                        String::from_utf8_lossy(attribute.value.as_ref().as_ref()).into_owned();
                    times = text.trim().parse().unwrap_or(1);
                }
                key => full |= key.starts_with("office:") || key == "table:formula",
            }
        }
        match tag.name().as_ref() {
            "table:table-row" => {
                table.times = times;
                if closed {
                    table.end_row()?;
                }
            }
            "table:table-cell" | "table:covered-table-cell" => table.cell(times, full)?,
            _ => {}
        }
    }
}

/// How much of a table there is, repeated as it says.
#[derive(Default)]
struct Repeated {
    /// Rows so far, and how many of them are up to the last that holds anything.
    rows: usize,
    full_rows: usize,
    /// Cells of this row so far, how many of them up to the last that holds anything, and how
    /// often the row stands.
    cells: usize,
    full_cells: usize,
    times: usize,
    /// How often the last cell stands.
    last: usize,
    /// The widest row, and what all rows have that hold anything, in cells and bytes.
    width: usize,
    held: usize,
    bytes: usize,
}

impl Repeated {
    fn cell(&mut self, times: usize, full: bool) -> Result<(), Invalid> {
        self.cells = self.cells.saturating_add(times);
        self.last = times;
        if full {
            self.full_cells = self.cells;
        }
        self.within()
    }

    fn text(&mut self, bytes: usize) -> Result<(), Invalid> {
        let times = self.times.max(1).saturating_mul(self.last);
        self.bytes = self.bytes.saturating_add(bytes.saturating_mul(times));
        self.within()
    }

    fn end_row(&mut self) -> Result<(), Invalid> {
        self.rows = self.rows.saturating_add(self.times);
        if self.full_cells > 0 {
            self.full_rows = self.rows;
        }
        self.width = self.width.max(self.full_cells);
        self.held = self.held.saturating_add(self.full_cells);
        (self.cells, self.full_cells, self.times) = (0, 0, 1);
        self.within()
    }

    fn within(&self) -> Result<(), Invalid> {
        let area = self.full_rows.saturating_mul(self.width);
        let held = self.held.saturating_add(self.full_cells);
        if area.max(held) > MOST_CELLS || self.bytes > MOST_TEXT {
            return Err(too_many_cells());
        }
        Ok(())
    }
}

/// Refuses an older workbook whose sheets span more than can be held, or tell more, by its records:
/// all of them are held at once as soon as it is opened.
pub fn older_within(bytes: &[u8]) -> Result<(), Invalid> {
    let mut file = cfb::CompoundFile::open(Cursor::new(bytes)).map_err(|_| unreadable())?;
    for name in ["/Workbook", "/Book"] {
        let Ok(stream) = file.open_stream(name) else {
            continue;
        };
        let mut records = Vec::new();
        let most = bytes.len() as u64;
        stream
            .take(most)
            .read_to_end(&mut records)
            .map_err(|_| unreadable())?;
        spans_within(&records)?;
    }
    Ok(())
}

/// Kinds of records.
mod kind {
    pub const BEGINS: u16 = 0x0809;
    pub const ENDS: u16 = 0x000A;
    pub const GOES_ON: u16 = 0x003C;
    pub const SHEET: u16 = 0x0085;
    pub const TEXTS: u16 = 0x00FC;
    pub const CLAIMS: u16 = 0x0200;
    pub const SHARED_TEXT: u16 = 0x00FD;
    pub const SEVERAL: u16 = 0x00BD;
    pub const CELLS: [u16; 8] = [
        0x0006,
        0x00D6,
        SHARED_TEXT,
        0x0203,
        0x0204,
        0x0205,
        0x027E,
        SEVERAL,
    ];
}

/// Records one after the other: two bytes of kind, two of length, and what they hold.
struct Records<'a>(&'a [u8]);

impl<'a> Iterator for Records<'a> {
    type Item = (u16, &'a [u8]);

    fn next(&mut self) -> Option<Self::Item> {
        let (kind, length) = (two(self.0, 0)?, usize::from(two(self.0, 2)?));
        let held = self.0.get(4..4 + length)?;
        self.0 = &self.0[4 + length..];
        Some((kind, held))
    }
}

fn two(bytes: &[u8], at: usize) -> Option<u16> {
    let both = bytes.get(at..at + 2)?;
    Some(u16::from_le_bytes([both[0], both[1]]))
}

fn four(bytes: &[u8], at: usize) -> Option<usize> {
    let [low, high] = [two(bytes, at)?, two(bytes, at + 2)?];
    Some(usize::from(low) | usize::from(high) << 16)
}

fn spans_within(records: &[u8]) -> Result<(), Invalid> {
    let (mut sheets, mut texts): (Vec<usize>, Vec<&[u8]>) = (Vec::new(), Vec::new());
    let mut before = 0;
    for (kind, held) in Records(records).take_while(|(kind, _)| *kind != kind::ENDS) {
        match kind {
            kind::SHEET => sheets.extend(four(held, 0)),
            kind::TEXTS => texts.push(held),
            kind::GOES_ON if before == kind::TEXTS => {
                texts.push(held);
                continue;
            }
            _ => {}
        }
        before = kind;
    }
    if sheets.len() > MOST_SHEETS {
        return Err(too_many_cells());
    }
    let lengths = lengths(&texts);
    let (mut cells, mut told) = (0usize, 0usize);
    for from in sheets {
        let of = span(records.get(from..).unwrap_or(&[]), &lengths)?;
        cells = cells.saturating_add(of.0);
        told = told.saturating_add(of.1);
        if cells > MOST_CELLS || told > MOST_TEXT {
            return Err(too_many_cells());
        }
    }
    Ok(())
}

/// How many cells a sheet spans, and the bytes of the texts that it shares.
fn span(records: &[u8], lengths: &[usize]) -> Result<(usize, usize), Invalid> {
    let (mut depth, mut told) = (0, 0usize);
    let mut span: Option<[usize; 4]> = None;
    for (kind, held) in Records(records) {
        match kind {
            kind::BEGINS => depth += 1,
            kind::ENDS if depth > 1 => depth -= 1,
            kind::ENDS => break,
            _ => {}
        }
        // Charts within a sheet have cells that are not its own.
        if depth > 1 {
            continue;
        }
        if kind == kind::CLAIMS {
            // From and to, by rows of two or four bytes and columns of two.
            let (rows, columns) = match held.len() {
                10 => (two(held, 2).map(usize::from), two(held, 6)),
                _ => (four(held, 4), two(held, 10)),
            };
            let columns = usize::from(columns.unwrap_or(0));
            if rows.unwrap_or(0).saturating_mul(columns) > MOST_CLAIMED {
                return Err(too_many_cells());
            }
        }
        let (true, Some(row), Some(first)) =
            (kind::CELLS.contains(&kind), two(held, 0), two(held, 2))
        else {
            continue;
        };
        if kind == kind::SHARED_TEXT {
            let length = four(held, 6).and_then(|at| lengths.get(at));
            told = told.saturating_add(length.copied().unwrap_or(0));
        }
        let last = match kind {
            kind::SEVERAL => two(held, held.len().saturating_sub(2)).unwrap_or(first),
            _ => first,
        };
        let (row, [first, last]) = (usize::from(row), [first, last].map(usize::from));
        let [top, bottom, left, right] = span.unwrap_or([row, row, first, first]);
        span = Some([
            top.min(row),
            bottom.max(row),
            left.min(first),
            right.max(last),
        ]);
    }
    let cells = span.map_or(0, |[top, bottom, left, right]| {
        (bottom - top + 1) * (right - left + 1)
    });
    Ok((cells, told))
}

/// The most bytes of each text that cells share.
fn lengths(texts: &[&[u8]]) -> Vec<usize> {
    let mut chunks = texts.iter().copied();
    let mut rest = chunks
        .next()
        .and_then(|first| first.get(8..))
        .unwrap_or(&[]);
    let mut lengths = Vec::new();
    loop {
        if rest.is_empty() {
            match chunks.next() {
                Some(next) => rest = next,
                None => return lengths,
            }
        }
        let (Some(characters), Some(flags)) = (two(rest, 0), rest.get(2).copied()) else {
            return lengths;
        };
        rest = &rest[3..];
        lengths.push(3 * usize::from(characters));
        let mut behind = 0;
        if flags & 8 != 0 {
            behind += 4 * usize::from(two(rest, 0).unwrap_or(0));
            rest = rest.get(2..).unwrap_or(&[]);
        }
        if flags & 4 != 0 {
            behind += four(rest, 0).unwrap_or(0);
            rest = rest.get(4..).unwrap_or(&[]);
        }
        let (mut left, mut wide) = (usize::from(characters), usize::from(flags & 1));
        while left > 0 {
            let here = left.min(rest.len() / (1 + wide));
            rest = &rest[here * (1 + wide)..];
            left -= here;
            if left > 0 {
                // What goes on says again how wide its letters are.
                let Some((flags, next)) = chunks.next().and_then(|next| next.split_first()) else {
                    return lengths;
                };
                (wide, rest) = (usize::from(flags & 1), next);
            }
        }
        while behind > 0 {
            let here = behind.min(rest.len());
            rest = &rest[here..];
            behind -= here;
            if behind > 0 {
                match chunks.next() {
                    Some(next) => rest = next,
                    None => return lengths,
                }
            }
        }
    }
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
