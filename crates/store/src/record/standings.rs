//! How each player stands by their sessions, told once and kept until one of them changes.

use crate::base::error::StoreError;
use crate::base::json::from_json;
use crate::base::schema::{player, player_standing};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Jsonb, Nullable, Text, Timestamptz, Uuid as SqlUuid};
use diesel_async::RunQueryDsl;
use serde::Serialize;
use serde::de::DeserializeOwned;
use uuid::Uuid;

/// A player whose standing has to be told again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Queryable)]
pub struct Untold {
    /// The player.
    pub player: Uuid,
    /// How often something had changed when this was read.
    pub changes: i64,
}

/// A player with what is told of them.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing<T> {
    /// The player.
    pub player: Uuid,
    /// Their name.
    pub name: String,
    /// What is told.
    pub told: T,
}

#[derive(QueryableByName)]
struct UntoldRow {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
    #[diesel(sql_type = BigInt)]
    changes: i64,
}

#[derive(QueryableByName)]
struct DueRow {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
    #[diesel(sql_type = Text)]
    name: String,
    #[diesel(sql_type = Timestamptz)]
    last: DateTime<Utc>,
    #[diesel(sql_type = BigInt)]
    check_ins: i64,
    #[diesel(sql_type = Nullable<Jsonb>)]
    told: Option<serde_json::Value>,
}

/// A player who checks in, and did not for long.
#[derive(Debug, Clone, PartialEq)]
pub struct Due<T> {
    /// The player.
    pub player: Uuid,
    /// Their name.
    pub name: String,
    /// When the last check-in began.
    pub last: DateTime<Utc>,
    /// How many there were.
    pub check_ins: i64,
    /// What is told of them, where that is known.
    pub told: Option<T>,
}

impl Store {
    /// Players with a session since `since` of whom nothing is told under this mark, the most
    /// lately seen first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn untold(
        &self,
        school: Uuid,
        mark: i64,
        since: DateTime<Utc>,
    ) -> Result<Vec<Untold>, StoreError> {
        let sql = "SELECT player.id, coalesce(told.changes, 0) AS changes FROM player \
                   JOIN LATERAL (SELECT started_at FROM session \
                   WHERE session.school_id = player.school_id AND session.player_id = player.id \
                   ORDER BY started_at DESC LIMIT 1) AS last ON last.started_at >= $3 \
                   LEFT JOIN player_standing told \
                   ON (told.school_id, told.player_id) = (player.school_id, player.id) \
                   WHERE player.school_id = $1 AND told.mark IS DISTINCT FROM $2 \
                   ORDER BY last.started_at DESC";
        let rows: Vec<UntoldRow> = diesel::sql_query(sql)
            .bind::<SqlUuid, _>(school)
            .bind::<BigInt, _>(mark)
            .bind::<Timestamptz, _>(since)
            .load(&mut self.connection().await?)
            .await?;
        let untold = rows.into_iter().map(|row| Untold {
            player: row.id,
            changes: row.changes,
        });
        Ok(untold.collect())
    }

    /// Keeps what is told of a player, unless something changed since it was read; `flagged`
    /// tells whether there is anything to look at.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn keep_standing(
        &self,
        school: Uuid,
        mark: i64,
        of: Untold,
        flagged: bool,
        told: &impl Serialize,
    ) -> Result<(), StoreError> {
        let told = serde_json::to_value(told).expect("a standing is plain data");
        let kept = (
            player_standing::mark.eq(mark),
            player_standing::flagged.eq(flagged),
            player_standing::told.eq(told),
        );
        let keep = diesel::insert_into(player_standing::table)
            .values((
                player_standing::school_id.eq(school),
                player_standing::player_id.eq(of.player),
                player_standing::changes.eq(of.changes),
                kept.clone(),
            ))
            .on_conflict((player_standing::school_id, player_standing::player_id))
            .do_update()
            .set(kept);
        diesel::query_dsl::methods::FilterDsl::filter(
            keep,
            player_standing::changes.eq(of.changes),
        )
        .execute(&mut self.connection().await?)
        .await?;
        Ok(())
    }

    /// What is told of the players of whom there is anything to look at.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn flagged<T: DeserializeOwned>(
        &self,
        school: Uuid,
        mark: i64,
    ) -> Result<Vec<Standing<T>>, StoreError> {
        let of = player::school_id
            .eq(player_standing::school_id)
            .and(player::id.eq(player_standing::player_id));
        let rows: Vec<(Uuid, String, Option<serde_json::Value>)> = player_standing::table
            .inner_join(player::table.on(of))
            .filter(player_standing::school_id.eq(school))
            .filter(player_standing::mark.eq(mark))
            .filter(player_standing::flagged)
            .order((player::name, player::id))
            .select((player::id, player::name, player_standing::told))
            .load(&mut self.connection().await?)
            .await?;
        let told = rows.into_iter().filter_map(|(player, name, told)| {
            let told = from_json(told?);
            Some(told.map(|told| Standing { player, name, told }))
        });
        told.collect()
    }

    /// Players with two check-ins or more, none of them since `since`: those who have waited
    /// the shortest first, who are the likeliest to come back.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn due_check_ins<T: DeserializeOwned>(
        &self,
        school: Uuid,
        since: DateTime<Utc>,
        most: i64,
    ) -> Result<Vec<Due<T>>, StoreError> {
        let sql = "SELECT player.id, player.name, last.started_at AS last, all_of.check_ins, told.told \
                   FROM player \
                   JOIN LATERAL (SELECT started_at FROM session \
                   WHERE session.school_id = player.school_id AND session.player_id = player.id \
                   AND session.purpose = 'benchmark' \
                   ORDER BY started_at DESC LIMIT 1) AS last ON last.started_at < $2 \
                   JOIN LATERAL (SELECT count(*) AS check_ins FROM session \
                   WHERE session.school_id = player.school_id AND session.player_id = player.id \
                   AND session.purpose = 'benchmark') AS all_of ON all_of.check_ins >= 2 \
                   LEFT JOIN player_standing told \
                   ON (told.school_id, told.player_id) = (player.school_id, player.id) \
                   WHERE player.school_id = $1 \
                   ORDER BY last.started_at DESC, player.id LIMIT $3";
        let rows: Vec<DueRow> = diesel::sql_query(sql)
            .bind::<SqlUuid, _>(school)
            .bind::<Timestamptz, _>(since)
            .bind::<BigInt, _>(most)
            .load(&mut self.connection().await?)
            .await?;
        let due = rows.into_iter().map(|row| {
            Ok(Due {
                player: row.id,
                name: row.name,
                last: row.last,
                check_ins: row.check_ins,
                told: row.told.map(from_json).transpose()?,
            })
        });
        due.collect()
    }
}
