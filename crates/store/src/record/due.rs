//! Who is due for a check-in.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::session;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::dsl::{count_star, max};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::session::purpose::Purpose;
use uuid::Uuid;

/// A player who checks in, and did not for long.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Due {
    /// The player.
    pub player: Uuid,
    /// When the last check-in began.
    pub last: DateTime<Utc>,
    /// How many there were.
    pub check_ins: i64,
}

impl Store {
    /// Players with two check-ins or more, none of them since `since`: those who have waited
    /// the shortest first, who are the likeliest to come back.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn due_check_ins(
        &self,
        school: Uuid,
        since: DateTime<Utc>,
        most: i64,
    ) -> Result<Vec<Due>, StoreError> {
        let last = max(session::started_at);
        let found: Vec<(Uuid, Option<DateTime<Utc>>, i64)> = session::table
            .filter(session::school_id.eq(school))
            .filter(session::purpose.eq(Key(Purpose::Benchmark)))
            .group_by(session::player_id)
            .having(last.lt(since).and(count_star().ge(2)))
            .order((last.desc(), session::player_id))
            .limit(most)
            .select((session::player_id, last, count_star()))
            .load(&mut self.connection().await?)
            .await?;
        let due = found.into_iter().filter_map(|(player, last, check_ins)| {
            Some(Due {
                player,
                last: last?,
                check_ins,
            })
        });
        Ok(due.collect())
    }
}
