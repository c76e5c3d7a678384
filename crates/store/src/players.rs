//! The players of a school.

use crate::schema::{player, session, shot};
use crate::{Store, StoreError};
use chrono::{DateTime, Utc};
use diesel::dsl::{count_star, max};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use std::collections::HashMap;
use uuid::Uuid;

/// A player.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = player)]
pub struct Player {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Year of birth, when given.
    pub born: Option<i32>,
    /// Whether they play left-handed.
    pub left_handed: bool,
    /// What they come for.
    pub aim: String,
}

/// A player as listed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ListedPlayer {
    /// The player.
    pub player: Player,
    /// How many sessions they had.
    pub sessions: i64,
    /// How many shots they hit.
    pub shots: i64,
    /// When the last session began.
    pub last_session: Option<DateTime<Utc>>,
}

impl Store {
    /// The school's players by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn players(&self, school: Uuid) -> Result<Vec<ListedPlayer>, StoreError> {
        let connection = &mut self.connection().await?;
        let players: Vec<Player> = player::table
            .filter(player::school_id.eq(school))
            .order((player::name, player::id))
            .select(Player::as_select())
            .load(connection)
            .await?;
        let sessions: Vec<(Uuid, i64, Option<DateTime<Utc>>)> = session::table
            .filter(session::school_id.eq(school))
            .group_by(session::player_id)
            .select((session::player_id, count_star(), max(session::started_at)))
            .load(connection)
            .await?;
        let shots: Vec<(Uuid, i64)> = shot::table
            .inner_join(
                session::table.on(session::school_id
                    .eq(shot::school_id)
                    .and(session::id.eq(shot::session_id))),
            )
            .filter(shot::school_id.eq(school))
            .group_by(session::player_id)
            .select((session::player_id, count_star()))
            .load(connection)
            .await?;
        let sessions: HashMap<_, _> = sessions
            .into_iter()
            .map(|(id, n, last)| (id, (n, last)))
            .collect();
        let shots: HashMap<_, _> = shots.into_iter().collect();
        Ok(players
            .into_iter()
            .map(|player| {
                let (n, last_session) = sessions.get(&player.id).copied().unwrap_or((0, None));
                ListedPlayer {
                    sessions: n,
                    shots: shots.get(&player.id).copied().unwrap_or(0),
                    last_session,
                    player,
                }
            })
            .collect())
    }

    /// One player.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn player(&self, school: Uuid, id: Uuid) -> Result<Player, StoreError> {
        player::table
            .filter(player::school_id.eq(school).and(player::id.eq(id)))
            .select(Player::as_select())
            .first(&mut self.connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("player"))
    }

    /// Adds a player; adding the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when the identifier belongs to someone else.
    pub async fn add_player(&self, school: Uuid, new: &Player) -> Result<(), StoreError> {
        diesel::insert_into(player::table)
            .values((player::school_id.eq(school), new))
            .on_conflict_do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        if self.player(school, new.id).await? == *new {
            Ok(())
        } else {
            Err(StoreError::Conflict(
                "another player already has this identifier".into(),
            ))
        }
    }
}
