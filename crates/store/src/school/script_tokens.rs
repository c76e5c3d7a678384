//! What scripts speak with, in the name of the one who made it.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::locks::clock;
use crate::base::schema::{coach, school, script_token};
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::school::access::{MOST_SCRIPTS, Role, Script};
use uuid::Uuid;

/// How old a note of use may be before it is renewed, s.
const NOTE_USE_S: i64 = 60;

/// A script's token, without its secret.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ScriptToken {
    /// Identifier.
    pub id: Uuid,
    /// What its maker calls it.
    pub name: String,
    /// The most that it may be.
    pub role: Role,
    /// Whether it may change what is kept.
    pub changes: bool,
    /// When it was made.
    pub made_at: DateTime<Utc>,
    /// When it was last used, to the minute.
    pub used_at: Option<DateTime<Utc>>,
    /// When it ends.
    pub until: DateTime<Utc>,
}

/// A token to make.
#[derive(Debug, Clone)]
pub struct NewScriptToken {
    /// Identifier.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// The most that it may be.
    pub role: Role,
    /// Whether it may change what is kept.
    pub changes: bool,
    /// Days until it ends.
    pub days: f64,
    /// Digest of its secret.
    pub sha256: Vec<u8>,
}

impl Store {
    /// The tokens of a person's scripts that have not ended, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn script_tokens(
        &self,
        school: Uuid,
        person: Uuid,
    ) -> Result<Vec<ScriptToken>, StoreError> {
        type Row = (
            (Uuid, String, Key<Role>, bool),
            (DateTime<Utc>, Option<DateTime<Utc>>, DateTime<Utc>),
        );
        let rows: Vec<Row> = script_token::table
            .filter(script_token::school_id.eq(school))
            .filter(script_token::coach_id.eq(person))
            .filter(script_token::until.gt(diesel::dsl::now))
            .order(script_token::id.desc())
            .select((
                (
                    script_token::id,
                    script_token::name,
                    script_token::role,
                    script_token::changes,
                ),
                (
                    script_token::made_at,
                    script_token::used_at,
                    script_token::until,
                ),
            ))
            .load(&mut self.owner_connection().await?)
            .await?;
        let token =
            |((id, name, Key(role), changes), (made_at, used_at, until)): Row| ScriptToken {
                id,
                name,
                role,
                changes,
                made_at,
                used_at,
                until,
            };
        Ok(rows.into_iter().map(token).collect())
    }

    /// Makes a token for a script of a person; those that have ended are forgotten.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when they have [`MOST_SCRIPTS`] already;
    /// [`StoreError::Database`].
    pub async fn make_script_token(
        &self,
        school: Uuid,
        person: Uuid,
        new: &NewScriptToken,
    ) -> Result<(), StoreError> {
        let connection = &mut self.owner_connection().await?;
        let now = clock(connection).await?;
        let theirs = script_token::table
            .filter(script_token::school_id.eq(school))
            .filter(script_token::coach_id.eq(person));
        diesel::delete(theirs.filter(script_token::until.le(now)))
            .execute(connection)
            .await?;
        let has: i64 = theirs.count().get_result(connection).await?;
        if has >= MOST_SCRIPTS {
            return Err(StoreError::Conflict(format!(
                "you have {has} tokens for scripts; take one back before you make another"
            )));
        }
        diesel::insert_into(script_token::table)
            .values((
                script_token::school_id.eq(school),
                script_token::id.eq(new.id),
                script_token::coach_id.eq(person),
                script_token::name.eq(&new.name),
                script_token::role.eq(Key(new.role)),
                script_token::changes.eq(new.changes),
                script_token::token_sha256.eq(&new.sha256),
                script_token::until.eq(now + Duration::seconds((new.days * 86_400.0) as i64)),
            ))
            .execute(connection)
            .await?;
        Ok(())
    }

    /// Takes a person's token back: it opens nothing from now on.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when they have none such; [`StoreError::Database`].
    pub async fn take_back_script_token(
        &self,
        school: Uuid,
        person: Uuid,
        id: Uuid,
    ) -> Result<(), StoreError> {
        let theirs = script_token::table
            .find((school, id))
            .filter(script_token::coach_id.eq(person));
        let gone = diesel::delete(theirs)
            .execute(&mut self.owner_connection().await?)
            .await?;
        match gone {
            0 => Err(StoreError::NotFound("token")),
            _ => Ok(()),
        }
    }

    /// Who a script speaks for, unless its token ended or its maker left.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn script_speaks_for(
        &self,
        token_sha256: &[u8],
    ) -> Result<Option<SignedIn>, StoreError> {
        let connection = &mut self.owner_connection().await?;
        type Row = (
            (Uuid, Uuid, Key<Role>, bool, Option<DateTime<Utc>>),
            (Uuid, String, Key<Role>),
            String,
        );
        let found: Option<Row> = script_token::table
            .inner_join(
                coach::table.on(coach::school_id
                    .eq(script_token::school_id)
                    .and(coach::id.eq(script_token::coach_id))),
            )
            .inner_join(school::table.on(school::school_id.eq(script_token::school_id)))
            .filter(script_token::token_sha256.eq(token_sha256))
            .filter(script_token::until.gt(diesel::dsl::now))
            .filter(coach::left_at.is_null())
            .select((
                (
                    script_token::school_id,
                    script_token::id,
                    script_token::role,
                    script_token::changes,
                    script_token::used_at,
                ),
                (coach::id, coach::name, coach::role),
                school::name,
            ))
            .first(connection)
            .await
            .optional()?;
        let Some((token, (coach_id, coach, Key(theirs)), school)) = found else {
            return Ok(None);
        };
        let (school_id, id, Key(role), changes, used_at) = token;
        let now = Utc::now();
        if used_at.is_none_or(|used| now - used > Duration::seconds(NOTE_USE_S)) {
            diesel::update(script_token::table.find((school_id, id)))
                .set(script_token::used_at.eq(now))
                .execute(connection)
                .await?;
        }
        Ok(Some(SignedIn {
            school_id,
            school,
            coach_id,
            coach,
            role: theirs.at_most(role),
            web_session: None,
            script: Some(Script { id, changes }),
        }))
    }

    /// The role in which a script speaks still, without its being used now; none when it
    /// does not.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn script_still_speaks(
        &self,
        school: Uuid,
        id: Uuid,
    ) -> Result<Option<Role>, StoreError> {
        let roles: Option<(Key<Role>, Key<Role>)> = script_token::table
            .inner_join(
                coach::table.on(coach::school_id
                    .eq(script_token::school_id)
                    .and(coach::id.eq(script_token::coach_id))),
            )
            .filter(script_token::school_id.eq(school))
            .filter(script_token::id.eq(id))
            .filter(script_token::until.gt(diesel::dsl::now))
            .filter(coach::left_at.is_null())
            .select((coach::role, script_token::role))
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?;
        Ok(roles.map(|(Key(theirs), Key(most))| theirs.at_most(most)))
    }
}
