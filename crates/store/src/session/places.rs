//! The places where sessions were held.

use crate::base::error::StoreError;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Bool, Double, Nullable, Text, Timestamptz, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use uuid::Uuid;

/// A place where sessions were held, as it was last.
#[derive(Debug, Clone, PartialEq, QueryableByName)]
pub struct Place {
    /// Its name.
    #[diesel(sql_type = Text)]
    pub name: String,
    /// Height above the sea, m.
    #[diesel(sql_type = Double)]
    pub altitude_m: f64,
    /// When it was last used.
    #[diesel(sql_type = Timestamptz)]
    pub used_at: DateTime<Utc>,
    /// Whether it is under a roof; not known when absent.
    #[diesel(sql_type = Nullable<Bool>)]
    pub indoors: Option<bool>,
}

impl Store {
    /// Places where sessions were held, the latest used first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn places(&self, school: Uuid) -> Result<Vec<Place>, StoreError> {
        // From one name to the next: the sessions between are not looked at, nor those before one
        // that is not later than it in its index, whatever the planner knows.
        let mut places: Vec<Place> = diesel::sql_query(
            "WITH RECURSIVE each AS ( \
                 (SELECT place FROM session WHERE school_id = $1 ORDER BY place LIMIT 1) \
                 UNION ALL \
                 SELECT (SELECT session.place FROM session WHERE school_id = $1 \
                         AND session.place > each.place ORDER BY session.place LIMIT 1) \
                 FROM each WHERE each.place IS NOT NULL \
             ) \
             SELECT last.* FROM each, LATERAL ( \
                 SELECT place AS name, altitude_m, started_at AS used_at, indoors FROM session \
                 WHERE school_id = $1 AND session.place <= each.place \
                 ORDER BY session.place DESC, started_at DESC LIMIT 1 \
             ) AS last WHERE each.place IS NOT NULL",
        )
        .bind::<SqlUuid, _>(school)
        .load(&mut self.connection().await?)
        .await?;
        places.sort_by_key(|place| std::cmp::Reverse(place.used_at));
        Ok(places)
    }
}
