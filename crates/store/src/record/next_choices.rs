//! What coaches did with what was proposed next: pinned it, or dismissed it with a reason.

use crate::base::error::StoreError;
use crate::base::schema::next_choice;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

/// What a coach did with a proposal.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable, Insertable, AsChangeset)]
#[diesel(table_name = next_choice)]
pub struct NextChoice {
    /// Which proposal.
    pub item: String,
    /// Whether it was pinned; else it was dismissed.
    pub pinned: bool,
    /// Why it was dismissed; empty while it is pinned.
    pub reason: String,
}

impl Store {
    /// What was done with a player's proposals.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn next_choices(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Vec<NextChoice>, StoreError> {
        Ok(next_choice::table
            .filter(next_choice::school_id.eq(school))
            .filter(next_choice::player_id.eq(player))
            .order(next_choice::chosen_at)
            .select(NextChoice::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Pins or dismisses a proposal, in place of what was done with it before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn choose_next(
        &self,
        school: Uuid,
        coach: Uuid,
        player: Uuid,
        choice: NextChoice,
    ) -> Result<(), StoreError> {
        self.player(school, player).await?;
        diesel::insert_into(next_choice::table)
            .values((
                next_choice::school_id.eq(school),
                next_choice::player_id.eq(player),
                next_choice::coach_id.eq(coach),
                choice.clone(),
            ))
            .on_conflict((
                next_choice::school_id,
                next_choice::player_id,
                next_choice::item,
            ))
            .do_update()
            .set((
                choice,
                next_choice::coach_id.eq(coach),
                next_choice::chosen_at.eq(diesel::dsl::now),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Takes back what was done with a proposal.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn unchoose_next(
        &self,
        school: Uuid,
        player: Uuid,
        item: &str,
    ) -> Result<(), StoreError> {
        diesel::delete(next_choice::table.find((school, player, item)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }
}
