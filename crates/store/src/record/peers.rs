//! What other players of a school usually reach.

use crate::base::error::StoreError;
use crate::base::store::Store;
use chrono::NaiveDate;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Date, Double, Integer, Nullable, Text, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use tally_core::record::peers::Peer;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::playing_level::PlayingLevel;
use uuid::Uuid;

#[derive(QueryableByName)]
struct PeerRow {
    #[diesel(sql_type = Double)]
    value: f64,
    #[diesel(sql_type = Nullable<Integer>)]
    born: Option<i32>,
    #[diesel(sql_type = Nullable<Text>)]
    level: Option<String>,
}

#[derive(QueryableByName)]
struct StraysRow {
    #[diesel(sql_type = Nullable<Double>)]
    middle: Option<f64>,
    #[diesel(sql_type = BigInt)]
    n: i64,
}

impl Store {
    /// How far the days of the school's players stray as a share of what their balls do: the
    /// middle of all who tell, and how many these are.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn strays(&self, school: Uuid) -> Result<(Option<f64>, i64), StoreError> {
        let sql = "SELECT percentile_cont(0.5) WITHIN GROUP (ORDER BY strays) AS middle, \
                   count(strays) AS n FROM (SELECT (told ->> 'strays')::float8 AS strays \
                   FROM player_standing WHERE school_id = $1) AS each";
        let row: StraysRow = diesel::sql_query(sql)
            .bind::<SqlUuid, _>(school)
            .get_result(&mut self.connection().await?)
            .await?;
        Ok((row.middle, row.n))
    }

    /// What the school's players but this one usually reach of a figure by its key, since a
    /// day.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn peers(
        &self,
        school: Uuid,
        but: Uuid,
        figure: &str,
        since: NaiveDate,
    ) -> Result<Vec<Peer>, StoreError> {
        // Each document is opened once, and players are joined after: by PostgreSQL's guess at
        // how many fit, one would be looked up for each.
        let sql = "WITH of AS MATERIALIZED (SELECT player_id, usual -> $3 AS usual \
                   FROM player_standing WHERE school_id = $1 AND player_id <> $2) \
                   SELECT (of.usual ->> 'value')::float8 AS value, player.born, player.level \
                   FROM of JOIN player ON player.school_id = $1 AND player.id = of.player_id \
                   WHERE (of.usual ->> 'day')::date >= $4";
        let rows: Vec<PeerRow> = diesel::sql_query(sql)
            .bind::<SqlUuid, _>(school)
            .bind::<SqlUuid, _>(but)
            .bind::<Text, _>(figure)
            .bind::<Date, _>(since)
            .load(&mut self.connection().await?)
            .await?;
        let peers = rows.into_iter().map(|row| Peer {
            value: row.value,
            born: row.born,
            level: row
                .level
                .and_then(|key| PlayingLevel::from_key("level", &key).ok()),
        });
        Ok(peers.collect())
    }
}
