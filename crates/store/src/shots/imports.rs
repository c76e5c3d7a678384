//! Files of shots: begun, watched, ended, undone.
//!
//! The shots themselves are written by [`ImportWriter`] in one transaction; progress is
//! told beside it, so that others see it before the transaction ends.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::{block, import, import_bad_row, reading, session, shot};
use crate::base::store::Store;
use crate::shots::import_writer::{self, ImportWriter, NewImport, ReadFile};
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::physics::club::Club;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::reading::Reading;
use tally_core::vocabulary::keyed::Keyed;
use uuid::Uuid;

/// Bad rows kept of one file.
pub const MOST_BAD_ROWS: i64 = 20_000;

/// A file that was brought in, or is being.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable)]
#[diesel(table_name = import)]
pub struct Import {
    /// Identifier.
    pub id: Uuid,
    /// Whose shots.
    pub player_id: Uuid,
    /// The file's name.
    pub file_name: String,
    /// Its size, when it was told.
    pub bytes: Option<i64>,
    /// How much of it was read.
    pub bytes_done: i64,
    /// Rows that were used.
    pub rows_good: i64,
    /// Rows that could not be.
    pub rows_bad: i64,
    /// Rows whose shots were in already.
    pub rows_known: i64,
    /// `running`, `cancelling`, `done`, `cancelled`, `refused` (for its bad rows),
    /// `known` (it was imported before), `failed` or `undone`.
    pub state: String,
    /// What to say of it.
    pub message: String,
    /// When it began.
    pub started_at: DateTime<Utc>,
    /// When it last went on.
    pub touched_at: DateTime<Utc>,
    /// The names of its columns.
    pub header: serde_json::Value,
    /// How it was read.
    pub layout: Option<serde_json::Value>,
    /// What there was to say of its rows, in sentences.
    pub remarks: serde_json::Value,
}

/// A row that could not be used.
#[derive(Debug, Clone)]
pub struct BadRow {
    /// From 1, the header included.
    pub row: i64,
    /// Its cells.
    pub cells: serde_json::Value,
    /// What is wrong with them.
    pub troubles: serde_json::Value,
}

/// A shot that is there already.
#[derive(Debug, Clone)]
pub struct KnownShot {
    /// Identifier.
    pub id: Uuid,
    /// When it was hit.
    pub hit_at: DateTime<Utc>,
    /// With what.
    pub club: Club,
    /// One reading of it.
    pub reading: Reading,
}

impl Store {
    /// A player's shots between two moments, a row for each of their readings.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn shots_between(
        &self,
        school: Uuid,
        player: Uuid,
        [from, to]: [DateTime<Utc>; 2],
    ) -> Result<Vec<KnownShot>, StoreError> {
        type Row = (
            Uuid,
            DateTime<Utc>,
            Option<serde_json::Value>,
            Key<Club>,
            serde_json::Value,
        );
        let rows: Vec<Row> = shot::table
            .inner_join(
                session::table.on(session::school_id
                    .eq(shot::school_id)
                    .and(session::id.eq(shot::session_id))),
            )
            .inner_join(
                block::table.on(block::school_id
                    .eq(shot::school_id)
                    .and(block::id.eq(shot::block_id))),
            )
            .inner_join(
                reading::table.on(reading::school_id
                    .eq(shot::school_id)
                    .and(reading::shot_id.eq(shot::id))),
            )
            .filter(
                shot::school_id
                    .eq(school)
                    .and(session::player_id.eq(player)),
            )
            .filter(shot::hit_at.between(from, to))
            .select((
                shot::id,
                shot::hit_at,
                block::plan,
                session::club,
                reading::values,
            ))
            .load(&mut self.connection().await?)
            .await?;
        let each = |(id, hit_at, plan, Key(club), values): Row| {
            let planned = plan.as_ref().and_then(|plan| plan.get("club")?.as_str());
            let planned = planned.and_then(|key| Club::from_key("club", key).ok());
            Ok(KnownShot {
                id,
                hit_at,
                club: planned.unwrap_or(club),
                reading: crate::base::json::from_json(values)?,
            })
        };
        rows.into_iter().map(each).collect()
    }

    /// Which of these identifiers are those of shots of the school.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn shots_there(&self, school: Uuid, ids: &[Uuid]) -> Result<Vec<Uuid>, StoreError> {
        Ok(shot::table
            .filter(shot::school_id.eq(school).and(shot::id.eq_any(ids)))
            .select(shot::id)
            .load(&mut self.connection().await?)
            .await?)
    }

    /// How the latest file with these columns was read, with the file's name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn layout_of(
        &self,
        school: Uuid,
        header: &[String],
    ) -> Result<Option<(String, serde_json::Value)>, StoreError> {
        let found: Option<(String, Option<serde_json::Value>)> = import::table
            .filter(import::school_id.eq(school).and(import::state.eq("done")))
            .filter(import::header.eq(serde_json::json!(header)))
            .filter(import::layout.is_not_null())
            .order(import::started_at.desc())
            .select((import::file_name, import::layout))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(found.and_then(|(name, layout)| Some((name, layout?))))
    }

    /// Begins an import.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player;
    /// [`StoreError::Conflict`] when the identifier was used.
    pub async fn begin_import(
        &self,
        school: Uuid,
        new: &NewImport,
    ) -> Result<ImportWriter, StoreError> {
        self.player(school, new.player_id).await?;
        // First, so that one that finds no room leaves no trace.
        let client = self.raw_connection().await?;
        let added = diesel::insert_into(import::table)
            .values((
                import::school_id.eq(school),
                import::id.eq(new.id),
                import::player_id.eq(new.player_id),
                import::coach_id.eq(new.coach_id),
                import::file_name.eq(&new.file_name),
                import::bytes.eq(new.bytes),
                import::layout.eq(&new.layout),
            ))
            .on_conflict_do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        if added == 0 {
            return Err(StoreError::Conflict(
                "this identifier was used for another import".into(),
            ));
        }
        let device = self.file_device(school).await?;
        ImportWriter::begin(client, school, new.clone(), device).await
    }

    /// The device to which files' readings belong.
    async fn file_device(&self, school: Uuid) -> Result<Uuid, StoreError> {
        const NAME: &str = "Imported files";
        let find = async || {
            let devices = self.devices(school).await?;
            Ok::<_, StoreError>(devices.into_iter().find(|d| d.name == NAME).map(|d| d.id))
        };
        if let Some(there) = find().await? {
            return Ok(there);
        }
        let made = self
            .add_device(school, Uuid::now_v7(), NAME, DeviceKind::File, None, false)
            .await;
        // Another import may have made it meanwhile.
        match find().await? {
            Some(there) => Ok(there),
            None => made.and(Err(StoreError::NotFound("device"))),
        }
    }

    /// Tells how far an import is; answers whether it is to be cancelled.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn import_goes_on(
        &self,
        school: Uuid,
        id: Uuid,
        bytes_done: i64,
        [good, bad]: [i64; 2],
    ) -> Result<bool, StoreError> {
        let state: String = diesel::update(
            import::table.filter(import::school_id.eq(school).and(import::id.eq(id))),
        )
        .set((
            import::bytes_done.eq(bytes_done),
            import::rows_good.eq(good),
            import::rows_bad.eq(bad),
            import::touched_at.eq(diesel::dsl::now),
        ))
        .returning(import::state)
        .get_result(&mut self.connection().await?)
        .await?;
        Ok(state == "cancelling")
    }

    /// Tells how an import ended that added nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn import_ends(
        &self,
        school: Uuid,
        id: Uuid,
        state: &str,
        message: &str,
        read: &ReadFile,
    ) -> Result<(), StoreError> {
        diesel::update(import::table.filter(import::school_id.eq(school).and(import::id.eq(id))))
            .set((
                import::state.eq(state),
                import::message.eq(message),
                import::header.eq(serde_json::json!(read.header)),
                import::remarks.eq(serde_json::json!(read.remarks)),
                import::rows_known.eq(read.known),
                import::touched_at.eq(diesel::dsl::now),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Asks a running import to stop; one that has ended stays as it is.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn cancel_import(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        self.import(school, id).await?;
        diesel::update(
            import::table.filter(
                import::school_id
                    .eq(school)
                    .and(import::id.eq(id))
                    .and(import::state.eq("running")),
            ),
        )
        .set(import::state.eq("cancelling"))
        .execute(&mut self.connection().await?)
        .await?;
        Ok(())
    }

    /// Keeps rows that could not be used.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn keep_bad_rows(
        &self,
        school: Uuid,
        id: Uuid,
        rows: &[BadRow],
    ) -> Result<(), StoreError> {
        let rows: Vec<_> = rows
            .iter()
            .map(|bad| {
                (
                    import_bad_row::school_id.eq(school),
                    import_bad_row::import_id.eq(id),
                    import_bad_row::row.eq(bad.row),
                    import_bad_row::cells.eq(&bad.cells),
                    import_bad_row::troubles.eq(&bad.troubles),
                )
            })
            .collect();
        diesel::insert_into(import_bad_row::table)
            .values(rows)
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The school's imports, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn imports(&self, school: Uuid) -> Result<Vec<Import>, StoreError> {
        Ok(import::table
            .filter(import::school_id.eq(school))
            .order((import::started_at.desc(), import::id))
            .limit(100)
            .select(Import::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// One import.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn import(&self, school: Uuid, id: Uuid) -> Result<Import, StoreError> {
        let found: Option<Import> = import::table
            .filter(import::school_id.eq(school).and(import::id.eq(id)))
            .select(Import::as_select())
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        found.ok_or(StoreError::NotFound("import"))
    }

    /// The names of an import's columns, and its rows that could not be used.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn bad_rows(
        &self,
        school: Uuid,
        id: Uuid,
        most: i64,
    ) -> Result<(Vec<String>, Vec<BadRow>), StoreError> {
        let connection = &mut self.connection().await?;
        let header: Option<serde_json::Value> = import::table
            .filter(import::school_id.eq(school).and(import::id.eq(id)))
            .select(import::header)
            .first(connection)
            .await
            .optional()?;
        let header = crate::base::json::from_json(header.ok_or(StoreError::NotFound("import"))?)?;
        let rows: Vec<(i64, serde_json::Value, serde_json::Value)> = import_bad_row::table
            .filter(
                import_bad_row::school_id
                    .eq(school)
                    .and(import_bad_row::import_id.eq(id)),
            )
            .order(import_bad_row::row)
            .limit(most)
            .select((
                import_bad_row::row,
                import_bad_row::cells,
                import_bad_row::troubles,
            ))
            .load(connection)
            .await?;
        let rows = rows.into_iter().map(|(row, cells, troubles)| BadRow {
            row,
            cells,
            troubles,
        });
        Ok((header, rows.collect()))
    }

    /// Takes out all that an import brought, and what was done with its shots since.
    ///
    /// # Errors
    /// [`StoreError::NotFound`]; [`StoreError::Conflict`] when it is not in.
    pub async fn undo_import(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        let found = self.import(school, id).await?;
        if found.state != "done" {
            return Err(StoreError::Conflict(format!(
                "this import is {}; only one that is done can be undone",
                found.state
            )));
        }
        import_writer::take_out(self.raw_connection().await?, school, id, found.rows_good).await
    }
}
