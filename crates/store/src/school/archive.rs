//! A whole school out of its tables, and into an empty one.
//!
//! Rows cross as JSON in the tables' own columns, school and secrets left out; the
//! database reads and writes them itself, so that nothing is lost on the way.

use crate::base::columns::{check, columns};
use crate::base::error::StoreError;
use crate::base::store::{Raw, Store};
use crate::base::tables::{OfAPlayer, Table, archived};
use futures_util::{Stream, TryStreamExt};
use serde_json::{Map, Value};
use std::pin::Pin;
use tally_core::vocabulary::invalid::Invalid;
use tokio_postgres::RowStream;
use tokio_postgres::error::SqlState;
use tokio_postgres::types::ToSql;
use uuid::Uuid;

/// The table whose one row is there before the others come.
const SCHOOL: &str = "school";

/// Rows written to the database at once, and their bytes.
const BATCH: usize = 500;
const BATCH_BYTES: u64 = 1 << 20;

/// A school read at one moment, table by table.
pub struct Export {
    client: Raw,
    school: Uuid,
    /// The one player whose rows are read; everybody's without.
    player: Option<Uuid>,
}

/// The rows of one table, each as JSON text.
pub type Rows = Pin<Box<dyn Stream<Item = Result<String, StoreError>> + Send>>;

impl Export {
    /// The names of the tables, in order.
    pub fn tables() -> impl Iterator<Item = &'static str> {
        archived().map(|(table, _)| table.name)
    }

    /// The rows of a table.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn rows(&self, table: &str) -> Result<Rows, StoreError> {
        let known = archived().find(|(known, _)| known.name == table);
        let (table, home) = known.ok_or(StoreError::NotFound("table"))?;
        // The one school of its table needs no order, and a key is one.
        let order = ["school_id"].iter().chain(table.key).copied();
        let order = order.collect::<Vec<_>>().join(", ");
        let without: String = home.iter().map(|column| format!(" - '{column}'")).collect();
        let of = match self.player {
            None => "$2::uuid IS NULL",
            Some(_) => of_a_player(table),
        };
        let sql = format!(
            "SELECT (to_jsonb(t) - 'school_id'{without})::text FROM {} t \
             WHERE school_id = $1 AND {of} ORDER BY {order}",
            table.name
        );
        let given: [&(dyn ToSql + Sync); 2] = [&self.school, &self.player];
        let rows: RowStream = self.client.query_raw(&sql, given).await?;
        Ok(Box::pin(
            rows.map_ok(|row| row.get::<_, String>(0))
                .map_err(StoreError::from),
        ))
    }
}

/// Which rows of a table go into one player's archive. The school's people are named,
/// because acts say who did them; its rules and devices are not the player's.
fn of_a_player(table: &Table) -> &'static str {
    match (table.of_a_player, table.of_a_player.condition()) {
        (_, Some(condition)) => condition,
        (OfAPlayer::Named, None) => "$2::uuid IS NOT NULL",
        (_, None) => "$2::uuid IS NULL",
    }
}

/// A school on its way into an empty one.
pub struct Restore {
    client: Raw,
    school: Uuid,
    table: Option<&'static Table>,
    /// Rows of the table so far.
    rows: usize,
    waiting: Vec<Value>,
    waiting_bytes: u64,
    /// What the one who restores signs in with, row by row: it becomes that of the
    /// archive's owner.
    signs_in: Vec<(&'static str, Value)>,
}

/// What to say of a row that the database refused, in our own words.
fn does_not_fit(table: &str, error: tokio_postgres::Error) -> StoreError {
    let class = error.code().map(SqlState::code).unwrap_or_default();
    let problem = match error.code() {
        Some(code) if *code == SqlState::FOREIGN_KEY_VIOLATION => {
            "refers to something that the archive does not hold, or that is another player's"
        }
        Some(code) if *code == SqlState::UNIQUE_VIOLATION => "stands there twice",
        // Values that are refused (class 22), and that break a rule (class 23).
        Some(_) if class.starts_with("22") || class.starts_with("23") => {
            "holds values that cannot go together"
        }
        _ => return error.into(),
    };
    let remedy = "choose the file as it was exported";
    Invalid::new(table, "(a row)", problem, remedy).into()
}

/// What a person signs in with, and the browsers that are signed in.
const SIGNS_IN: [&str; 4] = ["credential", "web_session", "known_browser", "script_token"];

impl Store {
    /// Reads a school as it is at this moment.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] or [`StoreError::Raw`].
    pub async fn export_school(&self, school: Uuid) -> Result<Export, StoreError> {
        let client = self.raw_connection().await?;
        client
            .batch_execute(&format!(
                "SET TIME ZONE 'UTC'; SET ROLE {}; SET tally.school = '{school}'; \
                 BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY",
                crate::base::pools::ROLE
            ))
            .await?;
        Ok(Export {
            client,
            school,
            player: None,
        })
    }

    /// Reads one player as they are at this moment, in the same form.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Unreachable`] or [`StoreError::Raw`].
    pub async fn export_player(&self, school: Uuid, player: Uuid) -> Result<Export, StoreError> {
        self.player(school, player).await?;
        let player = Some(player);
        Ok(Export {
            player,
            ..self.export_school(school).await?
        })
    }

    /// Begins to fill an empty school. Who restores it signs in as the archive's owner
    /// afterwards.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when the school has players, or a device of its own.
    pub async fn restore_school(&self, school: Uuid) -> Result<Restore, StoreError> {
        let client = self.raw_connection().await?;
        client.batch_execute("SET TIME ZONE 'UTC'; BEGIN").await?;
        // One at a time, and nothing comes in meanwhile.
        client
            .execute(
                "SELECT 1 FROM school WHERE school_id = $1 FOR UPDATE",
                &[&school],
            )
            .await?;
        let holds = client
            .query_one(
                "SELECT (SELECT count(*) FROM player WHERE school_id = $1) \
                      + (SELECT count(*) FROM device WHERE school_id = $1) \
                      + (SELECT count(*) - 1 FROM coach WHERE school_id = $1)",
                &[&school],
            )
            .await?;
        if holds.get::<_, i64>(0) > 0 {
            return Err(StoreError::Conflict(
                "this school already has players, devices or other people; an archive goes into an empty school only".into(),
            ));
        }
        let mut signs_in = Vec::new();
        for table in SIGNS_IN {
            let sql = format!("SELECT to_jsonb(t) FROM {table} t WHERE school_id = $1");
            for row in client.query(&sql, &[&school]).await? {
                signs_in.push((table, row.get(0)));
            }
        }
        // The archive brings its own coaches and rules.
        for table in [
            "house_rule",
            "plan_template",
            "protocol",
            "implement",
            "audit",
            "coach",
        ] {
            let sql = format!("DELETE FROM {table} WHERE school_id = $1");
            client.execute(&sql, &[&school]).await?;
        }
        Ok(Restore {
            client,
            school,
            table: None,
            rows: 0,
            waiting: Vec::new(),
            waiting_bytes: 0,
            signs_in,
        })
    }
}

impl Restore {
    /// Adds a row of a table, which took so many bytes.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] for a table that there is not, or a row that the API would
    /// not have let in; [`StoreError::Conflict`] for rows that do not fit each other.
    pub async fn add(
        &mut self,
        name: &str,
        mut row: Map<String, Value>,
        bytes: u64,
    ) -> Result<(), StoreError> {
        let table = match self.table {
            Some(same) if same.name == name => same,
            _ => {
                self.flush().await?;
                let known = archived().find(|(known, _)| known.name == name);
                let (table, _) = known.ok_or_else(|| {
                    let problem = "is no table that this version knows";
                    Invalid::new("tables", name, problem, "leave the file as it was exported")
                })?;
                self.rows = 0;
                *self.table.insert(table)
            }
        };
        if name == "coach" {
            // Archives of before there were roles.
            row.entry("role").or_insert_with(|| "owner".into());
        }
        if name == "comparison" {
            // Archives of before it was noted what told nothing yet.
            row.entry("undecided").or_insert(false.into());
        }
        if name == "session" {
            // Archives of before sessions were noted.
            row.entry("note").or_insert("".into());
            row.entry("tags").or_insert_with(|| Value::Array(vec![]));
        }
        check(table, self.rows, &row)?;
        self.rows += 1;
        if name == SCHOOL {
            let name = row.get("name").and_then(Value::as_str).unwrap_or_default();
            let sql = "UPDATE school SET name = $2 WHERE school_id = $1";
            self.client.execute(sql, &[&self.school, &name]).await?;
            return Ok(());
        }
        row.insert("school_id".to_owned(), self.school.to_string().into());
        self.waiting.push(row.into());
        self.waiting_bytes += bytes;
        if self.waiting.len() >= BATCH || self.waiting_bytes >= BATCH_BYTES {
            self.flush().await?;
        }
        Ok(())
    }

    async fn flush(&mut self) -> Result<(), StoreError> {
        let Some(table) = self.table.filter(|_| !self.waiting.is_empty()) else {
            return Ok(());
        };
        let rows = Value::Array(std::mem::take(&mut self.waiting));
        self.waiting_bytes = 0;
        // By name: a column that an archive does not hold takes what the database gives it.
        let columns = columns(table).iter().map(|column| column.name);
        let columns: Vec<_> = ["school_id"].into_iter().chain(columns).collect();
        let (table, columns) = (table.name, columns.join(", "));
        let sql = format!(
            "INSERT INTO {table} ({columns}) \
             SELECT {columns} FROM jsonb_populate_recordset(NULL::{table}, $1)"
        );
        self.client
            .execute(&sql, &[&rows])
            .await
            .map_err(|error| does_not_fit(table, error))?;
        Ok(())
    }

    /// Lets the school be seen, whole. Answers with the owner who signs in now.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has no coach or its last rows do not fit.
    pub async fn finish(mut self) -> Result<Uuid, StoreError> {
        self.flush().await?;
        let owner = self
            .client
            .query_opt(
                "SELECT id FROM coach WHERE school_id = $1 AND role = 'owner' AND left_at IS NULL \
                 ORDER BY id LIMIT 1",
                &[&self.school],
            )
            .await?;
        let Some(owner) = owner.map(|row| row.get::<_, Uuid>(0)) else {
            return Err(StoreError::Conflict(
                "the archive names no owner; choose the file as it was exported".into(),
            ));
        };
        for (table, mut row) in std::mem::take(&mut self.signs_in) {
            row["coach_id"] = owner.to_string().into();
            let sql = format!(
                "INSERT INTO {table} SELECT * FROM jsonb_populate_record(NULL::{table}, $1)"
            );
            self.client.execute(&sql, &[&row]).await?;
        }
        self.client.batch_execute("COMMIT").await?;
        Ok(owner)
    }
}
