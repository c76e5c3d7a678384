//! What is done in a session beside hitting.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::json::from_json;
use crate::base::live::announce;
use crate::base::locks::lock_session;
use crate::base::schema::{session, session_act};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::Bool;
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::session::acts::{Progress, SessionAct, progress};
use tally_core::session::warm_up::Readiness;
use uuid::Uuid;

impl Store {
    /// A session's acts, in order.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn session_acts(
        &self,
        school: Uuid,
        session: Uuid,
    ) -> Result<Vec<(DateTime<Utc>, SessionAct)>, StoreError> {
        load(&mut *self.connection().await?, school, session).await
    }

    /// What a session's acts add up to.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn progress(&self, school: Uuid, session: Uuid) -> Result<Progress, StoreError> {
        let acts = self.session_acts(school, session).await?;
        let acts: Vec<SessionAct> = acts.into_iter().map(|(_, act)| act).collect();
        Ok(progress(&acts))
    }

    /// What a player answered before hitting, by session: the latest answers of each.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn readiness_of(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<HashMap<Uuid, Readiness>, StoreError> {
        let of = session::school_id
            .eq(session_act::school_id)
            .and(session::id.eq(session_act::session_id));
        let answers = diesel::dsl::sql::<Bool>("session_act.act ->> 'kind' = 'readiness'");
        let rows: Vec<(Uuid, serde_json::Value)> = session_act::table
            .inner_join(session::table.on(of))
            .filter(session_act::school_id.eq(school))
            .filter(session::player_id.eq(player))
            .filter(answers)
            .order((session_act::made_at, session_act::id))
            .select((session_act::session_id, session_act::act))
            .load(&mut self.connection().await?)
            .await?;
        let mut told = HashMap::new();
        for (session, act) in rows {
            if let SessionAct::Readiness(answers) = from_json(act)? {
                told.insert(session, answers);
            }
        }
        Ok(told)
    }

    /// Records an act; recording the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn record_act(
        &self,
        school: Uuid,
        session: Uuid,
        coach: Uuid,
        id: Uuid,
        act: &SessionAct,
    ) -> Result<(), StoreError> {
        let act = serde_json::to_value(act).expect("an act is plain data");
        self.connection()
            .await?
            .transaction(async |connection| {
                // One at a time, so that their order is that of their times.
                lock_session(connection, school, session).await?;
                diesel::insert_into(session_act::table)
                    .values((
                        session_act::school_id.eq(school),
                        session_act::id.eq(id),
                        session_act::session_id.eq(session),
                        session_act::coach_id.eq(coach),
                        session_act::act.eq(&act),
                    ))
                    .on_conflict((session_act::school_id, session_act::id))
                    .do_nothing()
                    .execute(connection)
                    .await?;
                announce(connection, school, session).await
            })
            .await
    }
}

pub(crate) async fn load(
    connection: &mut Connection,
    school: Uuid,
    session: Uuid,
) -> Result<Vec<(DateTime<Utc>, SessionAct)>, StoreError> {
    let rows: Vec<(DateTime<Utc>, serde_json::Value)> = session_act::table
        .filter(
            session_act::school_id
                .eq(school)
                .and(session_act::session_id.eq(session)),
        )
        .order((session_act::made_at, session_act::id))
        .select((session_act::made_at, session_act::act))
        .load(connection)
        .await?;
    rows.into_iter()
        .map(|(at, act)| Ok((at, from_json(act)?)))
        .collect()
}
