//! Shots, what devices reported of them, and what the coach did with them.

use crate::live::announce;
use crate::schema::{block, device, reading, session, shot, shot_entry, shot_mark};
use crate::sessions::lock_session;
use crate::{Store, StoreError, acts};
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::progress::progress;
use tally_core::quantity::Quantity;
use tally_core::reading::{self as core_reading, Offsets, Reading};
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
    /// A reading of another device within so many seconds is of the same shot.
    pub pair_window_s: f64,
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
    /// What devices reported of it, in the order it came.
    pub sources: Vec<Source>,
    /// What was typed for it, in order.
    pub entries: Vec<Entry>,
    /// Its values, from all of them.
    pub reading: Reading,
    /// What the coach did with it, in order.
    pub marks: Vec<Mark>,
}

/// What one device reported of a shot.
#[derive(Debug, Clone, PartialEq)]
pub struct Source {
    /// Identifier of the reading.
    pub id: Uuid,
    /// The device.
    pub device_id: Uuid,
    /// Its name.
    pub device: String,
    /// Its values as it gave them.
    pub reading: Reading,
}

/// A value that a person typed for a shot.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// When.
    pub entered_at: DateTime<Utc>,
    /// Which value.
    pub quantity: Quantity,
    /// The value, internal units; none takes back the one before.
    pub si: Option<f64>,
}

/// A value to enter.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NewEntry {
    /// Identifier, made by whoever types.
    pub id: Uuid,
    /// Which value.
    pub quantity: Quantity,
    /// The value, internal units; none takes back the one before.
    pub si: Option<f64>,
}

/// Two devices that reported the same shots.
#[derive(Debug, Clone, Copy, PartialEq, Eq, QueryableByName)]
pub struct DevicePair {
    /// One device.
    #[diesel(sql_type = diesel::sql_types::Uuid)]
    pub first: Uuid,
    /// The other.
    #[diesel(sql_type = diesel::sql_types::Uuid)]
    pub second: Uuid,
    /// Shots that both reported.
    #[diesel(sql_type = diesel::sql_types::BigInt)]
    pub shots: i64,
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
                let stored = insert_reading(connection, school, &new).await?;
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
        let of_session = shot::school_id.eq(school).and(shot::session_id.eq(session));
        let shots: Vec<(Uuid, Uuid, DateTime<Utc>)> = shot::table
            .inner_join(
                block::table.on(block::school_id
                    .eq(shot::school_id)
                    .and(block::id.eq(shot::block_id))),
            )
            .filter(of_session)
            .order((block::begun_at, block::position, shot::hit_at, shot::id))
            .select((shot::id, shot::block_id, shot::hit_at))
            .load(connection)
            .await?;
        let mut sources = session_sources(connection, school, session).await?;
        let marks: Vec<Mark> = shot_mark::table
            .inner_join(
                shot::table.on(shot::school_id
                    .eq(shot_mark::school_id)
                    .and(shot::id.eq(shot_mark::shot_id))),
            )
            .filter(of_session)
            .order((shot_mark::made_at, shot_mark::id))
            .select(Mark::as_select())
            .load(connection)
            .await?;
        let mut marks = by_shot(marks.into_iter().map(|mark| (mark.shot_id, mark)));
        let mut entries = session_entries(connection, school, session).await?;
        Ok(shots
            .into_iter()
            .map(|(id, block_id, hit_at)| {
                let sources = sources.remove(&id).unwrap_or_default();
                let entries = entries.remove(&id).unwrap_or_default();
                let typed: Vec<_> = entries.iter().map(|e: &Entry| (e.quantity, e.si)).collect();
                let reported: Vec<_> = sources
                    .iter()
                    .map(|(source, offsets)| core_reading::Source {
                        reading: &source.reading,
                        offsets,
                    })
                    .collect();
                Shot {
                    reading: core_reading::merge(&reported, &typed),
                    marks: marks.remove(&id).unwrap_or_default(),
                    sources: sources.into_iter().map(|(source, _)| source).collect(),
                    id,
                    block_id,
                    hit_at,
                    entries,
                }
            })
            .collect())
    }

    /// How many shots of a block stand: those set aside are hit again.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn shots_counting(&self, school: Uuid, block: Uuid) -> Result<i64, StoreError> {
        let connection = &mut self.connection().await?;
        let of_block = shot::school_id.eq(school).and(shot::block_id.eq(block));
        let all: i64 = shot::table
            .filter(of_block)
            .count()
            .get_result(connection)
            .await?;
        let decided: Vec<String> = shot_mark::table
            .inner_join(
                shot::table.on(shot::school_id
                    .eq(shot_mark::school_id)
                    .and(shot::id.eq(shot_mark::shot_id))),
            )
            .filter(of_block.and(shot_mark::kind.ne("strike")))
            .distinct_on(shot_mark::shot_id)
            .order((
                shot_mark::shot_id,
                shot_mark::made_at.desc(),
                shot_mark::id.desc(),
            ))
            .select(shot_mark::kind)
            .load(connection)
            .await?;
        let aside = decided.iter().filter(|kind| *kind == "set_aside").count();
        Ok(all - aside as i64)
    }

    /// Pairs of devices that reported the same shots of the latest sessions, with how
    /// many; the most first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn device_pairs(&self, school: Uuid) -> Result<Vec<DevicePair>, StoreError> {
        Ok(diesel::sql_query(
            "SELECT a.device_id AS first, b.device_id AS second, count(*) AS shots
             FROM (SELECT school_id, id FROM session WHERE school_id = $1
                   ORDER BY started_at DESC LIMIT 200) s
             JOIN shot ON (shot.school_id, shot.session_id) = (s.school_id, s.id)
             JOIN reading a ON (a.school_id, a.shot_id) = (shot.school_id, shot.id)
             JOIN reading b ON (b.school_id, b.shot_id) = (shot.school_id, shot.id)
             WHERE a.device_id < b.device_id
             GROUP BY 1, 2 ORDER BY 3 DESC, 1, 2",
        )
        .bind::<diesel::sql_types::Uuid, _>(school)
        .load(&mut self.connection().await?)
        .await?)
    }

    /// What two devices reported of the same shots, with their offsets, latest last.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn paired_readings(
        &self,
        school: Uuid,
        [first, second]: [Uuid; 2],
        most: i64,
    ) -> Result<Vec<[Reading; 2]>, StoreError> {
        let other = diesel::alias!(reading as other);
        // Of players that may be seen.
        let seen = shot::table
            .inner_join(
                session::table.on(session::school_id
                    .eq(shot::school_id)
                    .and(session::id.eq(shot::session_id))),
            )
            .filter(shot::school_id.eq(school))
            .select(shot::id);
        let mut rows: Vec<(serde_json::Value, serde_json::Value)> = reading::table
            .inner_join(
                other.on(other
                    .field(reading::school_id)
                    .eq(reading::school_id)
                    .and(other.field(reading::shot_id).eq(reading::shot_id))),
            )
            .filter(
                reading::school_id
                    .eq(school)
                    .and(reading::device_id.eq(first))
                    .and(other.field(reading::device_id).eq(second)),
            )
            .filter(reading::shot_id.eq_any(seen))
            .order((reading::received_at.desc(), reading::id))
            .limit(most)
            .select((reading::values, other.field(reading::values)))
            .load(&mut self.connection().await?)
            .await?;
        rows.reverse();
        let offsets = [
            self.device(school, first).await?.offsets,
            self.device(school, second).await?.offsets,
        ];
        rows.into_iter()
            .map(|(one, two)| {
                let (one, two) = (crate::from_json(one)?, crate::from_json(two)?);
                Ok([
                    core_reading::with_offsets(&one, &offsets[0]),
                    core_reading::with_offsets(&two, &offsets[1]),
                ])
            })
            .collect()
    }

    /// Adds a shot that no device reported, or types values for one that is there; the
    /// same again changes nothing. A new shot goes to the block under way.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session, or the shot is of
    /// another; [`StoreError::Conflict`] when a new shot comes after the session ended.
    pub async fn enter_values(
        &self,
        school: Uuid,
        session: Uuid,
        coach: Uuid,
        shot: Uuid,
        hit_at: DateTime<Utc>,
        entries: &[NewEntry],
    ) -> Result<(), StoreError> {
        let entries = entries.to_vec();
        self.connection()
            .await?
            .transaction(async |connection| {
                let held = lock_session(connection, school, session).await?;
                let there: Option<Uuid> = shot::table
                    .filter(shot::school_id.eq(school).and(shot::id.eq(shot)))
                    .select(shot::session_id)
                    .first(connection)
                    .await
                    .optional()?;
                match there {
                    Some(of) if of == session => {}
                    Some(_) => return Err(StoreError::NotFound("shot")),
                    None if held.ended_at.is_some() => {
                        return Err(StoreError::Conflict("the session has ended".into()));
                    }
                    None => insert_shot(connection, school, session, shot, hit_at).await?,
                }
                let rows: Vec<_> = entries
                    .iter()
                    .map(|entry| {
                        (
                            shot_entry::school_id.eq(school),
                            shot_entry::id.eq(entry.id),
                            shot_entry::shot_id.eq(shot),
                            shot_entry::coach_id.eq(coach),
                            shot_entry::quantity.eq(entry.quantity.key()),
                            shot_entry::si.eq(entry.si),
                        )
                    })
                    .collect();
                diesel::insert_into(shot_entry::table)
                    .values(rows)
                    .on_conflict((shot_entry::school_id, shot_entry::id))
                    .do_nothing()
                    .execute(connection)
                    .await?;
                announce(connection, school, session).await
            })
            .await
    }

    /// Puts a reading to another shot of its session, or to a new one of its own. A shot
    /// that is left with nothing goes, and its marks go with the reading.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the session has no such reading or shot;
    /// [`StoreError::Conflict`] when the shot already has a reading of that device.
    pub async fn pair_reading(
        &self,
        school: Uuid,
        session: Uuid,
        reading_id: Uuid,
        to: Option<Uuid>,
        new_shot: Uuid,
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session).await?;
                let in_session = |id: Uuid| {
                    shot::table
                        .filter(
                            shot::school_id
                                .eq(school)
                                .and(shot::session_id.eq(session))
                                .and(shot::id.eq(id)),
                        )
                        .select((shot::id, shot::hit_at))
                };
                let found: Option<(Uuid, Uuid)> = reading::table
                    .filter(
                        reading::school_id
                            .eq(school)
                            .and(reading::id.eq(reading_id)),
                    )
                    .select((reading::shot_id, reading::device_id))
                    .first(connection)
                    .await
                    .optional()?;
                let (from, device_id) = found.ok_or(StoreError::NotFound("reading"))?;
                let source: Option<(Uuid, DateTime<Utc>)> =
                    in_session(from).first(connection).await.optional()?;
                let (_, hit_at) = source.ok_or(StoreError::NotFound("reading"))?;
                let to = match to {
                    Some(to) => {
                        let there: Option<(Uuid, DateTime<Utc>)> =
                            in_session(to).first(connection).await.optional()?;
                        there.ok_or(StoreError::NotFound("shot"))?.0
                    }
                    None => {
                        insert_shot(connection, school, session, new_shot, hit_at).await?;
                        new_shot
                    }
                };
                if to == from {
                    return Ok(());
                }
                let doubled: i64 = reading::table
                    .filter(
                        reading::school_id
                            .eq(school)
                            .and(reading::shot_id.eq(to))
                            .and(reading::device_id.eq(device_id)),
                    )
                    .count()
                    .get_result(connection)
                    .await?;
                if doubled > 0 {
                    return Err(StoreError::Conflict(
                        "that shot already has a reading of this device; move that one first"
                            .into(),
                    ));
                }
                diesel::update(
                    reading::table.filter(
                        reading::school_id
                            .eq(school)
                            .and(reading::id.eq(reading_id)),
                    ),
                )
                .set(reading::shot_id.eq(to))
                .execute(connection)
                .await?;
                clear_empty_shot(connection, school, from, to).await?;
                announce(connection, school, session).await
            })
            .await
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
                        shot_mark::coach_id.eq(Some(coach)),
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

/// Puts a shot into the block under way; during a pause it is set aside at once.
async fn insert_shot(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    session: Uuid,
    id: Uuid,
    hit_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let block_id: Uuid = block::table
        .filter(
            block::school_id
                .eq(school)
                .and(block::session_id.eq(session))
                .and(block::begun_at.is_not_null()),
        )
        .order((block::begun_at.desc(), block::position.desc()))
        .select(block::id)
        .first(connection)
        .await?;
    diesel::insert_into(shot::table)
        .values((
            shot::school_id.eq(school),
            shot::id.eq(id),
            shot::session_id.eq(session),
            shot::block_id.eq(block_id),
            shot::hit_at.eq(hit_at),
        ))
        .execute(connection)
        .await?;
    let acts = acts::load(connection, school, session).await?;
    let acts: Vec<_> = acts.into_iter().map(|(_, act)| act).collect();
    if progress(&acts).paused {
        diesel::insert_into(shot_mark::table)
            .values((
                shot_mark::school_id.eq(school),
                shot_mark::id.eq(Uuid::now_v7()),
                shot_mark::shot_id.eq(id),
                shot_mark::kind.eq("set_aside"),
                shot_mark::reason.eq("paused"),
            ))
            .execute(connection)
            .await?;
    }
    Ok(())
}

/// The shot that a device's reading belongs to: one that another device reported at the
/// same moment, or a new one.
async fn shot_for(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    new: &NewShot,
) -> Result<Uuid, StoreError> {
    let window = Duration::milliseconds((new.pair_window_s * 1000.0) as i64);
    let near: Vec<(Uuid, DateTime<Utc>)> = shot::table
        .filter(
            shot::school_id
                .eq(school)
                .and(shot::session_id.eq(new.session_id))
                .and(shot::hit_at.between(new.hit_at - window, new.hit_at + window)),
        )
        .order((shot::hit_at, shot::id))
        .select((shot::id, shot::hit_at))
        .load(connection)
        .await?;
    let ids: Vec<Uuid> = near.iter().map(|(id, _)| *id).collect();
    let reported: Vec<Uuid> = reading::table
        .filter(
            reading::school_id
                .eq(school)
                .and(reading::shot_id.eq_any(ids))
                .and(reading::device_id.eq(new.device_id)),
        )
        .select(reading::shot_id)
        .load(connection)
        .await?;
    let seconds = |at: DateTime<Utc>| (at - new.hit_at).num_milliseconds() as f64 / 1000.0;
    let times: Vec<(f64, bool)> = near
        .iter()
        .map(|(id, at)| (seconds(*at), reported.contains(id)))
        .collect();
    if let Some(paired) = core_reading::pair(&times, 0.0, new.pair_window_s) {
        return Ok(near[paired].0);
    }
    let id = Uuid::now_v7();
    insert_shot(connection, school, new.session_id, id, new.hit_at).await?;
    Ok(id)
}

async fn insert_reading(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    new: &NewShot,
) -> Result<Stored, StoreError> {
    let shot = shot_for(connection, school, new).await?;
    diesel::insert_into(reading::table)
        .values((
            reading::school_id.eq(school),
            reading::id.eq(Uuid::now_v7()),
            reading::shot_id.eq(shot),
            reading::device_id.eq(new.device_id),
            reading::run.eq(&new.run),
            reading::sequence.eq(new.sequence),
            reading::values.eq(as_json(&new.reading)),
        ))
        .execute(connection)
        .await?;
    Ok(Stored { shot, again: false })
}

/// What devices reported of a session's shots, with the offsets of each.
async fn session_sources(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    session: Uuid,
) -> Result<HashMap<Uuid, Vec<(Source, Offsets)>>, StoreError> {
    type Row = (
        Uuid,
        Uuid,
        Uuid,
        String,
        serde_json::Value,
        serde_json::Value,
    );
    let rows: Vec<Row> = reading::table
        .inner_join(
            shot::table.on(shot::school_id
                .eq(reading::school_id)
                .and(shot::id.eq(reading::shot_id))),
        )
        .inner_join(
            device::table.on(device::school_id
                .eq(reading::school_id)
                .and(device::id.eq(reading::device_id))),
        )
        .filter(shot::school_id.eq(school).and(shot::session_id.eq(session)))
        .order((reading::received_at, reading::id))
        .select((
            reading::shot_id,
            reading::id,
            device::id,
            device::name,
            device::offsets,
            reading::values,
        ))
        .load(connection)
        .await?;
    let mut found: HashMap<Uuid, Vec<(Source, Offsets)>> = HashMap::new();
    for (shot, id, device_id, device, offsets, values) in rows {
        let source = Source {
            id,
            device_id,
            device,
            reading: crate::from_json(values)?,
        };
        let offsets = crate::from_json(offsets)?;
        found.entry(shot).or_default().push((source, offsets));
    }
    Ok(found)
}

async fn session_entries(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    session: Uuid,
) -> Result<HashMap<Uuid, Vec<Entry>>, StoreError> {
    let rows: Vec<(Uuid, DateTime<Utc>, String, Option<f64>)> = shot_entry::table
        .inner_join(
            shot::table.on(shot::school_id
                .eq(shot_entry::school_id)
                .and(shot::id.eq(shot_entry::shot_id))),
        )
        .filter(shot::school_id.eq(school).and(shot::session_id.eq(session)))
        .order((shot_entry::entered_at, shot_entry::id))
        .select((
            shot_entry::shot_id,
            shot_entry::entered_at,
            shot_entry::quantity,
            shot_entry::si,
        ))
        .load(connection)
        .await?;
    // A quantity of another version of the program is left out.
    Ok(by_shot(rows.into_iter().filter_map(
        |(shot, entered_at, key, si)| {
            let quantity = Quantity::from_key("quantity", &key).ok()?;
            let entry = Entry {
                entered_at,
                quantity,
                si,
            };
            Some((shot, entry))
        },
    )))
}

fn by_shot<T>(rows: impl Iterator<Item = (Uuid, T)>) -> HashMap<Uuid, Vec<T>> {
    let mut found: HashMap<Uuid, Vec<T>> = HashMap::new();
    for (shot, row) in rows {
        found.entry(shot).or_default().push(row);
    }
    found
}

/// Removes the shot `from` when nothing is left of it; its marks go to `to`.
async fn clear_empty_shot(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    from: Uuid,
    to: Uuid,
) -> Result<(), StoreError> {
    let readings: i64 = reading::table
        .filter(reading::school_id.eq(school).and(reading::shot_id.eq(from)))
        .count()
        .get_result(connection)
        .await?;
    let entries: i64 = shot_entry::table
        .filter(
            shot_entry::school_id
                .eq(school)
                .and(shot_entry::shot_id.eq(from)),
        )
        .count()
        .get_result(connection)
        .await?;
    if readings + entries > 0 {
        return Ok(());
    }
    diesel::update(
        shot_mark::table.filter(
            shot_mark::school_id
                .eq(school)
                .and(shot_mark::shot_id.eq(from)),
        ),
    )
    .set(shot_mark::shot_id.eq(to))
    .execute(connection)
    .await?;
    diesel::delete(shot::table.filter(shot::school_id.eq(school).and(shot::id.eq(from))))
        .execute(connection)
        .await?;
    Ok(())
}

fn as_json(reading: &Reading) -> serde_json::Value {
    serde_json::to_value(reading).expect("a reading is plain data")
}
