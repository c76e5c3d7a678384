//! How each player stands by their sessions, told once and kept until one of them changes.

use crate::base::error::StoreError;
use crate::base::json::JsonIfReadable;
use crate::base::schema::{player, player_standing};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Jsonb, Nullable};
use diesel_async::RunQueryDsl;
use serde::Serialize;
use serde::de::DeserializeOwned;
use std::cmp::Reverse;
use std::collections::{BTreeMap, HashMap};
use tally_core::record::flags::{Flag, FlagHead};
use tally_core::record::peers::Usual;
use uuid::Uuid;

/// A player whose standing has to be told again.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Untold {
    /// The player.
    pub player: Uuid,
    /// How often something had changed when this was read.
    pub changes: i64,
}

/// A player of whom there is something to look at.
#[derive(Debug, Clone, PartialEq)]
pub struct Flagged {
    /// The player.
    pub player: Uuid,
    /// Their name.
    pub name: String,
    /// What there is to look at.
    pub flags: Vec<FlagHead>,
}

/// How the players of a school stand.
#[derive(Debug, Clone, PartialEq)]
pub struct Standings {
    /// Players of whom nothing is told, the most lately seen first.
    pub untold: Vec<Untold>,
    /// Players of whom there is something to look at, in no order and not in words.
    pub flagged: Vec<Flagged>,
}

/// What is to be kept of how a player stands.
#[derive(Debug, Clone, Copy)]
pub struct NewStanding<'a, T> {
    /// Whether there is anything to look at.
    pub flagged: bool,
    /// What is told.
    pub told: &'a T,
    /// How many check-ins there were.
    pub check_ins: i32,
    /// When the last of them began.
    pub last_check_in: Option<DateTime<Utc>>,
    /// What they usually reach, by club and value.
    pub usual: &'a BTreeMap<String, Usual>,
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
    pub check_ins: i32,
    /// What is told of them, where that is known.
    pub told: Option<T>,
}

impl Store {
    /// How the players of a school stand, as far as that is told under this mark.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn standings(&self, school: Uuid, mark: i64) -> Result<Standings, StoreError> {
        type Row = (
            Uuid,
            String,
            Option<DateTime<Utc>>,
            Option<i64>,
            Option<i64>,
            Option<String>,
        );
        let of = player::school_id
            .eq(player_standing::school_id)
            .and(player::id.eq(player_standing::player_id));
        let is_untold = player_standing::mark.nullable().is_distinct_from(mark);
        let is_flagged = player_standing::flagged.nullable().eq(true);
        // One look at all players.
        let rows: Vec<Row> = player::table
            .left_join(player_standing::table.on(of))
            .filter(player::school_id.eq(school))
            .filter(is_untold.or(is_flagged.and(player::archived_at.is_null())))
            .select((
                player::id,
                player::name,
                player::last_session_at,
                player_standing::changes.nullable(),
                player_standing::mark.nullable(),
                player_standing::heads.nullable(),
            ))
            .load(&mut self.connection().await?)
            .await?;
        let (told, mut untold): (Vec<_>, Vec<_>) = rows
            .into_iter()
            .partition(|(.., told_under, _)| *told_under == Some(mark));
        untold.sort_by_key(|(_, _, last_session_at, ..)| Reverse(*last_session_at));
        let untold = untold
            .into_iter()
            .map(|(player, _, _, changes, ..)| Untold {
                player,
                changes: changes.unwrap_or(0),
            });
        // Of many players it is word for word the same, which is read once. What another version
        // told and cannot be read is left out: no reason to fail.
        let mut read: HashMap<String, Option<Vec<FlagHead>>> = HashMap::new();
        let flagged = told.into_iter().filter_map(|(player, name, .., heads)| {
            let heads = heads?;
            let flags = match read.get(&heads) {
                Some(known) => known.clone(),
                None => {
                    let flags: Option<Vec<FlagHead>> = serde_json::from_str(&heads).ok();
                    read.entry(heads).or_insert(flags).clone()
                }
            };
            Some(Flagged {
                player,
                name,
                flags: flags?,
            })
        });
        Ok(Standings {
            untold: untold.collect(),
            flagged: flagged.collect(),
        })
    }

    /// How often anything of a player's sessions or clubs changed.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn player_changes(&self, school: Uuid, player: Uuid) -> Result<i64, StoreError> {
        let found = player_standing::table
            .find((school, player))
            .select(player_standing::changes)
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        Ok(found.unwrap_or(0))
    }

    /// Keeps what is told of a player, unless something changed since it was read.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn keep_standing(
        &self,
        school: Uuid,
        mark: i64,
        of: Untold,
        standing: &NewStanding<'_, impl Serialize>,
    ) -> Result<(), StoreError> {
        let told = serde_json::to_value(standing.told).expect("a standing is plain data");
        let usual = serde_json::to_value(standing.usual).expect("figures are plain data");
        let kept = (
            player_standing::mark.eq(mark),
            player_standing::flagged.eq(standing.flagged),
            player_standing::told.eq(told),
            player_standing::check_ins.eq(standing.check_ins),
            player_standing::last_check_in.eq(standing.last_check_in),
            player_standing::usual.eq(usual),
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
        .execute(&mut self.first().connection().await?)
        .await?;
        Ok(())
    }

    /// What there is to look at of some players, in words.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn flags_of(
        &self,
        school: Uuid,
        mark: i64,
        players: &[Uuid],
    ) -> Result<HashMap<Uuid, Vec<Flag>>, StoreError> {
        let rows: Vec<(Uuid, Option<JsonIfReadable<Vec<Flag>>>)> = player_standing::table
            .filter(player_standing::school_id.eq(school))
            .filter(player_standing::mark.eq(mark))
            .filter(player_standing::player_id.eq_any(players))
            .select((
                player_standing::player_id,
                diesel::dsl::sql::<Nullable<Jsonb>>("player_standing.told -> 'flags'"),
            ))
            .load(&mut self.connection().await?)
            .await?;
        let told = rows.into_iter();
        Ok(told
            .filter_map(|(player, flags)| Some((player, flags?.0?)))
            .collect())
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
        type Row = (
            Uuid,
            String,
            Option<DateTime<Utc>>,
            i32,
            Option<serde_json::Value>,
        );
        let of = player::school_id
            .eq(player_standing::school_id)
            .and(player::id.eq(player_standing::player_id));
        let rows: Vec<Row> = player_standing::table
            .inner_join(player::table.on(of))
            .filter(player_standing::school_id.eq(school))
            .filter(player_standing::check_ins.ge(2))
            .filter(player_standing::last_check_in.lt(since))
            .filter(player::archived_at.is_null())
            .order((player_standing::last_check_in.desc(), player::id))
            .limit(most)
            .select((
                player::id,
                player::name,
                player_standing::last_check_in,
                player_standing::check_ins,
                player_standing::told,
            ))
            .load(&mut self.connection().await?)
            .await?;
        let due = rows.into_iter();
        let due = due.filter_map(|(player, name, last, check_ins, told)| {
            Some(Due {
                player,
                name,
                last: last?,
                check_ins,
                told: told.and_then(|told| serde_json::from_value(told).ok()),
            })
        });
        Ok(due.collect())
    }
}
