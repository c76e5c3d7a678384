//! Tables that a command adds columns to: CSV in, the same rows with results out.
//!
//! Rows stream through some thousands at a time, over all cores, so that ten million need no
//! more memory than ten thousand; while some are worked on, the next are read. A bad row is reported by line and column and left out; the good ones are
//! written.

use csv::{Reader, ReaderBuilder, StringRecord, Writer};
use rayon::prelude::*;
use std::io::{Read, Write};
use tally_core::vocabulary::invalid::{Invalid, within};
use tally_core::vocabulary::units::MPH;

/// The columns of one command's table.
#[derive(Debug)]
pub struct Columns {
    /// Columns that must be there.
    pub needed: &'static [&'static str],
    /// Columns that may be there; an empty cell means the same as no column.
    pub optional: &'static [&'static str],
    /// Columns that are added.
    pub added: &'static [&'static str],
}

/// Why a table, or a row of it, could not be used.
#[derive(Debug, thiserror::Error)]
pub enum TableError {
    /// The header lacks a column.
    #[error("line 1: there is no column {0:?}; the header needs {needed}", needed = .1.join(", "))]
    NoColumn(&'static str, &'static [&'static str]),
    /// The header has a column twice, or one that would be added.
    #[error("line 1: column {0:?} {1}")]
    Column(String, &'static str),
    /// A row was refused.
    #[error("line {line}, column {column} ({name}): {why}")]
    Row {
        /// Line of the file, from 1.
        line: u64,
        /// Column of the row, from 1.
        column: usize,
        /// The column's name.
        name: String,
        /// What is wrong.
        why: Box<Invalid>,
    },
    /// The text is not CSV, or could not be read.
    #[error("line {line}: {source}; check the number of columns and the quotes")]
    Text {
        /// Line of the file, from 1.
        line: u64,
        /// The reader's own words.
        source: csv::Error,
    },
    /// The result could not be written.
    #[error("cannot write the result: {0}")]
    Write(#[from] csv::Error),
}

/// What became of the rows.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Done {
    /// Rows written.
    pub good: u64,
    /// Rows refused.
    pub bad: u64,
}

/// Rows that are worked on at once.
const AT_ONCE: usize = 16384;
/// Rows of one piece of text that is written by one core.
const A_PIECE: usize = 512;

/// What a line of the table gave.
enum Line {
    Row(StringRecord),
    Unreadable(TableError),
}

/// Reads rows from `input`, has `compute` make the added cells of many of them at once, writes
/// rows to `output`, and tells each refused row to `report`.
///
/// # Errors
/// [`TableError`] when the header is unusable or the output cannot be written.
pub fn run<const ADDED: usize>(
    columns: &Columns,
    input: impl Read + Send,
    mut output: impl Write,
    mut report: impl FnMut(&TableError),
    compute: impl Fn(&[Cells<'_>]) -> Vec<Result<[f64; ADDED], Invalid>> + Sync,
) -> Result<Done, TableError> {
    let mut reader = ReaderBuilder::new().from_reader(input);
    let header = reader
        .headers()
        .map_err(|source| TableError::Text { line: 1, source })?
        .clone();
    let names = columns.find(&header)?;
    let mut writer = Writer::from_writer(&mut output);
    writer.write_record(header.iter().chain(columns.added.iter().copied()))?;
    writer.flush().map_err(csv::Error::from)?;
    drop(writer);

    let mut done = Done::default();
    let (mut lines, mut more) = next_lines(&mut reader);
    loop {
        let rows = lines.iter().filter_map(|line| match line {
            Line::Row(row) => Some(Cells { names: &names, row }),
            Line::Unreadable(_) => None,
        });
        let rows: Vec<Cells<'_>> = rows.collect();
        // The lines after these are read meanwhile.
        let worked = || {
            let computed = compute(&rows);
            let good: Vec<(&StringRecord, [f64; ADDED])> = rows
                .iter()
                .zip(&computed)
                .filter_map(|(cells, added)| Some((cells.row, *added.as_ref().ok()?)))
                .collect();
            let texts: Vec<_> = good.par_chunks(A_PIECE).map(text_of).collect();
            (computed, good.len(), texts)
        };
        let ((computed, good, texts), next) = rayon::join(worked, || {
            if more {
                next_lines(&mut reader)
            } else {
                (vec![], false)
            }
        });
        for text in texts {
            output.write_all(&text?).map_err(csv::Error::from)?;
        }
        done.good += good as u64;
        // Refusals are told in the order of the lines.
        let mut judged = rows.iter().zip(&computed);
        for line in &lines {
            let refused = match line {
                Line::Unreadable(why) => Some(why),
                Line::Row(_) => None,
            };
            if let Some(why) = refused {
                done.bad += 1;
                report(why);
            } else if let Some((cells, Err(why))) = judged.next() {
                done.bad += 1;
                report(&cells.refuse(why.clone()));
            }
        }
        if !more {
            break;
        }
        (lines, more) = next;
    }
    output.flush().map_err(csv::Error::from)?;
    Ok(done)
}

/// The next lines, and whether there may be more.
fn next_lines(reader: &mut Reader<impl Read>) -> (Vec<Line>, bool) {
    let mut lines = Vec::with_capacity(AT_ONCE);
    while lines.len() < AT_ONCE {
        let mut row = StringRecord::new();
        match reader.read_record(&mut row) {
            Ok(false) => return (lines, false),
            Ok(true) => lines.push(Line::Row(row)),
            Err(source) => {
                let line = source.position().map_or(0, csv::Position::line);
                let fatal = matches!(source.kind(), csv::ErrorKind::Io(_));
                lines.push(Line::Unreadable(TableError::Text { line, source }));
                if fatal {
                    return (lines, false);
                }
            }
        }
    }
    (lines, true)
}

/// Rows with what is added to them, as text.
fn text_of<const ADDED: usize>(
    rows: &[(&StringRecord, [f64; ADDED])],
) -> Result<Vec<u8>, csv::Error> {
    let mut writer = Writer::from_writer(Vec::new());
    let mut cell = Vec::new();
    for (row, added) in rows {
        for own in row.iter() {
            writer.write_field(own)?;
        }
        for value in added {
            cell.clear();
            decimals(*value, &mut cell).map_err(csv::Error::from)?;
            writer.write_field(&cell)?;
        }
        writer.write_record(None::<&[u8]>)?;
    }
    writer
        .into_inner()
        .map_err(|why| csv::Error::from(why.into_error()))
}

/// A result with two decimals, from whole hundredths, which are quicker to write than fractions.
fn decimals(value: f64, to: &mut Vec<u8>) -> std::io::Result<()> {
    let hundredths = (value * 100.0).round();
    // Beyond these not every whole number is one of the machine's.
    if hundredths.is_nan() || hundredths.abs() > 9e15 {
        return write!(to, "{value:.2}");
    }
    if hundredths < 0.0 {
        to.push(b'-');
    }
    let hundredths = hundredths.abs() as u64;
    let rest = (hundredths % 100) as u8;
    to.extend_from_slice(itoa::Buffer::new().format(hundredths / 100).as_bytes());
    to.extend_from_slice(&[b'.', b'0' + rest / 10, b'0' + rest % 10]);
    Ok(())
}

impl Columns {
    /// The columns in words, for whoever writes a table.
    pub fn told(&self) -> String {
        format!(
            "Columns that must be there: {}.\nColumns that may be there: {}.\nColumns that are added: {}.\nOthers come out as they went in.",
            self.needed.join(", "),
            self.optional.join(", "),
            self.added.join(", ")
        )
    }

    /// The names of the header's columns, once they are known to be usable.
    fn find(&self, header: &StringRecord) -> Result<Vec<String>, TableError> {
        let clean = |name: &str| name.trim_start_matches('\u{feff}').trim().to_owned();
        let names: Vec<String> = header.iter().map(clean).collect();
        let count = |name: &str| names.iter().filter(|n| *n == name).count();
        let column = |name: &str, problem| Err(TableError::Column(name.to_owned(), problem));
        for known in self.needed.iter().chain(self.optional) {
            if count(known) > 1 {
                return column(known, "stands twice; keep one");
            }
        }
        if let Some(taken) = self.added.iter().find(|a| count(a) > 0) {
            return column(taken, "would be added by this command; rename it");
        }
        match self.needed.iter().find(|n| count(n) == 0) {
            Some(missing) => Err(TableError::NoColumn(missing, self.needed)),
            None => Ok(names),
        }
    }
}

/// The cells of one row, by column name.
pub struct Cells<'a> {
    names: &'a [String],
    row: &'a StringRecord,
}

impl Cells<'_> {
    fn place(&self, name: &str) -> Option<usize> {
        self.names.iter().position(|n| n == name)
    }

    /// The text of a cell; absent when there is no such column or it is empty.
    pub fn text(&self, name: &str) -> Option<&str> {
        let cell = self.row.get(self.place(name)?)?.trim();
        (!cell.is_empty()).then_some(cell)
    }

    /// The number in a cell, when there is one.
    ///
    /// # Errors
    /// [`Invalid`] when the cell holds something else.
    pub fn optional(&self, name: &str) -> Result<Option<f64>, Invalid> {
        self.text(name)
            .map(|cell| {
                cell.parse().map_err(|_| {
                    Invalid::new(
                        name,
                        cell,
                        "is not a number",
                        "give a plain number such as 12.5",
                    )
                })
            })
            .transpose()
    }

    /// The number in a cell that must have one.
    ///
    /// # Errors
    /// [`Invalid`] when it has none.
    pub fn number(&self, name: &str) -> Result<f64, Invalid> {
        self.optional(name)?
            .ok_or_else(|| Invalid::missing(name, "give a plain number such as 12.5"))
    }

    /// The speed in a cell in mph, within a range of mph, as m/s.
    ///
    /// # Errors
    /// [`Invalid`] when it has none, or one out of range.
    pub fn mph(&self, name: &str, range: std::ops::RangeInclusive<f64>) -> Result<f64, Invalid> {
        Ok(within(name, self.number(name)?, range, "mph")? * MPH)
    }

    fn refuse(&self, why: Invalid) -> TableError {
        TableError::Row {
            line: self.row.position().map_or(0, csv::Position::line),
            column: self.place(&why.field).map_or(0, |i| i + 1),
            name: why.field.clone(),
            why: Box::new(why),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn one_by_one(
        compute: impl Fn(&Cells<'_>) -> Result<[f64; 1], Invalid>,
    ) -> impl Fn(&[Cells<'_>]) -> Vec<Result<[f64; 1], Invalid>> {
        move |rows| rows.iter().map(&compute).collect()
    }

    const COLUMNS: Columns = Columns {
        needed: &["a"],
        optional: &["b"],
        added: &["sum"],
    };

    fn summed(input: &str) -> Result<(String, Vec<String>, Done), TableError> {
        let (mut output, mut reports) = (Vec::new(), Vec::new());
        let done = run(
            &COLUMNS,
            input.as_bytes(),
            &mut output,
            |r| reports.push(r.to_string()),
            one_by_one(|cells| Ok([cells.number("a")? + cells.optional("b")?.unwrap_or(0.0)])),
        )?;
        Ok((String::from_utf8(output).unwrap(), reports, done))
    }

    #[test]
    fn other_columns_come_back_untouched_and_empty_optional_cells_are_absent() {
        let (output, _, done) = summed("note,a,b\n\"x, y\",1,2\nz,3,\n").unwrap();
        assert_eq!(done, Done { good: 2, bad: 0 });
        assert_eq!(output, "note,a,b,sum\n\"x, y\",1,2,3.00\nz,3,,3.00\n");
    }

    #[test]
    fn results_have_two_decimals_whatever_their_size_and_no_nought_has_a_sign() {
        for (value, told) in [
            (0.0, "0.00"),
            (-0.004, "0.00"),
            (-0.006, "-0.01"),
            (157.549, "157.55"),
            (-12.3, "-12.30"),
            (1e17, "100000000000000000.00"),
            (f64::NAN, "NaN"),
        ] {
            let mut written = Vec::new();
            decimals(value, &mut written).unwrap();
            assert_eq!(String::from_utf8(written).unwrap(), told);
        }
    }

    #[test]
    fn a_missing_or_doubled_column_is_named() {
        let refused = |header: &str| summed(header).unwrap_err().to_string();
        assert!(refused("b\n").contains("\"a\""));
        assert!(refused("a,a\n").contains("twice"));
        assert!(refused("a,sum\n").contains("rename"));
        assert!(refused("").contains("\"a\""));
    }

    #[test]
    fn a_row_of_another_length_is_told_and_the_next_one_still_read() {
        let (output, reports, done) = summed("a,b\n1,1\n1\n,5\n2,2\n").unwrap();
        assert_eq!(done, Done { good: 2, bad: 2 });
        assert_eq!(output.lines().count(), 3);
        assert!(reports[0].starts_with("line 3: CSV error"), "{reports:?}");
        assert!(
            reports[1].starts_with("line 4, column 1 (a): a: \"\" is missing"),
            "{reports:?}"
        );
    }

    #[test]
    fn a_byte_order_mark_does_not_hide_the_first_column() {
        assert_eq!(summed("\u{feff}a\n1\n").unwrap().2.good, 1);
    }

    /// Rows without end.
    struct Endless(usize);

    impl Read for Endless {
        fn read(&mut self, into: &mut [u8]) -> std::io::Result<usize> {
            let row: &[u8] = if self.0 == 0 { b"a\n" } else { b"1\n" };
            self.0 += 1;
            into[..2].copy_from_slice(row);
            Ok(2)
        }
    }

    /// A pipe that closes once it has taken this many bytes.
    struct Closing(usize);

    impl Write for Closing {
        fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
            self.0 = self
                .0
                .checked_sub(bytes.len())
                .ok_or(std::io::ErrorKind::BrokenPipe)?;
            Ok(bytes.len())
        }

        fn flush(&mut self) -> std::io::Result<()> {
            Ok(())
        }
    }

    #[test]
    fn results_leave_while_rows_still_come_in() {
        let done = run(
            &COLUMNS,
            Endless(0),
            Closing(100_000),
            |_| (),
            one_by_one(|cells| Ok([cells.number("a")?])),
        );
        assert!(matches!(done, Err(TableError::Write(_))));
    }
}
