//! A whole school out of its tables, and into an empty one.
//!
//! Rows cross as JSON in the tables' own columns, school and secrets left out; the
//! database reads and writes them itself, so that nothing is lost on the way.

use crate::base::error::StoreError;
use crate::base::store::{Raw, Store};
use crate::base::tables::{OfAPlayer, Table, archived};
use futures_util::{Stream, TryStreamExt};
use serde_json::{Map, Value};
use std::pin::Pin;
use tokio_postgres::RowStream;
use tokio_postgres::types::ToSql;
use uuid::Uuid;

/// The table whose one row is there before the others come.
const SCHOOL: &str = "school";

/// Rows written to the database at once.
const BATCH: usize = 500;

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
    table: String,
    waiting: Vec<Value>,
    /// What the one who restores signs in with, row by row: it becomes that of the
    /// archive's owner.
    signs_in: Vec<(&'static str, Value)>,
}

/// What a person signs in with, and the browsers that are signed in.
const SIGNS_IN: [&str; 2] = ["credential", "web_session"];

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
                crate::base::store::ROLE
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
        for table in ["house_rule", "plan_template", "audit", "coach"] {
            let sql = format!("DELETE FROM {table} WHERE school_id = $1");
            client.execute(&sql, &[&school]).await?;
        }
        Ok(Restore {
            client,
            school,
            table: String::new(),
            waiting: Vec::new(),
            signs_in,
        })
    }
}

impl Restore {
    /// Adds a row of a table.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] for a table that there is not, or a row that does not
    /// fit.
    pub async fn add(
        &mut self,
        table: &str,
        mut row: Map<String, Value>,
    ) -> Result<(), StoreError> {
        if table != self.table {
            self.flush().await?;
            if !Export::tables().any(|known| known == table) {
                return Err(StoreError::Conflict(format!(
                    "the archive has a table “{table}” that this version does not know"
                )));
            }
            table.clone_into(&mut self.table);
        }
        if table == SCHOOL {
            let name = row.get("name").and_then(Value::as_str).unwrap_or_default();
            let sql = "UPDATE school SET name = $2 WHERE school_id = $1";
            self.client.execute(sql, &[&self.school, &name]).await?;
            return Ok(());
        }
        row.insert("school_id".to_owned(), self.school.to_string().into());
        if table == "coach" {
            // Archives of before there were roles.
            row.entry("role").or_insert_with(|| "owner".into());
        }
        self.waiting.push(row.into());
        if self.waiting.len() >= BATCH {
            self.flush().await?;
        }
        Ok(())
    }

    async fn flush(&mut self) -> Result<(), StoreError> {
        if self.waiting.is_empty() {
            return Ok(());
        }
        let rows = Value::Array(std::mem::take(&mut self.waiting));
        let table = &self.table;
        let sql = format!(
            "INSERT INTO {table} SELECT * FROM jsonb_populate_recordset(NULL::{table}, $1)"
        );
        self.client.execute(&sql, &[&rows]).await.map_err(|error| {
            let why = error
                .as_db_error()
                .map_or_else(|| error.to_string(), |e| e.message().to_owned());
            StoreError::Conflict(format!("a row of “{table}” does not fit: {why}"))
        })?;
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
