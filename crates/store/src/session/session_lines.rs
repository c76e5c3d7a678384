//! Sessions by what they are found by.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::session;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::physics::club::Club;
use tally_core::session::purpose::Purpose;
use uuid::Uuid;

/// What a session is found by.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable)]
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
        let all = || {
            session::table
                .filter(session::school_id.eq(school))
                .order((session::started_at.desc(), session::id))
                .select(SessionLine::as_select())
        };
        let mut lines: Vec<SessionLine> = Vec::new();
        for player in players {
            // By the player first, which changes nothing but the index that is read.
            let by_player = (session::player_id.desc(), session::started_at.desc());
            let theirs = all().filter(session::player_id.eq(player));
            let theirs = theirs.order(by_player).limit(of_theirs);
            lines.extend(theirs.load::<SessionLine>(connection).await?);
        }
        lines.sort_by_key(|line| (std::cmp::Reverse(line.started_at), line.id));
        let latest: Vec<SessionLine> = all().limit(most).load(connection).await?;
        let others = latest.into_iter();
        lines.extend(others.filter(|line| !players.contains(&line.player_id)));
        Ok(lines)
    }
}
