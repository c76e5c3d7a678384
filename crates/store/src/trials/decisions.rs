//! What coaches decided for their players, and when to look again.

use crate::base::error::StoreError;
use crate::base::schema::{decision, player};
use crate::base::store::Store;
use chrono::{DateTime, NaiveDate, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

/// A decision of a coach.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable)]
#[diesel(table_name = decision)]
pub struct Decision {
    /// Identifier.
    pub id: Uuid,
    /// For whom.
    pub player_id: Uuid,
    /// The session it was made in.
    pub session_id: Option<Uuid>,
    /// In the coach's words.
    pub words: String,
    /// The verdict it rests on, as it was read.
    pub verdict: String,
    /// Where that stands, as a path of the application.
    pub address: String,
    /// When to look again.
    pub recheck_on: Option<NaiveDate>,
    /// When it was made.
    pub decided_at: DateTime<Utc>,
    /// When it was looked at again, or dropped.
    pub done_at: Option<DateTime<Utc>>,
}

/// A decision to keep.
#[derive(Debug, Clone, PartialEq, Insertable)]
#[diesel(table_name = decision)]
pub struct NewDecision {
    /// Identifier, made by whoever decides.
    pub id: Uuid,
    /// For whom.
    pub player_id: Uuid,
    /// The session it is made in.
    pub session_id: Option<Uuid>,
    /// In the coach's words.
    pub words: String,
    /// The verdict it rests on, as it was read.
    pub verdict: String,
    /// Where that stands.
    pub address: String,
    /// When to look again.
    pub recheck_on: Option<NaiveDate>,
}

impl Store {
    /// A player's decisions, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn decisions(&self, school: Uuid, player: Uuid) -> Result<Vec<Decision>, StoreError> {
        Ok(decision::table
            .filter(
                decision::school_id
                    .eq(school)
                    .and(decision::player_id.eq(player)),
            )
            .order((decision::decided_at.desc(), decision::id))
            .select(Decision::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// The school's latest decisions, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn latest_decisions(
        &self,
        school: Uuid,
        most: i64,
    ) -> Result<Vec<Decision>, StoreError> {
        Ok(decision::table
            .filter(decision::school_id.eq(school))
            .order((decision::decided_at.desc(), decision::id))
            .limit(most)
            .select(Decision::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Decisions that are to be looked at again, the earliest first, with the player's
    /// name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn decisions_to_recheck(
        &self,
        school: Uuid,
    ) -> Result<Vec<(Decision, String)>, StoreError> {
        Ok(decision::table
            .inner_join(
                player::table.on(player::school_id
                    .eq(decision::school_id)
                    .and(player::id.eq(decision::player_id))),
            )
            .filter(
                decision::school_id
                    .eq(school)
                    .and(decision::done_at.is_null())
                    .and(decision::recheck_on.is_not_null())
                    .and(player::archived_at.is_null()),
            )
            .order((decision::recheck_on, decision::id))
            .select((Decision::as_select(), player::name))
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Keeps a decision; keeping it again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player, or the player no
    /// such session.
    pub async fn decide(
        &self,
        school: Uuid,
        coach: Uuid,
        new: &NewDecision,
    ) -> Result<(), StoreError> {
        self.player(school, new.player_id).await?;
        if let Some(session) = new.session_id {
            let (session, _) = self.session(school, session).await?;
            if session.player_id != new.player_id {
                return Err(StoreError::NotFound("session of this player"));
            }
        }
        diesel::insert_into(decision::table)
            .values((
                decision::school_id.eq(school),
                decision::coach_id.eq(coach),
                new,
            ))
            .on_conflict((decision::school_id, decision::id))
            .do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Notes that a decision was looked at again, or takes that back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn decision_done(
        &self,
        school: Uuid,
        id: Uuid,
        done_at: Option<DateTime<Utc>>,
    ) -> Result<(), StoreError> {
        let changed = diesel::update(
            decision::table.filter(decision::school_id.eq(school).and(decision::id.eq(id))),
        )
        .set(decision::done_at.eq(done_at))
        .execute(&mut self.connection().await?)
        .await?;
        if changed == 0 {
            return Err(StoreError::NotFound("decision"));
        }
        Ok(())
    }
}
