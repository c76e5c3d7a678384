//! Pages that players take home.

use crate::base::error::StoreError;
use crate::base::json::Json;
use crate::base::schema::page;
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::report::page::Page;
use uuid::Uuid;

/// A page with where it belongs.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptPage {
    /// Identifier.
    pub id: Uuid,
    /// Whose it is.
    pub player: Uuid,
    /// The session that it is about; none for a period, or when the session is gone.
    pub session: Option<Uuid>,
    /// When it was last written.
    pub written_at: DateTime<Utc>,
    /// What stands on it.
    pub page: Page,
}

type Row = (Uuid, Uuid, Option<Uuid>, DateTime<Utc>, Json<Page>);

fn kept((id, player, session, written_at, Json(page)): Row) -> KeptPage {
    KeptPage {
        id,
        player,
        session,
        written_at,
        page,
    }
}

impl Store {
    /// The pages of a player, latest first.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player.
    pub async fn pages(&self, school: Uuid, player: Uuid) -> Result<Vec<KeptPage>, StoreError> {
        self.player(school, player).await?;
        let rows: Vec<Row> = page::table
            .filter(page::school_id.eq(school).and(page::player_id.eq(player)))
            .order((page::written_at.desc(), page::id))
            .select((
                page::id,
                page::player_id,
                page::session_id,
                page::written_at,
                page::body,
            ))
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().map(kept).collect())
    }

    /// One page.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn page(&self, school: Uuid, id: Uuid) -> Result<KeptPage, StoreError> {
        let row: Option<Row> = page::table
            .find((school, id))
            .select((
                page::id,
                page::player_id,
                page::session_id,
                page::written_at,
                page::body,
            ))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        row.map(kept).ok_or(StoreError::NotFound("page"))
    }

    /// Keeps a page; written again it stands in place of what it was.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such player or session, and
    /// [`StoreError::Conflict`] when a page of another player or session goes by that identifier.
    pub async fn write_page(
        &self,
        school: Uuid,
        coach: Uuid,
        (player, session): (Uuid, Option<Uuid>),
        (id, written): (Uuid, &Page),
    ) -> Result<(), StoreError> {
        self.player(school, player).await?;
        let body = serde_json::to_value(written).expect("a page is plain data");
        let mut connection = self.connection().await?;
        let of = page::player_id
            .eq(player)
            .and(page::session_id.is_not_distinct_from(session));
        let mut done = diesel::update(page::table.find((school, id)))
            .filter(of)
            .set((
                page::coach_id.eq(coach),
                page::body.eq(&body),
                page::written_at.eq(diesel::dsl::now),
            ))
            .execute(&mut connection)
            .await?;
        if done == 0 {
            done = diesel::insert_into(page::table)
                .values((
                    page::school_id.eq(school),
                    page::id.eq(id),
                    page::player_id.eq(player),
                    page::session_id.eq(session),
                    page::coach_id.eq(coach),
                    page::body.eq(&body),
                ))
                .on_conflict_do_nothing()
                .execute(&mut connection)
                .await?;
        }
        match done {
            1 => Ok(()),
            _ => Err(StoreError::Conflict(
                "a page of something else goes by that identifier".into(),
            )),
        }
    }

    /// Takes a page away, and the links that open it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn drop_page(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        let done = diesel::delete(page::table.find((school, id)))
            .execute(&mut self.connection().await?)
            .await?;
        match done {
            1 => Ok(()),
            _ => Err(StoreError::NotFound("page")),
        }
    }
}
