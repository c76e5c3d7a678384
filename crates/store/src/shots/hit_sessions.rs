//! Sessions with all that was hit in them, several at once.

use crate::base::error::StoreError;
use crate::base::schema::player;
use crate::base::store::Store;
use crate::session::blocks::{Block, blocks_of};
use crate::session::sessions::Session;
use crate::shots::session_shots::{Shot, shots_of};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use std::collections::HashMap;
use tally_core::physics::club::Club;
use uuid::Uuid;

/// A session with its blocks and its shots.
#[derive(Debug, Clone)]
pub struct HitSession {
    /// The session.
    pub session: Session,
    /// Whether its player plays left-handed.
    pub left_handed: bool,
    /// Its blocks in order.
    pub blocks: Vec<Block>,
    /// Its shots in hitting order.
    pub shots: Vec<Shot>,
}

impl HitSession {
    /// The block of a shot.
    pub fn block_of(&self, shot: &Shot) -> Option<&Block> {
        self.blocks.iter().find(|block| block.id == shot.block_id)
    }

    /// Leaves out swings without a ball: they are no club's.
    pub fn leave_out_swings(&mut self) {
        let swung: Vec<Uuid> = self
            .blocks
            .iter()
            .filter(|block| block.plan().swung.is_some())
            .map(|block| block.id)
            .collect();
        self.shots.retain(|shot| !swung.contains(&shot.block_id));
    }

    /// The club of each shot: its block's, or else the session's.
    pub fn clubs(&self) -> Vec<Club> {
        let planned = self
            .blocks
            .iter()
            .map(|block| (block.id, block.plan().club));
        let planned: HashMap<Uuid, Option<Club>> = planned.collect();
        let of = |shot: &Shot| planned.get(&shot.block_id).copied().flatten();
        let clubs = self.shots.iter().map(of);
        clubs
            .map(|club| club.unwrap_or(self.session.club))
            .collect()
    }
}

impl Store {
    /// One session with what was hit in it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn hit_session(&self, school: Uuid, id: Uuid) -> Result<HitSession, StoreError> {
        let (session, _) = self.session(school, id).await?;
        let mut found = self.hit_sessions(school, vec![session]).await?;
        found.pop().ok_or(StoreError::NotFound("session"))
    }

    /// What was hit in these sessions, in their order: as many queries as for one.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn hit_sessions(
        &self,
        school: Uuid,
        sessions: Vec<Session>,
    ) -> Result<Vec<HitSession>, StoreError> {
        let all = self.hit_sessions_up_to(school, sessions, usize::MAX);
        Ok(all.await?.0)
    }

    /// The same; of more than `most` shots, about as many are read, chosen evenly from every
    /// session. Answers with how many there are.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn hit_sessions_up_to(
        &self,
        school: Uuid,
        sessions: Vec<Session>,
        most: usize,
    ) -> Result<(Vec<HitSession>, usize), StoreError> {
        if sessions.is_empty() {
            return Ok((Vec::new(), 0));
        }
        let connection = &mut self.connection().await?;
        let ids: Vec<Uuid> = sessions.iter().map(|session| session.id).collect();
        let players: Vec<Uuid> = sessions.iter().map(|session| session.player_id).collect();
        let handed: Vec<(Uuid, bool)> = player::table
            .filter(player::school_id.eq(school).and(player::id.eq_any(players)))
            .select((player::id, player::left_handed))
            .load(connection)
            .await?;
        let handed: HashMap<Uuid, bool> = handed.into_iter().collect();
        let mut blocks = blocks_of(connection, school, &ids).await?;
        let (mut shots, all) = shots_of(connection, school, &ids, most).await?;
        let hit = sessions
            .into_iter()
            .map(|session| HitSession {
                left_handed: handed.get(&session.player_id).copied().unwrap_or_default(),
                blocks: blocks.remove(&session.id).unwrap_or_default(),
                shots: shots.remove(&session.id).unwrap_or_default(),
                session,
            })
            .collect();
        Ok((hit, all))
    }
}
