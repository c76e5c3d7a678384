//! A row of a file, whatever the file is.

use csv::StringRecord;

/// A row as it stands in the file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Line {
    /// From 1, blank rows included.
    pub row: u64,
    /// Its cells.
    pub cells: StringRecord,
}
