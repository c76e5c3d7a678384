//! Sessions and their blocks.

use crate::live::announce;
use crate::schema::{block, session, shot};
use crate::{Store, StoreError};
use chrono::{DateTime, Utc};
use diesel::dsl::{count_star, max};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::air::Conditions;
use uuid::Uuid;

/// A session as stored.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = session)]
pub struct Session {
    /// Identifier.
    pub id: Uuid,
    /// Whose.
    pub player_id: Uuid,
    /// Key of its purpose.
    pub purpose: String,
    /// Key of its club.
    pub club: String,
    /// Where.
    pub place: String,
    /// Height above the sea, m.
    pub altitude_m: f64,
    /// Temperature, °C.
    pub temperature_c: f64,
    /// Relative humidity, %.
    pub humidity_pct: f64,
    /// Pressure, hPa, when read.
    pub pressure_hpa: Option<f64>,
    /// When it began.
    pub started_at: DateTime<Utc>,
    /// Its time zone's name.
    pub zone: String,
    /// When it ended; absent while in progress.
    pub ended_at: Option<DateTime<Utc>>,
}

impl Session {
    /// The air.
    pub fn conditions(&self) -> Conditions {
        Conditions {
            altitude_m: self.altitude_m,
            temperature_c: self.temperature_c,
            humidity_pct: self.humidity_pct,
            pressure_hpa: self.pressure_hpa,
            ..Conditions::REFERENCE
        }
    }
}

/// A stretch of a session with a label of its own.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = block)]
pub struct Block {
    /// Identifier.
    pub id: Uuid,
    /// Its session.
    pub session_id: Uuid,
    /// Place in the order, from 0.
    pub position: i32,
    /// What it is called.
    pub label: String,
}

impl Store {
    /// A player's sessions, latest first, with how many shots each has.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn player_sessions(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Vec<(Session, i64)>, StoreError> {
        let connection = &mut self.connection().await?;
        let sessions: Vec<Session> = session::table
            .filter(
                session::school_id
                    .eq(school)
                    .and(session::player_id.eq(player)),
            )
            .order((session::started_at.desc(), session::id))
            .select(Session::as_select())
            .load(connection)
            .await?;
        let ids: Vec<Uuid> = sessions.iter().map(|s| s.id).collect();
        let counts: HashMap<Uuid, i64> = shot::table
            .filter(shot::school_id.eq(school).and(shot::session_id.eq_any(ids)))
            .group_by(shot::session_id)
            .select((shot::session_id, count_star()))
            .load(connection)
            .await?
            .into_iter()
            .collect();
        Ok(sessions
            .into_iter()
            .map(|s| {
                let n = counts.get(&s.id).copied().unwrap_or(0);
                (s, n)
            })
            .collect())
    }

    /// One session with its blocks in order.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn session(
        &self,
        school: Uuid,
        id: Uuid,
    ) -> Result<(Session, Vec<Block>), StoreError> {
        let connection = &mut self.connection().await?;
        let found: Option<Session> = session::table
            .filter(session::school_id.eq(school).and(session::id.eq(id)))
            .select(Session::as_select())
            .first(connection)
            .await
            .optional()?;
        let found = found.ok_or(StoreError::NotFound("session"))?;
        let blocks = block::table
            .filter(block::school_id.eq(school).and(block::session_id.eq(id)))
            .order(block::position)
            .select(Block::as_select())
            .load(connection)
            .await?;
        Ok((found, blocks))
    }

    /// Sessions in progress, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn sessions_in_progress(&self, school: Uuid) -> Result<Vec<Session>, StoreError> {
        Ok(session::table
            .filter(
                session::school_id
                    .eq(school)
                    .and(session::ended_at.is_null()),
            )
            .order(session::started_at.desc())
            .select(Session::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Begins a session with its first block; beginning the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn add_session(
        &self,
        school: Uuid,
        new: &Session,
        first_block: &Block,
    ) -> Result<(), StoreError> {
        self.player(school, new.player_id).await?;
        let (new, first_block) = (new.clone(), first_block.clone());
        self.connection()
            .await?
            .transaction(async |connection| {
                diesel::insert_into(session::table)
                    .values((session::school_id.eq(school), &new))
                    .on_conflict_do_nothing()
                    .execute(connection)
                    .await?;
                diesel::insert_into(block::table)
                    .values((block::school_id.eq(school), &first_block))
                    .on_conflict_do_nothing()
                    .execute(connection)
                    .await?;
                Ok::<_, StoreError>(())
            })
            .await
    }

    /// Begins the next block of a session; new shots go to it. Beginning the same block
    /// again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn add_block(
        &self,
        school: Uuid,
        session_id: Uuid,
        id: Uuid,
        label: &str,
    ) -> Result<(), StoreError> {
        let label = label.to_owned();
        self.connection()
            .await?
            .transaction(async |connection| {
                lock_session(connection, school, session_id).await?;
                let last: Option<i32> = block::table
                    .filter(
                        block::school_id
                            .eq(school)
                            .and(block::session_id.eq(session_id)),
                    )
                    .select(max(block::position))
                    .first(connection)
                    .await?;
                let next = Block {
                    id,
                    session_id,
                    position: last.map_or(0, |p| p + 1),
                    label,
                };
                diesel::insert_into(block::table)
                    .values((block::school_id.eq(school), &next))
                    .on_conflict((block::school_id, block::id))
                    .do_nothing()
                    .execute(connection)
                    .await?;
                announce(connection, school, session_id).await
            })
            .await
    }

    /// Ends a session, or takes it up again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn end_session(
        &self,
        school: Uuid,
        id: Uuid,
        ended_at: Option<DateTime<Utc>>,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        let changed = diesel::update(
            session::table.filter(session::school_id.eq(school).and(session::id.eq(id))),
        )
        .set(session::ended_at.eq(ended_at))
        .execute(connection)
        .await?;
        if changed == 0 {
            return Err(StoreError::NotFound("session"));
        }
        announce(connection, school, id).await
    }
}

/// Holds a session still while something is added to it.
pub(crate) async fn lock_session(
    connection: &mut diesel_async::AsyncPgConnection,
    school: Uuid,
    id: Uuid,
) -> Result<Session, StoreError> {
    session::table
        .filter(session::school_id.eq(school).and(session::id.eq(id)))
        .select(Session::as_select())
        .for_update()
        .first(connection)
        .await
        .optional()?
        .ok_or(StoreError::NotFound("session"))
}
