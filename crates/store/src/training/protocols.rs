//! Protocols: those that come with the house, as the school changed them, and its own.

use crate::base::error::StoreError;
use crate::base::json::from_json;
use crate::base::schema::protocol;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::training::house_protocols::house_protocols;
use tally_core::training::protocol::Protocol;
use uuid::Uuid;

/// A protocol of a school.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredProtocol {
    /// Identifier.
    pub id: Uuid,
    /// What it asks for.
    pub protocol: Protocol,
    /// Whether it comes with the house.
    pub of_house: bool,
    /// Whether the school changed or made it.
    pub own: bool,
    /// Whether it is proposed no more; sessions held by it still name it.
    pub dropped: bool,
}

impl Store {
    /// Every protocol, dropped ones too: those that come with the house first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn protocols(&self, school: Uuid) -> Result<Vec<StoredProtocol>, StoreError> {
        let rows: Vec<(Uuid, serde_json::Value, bool)> = protocol::table
            .filter(protocol::school_id.eq(school))
            .order((protocol::saved_at, protocol::id))
            .select((
                protocol::id,
                protocol::body,
                protocol::dropped_at.is_not_null(),
            ))
            .load(&mut self.connection().await?)
            .await?;
        let mut all: Vec<StoredProtocol> = house_protocols()
            .into_iter()
            .map(|(id, protocol)| StoredProtocol {
                id,
                protocol,
                of_house: true,
                own: false,
                dropped: false,
            })
            .collect();
        for (id, body, dropped) in rows {
            let protocol: Protocol = from_json(body)?;
            match all.iter_mut().find(|one| one.id == id) {
                Some(ours) if !dropped => {
                    ours.protocol = protocol;
                    ours.own = true;
                }
                // A change of ours that was taken back.
                Some(_) => {}
                None => all.push(StoredProtocol {
                    id,
                    protocol,
                    of_house: false,
                    own: true,
                    dropped,
                }),
            }
        }
        Ok(all)
    }

    /// One protocol.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn protocol(&self, school: Uuid, id: Uuid) -> Result<StoredProtocol, StoreError> {
        let all = self.protocols(school).await?;
        let found = all.into_iter().find(|one| one.id == id);
        found.ok_or(StoreError::NotFound("protocol"))
    }

    /// Keeps a protocol, or the school's change of one of ours.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_protocol(
        &self,
        school: Uuid,
        id: Uuid,
        saved: &Protocol,
    ) -> Result<(), StoreError> {
        let body = serde_json::to_value(saved).expect("a protocol is plain data");
        diesel::insert_into(protocol::table)
            .values((
                protocol::school_id.eq(school),
                protocol::id.eq(id),
                protocol::body.eq(&body),
            ))
            .on_conflict((protocol::school_id, protocol::id))
            .do_update()
            .set((
                protocol::body.eq(&body),
                protocol::saved_at.eq(diesel::dsl::now),
                protocol::dropped_at.eq(None::<chrono::DateTime<chrono::Utc>>),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Drops a protocol of the school, or takes back its change of one of ours.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is nothing of the school's.
    pub async fn drop_protocol(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        let here = protocol::table.find((school, id));
        let done = diesel::update(here.filter(protocol::dropped_at.is_null()))
            .set(protocol::dropped_at.eq(diesel::dsl::now))
            .execute(&mut self.connection().await?)
            .await?;
        if done == 1 {
            Ok(())
        } else {
            Err(StoreError::NotFound("protocol of your school"))
        }
    }
}
