//! What people sign in with: names and passwords, browsers that are signed in, wrong
//! tries.
//!
//! All of it is kept by the database's own user: the application's role cannot read it.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::locks::take_turns;
use crate::base::schema::{coach, credential, known_browser, school, web_session, wrong_try};
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use chrono::{DateTime, Duration, Utc};
use diesel::dsl::{count_star, max};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use tally_core::school::access::{
    IDLE_S, KNOWN_S, Role, SIGNED_IN_S, TRIES_COUNT_S, Turn, WrongTries, turn,
};
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

/// A try to sign in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Try {
    /// Counted as wrong until it is taken back.
    Counted {
        /// The try.
        id: Uuid,
        /// Seconds until it is its turn.
        after_s: f64,
    },
    /// Not to be looked at: there were too many wrong ones of late.
    TooSoon {
        /// Seconds until one may come.
        wait_s: f64,
        /// Whether they came from this address, for whatever names.
        from_address: bool,
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

    /// Whether a person has signed in with the browser that has this secret.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn knows_browser(
        &self,
        known: &Credential,
        browser_sha256: &[u8],
    ) -> Result<bool, StoreError> {
        let theirs = known_browser::table
            .filter(known_browser::school_id.eq(known.school_id))
            .filter(known_browser::coach_id.eq(known.coach_id))
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
        known: &Credential,
        browser_sha256: &[u8],
    ) -> Result<(), StoreError> {
        let connection = &mut self.owner_connection().await?;
        let theirs = known_browser::table
            .filter(known_browser::school_id.eq(known.school_id))
            .filter(known_browser::coach_id.eq(known.coach_id));
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
                    known_browser::school_id.eq(known.school_id),
                    known_browser::id.eq(Uuid::now_v7()),
                    known_browser::coach_id.eq(known.coach_id),
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
                let now = clock(connection).await?;
                let for_name = tries(connection, now, Which::ForName(sign_in_name)).await?;
                let from = tries(connection, now, Which::From(from_address)).await?;
                let after_s = match turn(for_name, from) {
                    Turn::After(after_s) => after_s,
                    Turn::Refused(wait_s) => {
                        let by_name = turn(for_name, WrongTries::default());
                        return Ok(Try::TooSoon {
                            wait_s,
                            from_address: !matches!(by_name, Turn::Refused(_)),
                        });
                    }
                };
                let id = Uuid::now_v7();
                diesel::insert_into(wrong_try::table)
                    .values((
                        wrong_try::id.eq(id),
                        wrong_try::sign_in_name.eq(sign_in_name),
                        wrong_try::from_address.eq(from_address),
                        wrong_try::tried_at.eq(now + seconds(after_s)),
                    ))
                    .execute(connection)
                    .await?;
                let over = now - Duration::days(1);
                diesel::delete(wrong_try::table.filter(wrong_try::tried_at.lt(over)))
                    .execute(connection)
                    .await?;
                Ok(Try::Counted { id, after_s })
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
        forget_tries(&mut *self.owner_connection().await?, sign_in_name).await
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

async fn held(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    person: Uuid,
) -> Result<Now, StoreError> {
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

/// The database's clock, by which all tries are judged, whichever server took them.
async fn clock(connection: &mut AsyncPgConnection) -> Result<DateTime<Utc>, StoreError> {
    Ok(diesel::select(clock_timestamp())
        .get_result(connection)
        .await?)
}

#[diesel::declare_sql_function]
extern "SQL" {
    /// The database's clock as it stands, also late in a transaction.
    fn clock_timestamp() -> Timestamptz;
}

fn seconds(seconds: f64) -> Duration {
    Duration::milliseconds((seconds * 1000.0) as i64)
}

async fn open_browser(
    connection: &mut AsyncPgConnection,
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

async fn forget_tries(
    connection: &mut AsyncPgConnection,
    sign_in_name: &str,
) -> Result<(), StoreError> {
    diesel::delete(wrong_try::table.filter(wrong_try::sign_in_name.eq(sign_in_name)))
        .execute(connection)
        .await?;
    Ok(())
}

#[derive(Clone, Copy)]
enum Which<'a> {
    ForName(&'a str),
    From(&'a str),
}

/// The wrong tries of late.
async fn tries(
    connection: &mut AsyncPgConnection,
    now: DateTime<Utc>,
    which: Which<'_>,
) -> Result<WrongTries, StoreError> {
    let of_late = wrong_try::table
        .filter(wrong_try::tried_at.gt(now - seconds(TRIES_COUNT_S)))
        .select((count_star(), max(wrong_try::tried_at)))
        .into_boxed();
    let these = match which {
        Which::ForName(name) => of_late.filter(wrong_try::sign_in_name.eq(name)),
        Which::From(address) => of_late.filter(wrong_try::from_address.eq(address)),
    };
    let (number, latest): (i64, Option<DateTime<Utc>>) = these.first(connection).await?;
    Ok(WrongTries {
        number,
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
