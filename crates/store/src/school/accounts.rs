//! What people sign in with: names, passwords, second factors.
//!
//! All of it is kept by the database's own user: the application's role cannot read it.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::locks::clock;
use crate::base::schema::{coach, credential};
use crate::base::store::Store;
use crate::school::browsers::{close_all, open_browser};
use crate::school::tries::forget_tries;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use uuid::Uuid;

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
    /// Secret of a second factor that is begun and not confirmed.
    pub totp_begun: Option<Vec<u8>>,
}

/// Whether somebody may come in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Entry {
    /// They are in.
    Open,
    /// The password or the second factor was changed while it was looked at.
    Changed,
    /// The second factor's code was used already.
    CodeSpent,
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

    /// Keeps a password, spends any code, and signs out every browser.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_password(
        &self,
        school: Uuid,
        person: Uuid,
        hash: &str,
    ) -> Result<(), StoreError> {
        let kept = self.renew(school, person, hash, Instead::OfAny, None);
        kept.await.map(|_| ())
    }

    /// Keeps a password in place of the one with the hash `old`, and signs out every
    /// browser but `stays`. Answers whether `old` was still the one.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn change_password(
        &self,
        known: &Credential,
        hash: &str,
        stays: Option<Uuid>,
    ) -> Result<bool, StoreError> {
        let Some(old) = known.password_hash.as_deref() else {
            return Ok(false);
        };
        let instead = Instead::OfHash(old);
        self.renew(known.school_id, known.coach_id, hash, instead, stays)
            .await
    }

    /// Keeps a password for a one-time code, spends the code, and signs out every browser.
    /// Answers whether the code was still to be spent.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn spend_code(
        &self,
        known: &Credential,
        code_sha256: &[u8],
        hash: &str,
    ) -> Result<bool, StoreError> {
        let instead = Instead::ForCode(code_sha256);
        self.renew(known.school_id, known.coach_id, hash, instead, None)
            .await
    }

    async fn renew(
        &self,
        school: Uuid,
        person: Uuid,
        hash: &str,
        instead: Instead<'_>,
        stays: Option<Uuid>,
    ) -> Result<bool, StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                let now = held(connection, school, person).await?;
                let still = match instead {
                    Instead::OfAny => true,
                    Instead::OfHash(old) => now.password_hash.as_deref() == Some(old),
                    Instead::ForCode(sha256) => {
                        now.code_sha256.as_deref() == Some(sha256) && now.code_holds
                    }
                };
                if !still {
                    return Ok(false);
                }
                diesel::update(credential::table.find((school, person)))
                    .set((
                        credential::password_hash.eq(hash),
                        credential::code_sha256.eq(None::<Vec<u8>>),
                        credential::code_until.eq(None::<DateTime<Utc>>),
                    ))
                    .execute(connection)
                    .await?;
                close_all(connection, school, person, stays).await?;
                Ok(true)
            })
            .await
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

    /// Keeps the secret of a second factor that is begun. The one that is asked for, if
    /// any, goes on being asked for until this one is confirmed.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn begin_second_factor(
        &self,
        school: Uuid,
        person: Uuid,
        secret: &[u8],
    ) -> Result<(), StoreError> {
        let done = diesel::update(credential::table.find((school, person)))
            .set(credential::totp_begun.eq(secret))
            .execute(&mut self.owner_connection().await?)
            .await?;
        found_one(done)
    }

    /// From now on asks for the second factor that was begun with this secret, whose code
    /// of a time step was shown. Answers whether it was still to be confirmed.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn confirm_second_factor(
        &self,
        school: Uuid,
        person: Uuid,
        secret: &[u8],
        step: i64,
    ) -> Result<bool, StoreError> {
        let done = diesel::update(
            credential::table
                .find((school, person))
                .filter(credential::totp_begun.eq(secret)),
        )
        .set((
            credential::totp_secret.eq(secret),
            credential::totp_from.eq(diesel::dsl::now),
            credential::totp_step.eq(step),
            credential::totp_begun.eq(None::<Vec<u8>>),
        ))
        .execute(&mut self.owner_connection().await?)
        .await?;
        Ok(done == 1)
    }

    /// Takes the second factor away, and one that is begun.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn end_second_factor(&self, school: Uuid, person: Uuid) -> Result<(), StoreError> {
        let done = diesel::update(credential::table.find((school, person)))
            .set((
                credential::totp_secret.eq(None::<Vec<u8>>),
                credential::totp_begun.eq(None::<Vec<u8>>),
                credential::totp_from.eq(None::<DateTime<Utc>>),
            ))
            .execute(&mut self.owner_connection().await?)
            .await?;
        found_one(done)
    }

    /// Signs a browser in by what was `known` when the password was looked at, and by the
    /// time step of the second factor's code where there is one; forgets the wrong tries
    /// for the name. All of it is decided at once: what changed meanwhile counts.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn sign_in(
        &self,
        known: &Credential,
        step: Option<i64>,
        token_sha256: &[u8],
    ) -> Result<Entry, StoreError> {
        let (school, person) = (known.school_id, known.coach_id);
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                let now = held(connection, school, person).await?;
                let same = now.password_hash == known.password_hash
                    && now.totp_secret == known.totp_secret;
                if !same || now.left {
                    return Ok(Entry::Changed);
                }
                if now.totp_secret.is_some() {
                    let Some(step) = step.filter(|step| *step > now.totp_step) else {
                        return Ok(Entry::CodeSpent);
                    };
                    diesel::update(credential::table.find((school, person)))
                        .set(credential::totp_step.eq(step))
                        .execute(connection)
                        .await?;
                }
                forget_tries(connection, &known.sign_in_name).await?;
                open_browser(connection, school, person, token_sha256).await?;
                Ok(Entry::Open)
            })
            .await
    }
}

/// What stands in the place of what, when a password is kept.
#[derive(Clone, Copy)]
enum Instead<'a> {
    OfAny,
    OfHash(&'a str),
    ForCode(&'a [u8]),
}

/// What a person signs in with, held still until the transaction ends.
struct Now {
    password_hash: Option<String>,
    totp_secret: Option<Vec<u8>>,
    totp_step: i64,
    code_sha256: Option<Vec<u8>>,
    code_holds: bool,
    left: bool,
}

async fn held(connection: &mut Connection, school: Uuid, person: Uuid) -> Result<Now, StoreError> {
    let row: Credential = credential::table
        .find((school, person))
        .select(Credential::as_select())
        .for_update()
        .first(connection)
        .await
        .optional()?
        .ok_or(StoreError::NotFound("person"))?;
    let left: Option<DateTime<Utc>> = coach::table
        .find((school, person))
        .select(coach::left_at)
        .first(connection)
        .await?;
    let now = clock(connection).await?;
    Ok(Now {
        password_hash: row.password_hash,
        totp_secret: row.totp_secret,
        totp_step: row.totp_step,
        code_sha256: row.code_sha256,
        code_holds: row.code_until.is_some_and(|until| until > now),
        left: left.is_some(),
    })
}

fn found_one(done: usize) -> Result<(), StoreError> {
    if done == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound("person"))
    }
}
