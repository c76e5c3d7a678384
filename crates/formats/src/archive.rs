//! A whole school as one JSON document: written and read row after row, so that a
//! school of any size needs no more memory than its largest row.
//!
//! ```json
//! {"format": "amber-tally school", "version": 1, "tables": {"player": [{…}], …}}
//! ```

use serde::de::{DeserializeSeed, Error as _, IgnoredAny, MapAccess, SeqAccess, Visitor};
use serde_json::{Map, Value};
use std::cell::Cell;
use std::fmt;
use std::io::Read;
use std::rc::Rc;

/// What the document calls itself.
pub const FORMAT: &str = "amber-tally school";
/// The version written, and the only one read.
pub const VERSION: u64 = 1;

/// The beginning of a document.
pub fn head() -> String {
    format!("{{\"format\":\"{FORMAT}\",\"version\":{VERSION},\"tables\":{{")
}

/// The end of a document.
pub const TAIL: &str = "\n}}\n";

/// Largest row that is read, bytes: an archive cannot make the reader hold more.
pub const LARGEST_ROW: u64 = 1 << 20;

/// What takes the rows: the table's name, the row and about how many bytes it took; its
/// refusal ends the reading.
pub type OnRow<'a> = dyn FnMut(&str, Map<String, Value>, u64) -> Result<(), String> + 'a;

/// Why an archive could not be read.
#[derive(Debug, thiserror::Error)]
pub enum ArchiveError {
    /// It is no archive, or it is broken.
    #[error("this is not a whole archive of a school: {0}; choose the file as it was exported")]
    Broken(#[from] serde_json::Error),
}

/// Reads an archive and hands over its rows, table by table, in the order they stand.
///
/// # Errors
/// [`ArchiveError`] for anything but an archive of this version; rows handed over
/// before the fault was met must then be dropped.
pub fn read(input: impl Read, row: &mut OnRow<'_>) -> Result<(), ArchiveError> {
    let since_row = Rc::new(Cell::new(0));
    let counted = Counted {
        input,
        since_row: Rc::clone(&since_row),
    };
    let mut reader = serde_json::Deserializer::from_reader(counted);
    let mut row = |table: &str, given: Map<String, Value>| {
        let bytes = since_row.take();
        row(table, given, bytes)
    };
    let seen = Document { row: &mut row }.deserialize(&mut reader)?;
    reader.end()?;
    if !seen {
        return Err(serde_json::Error::custom("it has no tables").into());
    }
    Ok(())
}

/// Counts what is read since the last row, and reads no further than a row may be long.
struct Counted<R> {
    input: R,
    since_row: Rc<Cell<u64>>,
}

impl<R: Read> Read for Counted<R> {
    fn read(&mut self, buffer: &mut [u8]) -> std::io::Result<usize> {
        let n = self.input.read(buffer)?;
        self.since_row.set(self.since_row.get() + n as u64);
        if self.since_row.get() > LARGEST_ROW {
            let why = format!("a row is longer than {LARGEST_ROW} bytes");
            return Err(std::io::Error::other(why));
        }
        Ok(n)
    }
}

type OnRowHere<'a> = dyn FnMut(&str, Map<String, Value>) -> Result<(), String> + 'a;

struct Document<'a> {
    row: &'a mut OnRowHere<'a>,
}

impl<'de> DeserializeSeed<'de> for Document<'_> {
    type Value = bool;

    fn deserialize<D: serde::Deserializer<'de>>(self, from: D) -> Result<bool, D::Error> {
        from.deserialize_map(self)
    }
}

impl<'de> Visitor<'de> for Document<'_> {
    type Value = bool;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("an archive of a school")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<bool, A::Error> {
        let (mut format, mut version, mut tables) = (false, false, false);
        while let Some(key) = map.next_key::<String>()? {
            match key.as_str() {
                "format" => {
                    format = map.next_value::<String>()? == FORMAT;
                    if !format {
                        return Err(A::Error::custom("its format is another one"));
                    }
                }
                "version" => {
                    let told: u64 = map.next_value()?;
                    version = told == VERSION;
                    if !version {
                        let why = format!("its version is {told}, and only {VERSION} can be read");
                        return Err(A::Error::custom(why));
                    }
                }
                "tables" if format && version => {
                    map.next_value_seed(Tables {
                        row: &mut *self.row,
                    })?;
                    tables = true;
                }
                "tables" => {
                    return Err(A::Error::custom(
                        "format and version must stand before the tables",
                    ));
                }
                _ => {
                    map.next_value::<IgnoredAny>()?;
                }
            }
        }
        Ok(tables)
    }
}

struct Tables<'a> {
    row: &'a mut OnRowHere<'a>,
}

impl<'de> DeserializeSeed<'de> for Tables<'_> {
    type Value = ();

    fn deserialize<D: serde::Deserializer<'de>>(self, from: D) -> Result<(), D::Error> {
        from.deserialize_map(self)
    }
}

impl<'de> Visitor<'de> for Tables<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("tables by name")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut map: A) -> Result<(), A::Error> {
        while let Some(table) = map.next_key::<String>()? {
            map.next_value_seed(TableRows {
                table: &table,
                row: &mut *self.row,
            })?;
        }
        Ok(())
    }
}

struct TableRows<'a> {
    table: &'a str,
    row: &'a mut OnRowHere<'a>,
}

impl<'de> DeserializeSeed<'de> for TableRows<'_> {
    type Value = ();

    fn deserialize<D: serde::Deserializer<'de>>(self, from: D) -> Result<(), D::Error> {
        from.deserialize_seq(self)
    }
}

impl<'de> Visitor<'de> for TableRows<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("rows of a table")
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut seq: A) -> Result<(), A::Error> {
        while let Some(row) = seq.next_element::<Map<String, Value>>()? {
            (self.row)(self.table, row).map_err(A::Error::custom)?;
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rows(text: &str) -> Result<Vec<(String, String)>, String> {
        let mut rows = Vec::new();
        read(text.as_bytes(), &mut |table, row, _| {
            rows.push((table.to_owned(), Value::Object(row).to_string()));
            Ok(())
        })
        .map_err(|error| error.to_string())?;
        Ok(rows)
    }

    #[test]
    fn rows_come_table_by_table_in_their_order() {
        let text = format!(
            "{}\n\"player\":[{{\"id\":1}},{{\"id\":2}}],\n\"shot\":[]{TAIL}",
            head()
        );
        let told = rows(&text).unwrap();
        assert_eq!(told[0], ("player".to_owned(), "{\"id\":1}".to_owned()));
        assert_eq!(told.len(), 2);
    }

    #[test]
    fn a_row_without_an_end_is_given_up_before_it_fills_the_memory() {
        let endless = [head(), "\"player\":[{\"name\":\"".to_owned()].concat();
        let input = endless.as_bytes().chain(std::io::repeat(b'x'));
        let told = read(input, &mut |_, _, _| Ok(())).unwrap_err().to_string();
        assert!(told.contains("longer than 1048576 bytes"), "{told}");
        // Deeply nested is refused as well, and many rows are not.
        let deep = [endless.as_str(), "\",\"a\":", &"[".repeat(100_000)].concat();
        assert!(rows(&deep).is_err());
        let row = format!("{{\"name\":\"{}\"}}", "x".repeat(1 << 19));
        let many = format!("{}\"player\":[{}]{TAIL}", head(), vec![row; 9].join(","));
        assert_eq!(rows(&many).unwrap().len(), 9);
    }

    #[test]
    fn what_is_no_archive_or_only_half_of_one_is_refused_with_a_remedy() {
        let whole = format!("{}\"player\":[{{\"id\":1}}]{TAIL}", head());
        for bad in [
            "",
            "[]",
            "{}",
            &whole[..whole.len() - 4],
            &whole.replace("\"version\":1", "\"version\":2"),
            &whole.replace("amber-tally", "another"),
            &whole.replace("[{\"id\":1}]", "[7]"),
            &format!("{whole} and more"),
        ] {
            let refused = rows(bad).unwrap_err();
            assert!(refused.contains("as it was exported"), "{bad}: {refused}");
        }
    }
}
