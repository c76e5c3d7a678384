//! What players are to reach.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::goal;
use crate::base::store::Store;
use chrono::NaiveDate;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::physics::club::Club;
use tally_core::vocabulary::quantity::Quantity;
use uuid::Uuid;

/// A value to reach with a club.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable, AsChangeset)]
#[diesel(table_name = goal, treat_none_as_null = true)]
pub struct Goal {
    /// The club.
    #[diesel(serialize_as = Key<Club>, deserialize_as = Key<Club>)]
    pub club: Club,
    /// Of which value.
    #[diesel(serialize_as = Key<Quantity>, deserialize_as = Key<Quantity>)]
    pub quantity: Quantity,
    /// The value, internal units.
    pub value: f64,
    /// The day by which.
    pub by_day: Option<NaiveDate>,
}

impl Store {
    /// A player's goals.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn goals(&self, school: Uuid, player: Uuid) -> Result<Vec<Goal>, StoreError> {
        Ok(goal::table
            .filter(goal::school_id.eq(school).and(goal::player_id.eq(player)))
            .order((goal::club, goal::quantity))
            .select(Goal::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Sets a goal in place of any before with that club and value.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn set_goal(&self, school: Uuid, player: Uuid, set: Goal) -> Result<(), StoreError> {
        self.player(school, player).await?;
        let of = (goal::school_id.eq(school), goal::player_id.eq(player));
        let changed = (
            goal::value.eq(set.value),
            goal::by_day.eq(set.by_day),
            goal::set_at.eq(diesel::dsl::now),
        );
        diesel::insert_into(goal::table)
            .values((of.0, of.1, set))
            .on_conflict((goal::school_id, goal::player_id, goal::club, goal::quantity))
            .do_update()
            .set(changed)
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Drops a goal.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn drop_goal(
        &self,
        school: Uuid,
        player: Uuid,
        club: Club,
        quantity: Quantity,
    ) -> Result<(), StoreError> {
        let of = goal::school_id.eq(school).and(goal::player_id.eq(player));
        let with = goal::club
            .eq(Key(club))
            .and(goal::quantity.eq(Key(quantity)));
        diesel::delete(goal::table.filter(of.and(with)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
