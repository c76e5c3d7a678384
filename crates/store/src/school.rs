//! The school and the coach who speaks for it.

use crate::schema::{coach, school};
use crate::{Store, StoreError};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use uuid::Uuid;

/// A coach, and the school whose data they may see.
#[derive(Debug, Clone, PartialEq, Eq, Queryable)]
pub struct SignedIn {
    /// The school.
    pub school_id: Uuid,
    /// Its name.
    pub school: String,
    /// The coach.
    pub coach_id: Uuid,
    /// Their name.
    pub coach: String,
}

impl Store {
    /// The one coach of the one school, until coaches sign in.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when no school was founded yet.
    pub async fn only_coach(&self) -> Result<SignedIn, StoreError> {
        let found = coach::table
            .inner_join(school::table.on(school::school_id.eq(coach::school_id)))
            .order(school::created_at)
            .select((school::school_id, school::name, coach::id, coach::name))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        found.ok_or(StoreError::NotFound("school"))
    }

    /// Founds the school with its first coach, unless there is one already; two
    /// servers that start together found one.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn found_school(&self, name: &str, coach_name: &str) -> Result<SignedIn, StoreError> {
        let (name, coach_name) = (name.to_owned(), coach_name.to_owned());
        self.connection()
            .await?
            .transaction::<_, StoreError, _>(async |connection| {
                diesel::sql_query("LOCK TABLE school IN SHARE ROW EXCLUSIVE MODE")
                    .execute(connection)
                    .await?;
                let schools: i64 = school::table.count().get_result(connection).await?;
                if schools == 0 {
                    let school_id = Uuid::now_v7();
                    diesel::insert_into(school::table)
                        .values((school::school_id.eq(school_id), school::name.eq(name)))
                        .execute(connection)
                        .await?;
                    diesel::insert_into(coach::table)
                        .values((
                            coach::school_id.eq(school_id),
                            coach::id.eq(Uuid::now_v7()),
                            coach::name.eq(coach_name),
                        ))
                        .execute(connection)
                        .await?;
                }
                Ok(())
            })
            .await?;
        self.only_coach().await
    }

    /// Gives the school and its coach other names.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn rename_school(
        &self,
        of: &SignedIn,
        name: &str,
        coach_name: &str,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        diesel::update(school::table.filter(school::school_id.eq(of.school_id)))
            .set(school::name.eq(name))
            .execute(connection)
            .await?;
        diesel::update(
            coach::table.filter(
                coach::school_id
                    .eq(of.school_id)
                    .and(coach::id.eq(of.coach_id)),
            ),
        )
        .set(coach::name.eq(coach_name))
        .execute(connection)
        .await?;
        Ok(())
    }
}
