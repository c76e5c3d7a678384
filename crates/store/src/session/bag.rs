//! The clubs of a player's bag.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::bag_club;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use std::collections::HashMap;
use tally_core::physics::club::Club;
use uuid::Uuid;

/// A club of a bag.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = bag_club)]
pub struct BagClub {
    /// Identifier.
    pub id: Uuid,
    /// Whose.
    pub player_id: Uuid,
    /// The kind of club.
    #[diesel(deserialize_as = Key<Club>, serialize_as = Key<Club>)]
    pub club: Club,
    /// Its head, in the coach's words.
    pub head: String,
    /// Loft, deg.
    pub loft_deg: Option<f64>,
    /// Length, m.
    pub length_m: Option<f64>,
    /// Mass, kg.
    pub mass_kg: Option<f64>,
    /// Shaft flex, in the coach's words.
    pub flex: String,
    /// Since when it is fitted as it is.
    pub added_at: DateTime<Utc>,
}

impl Store {
    /// The clubs in a player's bag now.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn bag(&self, school: Uuid, player: Uuid) -> Result<Vec<BagClub>, StoreError> {
        self.bags(school, &[player]).await
    }

    /// The clubs in the bags of some players now.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn bags(&self, school: Uuid, players: &[Uuid]) -> Result<Vec<BagClub>, StoreError> {
        Ok(bag_club::table
            .filter(bag_club::school_id.eq(school))
            .filter(bag_club::player_id.eq_any(players))
            .filter(bag_club::left_at.is_null())
            .order((bag_club::added_at, bag_club::id))
            .select(BagClub::as_select())
            .load(&mut self.connection().await?)
            .await?)
    }

    /// One club, in a bag or out of it again.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn bag_club(&self, school: Uuid, id: Uuid) -> Result<Option<BagClub>, StoreError> {
        Ok(bag_club::table
            .filter(bag_club::school_id.eq(school).and(bag_club::id.eq(id)))
            .select(BagClub::as_select())
            .first(&mut self.connection().await?)
            .await
            .optional()?)
    }

    /// Every club that was ever in a player's bag, by its identifier.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn heads(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<HashMap<Uuid, BagClub>, StoreError> {
        let of_player = bag_club::school_id
            .eq(school)
            .and(bag_club::player_id.eq(player));
        let clubs: Vec<BagClub> = bag_club::table
            .filter(of_player)
            .select(BagClub::as_select())
            .load(&mut self.connection().await?)
            .await?;
        Ok(clubs.into_iter().map(|club| (club.id, club)).collect())
    }

    /// Puts a club into a player's bag; the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn add_to_bag(&self, school: Uuid, new: &BagClub) -> Result<(), StoreError> {
        self.player(school, new.player_id).await?;
        diesel::insert_into(bag_club::table)
            .values((bag_club::school_id.eq(school), new.clone()))
            .on_conflict((bag_club::school_id, bag_club::id))
            .do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Corrects the length of a club, m.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn set_club_length(
        &self,
        school: Uuid,
        id: Uuid,
        length_m: f64,
    ) -> Result<(), StoreError> {
        let of = bag_club::school_id.eq(school).and(bag_club::id.eq(id));
        diesel::update(bag_club::table.filter(of))
            .set(bag_club::length_m.eq(length_m))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Takes a club out of a player's bag at a moment; sessions hit with it keep it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the player has no such club.
    pub async fn take_from_bag(
        &self,
        school: Uuid,
        player: Uuid,
        id: Uuid,
        at: DateTime<Utc>,
    ) -> Result<(), StoreError> {
        let taken = diesel::update(
            bag_club::table.filter(
                bag_club::school_id
                    .eq(school)
                    .and(bag_club::player_id.eq(player))
                    .and(bag_club::id.eq(id)),
            ),
        )
        .set(bag_club::left_at.eq(at))
        .execute(&mut self.connection().await?)
        .await?;
        if taken == 0 {
            Err(StoreError::NotFound("club in this bag"))
        } else {
            Ok(())
        }
    }
}
