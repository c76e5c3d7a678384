//! What is owed to those whose records are kept: consent, who saw what, and until when.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::{audit, coach, player, session};
use crate::base::store::Store;
use chrono::{DateTime, Duration, NaiveDate, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::school::audited::Audited;
use uuid::Uuid;

/// Within how long a second reading of the same child's records by the same person is
/// part of the first, min.
const ONE_READING_MIN: i64 = 60;

/// A guardian's consent.
#[derive(Debug, Clone, PartialEq, Eq, Queryable)]
pub struct Consent {
    /// Who gave it; empty when nobody did.
    pub guardian: String,
    /// When.
    pub given_on: Option<NaiveDate>,
}

/// Which rows of the audit are wanted; absent parts leave it open.
#[derive(Debug, Clone, Copy, Default)]
pub struct AuditFilter {
    /// Who did it.
    pub person: Option<Uuid>,
    /// Whose records.
    pub player: Option<Uuid>,
    /// What was done.
    pub act: Option<Audited>,
    /// Rows before this one.
    pub before: Option<Uuid>,
}

/// A row of the audit.
#[derive(Debug, Clone, PartialEq, Eq, Queryable)]
pub struct AuditRow {
    /// Identifier; later rows have greater ones.
    pub id: Uuid,
    /// When.
    pub at: DateTime<Utc>,
    /// Who.
    pub person: String,
    /// What.
    #[diesel(deserialize_as = Key<Audited>)]
    pub act: Audited,
    /// Whose records, when the player is still there.
    pub player: Option<String>,
    /// In more words.
    pub about: String,
}

impl Store {
    /// The consent that a player's guardian gave.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn consent(&self, school: Uuid, id: Uuid) -> Result<Consent, StoreError> {
        player::table
            .find((school, id))
            .select((player::guardian, player::consent_on))
            .first(&mut self.connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("player"))
    }

    /// Players born after a year without a guardian's consent: who, by what name, and since
    /// when they are kept.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn without_consent(
        &self,
        school: Uuid,
        born_after: i32,
    ) -> Result<Vec<(Uuid, String, DateTime<Utc>)>, StoreError> {
        Ok(player::table
            .filter(player::school_id.eq(school))
            .filter(player::born.gt(born_after))
            .filter(player::consent_on.is_null())
            .filter(player::archived_at.is_null())
            .order((player::name, player::id))
            .select((player::id, player::name, player::created_at))
            .load(&mut self.connection().await?)
            .await?)
    }

    /// Notes a guardian's consent; without a day it is withdrawn.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn save_consent(
        &self,
        school: Uuid,
        id: Uuid,
        consent: &Consent,
    ) -> Result<(), StoreError> {
        let done = diesel::update(player::table.find((school, id)))
            .set((
                player::guardian.eq(&consent.guardian),
                player::consent_on.eq(consent.given_on),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        if done == 1 {
            Ok(())
        } else {
            Err(StoreError::NotFound("player"))
        }
    }

    /// Notes what a person did.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn note(
        &self,
        school: Uuid,
        person: Uuid,
        act: Audited,
        of: Option<Uuid>,
        about: &str,
    ) -> Result<(), StoreError> {
        diesel::insert_into(audit::table)
            .values((
                audit::school_id.eq(school),
                audit::id.eq(Uuid::now_v7()),
                audit::coach_id.eq(person),
                audit::act.eq(Key(act)),
                audit::player_id.eq(of),
                audit::about.eq(about),
            ))
            .execute(&mut self.first().connection().await?)
            .await?;
        Ok(())
    }

    /// Notes that a person read the records of those of these players who were born after
    /// `born_after`, each once an hour.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn note_children_read(
        &self,
        school: Uuid,
        person: Uuid,
        players: &[Uuid],
        born_after: i32,
    ) -> Result<(), StoreError> {
        if players.is_empty() {
            return Ok(());
        }
        let children: Vec<Uuid> = player::table
            .filter(player::school_id.eq(school))
            .filter(player::id.eq_any(players))
            .filter(player::born.gt(born_after))
            .select(player::id)
            .load(&mut self.connection().await?)
            .await?;
        if children.is_empty() {
            return Ok(());
        }
        let first = self.first();
        let lately = Utc::now() - Duration::minutes(ONE_READING_MIN);
        let noted: Vec<Option<Uuid>> = audit::table
            .filter(audit::school_id.eq(school))
            .filter(audit::coach_id.eq(person))
            .filter(audit::act.eq(Key(Audited::ChildRead)))
            .filter(audit::at.gt(lately))
            .filter(audit::player_id.eq_any(&children))
            .select(audit::player_id)
            .load(&mut first.connection().await?)
            .await?;
        for child in children
            .into_iter()
            .filter(|id| !noted.contains(&Some(*id)))
        {
            self.note(school, person, Audited::ChildRead, Some(child), "")
                .await?;
        }
        Ok(())
    }

    /// Whose session it is, when it may be seen.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn player_of_session(&self, school: Uuid, id: Uuid) -> Result<Uuid, StoreError> {
        session::table
            .find((school, id))
            .select(session::player_id)
            .first(&mut self.connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("session"))
    }

    /// The latest `most` wanted rows of the audit, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn audit(
        &self,
        school: Uuid,
        wanted: AuditFilter,
        most: i64,
    ) -> Result<Vec<AuditRow>, StoreError> {
        let mut rows = audit::table
            .inner_join(
                coach::table.on(coach::school_id
                    .eq(audit::school_id)
                    .and(coach::id.eq(audit::coach_id))),
            )
            .left_join(
                player::table.on(player::school_id
                    .eq(audit::school_id)
                    .and(player::id.nullable().eq(audit::player_id))),
            )
            .filter(audit::school_id.eq(school))
            .order(audit::id.desc())
            .limit(most)
            .select((
                audit::id,
                audit::at,
                coach::name,
                audit::act,
                player::name.nullable(),
                audit::about,
            ))
            .into_boxed();
        if let Some(person) = wanted.person {
            rows = rows.filter(audit::coach_id.eq(person));
        }
        if let Some(player) = wanted.player {
            rows = rows.filter(audit::player_id.eq(player));
        }
        if let Some(act) = wanted.act {
            rows = rows.filter(audit::act.eq(Key(act)));
        }
        if let Some(before) = wanted.before {
            rows = rows.filter(audit::id.lt(before));
        }
        Ok(rows.load(&mut self.connection().await?).await?)
    }

    /// Players whose last session, or whose being added, lies before `before`.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn players_unseen_since(
        &self,
        school: Uuid,
        before: DateTime<Utc>,
    ) -> Result<Vec<(Uuid, String, DateTime<Utc>)>, StoreError> {
        type Row = (Uuid, String, DateTime<Utc>, Option<DateTime<Utc>>);
        let rows: Vec<Row> = player::table
            .filter(player::school_id.eq(school))
            .filter(
                player::last_session_at
                    .lt(before)
                    .or(player::last_session_at
                        .is_null()
                        .and(player::created_at.lt(before))),
            )
            .order((player::name, player::id))
            .select((
                player::id,
                player::name,
                player::created_at,
                player::last_session_at,
            ))
            .load(&mut self.connection().await?)
            .await?;
        let unseen = rows.into_iter();
        let unseen = unseen.map(|(id, name, added, last)| (id, name, last.unwrap_or(added)));
        Ok(unseen.collect())
    }
}
