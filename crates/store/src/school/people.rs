//! The people of a school: its founder, who else came, what each may do.
//!
//! All of it is kept by the database's own user: the application's role cannot change it.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::locks::take_turns;
use crate::base::schema::{coach, credential, school, web_session};
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use crate::school::browsers::close_all;
use crate::school::links::end_lost_links;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::school::access::Role;
use uuid::Uuid;

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
                    .filter(coach::role.eq(Key(Role::Owner)))
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

    /// The people of a school by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn people(&self, school: Uuid) -> Result<Vec<Person>, StoreError> {
        type Row = (
            (Uuid, String, Key<Role>, Option<DateTime<Utc>>),
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
            .map(|((id, name, Key(role), left_at), signs)| {
                let last = used.iter().find(|(coach, _)| *coach == id);
                let (sign_in_name, hash, totp) = match signs {
                    Some((name, hash, totp)) => (Some(name), hash, totp),
                    None => (None, None, None),
                };
                Ok(Person {
                    id,
                    name,
                    role,
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
                        coach::role.eq(Key(role)),
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
                let people: Vec<(Uuid, Key<Role>, Option<DateTime<Utc>>)> = coach::table
                    .filter(coach::school_id.eq(school))
                    .select((coach::id, coach::role, coach::left_at))
                    .for_update()
                    .load(connection)
                    .await?;
                let Some((_, _, left_at)) = people.iter().find(|(person, ..)| *person == id) else {
                    return Err(StoreError::NotFound("person"));
                };
                let other_owner = people.iter().any(|(person, Key(role), left)| {
                    *person != id && *role == Role::Owner && left.is_none()
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
                        coach::role.eq(Key(role)),
                        coach::left_at.eq(left_at),
                    ))
                    .execute(connection)
                    .await?;
                if away {
                    close_all(connection, school, id, None).await?;
                }
                end_lost_links(connection, school).await
            })
            .await
    }
}

async fn owners_who_sign_in(connection: &mut Connection) -> Result<i64, StoreError> {
    let owners = credential::table
        .inner_join(
            coach::table.on(coach::school_id
                .eq(credential::school_id)
                .and(coach::id.eq(credential::coach_id))),
        )
        .filter(coach::role.eq(Key(Role::Owner)));
    Ok(owners.count().get_result(connection).await?)
}

/// A school with its founder.
async fn found(connection: &mut Connection, founder: &Founder<'_>) -> Result<SignedIn, StoreError> {
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
            coach::role.eq(Key(Role::Owner)),
        ))
        .execute(connection)
        .await?;
    add_credential(connection, school_id, coach_id, founder).await?;
    signed_in_as(connection, school_id, coach_id).await
}

/// Gives a person a name to sign in with, which no other has in any school.
async fn add_credential(
    connection: &mut Connection,
    school: Uuid,
    person: Uuid,
    founder: &Founder<'_>,
) -> Result<(), StoreError> {
    take_turns(connection, founder.sign_in_name).await?;
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
    connection: &mut Connection,
    school: Uuid,
    person: Uuid,
) -> Result<SignedIn, StoreError> {
    let found: Option<(String, String, Key<Role>)> = coach::table
        .inner_join(school::table.on(school::school_id.eq(coach::school_id)))
        .filter(coach::school_id.eq(school).and(coach::id.eq(person)))
        .filter(coach::left_at.is_null())
        .select((school::name, coach::name, coach::role))
        .first(connection)
        .await
        .optional()?;
    let (school_name, name, Key(role)) = found.ok_or(StoreError::NotFound("person"))?;
    Ok(SignedIn {
        school_id: school,
        school: school_name,
        coach_id: person,
        coach: name,
        role,
        web_session: None,
        script: None,
    })
}
