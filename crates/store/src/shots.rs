//! Shots as they are read back: what devices reported of them, what was typed, and what
//! the coach did with them.

use crate::schema::{block, device, reading, shot, shot_entry, shot_mark};
use crate::{Store, StoreError};
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use std::collections::{HashMap, HashSet};
use tally_core::quantity::Quantity;
use tally_core::reading::{self as core_reading, Offsets, Reading};
use uuid::Uuid;

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

impl Store {
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
        // What belongs to them is asked for by their identifiers: joins are at the mercy of
        // statistics, and a small table has none.
        let ids: Vec<Uuid> = shots.iter().map(|(id, ..)| *id).collect();
        let mut sources = sources_of(connection, school, &ids).await?;
        let marks: Vec<Mark> = shot_mark::table
            .filter(
                shot_mark::school_id
                    .eq(school)
                    .and(shot_mark::shot_id.eq_any(&ids)),
            )
            .order((shot_mark::made_at, shot_mark::id))
            .select(Mark::as_select())
            .load(connection)
            .await?;
        let mut marks = by_shot(marks.into_iter().map(|mark| (mark.shot_id, mark)));
        let mut entries = entries_of(connection, school, &ids).await?;
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
}

/// What devices reported of some shots, with the offsets of each.
async fn sources_of(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    shots: &[Uuid],
) -> Result<HashMap<Uuid, Vec<(Source, Offsets)>>, StoreError> {
    let of_shots = reading::school_id
        .eq(school)
        .and(reading::shot_id.eq_any(shots));
    let rows: Vec<(Uuid, Uuid, Uuid, serde_json::Value)> = reading::table
        .filter(of_shots)
        .order((reading::received_at, reading::id))
        .select((
            reading::shot_id,
            reading::id,
            reading::device_id,
            reading::values,
        ))
        .load(connection)
        .await?;
    let used: HashSet<Uuid> = rows.iter().map(|(_, _, device, _)| *device).collect();
    let devices: Vec<(Uuid, String, serde_json::Value)> = device::table
        .filter(device::school_id.eq(school).and(device::id.eq_any(used)))
        .select((device::id, device::name, device::offsets))
        .load(connection)
        .await?;
    let mut known = HashMap::new();
    for (id, name, offsets) in devices {
        known.insert(id, (name, crate::from_json::<Offsets>(offsets)?));
    }
    let mut found: HashMap<Uuid, Vec<(Source, Offsets)>> = HashMap::new();
    for (shot, id, device_id, values) in rows {
        let (device, offsets) = known
            .get(&device_id)
            .cloned()
            .ok_or(StoreError::NotFound("device"))?;
        let source = Source {
            id,
            device_id,
            device,
            reading: crate::from_json(values)?,
        };
        found.entry(shot).or_default().push((source, offsets));
    }
    Ok(found)
}

async fn entries_of(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    shots: &[Uuid],
) -> Result<HashMap<Uuid, Vec<Entry>>, StoreError> {
    let of_shots = shot_entry::school_id
        .eq(school)
        .and(shot_entry::shot_id.eq_any(shots));
    let rows: Vec<(Uuid, DateTime<Utc>, String, Option<f64>)> = shot_entry::table
        .filter(of_shots)
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
