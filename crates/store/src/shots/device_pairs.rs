//! Pairs of devices that reported the same shots.

use crate::base::error::StoreError;
use crate::base::json::Json;
use crate::base::schema::session;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Jsonb, Uuid as SqlUuid};
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

/// What two devices told of a shot.
#[derive(QueryableByName)]
struct Told {
    #[diesel(sql_type = SqlUuid)]
    session_id: Uuid,
    #[diesel(sql_type = Jsonb)]
    one: Json<Reading>,
    #[diesel(sql_type = Jsonb)]
    two: Json<Reading>,
}

/// Sessions in which pairs are looked for: the latest in which two devices told of the same shot.
const LATEST: i64 = 10;
/// Sessions that are read at once for what two devices told.
const AT_ONCE: usize = 20;
/// Sessions looked through, where what two given devices told is wanted.
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
            // A look into the index for each: workers that the planner would call in take longer to
            // come than all of it takes.
            "SELECT first, second, count(*) AS shots
             FROM unnest($2) AS wanted, LATERAL (
                 SELECT id FROM shot WHERE (school_id, session_id) = ($1, wanted) OFFSET 0
             ) AS shot, LATERAL (
                 SELECT array_agg(DISTINCT device_id) AS devices FROM reading
                 WHERE (school_id, shot_id) = ($1, shot.id)
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

    /// What two devices told of the same shots of some sessions, in their order and the latest of
    /// each first; of a session that has more shots, those among so many from first to last.
    async fn told_by_two(
        &self,
        school: Uuid,
        [first, second]: [Uuid; 2],
        sessions: &[Uuid],
        share: usize,
    ) -> Result<Vec<Told>, StoreError> {
        // A look into the index for each, whatever the planner knows: by its own lights it may
        // read all that the school has, to have them in order.
        Ok(diesel::sql_query(
            "SELECT shot.session_id, told.one, told.two
             FROM unnest($2) WITH ORDINALITY AS wanted (id, nth), LATERAL (
                 SELECT id, session_id, hit_at, row_number() OVER (ORDER BY hit_at) AS place,
                     count(*) OVER () AS shots
                 FROM shot WHERE (school_id, session_id) = ($1, wanted.id) OFFSET 0
             ) AS shot, LATERAL (
                 SELECT (array_agg(values) FILTER (WHERE device_id = $3))[1] AS one,
                     (array_agg(values) FILTER (WHERE device_id = $4))[1] AS two
                 FROM reading WHERE (school_id, shot_id) = ($1, shot.id)
             ) AS told
             WHERE place * least($5, shots) / shots > (place - 1) * least($5, shots) / shots
                 AND told.one IS NOT NULL AND told.two IS NOT NULL
             ORDER BY nth, shot.hit_at DESC, shot.id",
        )
        .bind::<SqlUuid, _>(school)
        .bind::<Array<SqlUuid>, _>(sessions)
        .bind::<SqlUuid, _>(first)
        .bind::<SqlUuid, _>(second)
        .bind::<BigInt, _>(i64::try_from(share).unwrap_or(i64::MAX))
        .load(&mut self.connection().await?)
        .await?)
    }

    /// What two devices reported of the same shots of the latest sessions with two devices, about
    /// so many at most, with their offsets and the session each was in, latest last. No session
    /// gives more than its share, and that from its whole length.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn paired_readings(
        &self,
        school: Uuid,
        [first, second]: [Uuid; 2],
        most: usize,
    ) -> Result<Vec<(Uuid, [Reading; 2])>, StoreError> {
        let offsets = [
            self.device(school, first).await?.offsets,
            self.device(school, second).await?.offsets,
        ];
        let devices = [first, second];
        let mut rows: Vec<Told> = Vec::new();
        let sessions = self.paired_sessions(school, LATEST_OF_TWO).await?;
        let share = most.div_ceil(sessions.len().clamp(1, AT_ONCE));
        for some in sessions.chunks(AT_ONCE) {
            if rows.len() >= most {
                break;
            }
            rows.extend(self.told_by_two(school, devices, some, share).await?);
        }
        // In most of them other devices may have told: then those in which these did give more.
        let mut had: Vec<Uuid> = rows.iter().map(|told| told.session_id).collect();
        had.dedup();
        let larger = most.div_ceil(had.len().max(1));
        if rows.len() < most && larger > share {
            rows = self.told_by_two(school, devices, &had, larger).await?;
        }
        let pairs = rows.into_iter().rev().map(|told| {
            let pair = [
                core_reading::with_offsets(&told.one.0, &offsets[0]),
                core_reading::with_offsets(&told.two.0, &offsets[1]),
            ];
            (told.session_id, pair)
        });
        Ok(pairs.collect())
    }
}
