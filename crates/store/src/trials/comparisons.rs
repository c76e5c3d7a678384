//! What was compared for players, so that a new claim is held beside the others.

use crate::base::error::StoreError;
use crate::base::schema::comparison;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel::upsert::excluded;
use diesel_async::RunQueryDsl;
use tally_core::vocabulary::sentence::Sentence;
use uuid::Uuid;

/// A comparison that was made.
#[derive(Debug, Clone, PartialEq)]
pub struct Comparison {
    /// Which question it answered.
    pub key: String,
    /// When it was last asked.
    pub made_at: DateTime<Utc>,
    /// What it said.
    pub told: Sentence,
    /// How often chance alone would show as much.
    pub p: f64,
    /// Whether it told nothing yet.
    pub undecided: bool,
}

/// How a comparison came out.
#[derive(Debug, Clone, Copy)]
pub struct MadeComparison<'a> {
    /// Which question it answered.
    pub key: &'a str,
    /// What it said.
    pub told: &'a Sentence,
    /// How often chance alone would show as much.
    pub p: f64,
    /// Whether it told nothing yet.
    pub undecided: bool,
}

impl Store {
    /// Writes down how a comparison came out; the same question asked again keeps one row.
    ///
    /// # Errors
    /// [`StoreError::Database`], also for a player that there is not.
    pub async fn log_comparison(
        &self,
        school: Uuid,
        player: Uuid,
        made: &MadeComparison<'_>,
    ) -> Result<(), StoreError> {
        let told = serde_json::to_value(made.told).expect("a sentence is plain data");
        diesel::insert_into(comparison::table)
            .values((
                comparison::school_id.eq(school),
                comparison::player_id.eq(player),
                comparison::key.eq(made.key),
                comparison::told.eq(told),
                comparison::p.eq(made.p),
                comparison::undecided.eq(made.undecided),
            ))
            .on_conflict((
                comparison::school_id,
                comparison::player_id,
                comparison::key,
            ))
            .do_update()
            .set((
                comparison::made_at.eq(Utc::now()),
                comparison::told.eq(excluded(comparison::told)),
                comparison::p.eq(excluded(comparison::p)),
                comparison::undecided.eq(excluded(comparison::undecided)),
            ))
            .execute(&mut self.first().connection().await?)
            .await?;
        Ok(())
    }

    /// A player's comparisons since a moment, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn comparisons_since(
        &self,
        school: Uuid,
        player: Uuid,
        since: DateTime<Utc>,
    ) -> Result<Vec<Comparison>, StoreError> {
        let rows: Vec<(String, DateTime<Utc>, serde_json::Value, f64, bool)> = comparison::table
            .filter(
                comparison::school_id
                    .eq(school)
                    .and(comparison::player_id.eq(player))
                    .and(comparison::made_at.ge(since)),
            )
            .order((comparison::made_at.desc(), comparison::key))
            .select((
                comparison::key,
                comparison::made_at,
                comparison::told,
                comparison::p,
                comparison::undecided,
            ))
            .load(&mut self.connection().await?)
            .await?;
        rows.into_iter()
            .map(|(key, made_at, told, p, undecided)| {
                Ok(Comparison {
                    key,
                    made_at,
                    told: crate::base::json::from_json(told)?,
                    p,
                    undecided,
                })
            })
            .collect()
    }
}
