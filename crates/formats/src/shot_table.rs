//! Tables of shots from anywhere: text, workbooks and JSON, with columns of any name, unit and
//! style.
//!
//! [`guess`] looks at a file and proposes a [`Layout`]; [`look`] says what that layout makes of
//! the file, with [`Question`]s about all that the file itself does not tell; a person answers
//! them; [`Rows`] then reads the whole file by it, row after row. What is not known is asked and
//! never taken for granted. [`write_shots`] is our own table, which reads back as it was.

mod cells;
mod clubs;
mod database;
mod dates;
mod formulas;
mod grid;
mod guess;
mod layout;
mod likely;
mod line;
mod look;
mod names;
mod numbers;
mod order;
mod places;
mod questions;
mod rows;
mod source;
mod terms;
mod units;
mod workbook;
mod write;

pub use clubs::club;
pub use database::ShotDatabase;
pub use formulas::as_text;
pub use guess::guess;
pub use layout::{Alike, ColumnUse, DateStyle, Layout, MOST_COLUMNS, Source, remembered};
pub use look::{Looked, PlayersRows, look, looked_at};
pub use places::{NewBlock, NewSession, Placed, Places};
pub use questions::{Choice, Question, still_open};
pub use rows::{BadRow, ReadRow, Rows, Skipped};
pub use source::{HELD_WHOLE, LONGEST_ROW, RowsError, is_held_whole};
pub use write::{OutShot, write_shots};

use chrono::{DateTime, NaiveDateTime, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::shots::mark::Reason;
use tally_core::shots::reading::Reading;
use tally_core::shots::swung::Swung;
use tally_core::vocabulary::invalid::Invalid;
use utoipa::ToSchema;
use uuid::Uuid;

/// When a shot of a table was hit.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum When {
    /// A moment.
    At(DateTime<Utc>),
    /// A time at the place, whose zone the table does not tell.
    Local(NaiveDateTime),
    /// A day without a time.
    Day(chrono::NaiveDate),
    /// A time of day without a day.
    Clock(chrono::NaiveTime),
    /// It is not told.
    Unknown,
}

/// A shot of a table.
#[derive(Debug, Clone, PartialEq)]
pub struct ImportedShot {
    /// The shot of ours that went out as this row.
    pub ours: Option<Uuid>,
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
    /// Why, where the table tells it.
    pub reason: Option<Reason>,
    /// Its values.
    pub reading: Reading,
}

impl ImportedShot {
    pub(crate) fn empty() -> Self {
        Self {
            ours: None,
            when: When::Unknown,
            club: None,
            block: None,
            swung: None,
            effort_pct: None,
            set_aside: false,
            reason: None,
            reading: Reading::default(),
        }
    }
}

/// What is wrong with one cell of a row.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct CellTrouble {
    /// The row, from 1, as the file stands.
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
