//! What people do with shots: type values, put readings together or apart, mark.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::announce;
use crate::base::locks::lock_session;
use crate::base::schema::{reading, shot, shot_entry, shot_mark};
use crate::base::store::Store;
use crate::session::blocks::load_blocks;
use crate::shots::session_shots::Mark;
use crate::shots::shot_intake::insert_untold;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::shots::mark::{MarkKind, Reason};
use tally_core::vocabulary::quantity::Quantity;
use uuid::Uuid;

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

/// A mark to make.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewMark {
    /// Identifier, made by whoever marks.
    pub id: Uuid,
    /// What it does.
    pub kind: MarkKind,
    /// Why it was set aside.
    pub reason: Option<Reason>,
    /// In the coach's words.
    pub note: String,
    /// Face cell, as on a number pad.
    pub strike: Option<i16>,
    /// When it was made; absent: now.
    pub made_at: Option<DateTime<Utc>>,
}

impl Store {
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
                let ended_at = lock_session(connection, school, session).await?;
                let there: Option<Uuid> = shot::table
                    .filter(shot::school_id.eq(school).and(shot::id.eq(shot)))
                    .select(shot::session_id)
                    .first(connection)
                    .await
                    .optional()?;
                match there {
                    Some(of) if of == session => {}
                    Some(_) => return Err(StoreError::NotFound("shot")),
                    None if ended_at.is_some() => {
                        return Err(StoreError::Conflict("the session has ended".into()));
                    }
                    None => insert_untold(connection, school, session, shot, hit_at).await?,
                }
                let rows: Vec<_> = entries
                    .iter()
                    .map(|entry| {
                        (
                            shot_entry::school_id.eq(school),
                            shot_entry::id.eq(entry.id),
                            shot_entry::shot_id.eq(shot),
                            shot_entry::coach_id.eq(coach),
                            shot_entry::quantity.eq(Key(entry.quantity)),
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
                let source = hit_at_in(connection, school, session, from).await?;
                let hit_at = source.ok_or(StoreError::NotFound("reading"))?;
                let to = match to {
                    Some(to) => {
                        let there = hit_at_in(connection, school, session, to).await?;
                        there.ok_or(StoreError::NotFound("shot"))?;
                        to
                    }
                    None => {
                        insert_untold(connection, school, session, new_shot, hit_at).await?;
                        new_shot
                    }
                };
                if to == from {
                    return Ok(());
                }
                one_of_each_device(connection, school, to, device_id).await?;
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

    /// Gives a shot to another block of its session, "that was not fifty", and marks that
    /// it was; the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the session has no such shot or block;
    /// [`StoreError::Conflict`] when the block was not begun yet.
    pub async fn move_shot(
        &self,
        school: Uuid,
        session: Uuid,
        shot: Uuid,
        coach: Uuid,
        id: Uuid,
        to: Uuid,
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session).await?;
                let from = block_in(connection, school, session, shot).await?;
                let blocks = load_blocks(connection, school, session).await?;
                let block = |id: Uuid| blocks.iter().find(|block| block.id == id);
                let there = block(to).ok_or(StoreError::NotFound("block"))?;
                if there.begun_at.is_none() {
                    return Err(StoreError::Conflict(format!(
                        "“{}” is not begun yet; begin it, or choose one that is",
                        there.label
                    )));
                }
                if from == to {
                    return Ok(());
                }
                let told = format!(
                    "from “{}” to “{}”",
                    block(from).map_or("", |block| &block.label),
                    there.label
                );
                diesel::insert_into(shot_mark::table)
                    .values((
                        shot_mark::school_id.eq(school),
                        shot_mark::id.eq(id),
                        shot_mark::shot_id.eq(shot),
                        shot_mark::coach_id.eq(Some(coach)),
                        shot_mark::kind.eq(Key(MarkKind::Moved)),
                        shot_mark::note.eq(told),
                    ))
                    .on_conflict((shot_mark::school_id, shot_mark::id))
                    .do_nothing()
                    .execute(connection)
                    .await?;
                let moved = shot::school_id.eq(school).and(shot::id.eq(shot));
                diesel::update(shot::table.filter(moved))
                    .set(shot::block_id.eq(to))
                    .execute(connection)
                    .await?;
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
                let found = hit_at_in(connection, school, session, shot).await?;
                found.ok_or(StoreError::NotFound("shot"))?;
                let made = diesel::insert_into(shot_mark::table)
                    .values((
                        shot_mark::school_id.eq(school),
                        shot_mark::id.eq(new.id),
                        shot_mark::shot_id.eq(shot),
                        shot_mark::coach_id.eq(Some(coach)),
                        shot_mark::kind.eq(Key(new.kind)),
                        shot_mark::reason.eq(new.reason.map(Key)),
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

/// When a shot of a session was hit, if it is one of it.
async fn hit_at_in(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
    shot: Uuid,
) -> Result<Option<DateTime<Utc>>, StoreError> {
    let the_one = shot::school_id
        .eq(school)
        .and(shot::session_id.eq(session))
        .and(shot::id.eq(shot));
    Ok(shot::table
        .filter(the_one)
        .select(shot::hit_at)
        .first(connection)
        .await
        .optional()?)
}

/// Removes the shot `from` when nothing is left of it; its marks go to `to`.
async fn clear_empty_shot(
    connection: &mut Connection,
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

/// The block of a shot of a session.
async fn block_in(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
    shot: Uuid,
) -> Result<Uuid, StoreError> {
    let found: Option<Uuid> = shot::table
        .filter(
            shot::school_id
                .eq(school)
                .and(shot::session_id.eq(session))
                .and(shot::id.eq(shot)),
        )
        .select(shot::block_id)
        .first(connection)
        .await
        .optional()?;
    found.ok_or(StoreError::NotFound("shot"))
}

/// Refuses a second reading of a device for the same shot.
async fn one_of_each_device(
    connection: &mut Connection,
    school: Uuid,
    shot: Uuid,
    device: Uuid,
) -> Result<(), StoreError> {
    let there: i64 = reading::table
        .filter(
            reading::school_id
                .eq(school)
                .and(reading::shot_id.eq(shot))
                .and(reading::device_id.eq(device)),
        )
        .count()
        .get_result(connection)
        .await?;
    if there > 0 {
        return Err(StoreError::Conflict(
            "that shot already has a reading of this device; move that one first".into(),
        ));
    }
    Ok(())
}
