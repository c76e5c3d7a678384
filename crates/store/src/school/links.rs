//! Pages that a player reads without signing in.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::schema::player_link;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

/// A link to a player's page.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = player_link)]
pub struct PlayerLink {
    /// Identifier.
    pub id: Uuid,
    /// The player.
    pub player_id: Uuid,
    /// Who made it.
    pub coach_id: Uuid,
    /// Whether it shows what was decided.
    pub decisions: bool,
    /// Whether it shows which sessions there were.
    pub sessions: bool,
    /// The page that it opens.
    pub page_id: Option<Uuid>,
    /// Until when it opens.
    pub until: DateTime<Utc>,
}

/// Ends the links, calendar feeds and boards of a school whose makers left, or see the player no longer.
pub(crate) async fn end_lost_links(
    connection: &mut Connection,
    school: Uuid,
) -> Result<(), StoreError> {
    let lost = |table: &str| {
        let end = match table {
            "board" => "DELETE FROM board l WHERE".to_owned(),
            kept => {
                format!("UPDATE {kept} l SET revoked_at = now() WHERE l.revoked_at IS NULL AND")
            }
        };
        format!(
            "{end} l.school_id = $1 AND NOT EXISTS ( \
                 SELECT FROM coach c JOIN player p ON (p.school_id, p.id) = (l.school_id, l.player_id) \
                 WHERE (c.school_id, c.id) = (l.school_id, l.coach_id) AND c.left_at IS NULL \
                   AND (c.role = 'owner' OR p.coach_id = c.id OR EXISTS ( \
                       SELECT FROM player_share s WHERE (s.school_id, s.player_id, s.coach_id) \
                           = (p.school_id, p.id, c.id))))"
        )
    };
    for table in ["player_link", "calendar_feed", "board"] {
        diesel::sql_query(lost(table))
            .bind::<diesel::sql_types::Uuid, _>(school)
            .execute(connection)
            .await?;
    }
    Ok(())
}

impl Store {
    /// Adds a link that opens to the secret with this digest.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn add_link(
        &self,
        school: Uuid,
        new: &PlayerLink,
        token_sha256: &[u8],
    ) -> Result<(), StoreError> {
        self.player(school, new.player_id).await?;
        diesel::insert_into(player_link::table)
            .values((
                player_link::school_id.eq(school),
                player_link::token_sha256.eq(token_sha256),
                new,
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The links to a player's page that open still, latest first.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn links(&self, school: Uuid, player: Uuid) -> Result<Vec<PlayerLink>, StoreError> {
        self.player(school, player).await?;
        let links = player_link::table
            .filter(player_link::school_id.eq(school))
            .filter(player_link::player_id.eq(player))
            .filter(player_link::revoked_at.is_null())
            .filter(player_link::until.gt(diesel::dsl::now))
            .order((player_link::made_at.desc(), player_link::id))
            .select(PlayerLink::as_select())
            .load(&mut self.connection().await?)
            .await?;
        Ok(links)
    }

    /// Lets a link open no more.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn revoke_link(
        &self,
        school: Uuid,
        player: Uuid,
        id: Uuid,
    ) -> Result<(), StoreError> {
        let done = diesel::update(
            player_link::table
                .find((school, id))
                .filter(player_link::player_id.eq(player)),
        )
        .set(player_link::revoked_at.eq(diesel::dsl::now))
        .execute(&mut self.connection().await?)
        .await?;
        if done == 1 {
            Ok(())
        } else {
            Err(StoreError::NotFound("link"))
        }
    }

    /// The link that a secret opens, with its school.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it opens none, or no more.
    pub async fn link_of_token(
        &self,
        token_sha256: &[u8],
    ) -> Result<(Uuid, PlayerLink), StoreError> {
        player_link::table
            .filter(player_link::token_sha256.eq(token_sha256))
            .filter(player_link::revoked_at.is_null())
            .filter(player_link::until.gt(diesel::dsl::now))
            .select((player_link::school_id, PlayerLink::as_select()))
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("link"))
    }
}
