//! Addresses at which a calendar program reads a player's programme.

use crate::base::error::StoreError;
use crate::base::schema::calendar_feed;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

impl Store {
    /// Makes an address that opens to the secret with this digest; those before open no more.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn add_feed(
        &self,
        school: Uuid,
        coach: Uuid,
        player: Uuid,
        id: Uuid,
        token_sha256: &[u8],
    ) -> Result<(), StoreError> {
        self.player(school, player).await?;
        self.revoke_feeds(school, player).await?;
        diesel::insert_into(calendar_feed::table)
            .values((
                calendar_feed::school_id.eq(school),
                calendar_feed::id.eq(id),
                calendar_feed::player_id.eq(player),
                calendar_feed::coach_id.eq(coach),
                calendar_feed::token_sha256.eq(token_sha256),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Since when a player's programme can be read at an address, where it can.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn feed_since(
        &self,
        school: Uuid,
        player: Uuid,
    ) -> Result<Option<DateTime<Utc>>, StoreError> {
        Ok(calendar_feed::table
            .filter(calendar_feed::school_id.eq(school))
            .filter(calendar_feed::player_id.eq(player))
            .filter(calendar_feed::revoked_at.is_null())
            .select(calendar_feed::made_at)
            .first(&mut self.connection().await?)
            .await
            .optional()?)
    }

    /// Lets a player's programme be read at no address any more.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn revoke_feeds(&self, school: Uuid, player: Uuid) -> Result<(), StoreError> {
        let of_player = calendar_feed::school_id
            .eq(school)
            .and(calendar_feed::player_id.eq(player));
        let open = calendar_feed::table.filter(of_player.and(calendar_feed::revoked_at.is_null()));
        diesel::update(open)
            .set(calendar_feed::revoked_at.eq(diesel::dsl::now))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// School and player of the address that a secret opens.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it opens none, or no more.
    pub async fn feed_of_token(&self, token_sha256: &[u8]) -> Result<(Uuid, Uuid), StoreError> {
        calendar_feed::table
            .filter(calendar_feed::token_sha256.eq(token_sha256))
            .filter(calendar_feed::revoked_at.is_null())
            .select((calendar_feed::school_id, calendar_feed::player_id))
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("calendar"))
    }
}
