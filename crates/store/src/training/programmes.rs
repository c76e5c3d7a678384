//! Programmes of players, and what changed their plans.

use crate::base::error::StoreError;
use crate::base::json::from_json;
use crate::base::schema::{player, programme, programme_act};
use crate::base::store::Store;
use chrono::{DateTime, Duration, Utc};
use diesel::dsl::sql;
use diesel::pg::Pg;
use diesel::prelude::*;
use diesel::sql_types::{Bool, Date};
use diesel_async::{AsyncConnection, RunQueryDsl};
use std::collections::HashMap;
use tally_core::training::programme::{Programme, ProgrammeAct};
use uuid::Uuid;

/// A programme with what changed its plan.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredProgramme {
    /// Identifier.
    pub id: Uuid,
    /// Whose.
    pub player_id: Uuid,
    /// What was laid.
    pub programme: Programme,
    /// What changed it, in order.
    pub acts: Vec<ProgrammeAct>,
}

impl Store {
    /// The programmes that have a day on or about `now`, of players who still come.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn programmes_about(
        &self,
        school: Uuid,
        now: DateTime<Utc>,
    ) -> Result<Vec<StoredProgramme>, StoreError> {
        // Days of any zone: a day more on either side.
        let about = now.date_naive();
        let under_way = sql::<Bool>("(body ->> 'begins')::date <= ")
            .bind::<Date, _>(about + Duration::days(1))
            .sql(" AND (body ->> 'begins')::date + 7 * (body ->> 'weeks')::int >= ")
            .bind::<Date, _>(about - Duration::days(1));
        let comes = player::table
            .filter(player::school_id.eq(programme::school_id))
            .filter(player::id.eq(programme::player_id))
            .filter(player::archived_at.is_null());
        let wanted = programme::table
            .filter(programme::school_id.eq(school))
            .filter(programme::replaced_at.is_null())
            .filter(under_way)
            .filter(diesel::dsl::exists(comes));
        self.read_programmes(school, wanted.into_boxed()).await
    }

    async fn read_programmes(
        &self,
        school: Uuid,
        wanted: programme::BoxedQuery<'_, Pg>,
    ) -> Result<Vec<StoredProgramme>, StoreError> {
        let connection = &mut self.connection().await?;
        let rows: Vec<(Uuid, Uuid, serde_json::Value)> = wanted
            .order(programme::id)
            .select((programme::id, programme::player_id, programme::body))
            .load(connection)
            .await?;
        let ids: Vec<Uuid> = rows.iter().map(|(id, ..)| *id).collect();
        let acts: Vec<(Uuid, serde_json::Value)> = programme_act::table
            .filter(programme_act::school_id.eq(school))
            .filter(programme_act::programme_id.eq_any(ids))
            .order((programme_act::made_at, programme_act::id))
            .select((programme_act::programme_id, programme_act::act))
            .load(connection)
            .await?;
        let mut by_programme: HashMap<Uuid, Vec<ProgrammeAct>> = HashMap::new();
        for (of, act) in acts {
            by_programme.entry(of).or_default().push(from_json(act)?);
        }
        rows.into_iter()
            .map(|(id, player_id, body)| {
                Ok(StoredProgramme {
                    id,
                    player_id,
                    programme: from_json(body)?,
                    acts: by_programme.remove(&id).unwrap_or_default(),
                })
            })
            .collect()
    }

    /// The programme of a player, where there is one.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn programme(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Option<StoredProgramme>, StoreError> {
        self.player(school, player).await?;
        let wanted = programme::table
            .filter(programme::school_id.eq(school))
            .filter(programme::player_id.eq(player))
            .filter(programme::replaced_at.is_null());
        let found = self.read_programmes(school, wanted.into_boxed()).await?;
        Ok(found.into_iter().next())
    }

    /// Lays a programme, in place of the one before; the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn lay_programme(
        &self,
        school: Uuid,
        coach: Uuid,
        player: Uuid,
        id: Uuid,
        laid: &Programme,
    ) -> Result<(), StoreError> {
        self.player(school, player).await?;
        let body = serde_json::to_value(laid).expect("a programme is plain data");
        self.connection()
            .await?
            .transaction(async |connection| {
                let of_player = programme::school_id
                    .eq(school)
                    .and(programme::player_id.eq(player));
                let before = programme::table.filter(of_player.and(programme::id.ne(id)));
                diesel::update(before.filter(programme::replaced_at.is_null()))
                    .set(programme::replaced_at.eq(diesel::dsl::now))
                    .execute(connection)
                    .await?;
                diesel::insert_into(programme::table)
                    .values((
                        programme::school_id.eq(school),
                        programme::id.eq(id),
                        programme::player_id.eq(player),
                        programme::coach_id.eq(coach),
                        programme::body.eq(&body),
                    ))
                    .on_conflict((programme::school_id, programme::id))
                    .do_nothing()
                    .execute(connection)
                    .await?;
                Ok(())
            })
            .await
    }

    /// Writes down what changes the plan of a programme; the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn change_programme(
        &self,
        school: Uuid,
        coach: Uuid,
        of: &StoredProgramme,
        id: Uuid,
        act: &ProgrammeAct,
    ) -> Result<(), StoreError> {
        diesel::insert_into(programme_act::table)
            .values((
                programme_act::school_id.eq(school),
                programme_act::id.eq(id),
                programme_act::programme_id.eq(of.id),
                programme_act::player_id.eq(of.player_id),
                programme_act::coach_id.eq(coach),
                programme_act::act.eq(serde_json::to_value(act).expect("an act is plain data")),
            ))
            .on_conflict((programme_act::school_id, programme_act::id))
            .do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
