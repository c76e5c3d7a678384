//! Shots as they are read back: what devices reported of them, what was typed, and what
//! the coach did with them.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::json::Json;
use crate::base::keys::Key;
use crate::base::schema::{device, reading, shot, shot_entry, shot_mark};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use std::collections::{HashMap, HashSet};
use std::sync::Arc;
use tally_core::shots::mark::{self, MarkKind, Marked, Reason};
use tally_core::shots::reading::{self as core_reading, Offsets, Reading};
use tally_core::shots::standing;
use tally_core::vocabulary::quantity::Quantity;
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
    pub device: Arc<str>,
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
    /// What it does.
    #[diesel(deserialize_as = Key<MarkKind>)]
    pub kind: MarkKind,
    /// Why it was set aside.
    pub reason: Option<Key<Reason>>,
    /// In the coach's words.
    pub note: String,
    /// Face cell, as on a number pad.
    pub strike: Option<i16>,
}

impl Shot {
    /// As core looks at it.
    pub fn in_play(&self) -> standing::Shot {
        standing::Shot {
            reading: self.reading.clone(),
            decision: self.marked().decision,
        }
    }

    /// What its marks come to.
    pub fn marked(&self) -> Marked {
        Marked::by(self.marks.iter().map(|mark| mark::Mark {
            kind: mark.kind,
            reason: mark.reason.map(|Key(reason)| reason),
            cell: mark.strike,
        }))
    }
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
        let (mut shots, _) = shots_of(connection, school, &[session], usize::MAX).await?;
        Ok(shots.remove(&session).unwrap_or_default())
    }

    /// How many shots of a block stand: those set aside are hit again.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn shots_counting(&self, school: Uuid, block: Uuid) -> Result<i64, StoreError> {
        shots_counting_in(&mut *self.connection().await?, school, block).await
    }
}

/// How many shots of a block stand.
pub(crate) async fn shots_counting_in(
    connection: &mut Connection,
    school: Uuid,
    block: Uuid,
) -> Result<i64, StoreError> {
    let of_block = shot::school_id.eq(school).and(shot::block_id.eq(block));
    let all: i64 = shot::table
        .filter(of_block)
        .count()
        .get_result(connection)
        .await?;
    let decided: Vec<Key<MarkKind>> = shot_mark::table
        .inner_join(
            shot::table.on(shot::school_id
                .eq(shot_mark::school_id)
                .and(shot::id.eq(shot_mark::shot_id))),
        )
        .filter(of_block.and(shot_mark::kind.ne_all([Key(MarkKind::Strike), Key(MarkKind::Moved)])))
        .distinct_on(shot_mark::shot_id)
        .order((
            shot_mark::shot_id,
            shot_mark::made_at.desc(),
            shot_mark::id.desc(),
        ))
        .select(shot_mark::kind)
        .load(connection)
        .await?;
    let aside = decided
        .iter()
        .filter(|Key(kind)| *kind == MarkKind::SetAside)
        .count();
    Ok(all - aside as i64)
}

/// The shots of some sessions, each session's in hitting order; of more than `most`, about
/// as many, chosen evenly from every session. Answers with how many there are.
pub(crate) async fn shots_of(
    connection: &mut Connection,
    school: Uuid,
    sessions: &[Uuid],
    most: usize,
) -> Result<(HashMap<Uuid, Vec<Shot>>, usize), StoreError> {
    let of_sessions = shot::school_id
        .eq(school)
        .and(shot::session_id.eq_any(sessions));
    let mut shots: Vec<(Uuid, Uuid, Uuid, DateTime<Utc>)> = shot::table
        .filter(of_sessions)
        .order((shot::hit_at, shot::id))
        .select((shot::session_id, shot::id, shot::block_id, shot::hit_at))
        .load(connection)
        .await?;
    let all = shots.len();
    if all > most {
        let mut place: HashMap<Uuid, usize> = HashMap::new();
        shots.retain(|(session, ..)| {
            let before = place.entry(*session).or_default();
            *before += 1;
            // As many as have come due by now, and one more than before.
            *before * most / all > (*before - 1) * most / all || *before == 1
        });
    }
    // What belongs to them is asked for by their identifiers: joins are at the mercy of
    // statistics, and a small table has none.
    let ids: Vec<Uuid> = shots.iter().map(|(_, id, ..)| *id).collect();
    let mut sources = sources_of(connection, school, &ids).await?;
    let mut marks = marks_of(connection, school, &ids).await?;
    let mut entries = entries_of(connection, school, &ids).await?;
    let mut found: HashMap<Uuid, Vec<Shot>> = HashMap::new();
    for (session, id, block_id, hit_at) in shots {
        let sources = sources.remove(&id).unwrap_or_default();
        let entries = entries.remove(&id).unwrap_or_default();
        found.entry(session).or_default().push(Shot {
            reading: merged(&sources, &entries),
            marks: marks.remove(&id).unwrap_or_default(),
            sources: sources.into_iter().map(|(source, _)| source).collect(),
            id,
            block_id,
            hit_at,
            entries,
        });
    }
    Ok((found, all))
}

/// A shot's values, from its devices and from what was typed.
fn merged(sources: &[(Source, Arc<Offsets>)], entries: &[Entry]) -> Reading {
    let typed: Vec<_> = entries.iter().map(|e| (e.quantity, e.si)).collect();
    let reported: Vec<_> = sources
        .iter()
        .map(|(source, offsets)| core_reading::Source {
            reading: &source.reading,
            offsets,
        })
        .collect();
    core_reading::merge(&reported, &typed)
}

async fn marks_of(
    connection: &mut Connection,
    school: Uuid,
    shots: &[Uuid],
) -> Result<HashMap<Uuid, Vec<Mark>>, StoreError> {
    let of_shots = shot_mark::school_id
        .eq(school)
        .and(shot_mark::shot_id.eq_any(shots));
    let marks: Vec<Mark> = shot_mark::table
        .filter(of_shots)
        .order((shot_mark::made_at, shot_mark::id))
        .select(Mark::as_select())
        .load(connection)
        .await?;
    Ok(by_shot(marks.into_iter().map(|mark| (mark.shot_id, mark))))
}

/// What devices reported of some shots, with the offsets of each.
async fn sources_of(
    connection: &mut Connection,
    school: Uuid,
    shots: &[Uuid],
) -> Result<HashMap<Uuid, Vec<(Source, Arc<Offsets>)>>, StoreError> {
    let of_shots = reading::school_id
        .eq(school)
        .and(reading::shot_id.eq_any(shots));
    let rows: Vec<(Uuid, Uuid, Uuid, Json<Reading>)> = reading::table
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
    let devices: Vec<(Uuid, String, Json<Offsets>)> = device::table
        .filter(device::school_id.eq(school).and(device::id.eq_any(used)))
        .select((device::id, device::name, device::offsets))
        .load(connection)
        .await?;
    let devices = devices.into_iter();
    let known: HashMap<Uuid, (Arc<str>, Arc<Offsets>)> = devices
        .map(|(id, name, Json(offsets))| (id, (name.into(), Arc::new(offsets))))
        .collect();
    let mut found: HashMap<Uuid, Vec<(Source, Arc<Offsets>)>> = HashMap::new();
    for (shot, id, device_id, Json(reading)) in rows {
        let (device, offsets) = known
            .get(&device_id)
            .cloned()
            .ok_or(StoreError::NotFound("device"))?;
        let source = Source {
            id,
            device_id,
            device,
            reading,
        };
        found.entry(shot).or_default().push((source, offsets));
    }
    Ok(found)
}

async fn entries_of(
    connection: &mut Connection,
    school: Uuid,
    shots: &[Uuid],
) -> Result<HashMap<Uuid, Vec<Entry>>, StoreError> {
    let of_shots = shot_entry::school_id
        .eq(school)
        .and(shot_entry::shot_id.eq_any(shots));
    type Row = (Uuid, DateTime<Utc>, Key<Quantity>, Option<f64>);
    let rows: Vec<Row> = shot_entry::table
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
    Ok(by_shot(rows.into_iter().map(
        |(shot, entered_at, Key(quantity), si)| {
            let entry = Entry {
                entered_at,
                quantity,
                si,
            };
            (shot, entry)
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
