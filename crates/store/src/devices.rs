//! Devices that have spoken to the intake.

use crate::schema::device;
use crate::{Store, StoreError};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

impl Store {
    /// Notes that the device of this name is here, and gives its identifier.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn greet_device(
        &self,
        school: Uuid,
        name: &str,
        kind: &str,
    ) -> Result<Uuid, StoreError> {
        Ok(diesel::insert_into(device::table)
            .values((
                device::school_id.eq(school),
                device::id.eq(Uuid::now_v7()),
                device::name.eq(name),
                device::kind.eq(kind),
            ))
            .on_conflict((device::school_id, device::name))
            .do_update()
            .set((device::kind.eq(kind), device::seen_at.eq(diesel::dsl::now)))
            .returning(device::id)
            .get_result(&mut self.connection().await?)
            .await?)
    }
}
