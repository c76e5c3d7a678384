//! Named tests, frozen with what they gave.

use crate::base::error::StoreError;
use crate::base::json::from_json;
use crate::base::keys::Key;
use crate::base::schema::benchmark;
use crate::base::store::Store;
use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::physics::club::Club;
use tally_core::record::benchmark::{BenchmarkFigure, BenchmarkSetting};
use uuid::Uuid;

/// A benchmark of a player.
#[derive(Debug, Clone, PartialEq)]
pub struct Benchmark {
    /// Identifier.
    pub id: Uuid,
    /// The session it was taken from; none once that is taken out.
    pub session: Option<Uuid>,
    /// What it is called.
    pub name: String,
    /// The club.
    pub club: Club,
    /// Day where it was held.
    pub held_on: NaiveDate,
    /// With what it was hit.
    pub setting: BenchmarkSetting,
    /// What it gave.
    pub figures: Vec<BenchmarkFigure>,
}

#[derive(Queryable, Selectable, Insertable)]
#[diesel(table_name = benchmark)]
struct Row {
    id: Uuid,
    session_id: Option<Uuid>,
    name: String,
    #[diesel(serialize_as = Key<Club>, deserialize_as = Key<Club>)]
    club: Club,
    held_on: NaiveDate,
    setting: serde_json::Value,
    figures: serde_json::Value,
}

impl Store {
    /// A player's benchmarks that are in use, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn benchmarks(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Vec<Benchmark>, StoreError> {
        let rows: Vec<Row> = benchmark::table
            .filter(
                benchmark::school_id
                    .eq(school)
                    .and(benchmark::player_id.eq(player))
                    .and(benchmark::dropped_at.is_null()),
            )
            .order((benchmark::held_on.desc(), benchmark::made_at.desc()))
            .select(Row::as_select())
            .load(&mut self.connection().await?)
            .await?;
        let read = rows.into_iter().map(|row| {
            Ok(Benchmark {
                id: row.id,
                session: row.session_id,
                name: row.name,
                club: row.club,
                held_on: row.held_on,
                setting: from_json(row.setting)?,
                figures: from_json(row.figures)?,
            })
        });
        read.collect()
    }

    /// Keeps a benchmark; keeping it again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player or session.
    pub async fn make_benchmark(
        &self,
        school: Uuid,
        coach: Uuid,
        player: Uuid,
        made: Benchmark,
    ) -> Result<(), StoreError> {
        self.player(school, player).await?;
        let row = Row {
            id: made.id,
            session_id: made.session,
            name: made.name,
            club: made.club,
            held_on: made.held_on,
            setting: serde_json::to_value(&made.setting).expect("a setting is plain data"),
            figures: serde_json::to_value(&made.figures).expect("figures are plain data"),
        };
        diesel::insert_into(benchmark::table)
            .values((
                benchmark::school_id.eq(school),
                benchmark::player_id.eq(player),
                benchmark::coach_id.eq(coach),
                row,
            ))
            .on_conflict_do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Drops a benchmark: it stays in the record and is held against nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn drop_benchmark(
        &self,
        school: Uuid,
        player: Uuid,
        id: Uuid,
    ) -> Result<(), StoreError> {
        diesel::update(benchmark::table.find((school, id)))
            .filter(benchmark::player_id.eq(player))
            .set(benchmark::dropped_at.eq(diesel::dsl::now))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
