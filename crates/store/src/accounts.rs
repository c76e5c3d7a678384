//! Who signs in: names and passwords, browsers that are signed in, wrong tries.
//!
//! All of it is kept by the database's own user: the application's role cannot read it.

use crate::schema::{coach, credential, school, web_session, wrong_try};
use crate::school::SignedIn;
use crate::{Store, StoreError};
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel::sql_types::Text;
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use tally_core::access::{IDLE_S, Role, SIGNED_IN_S, TRIES_COUNT_S, WrongTries};
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

/// One of the school.
#[derive(Debug, Clone, PartialEq)]
pub struct Person {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// What they are.
    pub role: Role,
    /// The name they sign in with; none for people whose records came with an archive.
    pub sign_in_name: Option<String>,
    /// Whether they have a password.
    pub has_password: bool,
    /// Whether a second factor is asked for.
    pub second_factor: bool,
    /// When they last used the application.
    pub used_at: Option<DateTime<Utc>>,
    /// Since when they are no longer of the school.
    pub left_at: Option<DateTime<Utc>>,
}

/// A school's founder, and what they sign in with.
pub struct Founder<'a> {
    /// The school's name.
    pub school: &'a str,
    /// Their name.
    pub name: &'a str,
    /// The name they sign in with.
    pub sign_in_name: &'a str,
    /// Their password's hash, or none when they get a code.
    pub password_hash: Option<&'a str>,
}

impl Store {
    /// Whether no owner can sign in yet.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn needs_set_up(&self) -> Result<bool, StoreError> {
        Ok(owners_who_sign_in(&mut *self.owner_connection().await?).await? == 0)
    }

    /// Founds the first school, or names the one that an older version founded; two
    /// that come together found one.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when an owner can sign in already.
    pub async fn set_up(&self, founder: Founder<'_>) -> Result<SignedIn, StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                diesel::sql_query("LOCK TABLE school IN SHARE ROW EXCLUSIVE MODE")
                    .execute(connection)
                    .await?;
                if owners_who_sign_in(connection).await? > 0 {
                    return Err(StoreError::Conflict(
                        "this school is set up already; sign in, or ask its owner for a code"
                            .into(),
                    ));
                }
                let there: Option<(Uuid, Uuid)> = coach::table
                    .filter(coach::role.eq(Role::Owner.key()))
                    .order(coach::id)
                    .select((coach::school_id, coach::id))
                    .first(connection)
                    .await
                    .optional()?;
                match there {
                    Some((school_id, coach_id)) => {
                        diesel::update(school::table.find(school_id))
                            .set(school::name.eq(founder.school))
                            .execute(connection)
                            .await?;
                        diesel::update(coach::table.find((school_id, coach_id)))
                            .set(coach::name.eq(founder.name))
                            .execute(connection)
                            .await?;
                        add_credential(connection, school_id, coach_id, &founder).await?;
                        signed_in_as(connection, school_id, coach_id).await
                    }
                    None => found(connection, &founder).await,
                }
            })
            .await
    }

    /// Founds another school beside those that there are.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when the sign-in name is taken.
    pub async fn found_another(&self, founder: Founder<'_>) -> Result<SignedIn, StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| found(connection, &founder).await)
            .await
    }

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

    /// Keeps a one-time code for a new password.
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
        let done = diesel::update(credential::table.find((school, person)))
            .set((
                credential::code_sha256.eq(sha256),
                credential::code_until.eq(until),
            ))
            .execute(&mut self.owner_connection().await?)
            .await?;
        found_one(done)
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
        let found: Option<(Uuid, Uuid, Uuid, DateTime<Utc>)> = web_session::table
            .filter(web_session::token_sha256.eq(token_sha256))
            .filter(web_session::used_at.gt(now - Duration::seconds(IDLE_S)))
            .filter(web_session::opened_at.gt(now - Duration::seconds(SIGNED_IN_S)))
            .select((
                web_session::school_id,
                web_session::coach_id,
                web_session::id,
                web_session::used_at,
            ))
            .first(connection)
            .await
            .optional()?;
        let Some((school, person, session, used_at)) = found else {
            return Ok(None);
        };
        if now - used_at > Duration::seconds(NOTE_USE_S) {
            diesel::update(web_session::table.find((school, session)))
                .set(web_session::used_at.eq(now))
                .execute(connection)
                .await?;
        }
        match signed_in_as(connection, school, person).await {
            Ok(who) => Ok(Some(SignedIn {
                web_session: Some(session),
                ..who
            })),
            Err(StoreError::NotFound(_)) => Ok(None),
            Err(other) => Err(other),
        }
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

    /// The wrong tries that count now.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn wrong_tries(
        &self,
        sign_in_name: &str,
        from_address: &str,
    ) -> Result<WrongTries, StoreError> {
        let connection = &mut self.owner_connection().await?;
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

    /// Notes a wrong try, and forgets old ones.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn note_wrong_try(
        &self,
        sign_in_name: &str,
        from_address: &str,
    ) -> Result<(), StoreError> {
        let connection = &mut self.owner_connection().await?;
        diesel::insert_into(wrong_try::table)
            .values((
                wrong_try::id.eq(Uuid::now_v7()),
                wrong_try::sign_in_name.eq(sign_in_name),
                wrong_try::from_address.eq(from_address),
            ))
            .execute(connection)
            .await?;
        let over = Utc::now() - Duration::days(1);
        diesel::delete(wrong_try::table.filter(wrong_try::tried_at.lt(over)))
            .execute(connection)
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

    /// The people of a school by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn people(&self, school: Uuid) -> Result<Vec<Person>, StoreError> {
        type Row = (
            (Uuid, String, String, Option<DateTime<Utc>>),
            Option<(String, Option<String>, Option<DateTime<Utc>>)>,
        );
        let connection = &mut self.owner_connection().await?;
        let rows: Vec<Row> = coach::table
            .left_join(
                credential::table.on(credential::school_id
                    .eq(coach::school_id)
                    .and(credential::coach_id.eq(coach::id))),
            )
            .filter(coach::school_id.eq(school))
            .order((coach::name, coach::id))
            .select((
                (coach::id, coach::name, coach::role, coach::left_at),
                (
                    credential::sign_in_name,
                    credential::password_hash,
                    credential::totp_from,
                )
                    .nullable(),
            ))
            .load(connection)
            .await?;
        let used: Vec<(Uuid, Option<DateTime<Utc>>)> = web_session::table
            .filter(web_session::school_id.eq(school))
            .group_by(web_session::coach_id)
            .select((
                web_session::coach_id,
                diesel::dsl::max(web_session::used_at),
            ))
            .load(connection)
            .await?;
        rows.into_iter()
            .map(|((id, name, role, left_at), signs)| {
                let last = used.iter().find(|(coach, _)| *coach == id);
                let (sign_in_name, hash, totp) = match signs {
                    Some((name, hash, totp)) => (Some(name), hash, totp),
                    None => (None, None, None),
                };
                Ok(Person {
                    id,
                    name,
                    role: role_of(&role),
                    sign_in_name,
                    has_password: hash.is_some(),
                    second_factor: totp.is_some(),
                    used_at: last.and_then(|(_, at)| *at),
                    left_at,
                })
            })
            .collect()
    }

    /// Adds a person; adding the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when the sign-in name is taken.
    pub async fn add_person(
        &self,
        school: Uuid,
        id: Uuid,
        role: Role,
        name: &str,
        sign_in_name: &str,
    ) -> Result<(), StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                let again = diesel::insert_into(coach::table)
                    .values((
                        coach::school_id.eq(school),
                        coach::id.eq(id),
                        coach::name.eq(name),
                        coach::role.eq(role.key()),
                    ))
                    .on_conflict_do_nothing()
                    .execute(connection)
                    .await?
                    == 0;
                if again {
                    let there: Option<String> = credential::table
                        .find((school, id))
                        .select(credential::sign_in_name)
                        .first(connection)
                        .await
                        .optional()?;
                    return if there.as_deref() == Some(sign_in_name) {
                        Ok(())
                    } else {
                        Err(StoreError::Conflict(
                            "another person has this identifier".into(),
                        ))
                    };
                }
                let founder = Founder {
                    school: "",
                    name,
                    sign_in_name,
                    password_hash: None,
                };
                add_credential(connection, school, id, &founder).await
            })
            .await
    }

    /// Gives a person another name or role, or notes that they left or came back; who
    /// leaves is signed out. A school keeps an owner.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or [`StoreError::Conflict`] for the last owner.
    pub async fn save_person(
        &self,
        school: Uuid,
        id: Uuid,
        name: &str,
        role: Role,
        away: bool,
    ) -> Result<(), StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                // Two owners that demote each other take turns.
                let people: Vec<(Uuid, String, Option<DateTime<Utc>>)> = coach::table
                    .filter(coach::school_id.eq(school))
                    .select((coach::id, coach::role, coach::left_at))
                    .for_update()
                    .load(connection)
                    .await?;
                let Some((_, _, left_at)) = people.iter().find(|(person, ..)| *person == id) else {
                    return Err(StoreError::NotFound("person"));
                };
                let other_owner = people.iter().any(|(person, role, left)| {
                    *person != id && role == Role::Owner.key() && left.is_none()
                });
                if !other_owner && (role != Role::Owner || away) {
                    return Err(StoreError::Conflict(
                        "this is the school's only owner; make somebody else an owner first".into(),
                    ));
                }
                let left_at = away.then(|| left_at.unwrap_or_else(Utc::now));
                diesel::update(coach::table.find((school, id)))
                    .set((
                        coach::name.eq(name),
                        coach::role.eq(role.key()),
                        coach::left_at.eq(left_at),
                    ))
                    .execute(connection)
                    .await?;
                if away {
                    close_all(connection, school, id, None).await?;
                }
                Ok(())
            })
            .await
    }
}

async fn owners_who_sign_in(connection: &mut AsyncPgConnection) -> Result<i64, StoreError> {
    let owners = credential::table
        .inner_join(
            coach::table.on(coach::school_id
                .eq(credential::school_id)
                .and(coach::id.eq(credential::coach_id))),
        )
        .filter(coach::role.eq(Role::Owner.key()));
    Ok(owners.count().get_result(connection).await?)
}

/// A school with its founder.
async fn found(
    connection: &mut AsyncPgConnection,
    founder: &Founder<'_>,
) -> Result<SignedIn, StoreError> {
    let (school_id, coach_id) = (Uuid::now_v7(), Uuid::now_v7());
    diesel::insert_into(school::table)
        .values((
            school::school_id.eq(school_id),
            school::name.eq(founder.school),
        ))
        .execute(connection)
        .await?;
    diesel::insert_into(coach::table)
        .values((
            coach::school_id.eq(school_id),
            coach::id.eq(coach_id),
            coach::name.eq(founder.name),
            coach::role.eq(Role::Owner.key()),
        ))
        .execute(connection)
        .await?;
    add_credential(connection, school_id, coach_id, founder).await?;
    signed_in_as(connection, school_id, coach_id).await
}

/// Gives a person a name to sign in with, which no other has in any school.
async fn add_credential(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    person: Uuid,
    founder: &Founder<'_>,
) -> Result<(), StoreError> {
    diesel::sql_query("SELECT pg_advisory_xact_lock(hashtextextended($1, 0))")
        .bind::<Text, _>(founder.sign_in_name)
        .execute(connection)
        .await?;
    let taken: i64 = credential::table
        .filter(credential::sign_in_name.eq(founder.sign_in_name))
        .count()
        .get_result(connection)
        .await?;
    if taken > 0 {
        return Err(StoreError::Conflict(format!(
            "somebody signs in as “{}” already; choose another name",
            founder.sign_in_name
        )));
    }
    diesel::insert_into(credential::table)
        .values((
            credential::school_id.eq(school),
            credential::coach_id.eq(person),
            credential::sign_in_name.eq(founder.sign_in_name),
            credential::password_hash.eq(founder.password_hash),
        ))
        .execute(connection)
        .await?;
    Ok(())
}

/// A person who has not left, with their school.
pub(crate) async fn signed_in_as(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    person: Uuid,
) -> Result<SignedIn, StoreError> {
    let found: Option<(String, String, String)> = coach::table
        .inner_join(school::table.on(school::school_id.eq(coach::school_id)))
        .filter(coach::school_id.eq(school).and(coach::id.eq(person)))
        .filter(coach::left_at.is_null())
        .select((school::name, coach::name, coach::role))
        .first(connection)
        .await
        .optional()?;
    let (school_name, name, role) = found.ok_or(StoreError::NotFound("person"))?;
    Ok(SignedIn {
        school_id: school,
        school: school_name,
        coach_id: person,
        coach: name,
        role: role_of(&role),
        web_session: None,
    })
}

async fn close_all(
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

/// The role as stored; the database holds no other, and the least is safest.
fn role_of(key: &str) -> Role {
    Role::from_key("role", key).unwrap_or(Role::Assistant)
}

fn found_one(done: usize) -> Result<(), StoreError> {
    if done == 1 {
        Ok(())
    } else {
        Err(StoreError::NotFound("person"))
    }
}
