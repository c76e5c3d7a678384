//! The browsers that are signed in, and those that are known by somebody's having signed in
//! with them.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::locks::clock;
use crate::base::schema::{coach, known_browser, school, web_session};
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::school::access::{IDLE_S, KNOWN_S, Role, SIGNED_IN_S};
use uuid::Uuid;

/// How old a note of use may be before it is renewed, s.
const NOTE_USE_S: i64 = 60;

impl Store {
    /// Whether a person has signed in with the browser that has this secret.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn knows_browser(
        &self,
        school: Uuid,
        person: Uuid,
        browser_sha256: &[u8],
    ) -> Result<bool, StoreError> {
        let theirs = known_browser::table
            .filter(known_browser::school_id.eq(school))
            .filter(known_browser::coach_id.eq(person))
            .filter(known_browser::token_sha256.eq(browser_sha256));
        Ok(diesel::select(diesel::dsl::exists(theirs))
            .get_result(&mut self.owner_connection().await?)
            .await?)
    }

    /// Notes that a person signed in with the browser that has this secret; those not used
    /// for half a year are forgotten.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn note_browser(
        &self,
        school: Uuid,
        person: Uuid,
        browser_sha256: &[u8],
    ) -> Result<(), StoreError> {
        let connection = &mut self.owner_connection().await?;
        let theirs = known_browser::table
            .filter(known_browser::school_id.eq(school))
            .filter(known_browser::coach_id.eq(person));
        let old = clock(connection).await? - Duration::seconds(KNOWN_S);
        diesel::delete(theirs.filter(known_browser::used_at.lt(old)))
            .execute(connection)
            .await?;
        let used = diesel::update(theirs.filter(known_browser::token_sha256.eq(browser_sha256)))
            .set(known_browser::used_at.eq(diesel::dsl::now))
            .execute(connection)
            .await?;
        if used == 0 {
            diesel::insert_into(known_browser::table)
                .values((
                    known_browser::school_id.eq(school),
                    known_browser::id.eq(Uuid::now_v7()),
                    known_browser::coach_id.eq(person),
                    known_browser::token_sha256.eq(browser_sha256),
                ))
                .execute(connection)
                .await?;
        }
        Ok(())
    }

    /// Signs in the browser of a person who has just been made.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn open_web_session(
        &self,
        school: Uuid,
        person: Uuid,
        token_sha256: &[u8],
    ) -> Result<(), StoreError> {
        let connection = &mut self.owner_connection().await?;
        open_browser(connection, school, person, token_sha256).await
    }

    /// Who a signed-in browser speaks for, unless its time is over.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn signed_in(&self, token_sha256: &[u8]) -> Result<Option<SignedIn>, StoreError> {
        let connection = &mut self.owner_connection().await?;
        let now = Utc::now();
        type Row = (
            (Uuid, Uuid, DateTime<Utc>),
            (Uuid, String, Key<Role>),
            String,
        );
        let found: Option<Row> = web_session::table
            .inner_join(
                coach::table.on(coach::school_id
                    .eq(web_session::school_id)
                    .and(coach::id.eq(web_session::coach_id))),
            )
            .inner_join(school::table.on(school::school_id.eq(web_session::school_id)))
            .filter(web_session::token_sha256.eq(token_sha256))
            .filter(web_session::used_at.gt(now - Duration::seconds(IDLE_S)))
            .filter(web_session::opened_at.gt(now - Duration::seconds(SIGNED_IN_S)))
            .filter(coach::left_at.is_null())
            .select((
                (
                    web_session::school_id,
                    web_session::id,
                    web_session::used_at,
                ),
                (coach::id, coach::name, coach::role),
                school::name,
            ))
            .first(connection)
            .await
            .optional()?;
        let Some(((school_id, browser, used_at), (coach_id, coach, Key(role)), school)) = found
        else {
            return Ok(None);
        };
        if now - used_at > Duration::seconds(NOTE_USE_S) {
            diesel::update(web_session::table.find((school_id, browser)))
                .set(web_session::used_at.eq(now))
                .execute(connection)
                .await?;
        }
        Ok(Some(SignedIn {
            school_id,
            school,
            coach_id,
            coach,
            role,
            web_session: Some(browser),
            script: None,
        }))
    }

    /// The role of the one whose browser is signed in still, without its being used now;
    /// none when it is not.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn still_signed_in(
        &self,
        school: Uuid,
        id: Uuid,
    ) -> Result<Option<Role>, StoreError> {
        let now = Utc::now();
        let role: Option<Key<Role>> = web_session::table
            .inner_join(
                coach::table.on(coach::school_id
                    .eq(web_session::school_id)
                    .and(coach::id.eq(web_session::coach_id))),
            )
            .filter(web_session::school_id.eq(school))
            .filter(web_session::id.eq(id))
            .filter(web_session::used_at.gt(now - Duration::seconds(IDLE_S)))
            .filter(web_session::opened_at.gt(now - Duration::seconds(SIGNED_IN_S)))
            .filter(coach::left_at.is_null())
            .select(coach::role)
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?;
        Ok(role.map(|Key(role)| role))
    }

    /// Signs a browser out.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn close_web_session(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        diesel::delete(web_session::table.find((school, id)))
            .execute(&mut self.owner_connection().await?)
            .await?;
        Ok(())
    }

    /// Signs out every browser of a person.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn close_web_sessions(&self, school: Uuid, person: Uuid) -> Result<(), StoreError> {
        close_all(&mut *self.owner_connection().await?, school, person, None).await
    }
}

pub(crate) async fn open_browser(
    connection: &mut Connection,
    school: Uuid,
    person: Uuid,
    token_sha256: &[u8],
) -> Result<(), StoreError> {
    let over = clock(connection).await? - Duration::seconds(SIGNED_IN_S);
    diesel::delete(web_session::table.filter(web_session::opened_at.lt(over)))
        .execute(connection)
        .await?;
    diesel::insert_into(web_session::table)
        .values((
            web_session::school_id.eq(school),
            web_session::id.eq(Uuid::now_v7()),
            web_session::coach_id.eq(person),
            web_session::token_sha256.eq(token_sha256),
        ))
        .execute(connection)
        .await?;
    Ok(())
}

pub(crate) async fn close_all(
    connection: &mut Connection,
    school: Uuid,
    person: Uuid,
    stays: Option<Uuid>,
) -> Result<(), StoreError> {
    diesel::delete(
        web_session::table
            .filter(web_session::school_id.eq(school))
            .filter(web_session::coach_id.eq(person))
            .filter(web_session::id.ne(stays.unwrap_or_default())),
    )
    .execute(connection)
    .await?;
    Ok(())
}
