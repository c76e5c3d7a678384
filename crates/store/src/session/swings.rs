//! What a player swung of late, whatever became of the balls.

use crate::base::error::StoreError;
use crate::base::store::Store;
use chrono::{DateTime, TimeDelta, Utc};
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Timestamptz, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use tally_core::session::bounds::Swings;
use uuid::Uuid;

#[derive(QueryableByName)]
struct SwingsRow {
    #[diesel(sql_type = BigInt)]
    full_today: i64,
    #[diesel(sql_type = BigInt)]
    today: i64,
    #[diesel(sql_type = BigInt)]
    full_week: i64,
}

/// Days before a day that make a week of it.
const WEEK_BEFORE: i64 = 6;

impl Store {
    /// What a player swung since the beginning of a day, and in the seven days up to then,
    /// whatever became of the shots.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn swings_since(
        &self,
        school: Uuid,
        player: Uuid,
        day: DateTime<Utc>,
    ) -> Result<Swings, StoreError> {
        let sql = "SELECT count(*) FILTER (WHERE all_out AND hit_at >= $3) AS full_today, \
                   count(*) FILTER (WHERE hit_at >= $3) AS today, \
                   count(*) FILTER (WHERE all_out) AS full_week FROM \
                   (SELECT shot.hit_at, \
                   coalesce((block.plan ->> 'full_effort')::boolean, false) AS all_out \
                   FROM session JOIN shot ON (shot.school_id, shot.session_id) = \
                   (session.school_id, session.id) JOIN block ON (block.school_id, block.id) = \
                   (shot.school_id, shot.block_id) WHERE session.school_id = $1 \
                   AND session.player_id = $2 AND shot.hit_at >= $4) AS each";
        let row: SwingsRow = diesel::sql_query(sql)
            .bind::<SqlUuid, _>(school)
            .bind::<SqlUuid, _>(player)
            .bind::<Timestamptz, _>(day)
            .bind::<Timestamptz, _>(day - TimeDelta::days(WEEK_BEFORE))
            .get_result(&mut self.connection().await?)
            .await?;
        let number = |n: i64| u32::try_from(n).unwrap_or(u32::MAX);
        Ok(Swings {
            full: number(row.full_today),
            all: number(row.today),
            week: number(row.full_week),
        })
    }
}
