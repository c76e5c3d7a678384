//! Shots as devices report them: stored once, and put together with what another device
//! reported of the same shot.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::announce;
use crate::base::locks::lock_session;
use crate::base::schema::{reading, session, shot, shot_mark};
use crate::base::store::Store;
use crate::session::acts;
use crate::session::blocks::{
    Block, MOST_BLOCKS, add_told, by_protocol, current, load_blocks, set_begun,
};
use crate::shots::session_shots::shots_counting_in;
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::physics::club::Club;
use tally_core::session::acts::{Progress, progress};
use tally_core::session::tags::Tags;
use tally_core::shots::mark::{MarkKind, Reason};
use tally_core::shots::reading::{self as core_reading, Reading};
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
    /// What the device tells of where it belongs.
    pub tags: Tags,
    /// Its values.
    pub reading: Reading,
    /// What the device told that is not known, kept apart.
    pub unread: serde_json::Map<String, serde_json::Value>,
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
    /// What was told of where it belongs and could not be followed.
    pub astray: Astray,
}

/// What a device told of where its shot belongs and could not be followed.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Astray {
    /// A club that no block of the session is hit with.
    pub club: bool,
    /// A block that the session does not have, nor room for.
    pub block: bool,
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
        let stored = self.store_shots(school, std::slice::from_ref(new)).await?;
        Ok(stored[0])
    }

    /// The same of several, as they came, all or none of them.
    ///
    /// # Errors
    /// As [`Store::store_shot`].
    pub async fn store_shots(
        &self,
        school: Uuid,
        new: &[NewShot],
    ) -> Result<Vec<Stored>, StoreError> {
        let new = new.to_vec();
        self.connection()
            .await?
            .transaction(async |connection| {
                let mut stored = Vec::with_capacity(new.len());
                for of_session in new.chunk_by(|a, b| a.session_id == b.session_id) {
                    stored.extend(store_in_session(connection, school, of_session).await?);
                }
                Ok(stored)
            })
            .await
    }
}

/// Stores shots of one session, whose row is held meanwhile.
async fn store_in_session(
    connection: &mut Connection,
    school: Uuid,
    new: &[NewShot],
) -> Result<Vec<Stored>, StoreError> {
    let session = new[0].session_id;
    let ended_at = lock_session(connection, school, session).await?;
    let mut all = Vec::with_capacity(new.len());
    for new in new {
        let stored = match already_stored(connection, school, new).await? {
            Some(stored) => stored,
            None if ended_at.is_some() => {
                return Err(StoreError::Conflict("the session has ended".into()));
            }
            None => insert_reading(connection, school, new).await?,
        };
        all.push(stored);
    }
    if all.iter().any(|stored| !stored.again) {
        announce(connection, school, session).await?;
    }
    Ok(all)
}

async fn already_stored(
    connection: &mut Connection,
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
        Some((shot, values)) if values == as_json(&new.reading) => Ok(Some(Stored {
            shot,
            again: true,
            astray: Astray::default(),
        })),
        Some(_) => Err(StoreError::Conflict(
            "it is already stored with other values".into(),
        )),
    }
}

/// Puts a shot into the block under way, or into one of what its device tells; during a pause
/// it is set aside at once. Answers what of it could not be followed.
async fn insert_shot(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
    id: Uuid,
    hit_at: DateTime<Utc>,
    tags: &Tags,
) -> Result<Astray, StoreError> {
    let progress = progress_of(connection, school, session).await?;
    let (block_id, astray) = block_for(connection, school, session, &progress, tags).await?;
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
    if progress.paused {
        diesel::insert_into(shot_mark::table)
            .values((
                shot_mark::school_id.eq(school),
                shot_mark::id.eq(Uuid::now_v7()),
                shot_mark::shot_id.eq(id),
                shot_mark::kind.eq(Key(MarkKind::SetAside)),
                shot_mark::reason.eq(Some(Key(Reason::Paused))),
            ))
            .execute(connection)
            .await?;
    }
    Ok(astray)
}

/// Puts a shot of which nothing is told into the block under way.
pub(crate) async fn insert_untold(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
    id: Uuid,
    hit_at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let untold = Tags::default();
    insert_shot(connection, school, session, id, hit_at, &untold).await?;
    Ok(())
}

async fn progress_of(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
) -> Result<Progress, StoreError> {
    let acts = acts::load(connection, school, session).await?;
    let acts: Vec<_> = acts.into_iter().map(|(_, act)| act).collect();
    Ok(progress(&acts))
}

/// The block that a shot goes to: the one under way, or, in a session held by a protocol, the
/// next one when that has all it asks for, is left out or is held. Nobody has to touch anything
/// between two sets. A shot that tells what was swung, its block or its club goes to a block of
/// that, wherever the session stands: to the one under way, the next one planned, the latest
/// begun, or one of its own. A club that no block is hit with moves nothing, nor does a block
/// that there is no room for; both are told.
async fn block_for(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
    progress: &Progress,
    tags: &Tags,
) -> Result<(Uuid, Astray), StoreError> {
    let blocks = load_blocks(connection, school, session).await?;
    let here = &blocks[current(&blocks)];
    let club = match tags.club {
        None => Club::Driver,
        Some(_) => club_of(connection, school, session).await?,
    };
    let mut tags = tags.clone();
    let mut astray = Astray::default();
    let theirs = |tags: &Tags| blocks.iter().any(|block| tags.fit(&block.plan(), club));
    // What is swung without a ball never goes among balls: where there is no room, it is refused.
    if tags.block.is_some() && tags.swung.is_none() && blocks.len() >= MOST_BLOCKS && !theirs(&tags)
    {
        astray.block = true;
        tags.block = None;
    }
    if tags.club.is_some() && tags.own_block().is_none() && !theirs(&tags) {
        astray.club = true;
        tags.club = None;
    }
    let fits = |block: &&Block| tags.fit(&block.plan(), club);
    let moves_on = !progress.paused
        && if fits(&here) {
            by_protocol(connection, school, session).await?
                && is_over(connection, school, here, progress).await?
        } else {
            true
        };
    let next = blocks.iter().filter(fits).find(|block| {
        block.begun_at.is_none()
            && !progress.skips(block.id)
            && progress.stops(&block.plan()).is_none()
    });
    if let Some(next) = next.filter(|_| moves_on) {
        set_begun(connection, school, next.id, Some(Utc::now())).await?;
        return Ok((next.id, astray));
    }
    if fits(&here) {
        return Ok((here.id, astray));
    }
    let begun = blocks.iter().filter(|block| block.begun_at.is_some());
    let begun = begun.filter(fits).max_by_key(|block| block.begun_at);
    let id = match (begun, tags.own_block()) {
        (Some(begun), _) => begun.id,
        (None, None) => here.id,
        (None, Some(own)) => add_told(connection, school, session, blocks, &own).await?,
    };
    Ok((id, astray))
}

async fn club_of(connection: &mut Connection, school: Uuid, id: Uuid) -> Result<Club, StoreError> {
    let Key(club) = session::table
        .filter(session::school_id.eq(school).and(session::id.eq(id)))
        .select(session::club)
        .first(connection)
        .await?;
    Ok(club)
}

/// Whether the set under way has all it asks for, is left out or is held.
async fn is_over(
    connection: &mut Connection,
    school: Uuid,
    here: &Block,
    progress: &Progress,
) -> Result<bool, StoreError> {
    let plan = here.plan();
    if progress.skips(here.id) || progress.stops(&plan).is_some() {
        return Ok(true);
    }
    Ok(shots_counting_in(connection, school, here.id).await? >= i64::from(plan.balls))
}

/// The shot that a device's reading belongs to: one that another device reported at the
/// same moment, or a new one.
async fn shot_for(
    connection: &mut Connection,
    school: Uuid,
    new: &NewShot,
) -> Result<(Uuid, Astray), StoreError> {
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
        let paired = near[paired].0;
        let astray = match new.tags == Tags::default() {
            true => Astray::default(),
            false => put_right(connection, school, new.session_id, paired, &new.tags).await?,
        };
        return Ok((paired, astray));
    }
    let id = Uuid::now_v7();
    let (session, at) = (new.session_id, new.hit_at);
    let astray = insert_shot(connection, school, session, id, at, &new.tags).await?;
    Ok((id, astray))
}

/// Moves a shot to a block of what is told of it, where the device that told of it first could
/// not: that it was no ball, say. Answers as [`insert_shot`].
async fn put_right(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
    paired: Uuid,
    tags: &Tags,
) -> Result<Astray, StoreError> {
    let this = || shot::table.filter(shot::school_id.eq(school).and(shot::id.eq(paired)));
    let there: Uuid = this().select(shot::block_id).first(connection).await?;
    let blocks = load_blocks(connection, school, session).await?;
    let asked = blocks.iter().find(|block| block.id == there);
    let club = club_of(connection, school, session).await?;
    if asked.is_some_and(|block| tags.fit(&block.plan(), club)) {
        return Ok(Astray::default());
    }
    let progress = progress_of(connection, school, session).await?;
    let (block, astray) = block_for(connection, school, session, &progress, tags).await?;
    if astray != Astray::default() {
        return Ok(astray);
    }
    diesel::update(this())
        .set(shot::block_id.eq(block))
        .execute(connection)
        .await?;
    Ok(astray)
}

async fn insert_reading(
    connection: &mut Connection,
    school: Uuid,
    new: &NewShot,
) -> Result<Stored, StoreError> {
    let (shot, astray) = shot_for(connection, school, new).await?;
    diesel::insert_into(reading::table)
        .values((
            reading::school_id.eq(school),
            reading::id.eq(Uuid::now_v7()),
            reading::shot_id.eq(shot),
            reading::device_id.eq(new.device_id),
            reading::run.eq(&new.run),
            reading::sequence.eq(new.sequence),
            reading::values.eq(as_json(&new.reading)),
            reading::unread
                .eq((!new.unread.is_empty()).then(|| serde_json::Value::from(new.unread.clone()))),
        ))
        .execute(connection)
        .await?;
    Ok(Stored {
        shot,
        again: false,
        astray,
    })
}

fn as_json(reading: &Reading) -> serde_json::Value {
    serde_json::to_value(reading).expect("a reading is plain data")
}
