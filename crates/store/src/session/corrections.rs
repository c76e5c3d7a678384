//! What was recorded, put right: a session's facts, a block's, a session taken out.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::announce;
use crate::base::locks::lock_session;
use crate::base::schema::{block, decision, device, import, reading, session, session_act, shot};
use crate::base::schema::{shot_entry, shot_mark};
use crate::base::store::Store;
use crate::session::blocks::{load_blocks, one_of};
use chrono::TimeDelta;
use diesel::dsl::IntervalDsl;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::physics::club::Club;
use tally_core::session::purpose::Purpose;
use uuid::Uuid;

/// What a session is said to have been.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SessionFacts {
    /// Whose.
    pub player: Uuid,
    /// Why it was held.
    pub purpose: Purpose,
    /// Its club, where a block names none.
    pub club: Club,
    /// By how much all of it is moved in time.
    pub moved: TimeDelta,
}

impl Store {
    /// Puts a session's facts right: its shots and blocks move in time with it, and what
    /// was decided in it goes to its player.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session or player.
    pub async fn correct_session(
        &self,
        school: Uuid,
        id: Uuid,
        facts: &SessionFacts,
    ) -> Result<(), StoreError> {
        self.player(school, facts.player).await?;
        let seconds = facts.moved.num_seconds() as i32;
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, id).await?;
                let found = session::table.find((school, id));
                let before: Uuid = found.select(session::player_id).first(connection).await?;
                if before != facts.player {
                    // A club of somebody else's bag, and a file of theirs.
                    diesel::update(found)
                        .set((
                            session::bag_club_id.eq(None::<Uuid>),
                            session::import_id.eq(None::<Uuid>),
                        ))
                        .execute(connection)
                        .await?;
                }
                // What was decided in it goes along: the database sees to it.
                diesel::update(found)
                    .set((
                        session::player_id.eq(facts.player),
                        session::purpose.eq(Key(facts.purpose)),
                        session::club.eq(Key(facts.club)),
                        session::started_at.eq(session::started_at + seconds.seconds()),
                        session::ended_at.eq(session::ended_at + seconds.seconds()),
                    ))
                    .execute(connection)
                    .await?;
                if seconds != 0 {
                    let hit = shot::table
                        .filter(shot::school_id.eq(school))
                        .filter(shot::session_id.eq(id));
                    diesel::update(hit)
                        .set(shot::hit_at.eq(shot::hit_at + seconds.seconds()))
                        .execute(connection)
                        .await?;
                    let blocks = block::table
                        .filter(block::school_id.eq(school))
                        .filter(block::session_id.eq(id));
                    diesel::update(blocks)
                        .set(block::begun_at.eq(block::begun_at + seconds.seconds()))
                        .execute(connection)
                        .await?;
                }
                announce(connection, school, id).await
            })
            .await
    }

    /// Puts a block's label and club right; the club is the session's when none is given.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the session has no such block.
    pub async fn correct_block(
        &self,
        school: Uuid,
        session_id: Uuid,
        id: Uuid,
        label: &str,
        club: Option<Club>,
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session_id).await?;
                let blocks = load_blocks(connection, school, session_id).await?;
                let mut plan = one_of(&blocks, id)?.plan();
                label.clone_into(&mut plan.label);
                plan.club = club;
                let plan = serde_json::to_value(&plan).expect("a plan is plain data");
                diesel::update(block::table.find((school, id)))
                    .set((block::label.eq(label), block::plan.eq(plan)))
                    .execute(connection)
                    .await?;
                announce(connection, school, session_id).await
            })
            .await
    }

    /// Takes a session out with all that was hit in it. What was decided in it stays with
    /// the player, and the last session of a file undoes the file's import, so that the
    /// file may come again. Returns how many shots it had.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn remove_session(&self, school: Uuid, id: Uuid) -> Result<usize, StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, id).await?;
                let shots = shot::table
                    .filter(shot::school_id.eq(school))
                    .filter(shot::session_id.eq(id));
                let ids: Vec<Uuid> = shots.select(shot::id).load(connection).await?;
                let marks = shot_mark::table
                    .filter(shot_mark::school_id.eq(school))
                    .filter(shot_mark::shot_id.eq_any(&ids));
                diesel::delete(marks).execute(connection).await?;
                let entries = shot_entry::table
                    .filter(shot_entry::school_id.eq(school))
                    .filter(shot_entry::shot_id.eq_any(&ids));
                diesel::delete(entries).execute(connection).await?;
                let readings = reading::table
                    .filter(reading::school_id.eq(school))
                    .filter(reading::shot_id.eq_any(&ids));
                diesel::delete(readings).execute(connection).await?;
                diesel::delete(shots).execute(connection).await?;
                let acts = session_act::table
                    .filter(session_act::school_id.eq(school))
                    .filter(session_act::session_id.eq(id));
                diesel::delete(acts).execute(connection).await?;
                let blocks = block::table
                    .filter(block::school_id.eq(school))
                    .filter(block::session_id.eq(id));
                diesel::delete(blocks).execute(connection).await?;
                let devices = device::table
                    .filter(device::school_id.eq(school))
                    .filter(device::session_id.eq(id));
                diesel::update(devices)
                    .set(device::session_id.eq(None::<Uuid>))
                    .execute(connection)
                    .await?;
                let decisions = decision::table
                    .filter(decision::school_id.eq(school))
                    .filter(decision::session_id.eq(id));
                diesel::update(decisions)
                    .set(decision::session_id.eq(None::<Uuid>))
                    .execute(connection)
                    .await?;
                let came_by: Option<Uuid> = diesel::delete(session::table.find((school, id)))
                    .returning(session::import_id)
                    .get_result(connection)
                    .await?;
                if let Some(file) = came_by {
                    let others = session::table
                        .filter(session::school_id.eq(school))
                        .filter(session::import_id.eq(file));
                    diesel::update(import::table.find((school, file)))
                        .filter(diesel::dsl::not(diesel::dsl::exists(others)))
                        .set(import::state.eq("undone"))
                        .execute(connection)
                        .await?;
                }
                announce(connection, school, id).await?;
                Ok(ids.len())
            })
            .await
    }
}
