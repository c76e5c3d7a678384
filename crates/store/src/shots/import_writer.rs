//! Writes the shots of a file: by COPY, which Diesel does not speak, inside one
//! transaction, so that a file is in whole or not at all.

use crate::base::error::StoreError;
use crate::base::store::Raw;
use chrono::{DateTime, Utc};
use std::pin::pin;
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::purpose::Purpose;
use tally_core::shots::mark::Reason;
use tally_core::shots::reading::Reading;
use tally_core::vocabulary::keyed::Keyed;
use tokio_postgres::binary_copy::BinaryCopyInWriter;
use tokio_postgres::types::{Json, Type};
use uuid::Uuid;

/// Renews what the planner knows of the tables that an import fills.
const LOOK_AGAIN: &str = "ANALYZE session, block, shot, reading";
/// Rows from which on an import is large: PostgreSQL sees to smaller ones by itself, and
/// many small ones together would keep it busy.
const LARGE: i64 = 5_000;

/// A file to bring in.
#[derive(Debug, Clone)]
pub struct NewImport {
    /// Identifier, made by whoever brings it.
    pub id: Uuid,
    /// Whose shots.
    pub player_id: Uuid,
    /// Who brings it.
    pub coach_id: Uuid,
    /// Its name.
    pub file_name: String,
    /// Its size, when it is told.
    pub bytes: Option<i64>,
    /// How it is read.
    pub layout: serde_json::Value,
}

/// What there is to say of a file that was read.
#[derive(Debug, Clone, Default)]
pub struct ReadFile {
    /// The names of its columns.
    pub header: Vec<String>,
    /// Of its rows, in sentences.
    pub remarks: Vec<String>,
    /// Rows whose shots were in already.
    pub known: i64,
    /// Whether shots did not stand in the order they were hit.
    pub unordered: bool,
}

/// A session of a file.
#[derive(Debug, Clone)]
pub struct ImportedSession {
    /// Identifier.
    pub id: Uuid,
    /// Why it is held.
    pub purpose: Purpose,
    /// Its club.
    pub club: Club,
    /// Where.
    pub place: String,
    /// Height above the sea, m.
    pub altitude_m: f64,
    /// Temperature, °C.
    pub temperature_c: f64,
    /// When it began.
    pub started_at: DateTime<Utc>,
    /// Name of its zone.
    pub zone: String,
}

/// A block of a file.
#[derive(Debug, Clone)]
pub struct ImportedBlock {
    /// Identifier.
    pub id: Uuid,
    /// Its session.
    pub session_id: Uuid,
    /// Place in the order.
    pub position: i32,
    /// Its label.
    pub label: String,
    /// Its plan, which tells its club.
    pub plan: serde_json::Value,
    /// When it began.
    pub begun_at: DateTime<Utc>,
}

/// A shot of a file, in its place.
#[derive(Debug, Clone)]
pub struct PlacedShot {
    /// Its identifier: of shots of the same moment, in the order they were hit.
    pub id: Uuid,
    /// Its session.
    pub session_id: Uuid,
    /// Its block.
    pub block_id: Uuid,
    /// When it was hit.
    pub hit_at: DateTime<Utc>,
    /// Its row.
    pub row: i64,
    /// Its place among the shots of that row, from 0.
    pub of_row: i64,
    /// Whether it had been set aside.
    pub set_aside: bool,
    /// Why, where that is told.
    pub reason: Option<Reason>,
    /// Its values.
    pub reading: Reading,
}

/// The place of a shot in its file: by its row, and within it.
fn sequence_of(shot: &PlacedShot) -> i64 {
    shot.row * MOST_OF_A_ROW + shot.of_row.min(MOST_OF_A_ROW - 1)
}

/// Most shots of one row.
const MOST_OF_A_ROW: i64 = 1_000;

/// A session begins with its first shot, wherever that stood in the file.
const SESSIONS_BEGIN: &str = "\
    UPDATE session SET started_at = first.hit_at FROM \
        (SELECT session_id, min(hit_at) AS hit_at FROM shot WHERE school_id = $1 AND session_id IN \
            (SELECT id FROM session WHERE school_id = $1 AND import_id = $2) GROUP BY 1) AS first \
    WHERE session.school_id = $1 AND session.id = first.session_id";

/// So do its blocks, which stand in the order they were begun.
const BLOCKS_BEGIN: &str = "\
    WITH first AS \
        (SELECT DISTINCT ON (block_id) block_id, session_id, hit_at, id FROM shot WHERE school_id = $1 AND session_id IN \
            (SELECT id FROM session WHERE school_id = $1 AND import_id = $2) ORDER BY block_id, hit_at, id), \
    placed AS \
        (SELECT block_id, hit_at, (row_number() OVER (PARTITION BY session_id ORDER BY hit_at, id) - 1)::int AS position FROM first) \
    UPDATE block SET begun_at = placed.hit_at, position = placed.position FROM placed \
    WHERE block.school_id = $1 AND block.id = placed.block_id";

/// An import under way: nothing of it is seen until it is finished.
pub struct ImportWriter {
    client: Raw,
    school: Uuid,
    new: NewImport,
    device: Uuid,
}

/// How an import ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Finished {
    /// It is in.
    Done,
    /// The same file is in already; nothing was added.
    Known,
}

impl ImportWriter {
    pub(crate) async fn begin(
        client: Raw,
        school: Uuid,
        new: NewImport,
        device: Uuid,
    ) -> Result<ImportWriter, StoreError> {
        client.batch_execute("BEGIN").await?;
        Ok(ImportWriter {
            client,
            school,
            new,
            device,
        })
    }

    /// Adds sessions and blocks that shots of this import go to.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn add_places(
        &self,
        sessions: &[ImportedSession],
        blocks: &[ImportedBlock],
    ) -> Result<(), StoreError> {
        for session in sessions {
            self.client
                .execute(
                    "INSERT INTO session (school_id, id, player_id, purpose, club, place, altitude_m, \
                     temperature_c, humidity_pct, started_at, zone, ended_at, import_id) \
                     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $12, $9, $10, $9, $11)",
                    &[
                        &self.school,
                        &session.id,
                        &self.new.player_id,
                        &session.purpose.key(),
                        &session.club.key(),
                        &session.place,
                        &session.altitude_m,
                        &session.temperature_c,
                        &session.started_at,
                        &session.zone,
                        &self.new.id,
                        &Conditions::USUAL_HUMIDITY_PCT,
                    ],
                )
                .await?;
        }
        if blocks.is_empty() {
            return Ok(());
        }
        self.add_blocks(blocks).await
    }

    async fn add_blocks(&self, blocks: &[ImportedBlock]) -> Result<(), StoreError> {
        let sink = self
            .client
            .copy_in("COPY block (school_id, id, session_id, position, label, plan, begun_at) FROM STDIN BINARY")
            .await?;
        let types = [
            Type::UUID,
            Type::UUID,
            Type::UUID,
            Type::INT4,
            Type::TEXT,
            Type::JSONB,
            Type::TIMESTAMPTZ,
        ];
        let mut writer = pin!(BinaryCopyInWriter::new(sink, &types));
        for block in blocks {
            writer
                .as_mut()
                .write(&[
                    &self.school,
                    &block.id,
                    &block.session_id,
                    &block.position,
                    &block.label,
                    &block.plan,
                    &block.begun_at,
                ])
                .await?;
        }
        writer.finish().await?;
        Ok(())
    }

    /// Adds shots; their sessions and blocks are there.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn add_shots(&self, shots: &[PlacedShot]) -> Result<(), StoreError> {
        let ids: Vec<Uuid> = shots.iter().map(|shot| shot.id).collect();
        let sink = self
            .client
            .copy_in("COPY shot (school_id, id, session_id, block_id, hit_at) FROM STDIN BINARY")
            .await?;
        let types = [
            Type::UUID,
            Type::UUID,
            Type::UUID,
            Type::UUID,
            Type::TIMESTAMPTZ,
        ];
        let mut writer = pin!(BinaryCopyInWriter::new(sink, &types));
        for (shot, id) in shots.iter().zip(&ids) {
            writer
                .as_mut()
                .write(&[
                    &self.school,
                    id,
                    &shot.session_id,
                    &shot.block_id,
                    &shot.hit_at,
                ])
                .await?;
        }
        writer.finish().await?;
        self.add_readings(shots, &ids).await?;
        self.set_aside(shots, &ids).await
    }

    async fn add_readings(&self, shots: &[PlacedShot], ids: &[Uuid]) -> Result<(), StoreError> {
        let sink = self
            .client
            .copy_in("COPY reading (school_id, id, shot_id, device_id, run, sequence, values) FROM STDIN BINARY")
            .await?;
        let types = [
            Type::UUID,
            Type::UUID,
            Type::UUID,
            Type::UUID,
            Type::TEXT,
            Type::INT8,
            Type::JSONB,
        ];
        let run = self.new.id.to_string();
        let mut writer = pin!(BinaryCopyInWriter::new(sink, &types));
        for (shot, id) in shots.iter().zip(ids) {
            writer
                .as_mut()
                .write(&[
                    &self.school,
                    // A reading of its own, whose identifier may be the shot's.
                    id,
                    id,
                    &self.device,
                    &run,
                    &sequence_of(shot),
                    &Json(&shot.reading),
                ])
                .await?;
        }
        writer.finish().await?;
        Ok(())
    }

    async fn set_aside(&self, shots: &[PlacedShot], ids: &[Uuid]) -> Result<(), StoreError> {
        let (aside, reasons): (Vec<Uuid>, Vec<&str>) = shots
            .iter()
            .zip(ids)
            .filter(|(shot, _)| shot.set_aside)
            .map(|(shot, id)| (*id, shot.reason.unwrap_or(Reason::Other).key()))
            .unzip();
        if aside.is_empty() {
            return Ok(());
        }
        let marks: Vec<Uuid> = aside.iter().map(|_| Uuid::now_v7()).collect();
        self.client
            .execute(
                "INSERT INTO shot_mark (school_id, id, shot_id, coach_id, kind, reason, note) \
                 SELECT $1, m, s, $2, 'set_aside', r, 'set aside before the import' \
                 FROM unnest($3::uuid[], $4::uuid[], $5::text[]) AS t (m, s, r)",
                &[&self.school, &self.new.coach_id, &marks, &aside, &reasons],
            )
            .await?;
        Ok(())
    }

    /// Lets all of it be seen, unless the same file is in already.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn finish(
        self,
        sha256: &[u8],
        [good, bad]: [i64; 2],
        bytes: i64,
        read: &ReadFile,
    ) -> Result<Finished, StoreError> {
        let header = serde_json::json!(read.header);
        let remarks = serde_json::json!(read.remarks);
        // The last shot of a session tells when it ended.
        self.client
            .execute(
                "UPDATE session SET ended_at = last.hit_at FROM \
                 (SELECT session_id, max(hit_at) AS hit_at FROM shot WHERE school_id = $1 AND session_id IN \
                  (SELECT id FROM session WHERE school_id = $1 AND import_id = $2) GROUP BY 1) AS last \
                 WHERE session.school_id = $1 AND session.id = last.session_id",
                &[&self.school, &self.new.id],
            )
            .await?;
        if read.unordered {
            for sql in [SESSIONS_BEGIN, BLOCKS_BEGIN] {
                self.client
                    .execute(sql, &[&self.school, &self.new.id])
                    .await?;
            }
        }
        let told = self
            .client
            .execute(
                "UPDATE import SET state = 'done', sha256 = $3, rows_good = $4, rows_bad = $5, \
                 bytes_done = $6, header = $7, remarks = $8, rows_known = $9, touched_at = now() WHERE school_id = $1 AND id = $2",
                &[
                    &self.school,
                    &self.new.id,
                    &sha256,
                    &good,
                    &bad,
                    &bytes,
                    &header,
                    &remarks,
                    &read.known,
                ],
            )
            .await;
        match told {
            Ok(_) => {
                self.client.batch_execute("COMMIT").await?;
                if good >= LARGE {
                    // The shots are in; nobody need wait for this.
                    tokio::spawn(async move {
                        if let Err(error) = self.client.batch_execute(LOOK_AGAIN).await {
                            tracing::warn!(%error, "imports: the planner was not told");
                        }
                    });
                }
                Ok(Finished::Done)
            }
            Err(error)
                if error.code() == Some(&tokio_postgres::error::SqlState::UNIQUE_VIOLATION) =>
            {
                self.abandon().await?;
                Ok(Finished::Known)
            }
            Err(error) => Err(error.into()),
        }
    }

    /// Leaves everything as it was.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn abandon(self) -> Result<(), StoreError> {
        self.client.batch_execute("ROLLBACK").await?;
        Ok(())
    }
}

/// Takes out all that an import brought, and what was done with its shots since.
pub(crate) async fn take_out(
    mut client: Raw,
    school: Uuid,
    id: Uuid,
    rows: i64,
) -> Result<(), StoreError> {
    if rows >= LARGE {
        // Just after a large import the database has not looked at it yet, and would go
        // through all of it for each row.
        client.batch_execute(LOOK_AGAIN).await?;
    }
    let transaction = client.transaction().await?;
    const SHOTS: &str = "(SELECT shot.id FROM shot JOIN session s \
            ON (s.school_id, s.id) = (shot.school_id, shot.session_id) \
            WHERE s.school_id = $1 AND s.import_id = $2)";
    const SESSIONS: &str = "(SELECT id FROM session WHERE school_id = $1 AND import_id = $2)";
    for (table, column, which) in [
        ("shot_mark", "shot_id", SHOTS),
        ("shot_entry", "shot_id", SHOTS),
        ("reading", "shot_id", SHOTS),
        ("shot", "session_id", SESSIONS),
        ("session_act", "session_id", SESSIONS),
        ("block", "session_id", SESSIONS),
    ] {
        let sql = format!("DELETE FROM {table} WHERE school_id = $1 AND {column} IN {which}");
        transaction.execute(&sql, &[&school, &id]).await?;
    }
    for sql in [
        "UPDATE device SET session_id = NULL WHERE school_id = $1 AND session_id IN \
             (SELECT id FROM session WHERE school_id = $1 AND import_id = $2)",
        "DELETE FROM session WHERE school_id = $1 AND import_id = $2",
        "UPDATE import SET state = 'undone' WHERE school_id = $1 AND id = $2",
    ] {
        transaction.execute(sql, &[&school, &id]).await?;
    }
    transaction.commit().await?;
    Ok(())
}
