//! What people sign in with: names and passwords, browsers that are signed in, wrong
//! tries.
//!
//! All of it is kept by the database's own user: the application's role cannot read it.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::locks::take_turns;
use crate::base::schema::{coach, credential, school, web_session, wrong_try};
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use tally_core::school::access::{IDLE_S, Role, SIGNED_IN_S, TRIES_COUNT_S, WrongTries};
use uuid::Uuid;

/// How old a note of use may be before it is renewed, s.
const NOTE_USE_S: i64 = 60;

/// What a person signs in with.
#[derive(Clone, Queryable, Selectable)]
#[diesel(table_name = credential)]
pub struct Credential {
    /// The school.
    pub school_id: Uuid,
    /// The person.
    pub coach_id: Uuid,
    /// The name they sign in with.
    pub sign_in_name: String,
    /// The password's hash, as a PHC string; none before the first password.
    pub password_hash: Option<String>,
    /// Digest of a one-time code for a new password.
    pub code_sha256: Option<Vec<u8>>,
    /// Until when the code holds.
    pub code_until: Option<DateTime<Utc>>,
    /// Secret of the second factor.
    pub totp_secret: Option<Vec<u8>>,
    /// Since when the second factor is asked for.
    pub totp_from: Option<DateTime<Utc>>,
    /// Time step of the last code that was used.
    pub totp_step: i64,
}

/// A try to sign in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Try {
    /// Counted as wrong until it is taken back.
    Counted(Uuid),
    /// Not to be looked at: there were too many wrong ones of late.
    TooSoon {
        /// Seconds until one may come.
        wait_s: f64,
    },
}

impl Store {
    /// What this name signs in with.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn credential(&self, sign_in_name: &str) -> Result<Option<Credential>, StoreError> {
        let found = credential::table
            .inner_join(
                coach::table.on(coach::school_id
                    .eq(credential::school_id)
                    .and(coach::id.eq(credential::coach_id))),
            )
            .filter(credential::sign_in_name.eq(sign_in_name))
            .filter(coach::left_at.is_null())
            .select(Credential::as_select())
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?;
        Ok(found)
    }

    /// What a person signs in with.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn credential_of(
        &self,
        school: Uuid,
        person: Uuid,
    ) -> Result<Credential, StoreError> {
        credential::table
            .find((school, person))
            .select(Credential::as_select())
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("person"))
    }

    /// Keeps a new password, spends the code, and signs out every browser but `stays`.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_password(
        &self,
        school: Uuid,
        person: Uuid,
        hash: &str,
        stays: Option<Uuid>,
    ) -> Result<(), StoreError> {
        let connection = &mut self.owner_connection().await?;
        diesel::update(credential::table.find((school, person)))
            .set((
                credential::password_hash.eq(hash),
                credential::code_sha256.eq(None::<Vec<u8>>),
                credential::code_until.eq(None::<DateTime<Utc>>),
            ))
            .execute(connection)
            .await?;
        close_all(connection, school, person, stays).await
    }

    /// Keeps a one-time code for a new password, and forgets the wrong tries for its name:
    /// whoever has it need not wait because others guessed.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the person has no name to sign in with.
    pub async fn save_code(
        &self,
        school: Uuid,
        person: Uuid,
        sha256: &[u8],
        until: DateTime<Utc>,
    ) -> Result<(), StoreError> {
        let name: Option<String> = diesel::update(credential::table.find((school, person)))
            .set((
                credential::code_sha256.eq(sha256),
                credential::code_until.eq(until),
            ))
            .returning(credential::sign_in_name)
            .get_result(&mut self.owner_connection().await?)
            .await
            .optional()?;
        match name {
            Some(name) => self.forget_wrong_tries(&name).await,
            None => Err(StoreError::NotFound("person")),
        }
    }

    /// Keeps the secret of a second factor, not asked for before it is confirmed; none
    /// takes it away.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_second_factor(
        &self,
        school: Uuid,
        person: Uuid,
        secret: Option<&[u8]>,
    ) -> Result<(), StoreError> {
        let done = diesel::update(credential::table.find((school, person)))
            .set((
                credential::totp_secret.eq(secret),
                credential::totp_from.eq(None::<DateTime<Utc>>),
            ))
            .execute(&mut self.owner_connection().await?)
            .await?;
        found_one(done)
    }

    /// Uses up the code of a time step: answers whether it was still to be used. From
    /// the first on, the second factor is asked for.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn use_step(
        &self,
        school: Uuid,
        person: Uuid,
        step: i64,
    ) -> Result<bool, StoreError> {
        let connection = &mut self.owner_connection().await?;
        let used = diesel::update(
            credential::table
                .find((school, person))
                .filter(credential::totp_step.lt(step)),
        )
        .set(credential::totp_step.eq(step))
        .execute(connection)
        .await?;
        diesel::update(
            credential::table
                .find((school, person))
                .filter(credential::totp_from.is_null()),
        )
        .set(credential::totp_from.eq(diesel::dsl::now))
        .execute(connection)
        .await?;
        Ok(used == 1)
    }

    /// Signs a browser in.
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
        let over = Utc::now() - Duration::seconds(SIGNED_IN_S);
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

    /// Counts a try to sign in as wrong before it is looked at, so that of many that come
    /// at once no more are looked at than of as many that come one by one. Old ones are
    /// forgotten.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn begin_try(
        &self,
        sign_in_name: &str,
        from_address: &str,
    ) -> Result<Try, StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                // Those for the same name or from the same address take turns, in copies
                // of the server as well.
                take_turns(connection, &format!("from {from_address}")).await?;
                take_turns(connection, &format!("name {sign_in_name}")).await?;
                let before = wrong_tries(connection, sign_in_name, from_address).await?;
                if let Some(wait_s) = before.wait_s() {
                    return Ok(Try::TooSoon { wait_s });
                }
                let id = Uuid::now_v7();
                diesel::insert_into(wrong_try::table)
                    .values((
                        wrong_try::id.eq(id),
                        wrong_try::sign_in_name.eq(sign_in_name),
                        wrong_try::from_address.eq(from_address),
                    ))
                    .execute(connection)
                    .await?;
                let over = Utc::now() - Duration::days(1);
                diesel::delete(wrong_try::table.filter(wrong_try::tried_at.lt(over)))
                    .execute(connection)
                    .await?;
                Ok(Try::Counted(id))
            })
            .await
    }

    /// Takes a try back: it was not wrong.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn take_back_try(&self, id: Uuid) -> Result<(), StoreError> {
        diesel::delete(wrong_try::table.find(id))
            .execute(&mut self.owner_connection().await?)
            .await?;
        Ok(())
    }

    /// Forgets the wrong tries for a name: its owner has come in.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn forget_wrong_tries(&self, sign_in_name: &str) -> Result<(), StoreError> {
        diesel::delete(wrong_try::table.filter(wrong_try::sign_in_name.eq(sign_in_name)))
            .execute(&mut self.owner_connection().await?)
            .await?;
        Ok(())
    }
}

async fn wrong_tries(
    connection: &mut AsyncPgConnection,
    sign_in_name: &str,
    from_address: &str,
) -> Result<WrongTries, StoreError> {
    let now = Utc::now();
    let since = now - Duration::milliseconds((TRIES_COUNT_S * 1000.0) as i64);
    let latest: Option<DateTime<Utc>> = wrong_try::table
        .filter(wrong_try::tried_at.gt(since))
        .filter(
            wrong_try::sign_in_name
                .eq(sign_in_name)
                .or(wrong_try::from_address.eq(from_address)),
        )
        .select(diesel::dsl::max(wrong_try::tried_at))
        .first(connection)
        .await?;
    let for_name = wrong_try::table
        .filter(wrong_try::tried_at.gt(since))
        .filter(wrong_try::sign_in_name.eq(sign_in_name))
        .count()
        .get_result(connection)
        .await?;
    let from = wrong_try::table
        .filter(wrong_try::tried_at.gt(since))
        .filter(wrong_try::from_address.eq(from_address))
        .count()
        .get_result(connection)
        .await?;
    Ok(WrongTries {
        for_name,
        from_address: from,
        latest_s: latest.map_or(0.0, |at| (now - at).num_milliseconds() as f64 / 1000.0),
    })
}

pub(crate) async fn close_all(
    connection: &mut AsyncPgConnection,
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

fn found_one(done: usize) -> Result<(), StoreError> {
    if done == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound("person"))
    }
}
