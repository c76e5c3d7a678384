//! Pairs of devices that reported the same shots.

use crate::base::error::StoreError;
use crate::base::json::Json;
use crate::base::schema::{reading, session, shot};
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use std::collections::HashMap;
use tally_core::shots::reading::{self as core_reading, Reading};
use uuid::Uuid;

/// Two devices that reported the same shots.
#[derive(Debug, Clone, Copy, PartialEq, Eq, QueryableByName)]
pub struct DevicePair {
    /// One device.
    #[diesel(sql_type = diesel::sql_types::Uuid)]
    pub first: Uuid,
    /// The other.
    #[diesel(sql_type = diesel::sql_types::Uuid)]
    pub second: Uuid,
    /// Shots that both reported.
    #[diesel(sql_type = diesel::sql_types::BigInt)]
    pub shots: i64,
}

impl Store {
    /// Pairs of devices that reported the same shots of the latest sessions, with how
    /// many; the most first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn device_pairs(&self, school: Uuid) -> Result<Vec<DevicePair>, StoreError> {
        Ok(diesel::sql_query(
            // Most shots have one reading, and are done with once it is looked at.
            "SELECT first, second, count(*) AS shots FROM (
                 SELECT array_agg(DISTINCT reading.device_id) AS devices
                 FROM (SELECT school_id, id FROM session WHERE school_id = $1
                       ORDER BY started_at DESC LIMIT 100) s
                 JOIN shot ON (shot.school_id, shot.session_id) = (s.school_id, s.id)
                 JOIN reading ON (reading.school_id, reading.shot_id) = (shot.school_id, shot.id)
                 GROUP BY shot.id HAVING count(*) > 1
             ) AS told, unnest(devices) AS first, unnest(devices) AS second
             WHERE first < second
             GROUP BY 1, 2 ORDER BY 3 DESC, 1, 2",
        )
        .bind::<diesel::sql_types::Uuid, _>(school)
        .load(&mut self.connection().await?)
        .await?)
    }

    /// What two devices reported of the same shots, with their offsets and the session it
    /// was in, latest last.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn paired_readings(
        &self,
        school: Uuid,
        [first, second]: [Uuid; 2],
        most: i64,
    ) -> Result<Vec<(Uuid, [Reading; 2])>, StoreError> {
        let other = diesel::alias!(reading as other);
        // Of players that may be seen.
        let seen = shot::table
            .inner_join(
                session::table.on(session::school_id
                    .eq(shot::school_id)
                    .and(session::id.eq(shot::session_id))),
            )
            .filter(shot::school_id.eq(school))
            .select(shot::id);
        let mut rows: Vec<(Uuid, Json<Reading>, Json<Reading>)> = reading::table
            .inner_join(
                other.on(other
                    .field(reading::school_id)
                    .eq(reading::school_id)
                    .and(other.field(reading::shot_id).eq(reading::shot_id))),
            )
            .filter(
                reading::school_id
                    .eq(school)
                    .and(reading::device_id.eq(first))
                    .and(other.field(reading::device_id).eq(second)),
            )
            .filter(reading::shot_id.eq_any(seen))
            .order((reading::received_at.desc(), reading::id))
            .limit(most)
            .select((
                reading::shot_id,
                reading::values,
                other.field(reading::values),
            ))
            .load(&mut self.connection().await?)
            .await?;
        rows.reverse();
        let shots: Vec<Uuid> = rows.iter().map(|(shot, ..)| *shot).collect();
        let sessions: HashMap<Uuid, Uuid> = shot::table
            .filter(shot::school_id.eq(school).and(shot::id.eq_any(&shots)))
            .select((shot::id, shot::session_id))
            .load(&mut self.connection().await?)
            .await?
            .into_iter()
            .collect();
        let offsets = [
            self.device(school, first).await?.offsets,
            self.device(school, second).await?.offsets,
        ];
        let pairs = rows.into_iter().map(|(shot, Json(one), Json(two))| {
            let pair = [
                core_reading::with_offsets(&one, &offsets[0]),
                core_reading::with_offsets(&two, &offsets[1]),
            ];
            (sessions.get(&shot).copied().unwrap_or(shot), pair)
        });
        Ok(pairs.collect())
    }
}
