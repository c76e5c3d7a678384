//! Pairs of devices that reported the same shots.

use crate::base::error::StoreError;
use crate::base::json::Json;
use crate::base::schema::{reading, session, shot};
use crate::base::store::Store;
use diesel::prelude::*;
use diesel::sql_types::{Array, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
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

/// Sessions in which pairs are looked for: the latest in which two devices told of the same shot.
const LATEST: i64 = 40;
/// The same, where what two given devices told is wanted.
const LATEST_OF_TWO: i64 = 200;

impl Store {
    /// Pairs of devices that reported the same shots of the latest sessions with two devices,
    /// with how many; the most first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn device_pairs(&self, school: Uuid) -> Result<Vec<DevicePair>, StoreError> {
        let sessions = self.paired_sessions(school, LATEST).await?;
        Ok(diesel::sql_query(
            // Most shots have one reading, and are done with once it is looked at.
            "SELECT first, second, count(*) AS shots FROM (
                 SELECT array_agg(DISTINCT reading.device_id) AS devices
                 FROM shot
                 JOIN reading ON (reading.school_id, reading.shot_id) = (shot.school_id, shot.id)
                 WHERE shot.school_id = $1 AND shot.session_id = ANY($2)
                 GROUP BY shot.id HAVING count(*) > 1
             ) AS told, unnest(devices) AS first, unnest(devices) AS second
             WHERE first < second
             GROUP BY 1, 2 ORDER BY 3 DESC, 1, 2",
        )
        .bind::<SqlUuid, _>(school)
        .bind::<Array<SqlUuid>, _>(sessions)
        .load(&mut self.connection().await?)
        .await?)
    }

    /// The latest sessions of which two devices told of the same shot, the latest first.
    async fn paired_sessions(&self, school: Uuid, most: i64) -> Result<Vec<Uuid>, StoreError> {
        Ok(session::table
            .filter(session::school_id.eq(school).and(session::paired))
            .order(session::started_at.desc())
            .limit(most)
            .select(session::id)
            .load(&mut self.connection().await?)
            .await?)
    }

    /// What two devices reported of the same shots of the latest sessions with two devices, at
    /// most so many, with their offsets and the session
    /// each was in, latest last.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn paired_readings(
        &self,
        school: Uuid,
        [first, second]: [Uuid; 2],
        most: usize,
    ) -> Result<Vec<(Uuid, [Reading; 2])>, StoreError> {
        let other = diesel::alias!(reading as other);
        let offsets = [
            self.device(school, first).await?.offsets,
            self.device(school, second).await?.offsets,
        ];
        type Row = (Uuid, Json<Reading>, Json<Reading>);
        let mut rows: Vec<Row> = Vec::new();
        let sessions = self.paired_sessions(school, LATEST_OF_TWO).await?;
        for some in sessions.chunks(LATEST as usize) {
            if rows.len() >= most {
                break;
            }
            let found: Vec<Row> = shot::table
                .inner_join(
                    session::table.on(session::school_id
                        .eq(shot::school_id)
                        .and(session::id.eq(shot::session_id))),
                )
                .inner_join(
                    reading::table.on(reading::school_id
                        .eq(shot::school_id)
                        .and(reading::shot_id.eq(shot::id))),
                )
                .inner_join(
                    other.on(other
                        .field(reading::school_id)
                        .eq(shot::school_id)
                        .and(other.field(reading::shot_id).eq(shot::id))),
                )
                .filter(shot::school_id.eq(school))
                .filter(shot::session_id.eq_any(some))
                .filter(reading::device_id.eq(first))
                .filter(other.field(reading::device_id).eq(second))
                .order((session::started_at.desc(), shot::hit_at.desc(), shot::id))
                .limit(i64::try_from(most - rows.len()).unwrap_or(i64::MAX))
                .select((
                    shot::session_id,
                    reading::values,
                    other.field(reading::values),
                ))
                .load(&mut self.connection().await?)
                .await?;
            rows.extend(found);
        }
        let pairs = rows
            .into_iter()
            .rev()
            .map(|(session, Json(one), Json(two))| {
                let pair = [
                    core_reading::with_offsets(&one, &offsets[0]),
                    core_reading::with_offsets(&two, &offsets[1]),
                ];
                (session, pair)
            });
        Ok(pairs.collect())
    }
}
