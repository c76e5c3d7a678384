//! Tables of shots from anywhere: CSV with columns of any name, unit and style.
//!
//! [`guess`] looks at the head of a file and proposes a [`Layout`]; a person may change
//! it; [`Rows`] then reads the whole file by it, row after row, so that a file of any
//! size needs no more memory than its longest row. [`write_shots`] is our own table,
//! which reads back as it was.

mod cells;
mod formulas;
mod guess;
mod places;
mod rows;
mod write;

pub use formulas::as_text;
pub use guess::{Guess, guess};
pub use places::{NewBlock, NewSession, Placed, Places};
pub use rows::{BadRow, ReadRow, Rows, RowsError};
pub use write::{OutShot, write_shots};

use chrono::{DateTime, NaiveDateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::Swung;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Unit;
use utoipa::ToSchema;

/// Most columns of a table.
pub const MOST_COLUMNS: usize = 500;
/// Longest row, bytes: beyond it a quote was not closed.
pub const LONGEST_ROW: u64 = 1 << 20;

/// How bytes become text.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Encoding {
    /// UTF-8, or UTF-16 with its byte-order mark.
    Utf8,
    /// Latin-1, as Windows writes it (code page 1252).
    Latin1,
}

/// How a date of numbers is ordered. Year first is always understood.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DateStyle {
    /// 18/04/2026, 18.04.2026.
    DayFirst,
    /// 04/18/2026.
    MonthFirst,
}

/// What a column holds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case", tag = "is")]
pub enum ColumnUse {
    /// Nothing that is used.
    Unused,
    /// A value of the shot. A unit in a cell stands before this one.
    Value {
        /// Which.
        quantity: Quantity,
        /// Its unit, by its suffix; empty for numbers alone.
        #[serde(with = "unit_suffix")]
        #[schema(value_type = String)]
        unit: Unit,
    },
    /// How a value came about: `measured`, `calculated`, `entered`.
    From {
        /// Which.
        quantity: Quantity,
    },
    /// The day, and perhaps the time, of the shot.
    Date,
    /// The time of day.
    Time,
    /// The club.
    Club,
    /// What was tried: a block's label.
    Block,
    /// The state that the coach gave it: `kept`, `set_aside`, `doubtful`, or empty.
    Standing,
    /// What was swung without a ball.
    Implement,
    /// The side it was swung from: `dominant` or `other`.
    SwingSide,
    /// How the player stood: `normal`, `stepping`, `kneeling`.
    Position,
    /// Effort felt that was asked for, %.
    Effort,
}

mod unit_suffix {
    use serde::{Deserialize, Deserializer, Serializer};
    use tally_core::vocabulary::units::{Dimension, Unit};

    pub fn serialize<S: Serializer>(unit: &Unit, out: S) -> Result<S::Ok, S::Error> {
        out.serialize_str(unit.suffix())
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Unit, D::Error> {
        let suffix = String::deserialize(from)?;
        Dimension::ALL
            .iter()
            .flat_map(|dimension| dimension.accepted())
            .find(|unit| unit.suffix() == suffix)
            .copied()
            .ok_or_else(|| serde::de::Error::custom(format!("{suffix:?} is not a unit")))
    }
}

/// How a table is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Layout {
    /// How bytes become text.
    pub encoding: Encoding,
    /// Between two cells: `,`, `;`, `|` or a tab.
    pub delimiter: char,
    /// Whether the first row names the columns.
    pub header: bool,
    /// Whether a comma stands before decimals.
    pub decimal_comma: bool,
    /// How a date of numbers is ordered.
    pub dates: DateStyle,
    /// What each column holds, in order.
    pub columns: Vec<ColumnUse>,
    /// Provenance of values whose column says nothing about it.
    pub provenance: Provenance,
}

impl Layout {
    /// Checks a layout that a person changed.
    ///
    /// # Errors
    /// [`Invalid`] when no column holds a value, a value or role stands twice, a unit
    /// does not fit its value, or the delimiter is none.
    pub fn check(&self) -> Result<(), Invalid> {
        if !matches!(self.delimiter, ',' | ';' | '|' | '\t') {
            let remedy = "use a comma, a semicolon, a bar or a tab";
            return Err(Invalid::new(
                "delimiter",
                self.delimiter,
                "cannot separate cells",
                remedy,
            ));
        }
        if self.columns.len() > MOST_COLUMNS {
            let remedy = format!("keep {MOST_COLUMNS} at most");
            let columns = self.columns.len();
            return Err(Invalid::new(
                "columns",
                columns,
                "are too many columns",
                remedy,
            ));
        }
        for (i, column) in self.columns.iter().enumerate() {
            let field = format!("columns[{i}]");
            if let ColumnUse::Value { quantity, unit } = column {
                quantity
                    .dimension()
                    .unit_of_suffix(&format!("{field}.unit"), unit.suffix())?;
            }
            let twice = |other: &ColumnUse| match (column, other) {
                (ColumnUse::Unused, _) => false,
                (ColumnUse::Value { quantity: a, .. }, ColumnUse::Value { quantity: b, .. }) => {
                    a == b
                }
                (a, b) => a == b,
            };
            if let Some(first) = self.columns[..i].iter().position(twice) {
                let problem = format!("holds the same as column {}", first + 1);
                return Err(Invalid::new(
                    field,
                    i + 1,
                    problem,
                    "leave one of them unused",
                ));
            }
        }
        if !self
            .columns
            .iter()
            .any(|c| matches!(c, ColumnUse::Value { .. }))
        {
            return Err(Invalid::missing(
                "columns",
                "say which column holds a value of the shot",
            ));
        }
        Ok(())
    }
}

/// When a shot of a table was hit.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum When {
    /// A moment.
    At(DateTime<Utc>),
    /// A time at the place, whose zone the table does not tell.
    Local(NaiveDateTime),
    /// A day without a time.
    Day(chrono::NaiveDate),
    /// It is not told.
    Unknown,
}

/// A shot of a table.
#[derive(Debug, Clone, PartialEq)]
pub struct ImportedShot {
    /// When it was hit.
    pub when: When,
    /// With what.
    pub club: Option<Club>,
    /// What was tried.
    pub block: Option<String>,
    /// What was swung without a ball; absent for a ball that was hit.
    pub swung: Option<Swung>,
    /// Effort felt that was asked for, %, where the table tells it.
    pub effort_pct: Option<u32>,
    /// Whether it had been set aside.
    pub set_aside: bool,
    /// Its values.
    pub reading: Reading,
}

/// What is wrong with one cell of a row.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct CellTrouble {
    /// The row, from 1, the header included.
    pub row: u64,
    /// The column, from 1; 0 for the row as a whole.
    pub column: usize,
    /// The column's name.
    pub name: String,
    /// The cell.
    pub value: String,
    /// What is wrong.
    pub problem: String,
    /// What to do.
    pub remedy: String,
}

impl CellTrouble {
    fn of(row: u64, column: usize, name: &str, why: Invalid) -> Self {
        Self {
            row,
            column,
            name: name.to_owned(),
            value: why.value,
            problem: why.problem,
            remedy: why.remedy,
        }
    }
}

#[cfg(test)]
mod tests;
