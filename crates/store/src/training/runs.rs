//! Sessions that were held by a protocol.

use crate::base::error::StoreError;
use crate::base::schema::{run, session};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Bool, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use std::collections::HashMap;
use uuid::Uuid;

/// By which protocol a session is held.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = run)]
pub struct Run {
    /// The session.
    pub session_id: Uuid,
    /// The protocol.
    pub protocol_id: Uuid,
    /// Place of its level.
    pub level: i32,
    /// Whether half of each set was asked.
    pub lighter: bool,
    /// The programme it belongs to.
    pub programme_id: Option<Uuid>,
    /// Place of the programme's session that it is.
    pub place: Option<i32>,
}

/// A session of a protocol, with how much of it was done.
#[derive(Debug, Clone, PartialEq)]
pub struct HeldRun {
    /// By which protocol.
    pub run: Run,
    /// When it began.
    pub started_at: DateTime<Utc>,
    /// Name of its time zone.
    pub zone: String,
    /// Whether it goes on.
    pub in_progress: bool,
    /// Swings that its sets ask for.
    pub asked: i64,
    /// Swings that were made.
    pub made: i64,
    /// Whether it was told to stop, or held.
    pub stopped: bool,
}

#[derive(QueryableByName)]
struct Done {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
    #[diesel(sql_type = BigInt)]
    asked: i64,
    #[diesel(sql_type = BigInt)]
    made: i64,
    #[diesel(sql_type = Bool)]
    stopped: bool,
}

impl Store {
    /// Says by which protocol a session is held; the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_run(&self, school: Uuid, held: &Run) -> Result<(), StoreError> {
        diesel::insert_into(run::table)
            .values((run::school_id.eq(school), held.clone()))
            .on_conflict((run::school_id, run::session_id))
            .do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// By which protocol a session is held, where it is by one.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn run_of(&self, school: Uuid, session: Uuid) -> Result<Option<Run>, StoreError> {
        Ok(run::table
            .find((school, session))
            .select(Run::as_select())
            .first(&mut self.connection().await?)
            .await
            .optional()?)
    }

    /// Sessions of some programmes: which programme and place, the session, and whether it goes
    /// on.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn runs_of_programmes(
        &self,
        school: Uuid,
        programmes: &[Uuid],
    ) -> Result<Vec<(Run, bool)>, StoreError> {
        let joined = run::table.inner_join(
            session::table.on(session::school_id
                .eq(run::school_id)
                .and(session::id.eq(run::session_id))),
        );
        Ok(joined
            .filter(run::school_id.eq(school))
            .filter(run::programme_id.eq_any(programmes))
            .select((Run::as_select(), session::ended_at.is_null()))
            .load(&mut self.connection().await?)
            .await?)
    }

    /// A player's sessions by protocols, earliest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn runs(&self, school: Uuid, player: Uuid) -> Result<Vec<HeldRun>, StoreError> {
        let connection = &mut self.connection().await?;
        let joined = run::table.inner_join(
            session::table.on(session::school_id
                .eq(run::school_id)
                .and(session::id.eq(run::session_id))),
        );
        let rows: Vec<(Run, DateTime<Utc>, String, bool)> = joined
            .filter(
                session::school_id
                    .eq(school)
                    .and(session::player_id.eq(player)),
            )
            .order((session::started_at, session::id))
            .select((
                Run::as_select(),
                session::started_at,
                session::zone,
                session::ended_at.is_null(),
            ))
            .load(connection)
            .await?;
        let ids: Vec<Uuid> = rows.iter().map(|(run, ..)| run.session_id).collect();
        let sql = "SELECT s.id, \
               (SELECT coalesce(sum((b.plan ->> 'balls')::bigint), 0)::bigint FROM block b \
                WHERE (b.school_id, b.session_id) = (s.school_id, s.id)) AS asked, \
               (SELECT count(*) FROM shot h WHERE (h.school_id, h.session_id) = (s.school_id, s.id) \
                AND coalesce((SELECT m.kind FROM shot_mark m \
                    WHERE (m.school_id, m.shot_id) = (h.school_id, h.id) \
                    AND m.kind IN ('set_aside', 'keep', 'withdraw') \
                    ORDER BY m.made_at DESC, m.id DESC LIMIT 1), '') <> 'set_aside') AS made, \
               EXISTS (SELECT FROM session_act a WHERE (a.school_id, a.session_id) = (s.school_id, s.id) \
                AND a.act ->> 'kind' IN ('hold', 'stop')) AS stopped \
             FROM session s WHERE s.school_id = $1 AND s.id = ANY($2)";
        let done: Vec<Done> = diesel::sql_query(sql)
            .bind::<SqlUuid, _>(school)
            .bind::<Array<SqlUuid>, _>(ids)
            .load(connection)
            .await?;
        let mut done: HashMap<Uuid, Done> = done.into_iter().map(|d| (d.id, d)).collect();
        Ok(rows
            .into_iter()
            .map(|(run, started_at, zone, in_progress)| {
                let told = done.remove(&run.session_id);
                HeldRun {
                    started_at,
                    zone,
                    in_progress,
                    asked: told.as_ref().map_or(0, |d| d.asked),
                    made: told.as_ref().map_or(0, |d| d.made),
                    stopped: told.is_some_and(|d| d.stopped),
                    run,
                }
            })
            .collect())
    }
}
