//! The school and the coach who speaks for it.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::{coach, school};
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use crate::school::people::signed_in_as;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::school::access::Role;
use uuid::Uuid;

impl Store {
    /// The owner of the first school: for the command line and the demo.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when no school was founded yet.
    pub async fn founder(&self) -> Result<SignedIn, StoreError> {
        let connection = &mut self.owner_connection().await?;
        let found: Option<(Uuid, Uuid)> = coach::table
            .inner_join(school::table.on(school::school_id.eq(coach::school_id)))
            .filter(coach::role.eq(Key(Role::Owner)))
            .order((school::created_at, school::school_id, coach::id))
            .select((coach::school_id, coach::id))
            .first(connection)
            .await
            .optional()?;
        let (school, person) = found.ok_or(StoreError::NotFound("school"))?;
        signed_in_as(connection, school, person).await
    }

    /// A school's name.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn school_name(&self, id: Uuid) -> Result<String, StoreError> {
        school::table
            .find(id)
            .select(school::name)
            .first(&mut self.connection().await?)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("school"))
    }

    /// Whether one of the schools is the demo.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn has_demo(&self) -> Result<bool, StoreError> {
        let found: i64 = school::table
            .filter(school::demo)
            .count()
            .get_result(&mut self.owner_connection().await?)
            .await?;
        Ok(found > 0)
    }

    /// Whether this school is the demo.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn is_demo(&self, id: Uuid) -> Result<bool, StoreError> {
        let found = school::table.find(id).filter(school::demo);
        Ok(diesel::select(diesel::dsl::exists(found))
            .get_result(&mut self.connection().await?)
            .await?)
    }

    /// Notes that a school is the demo.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn mark_demo(&self, school: Uuid) -> Result<(), StoreError> {
        diesel::update(school::table.find(school))
            .set(school::demo.eq(true))
            .execute(&mut self.owner_connection().await?)
            .await?;
        Ok(())
    }

    /// Founds the school with its first coach, who cannot sign in yet, unless there is one
    /// already; two that come together found one.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn found_school(&self, name: &str, coach_name: &str) -> Result<SignedIn, StoreError> {
        let (name, coach_name) = (name.to_owned(), coach_name.to_owned());
        self.owner_connection()
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
                            coach::role.eq(Key(Role::Owner)),
                        ))
                        .execute(connection)
                        .await?;
                }
                Ok(())
            })
            .await?;
        self.founder().await
    }
}
