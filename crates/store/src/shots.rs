//! Shots, what devices reported of them, and what the coach did with them.

use crate::live::announce;
use crate::schema::{block, device, reading, shot, shot_mark};
use crate::sessions::lock_session;
use crate::{Store, StoreError};
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::reading::Reading;
use uuid::Uuid;

/// A shot as a device reports it.
#[derive(Debug, Clone, PartialEq)]
pub struct NewShot {
    /// The device.
    pub device_id: Uuid,
    /// Its run of sequence numbers.
    pub run: String,
    /// The number within the run.
    pub sequence: i64,
    /// The session it belongs to.
    pub session_id: Uuid,
    /// When it was hit.
    pub hit_at: DateTime<Utc>,
    /// Its values.
    pub reading: Reading,
}

/// What came of storing a shot.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Stored {
    /// The shot.
    pub shot: Uuid,
    /// Whether it had been stored before.
    pub again: bool,
}

/// A shot as read back.
#[derive(Debug, Clone, PartialEq)]
pub struct Shot {
    /// Identifier.
    pub id: Uuid,
    /// Its block.
    pub block_id: Uuid,
    /// When it was hit.
    pub hit_at: DateTime<Utc>,
    /// The device's name.
    pub device: String,
    /// Its values.
    pub reading: Reading,
    /// What the coach did with it, in order.
    pub marks: Vec<Mark>,
}

/// Something the coach did with a shot.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = shot_mark)]
pub struct Mark {
    /// Identifier.
    pub id: Uuid,
    /// The shot.
    pub shot_id: Uuid,
    /// When.
    pub made_at: DateTime<Utc>,
    /// `set_aside`, `keep`, `withdraw` (of either) or `strike`.
    pub kind: String,
    /// Why it was set aside.
    pub reason: Option<String>,
    /// In the coach's words.
    pub note: String,
    /// Face cell, as on a number pad.
    pub strike: Option<i16>,
}

/// A mark to make.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewMark {
    /// Identifier, made by whoever marks.
    pub id: Uuid,
    /// `set_aside`, `keep`, `withdraw` or `strike`.
    pub kind: &'static str,
    /// Why it was set aside.
    pub reason: Option<&'static str>,
    /// In the coach's words.
    pub note: String,
    /// Face cell, as on a number pad.
    pub strike: Option<i16>,
    /// When it was made; absent: now.
    pub made_at: Option<DateTime<Utc>>,
}

impl Store {
    /// Stores a shot for good, once: a resent one is recognised by device, run and
    /// number.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session;
    /// [`StoreError::Conflict`] when the session has ended, or the number is already
    /// stored with other values.
    pub async fn store_shot(&self, school: Uuid, new: &NewShot) -> Result<Stored, StoreError> {
        let new = new.clone();
        self.connection()
            .await?
            .transaction(async |connection| {
                let session = lock_session(connection, school, new.session_id).await?;
                if let Some(stored) = already_stored(connection, school, &new).await? {
                    return Ok(stored);
                }
                if session.ended_at.is_some() {
                    return Err(StoreError::Conflict("the session has ended".into()));
                }
                let stored = insert_shot(connection, school, &new).await?;
                announce(connection, school, new.session_id).await?;
                Ok(stored)
            })
            .await
    }

    /// A session's shots in hitting order.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn session_shots(
        &self,
        school: Uuid,
        session: Uuid,
    ) -> Result<Vec<Shot>, StoreError> {
        let connection = &mut self.connection().await?;
        let rows: Vec<(Uuid, Uuid, DateTime<Utc>, String, serde_json::Value)> = shot::table
            .inner_join(
                reading::table.on(reading::school_id
                    .eq(shot::school_id)
                    .and(reading::shot_id.eq(shot::id))),
            )
            .inner_join(
                device::table.on(device::school_id
                    .eq(reading::school_id)
                    .and(device::id.eq(reading::device_id))),
            )
            .inner_join(
                block::table.on(block::school_id
                    .eq(shot::school_id)
                    .and(block::id.eq(shot::block_id))),
            )
            .filter(shot::school_id.eq(school).and(shot::session_id.eq(session)))
            .order((block::position, shot::hit_at, shot::id))
            .select((
                shot::id,
                shot::block_id,
                shot::hit_at,
                device::name,
                reading::values,
            ))
            .load(connection)
            .await?;
        let marks: Vec<Mark> = shot_mark::table
            .inner_join(
                shot::table.on(shot::school_id
                    .eq(shot_mark::school_id)
                    .and(shot::id.eq(shot_mark::shot_id))),
            )
            .filter(shot::school_id.eq(school).and(shot::session_id.eq(session)))
            .order((shot_mark::made_at, shot_mark::id))
            .select(Mark::as_select())
            .load(connection)
            .await?;
        let mut by_shot: HashMap<Uuid, Vec<Mark>> = HashMap::new();
        for mark in marks {
            by_shot.entry(mark.shot_id).or_default().push(mark);
        }
        rows.into_iter()
            .map(|(id, block_id, hit_at, device, values)| {
                Ok(Shot {
                    id,
                    block_id,
                    hit_at,
                    device,
                    reading: serde_json::from_value(values)
                        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)))?,
                    marks: by_shot.remove(&id).unwrap_or_default(),
                })
            })
            .collect()
    }

    /// Marks a shot of a session; making the same mark again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the session has no such shot;
    /// [`StoreError::Conflict`] when the identifier was used for another mark.
    pub async fn mark_shot(
        &self,
        school: Uuid,
        session: Uuid,
        shot: Uuid,
        coach: Uuid,
        new: &NewMark,
    ) -> Result<Mark, StoreError> {
        let new = new.clone();
        self.connection()
            .await?
            .transaction(async |connection| {
                let found: Option<Uuid> = shot::table
                    .filter(
                        shot::school_id
                            .eq(school)
                            .and(shot::session_id.eq(session))
                            .and(shot::id.eq(shot)),
                    )
                    .select(shot::id)
                    .first(connection)
                    .await
                    .optional()?;
                found.ok_or(StoreError::NotFound("shot"))?;
                let made = diesel::insert_into(shot_mark::table)
                    .values((
                        shot_mark::school_id.eq(school),
                        shot_mark::id.eq(new.id),
                        shot_mark::shot_id.eq(shot),
                        shot_mark::coach_id.eq(coach),
                        shot_mark::kind.eq(new.kind),
                        shot_mark::reason.eq(new.reason),
                        shot_mark::note.eq(&new.note),
                        shot_mark::strike.eq(new.strike),
                        // An absent time lets the database's clock tell it.
                        new.made_at.map(|at| shot_mark::made_at.eq(at)),
                    ))
                    .on_conflict_do_nothing()
                    .execute(connection)
                    .await?;
                let mark: Mark = shot_mark::table
                    .filter(
                        shot_mark::school_id
                            .eq(school)
                            .and(shot_mark::id.eq(new.id)),
                    )
                    .select(Mark::as_select())
                    .first(connection)
                    .await?;
                if made == 0
                    && (mark.shot_id != shot || mark.kind != new.kind || mark.strike != new.strike)
                {
                    return Err(StoreError::Conflict(
                        "this identifier was used for another mark".into(),
                    ));
                }
                announce(connection, school, session).await?;
                Ok(mark)
            })
            .await
    }
}

async fn already_stored(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    new: &NewShot,
) -> Result<Option<Stored>, StoreError> {
    let found: Option<(Uuid, serde_json::Value)> = reading::table
        .filter(
            reading::school_id
                .eq(school)
                .and(reading::device_id.eq(new.device_id))
                .and(reading::run.eq(&new.run))
                .and(reading::sequence.eq(new.sequence)),
        )
        .select((reading::shot_id, reading::values))
        .first(connection)
        .await
        .optional()?;
    match found {
        None => Ok(None),
        Some((shot, values)) if values == as_json(&new.reading) => {
            Ok(Some(Stored { shot, again: true }))
        }
        Some(_) => Err(StoreError::Conflict(
            "it is already stored with other values".into(),
        )),
    }
}

async fn insert_shot(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    new: &NewShot,
) -> Result<Stored, StoreError> {
    let id = Uuid::now_v7();
    let block_id: Uuid = block::table
        .filter(
            block::school_id
                .eq(school)
                .and(block::session_id.eq(new.session_id)),
        )
        .order(block::position.desc())
        .select(block::id)
        .first(connection)
        .await?;
    diesel::insert_into(shot::table)
        .values((
            shot::school_id.eq(school),
            shot::id.eq(id),
            shot::session_id.eq(new.session_id),
            shot::block_id.eq(block_id),
            shot::hit_at.eq(new.hit_at),
        ))
        .execute(connection)
        .await?;
    diesel::insert_into(reading::table)
        .values((
            reading::school_id.eq(school),
            reading::id.eq(Uuid::now_v7()),
            reading::shot_id.eq(id),
            reading::device_id.eq(new.device_id),
            reading::run.eq(&new.run),
            reading::sequence.eq(new.sequence),
            reading::values.eq(as_json(&new.reading)),
        ))
        .execute(connection)
        .await?;
    Ok(Stored {
        shot: id,
        again: false,
    })
}

fn as_json(reading: &Reading) -> serde_json::Value {
    serde_json::to_value(reading).expect("a reading is plain data")
}
