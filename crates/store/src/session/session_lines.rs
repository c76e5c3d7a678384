//! Sessions by what they are found by.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::session;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use tally_core::physics::club::Club;
use tally_core::session::purpose::Purpose;
use uuid::Uuid;

/// What a session is found by.
#[derive(Debug, Clone, PartialEq, Queryable, QueryableByName, Selectable)]
#[diesel(table_name = session)]
pub struct SessionLine {
    /// Identifier.
    pub id: Uuid,
    /// Whose.
    pub player_id: Uuid,
    /// Why it is held.
    pub purpose: Key<Purpose>,
    /// Its club, where a block names none.
    pub club: Key<Club>,
    /// Where.
    pub place: String,
    /// When it began.
    pub started_at: DateTime<Utc>,
    /// Its time zone's name.
    pub zone: String,
    /// When it ended; absent while in progress.
    pub ended_at: Option<DateTime<Utc>>,
    /// What it can be found by, an array of words.
    pub tags: serde_json::Value,
}

impl Store {
    /// The latest sessions of a school by what they are found by, so many, and before them so many
    /// of each of some players, the latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn session_lines(
        &self,
        school: Uuid,
        (players, of_theirs): (&[Uuid], i64),
        most: i64,
    ) -> Result<Vec<SessionLine>, StoreError> {
        let connection = &mut self.connection().await?;
        // By the player first, which changes nothing but the index that is read.
        let theirs = diesel::sql_query(
            "SELECT theirs.* FROM unnest($2) AS wanted, LATERAL (
                 SELECT id, player_id, purpose, club, place, started_at, zone, ended_at, tags
                 FROM session WHERE (school_id, player_id) = ($1, wanted)
                 ORDER BY player_id DESC, started_at DESC LIMIT $3
             ) AS theirs",
        );
        let mut lines: Vec<SessionLine> = theirs
            .bind::<SqlUuid, _>(school)
            .bind::<Array<SqlUuid>, _>(players)
            .bind::<BigInt, _>(of_theirs)
            .load(connection)
            .await?;
        lines.sort_by_key(|line| (std::cmp::Reverse(line.started_at), line.id));
        let latest: Vec<SessionLine> = session::table
            .filter(session::school_id.eq(school))
            .order((session::started_at.desc(), session::id))
            .limit(most)
            .select(SessionLine::as_select())
            .load(connection)
            .await?;
        let others = latest.into_iter();
        lines.extend(others.filter(|line| !players.contains(&line.player_id)));
        Ok(lines)
    }
}
