//! Shots as a database in a file (SQLite), which tools for statistics read: the columns of our
//! table with numbers as numbers, and the session of each shot, whose shots hang together.

use super::write::{Cell, Columns, OutShot};
use rusqlite::types::{ToSqlOutput, Value, ValueRef};
use rusqlite::{Connection, ToSql, params_from_iter};
use std::path::Path;
use tally_core::vocabulary::units::Units;

/// A database of shots under way: nothing of it counts until it is finished.
pub struct ShotDatabase {
    connection: Connection,
    columns: Columns,
    insert: String,
}

impl ToSql for Cell {
    fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
        Ok(match self {
            Cell::Empty => ToSqlOutput::Owned(Value::Null),
            Cell::Text(text) => ToSqlOutput::Borrowed(ValueRef::Text(text.as_bytes())),
            Cell::Number(number) => ToSqlOutput::Owned(Value::Real(*number)),
        })
    }
}

impl ShotDatabase {
    /// Begins a database in a new or empty file, with values in these units.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn begin(file: &Path, units: Units) -> rusqlite::Result<ShotDatabase> {
        let connection = Connection::open(file)?;
        // The file is thrown away when anything goes wrong: nothing needs a journal.
        connection.execute_batch(
            "PRAGMA journal_mode = OFF; PRAGMA synchronous = OFF; PRAGMA user_version = 1",
        )?;
        let columns = Columns::of(units);
        let names = columns.names();
        let of = |(at, name): (usize, &String)| {
            let kind = if columns.is_number(at) {
                "REAL"
            } else {
                "TEXT"
            };
            format!("{name} {kind}")
        };
        let told: Vec<String> = names.iter().enumerate().map(of).collect();
        connection.execute_batch(&format!(
            "CREATE TABLE shot (session TEXT NOT NULL, {}); BEGIN",
            told.join(", ")
        ))?;
        let places = vec!["?"; names.len() + 1].join(", ");
        Ok(ShotDatabase {
            connection,
            insert: format!("INSERT INTO shot VALUES ({places})"),
            columns,
        })
    }

    /// Adds shots.
    ///
    /// # Errors
    /// When they cannot be written.
    pub fn add(&mut self, shots: impl IntoIterator<Item = OutShot>) -> rusqlite::Result<()> {
        let mut insert = self.connection.prepare_cached(&self.insert)?;
        for shot in shots {
            let session = Cell::Text(shot.session.to_string());
            let row = self.columns.row(shot);
            insert.execute(params_from_iter([session].into_iter().chain(row)))?;
        }
        Ok(())
    }

    /// Makes it whole.
    ///
    /// # Errors
    /// When it cannot be written.
    pub fn finish(self) -> rusqlite::Result<()> {
        self.connection.execute_batch(
            "COMMIT; CREATE INDEX shot_player ON shot (player, club); CREATE INDEX shot_session ON shot (session)",
        )
    }
}
