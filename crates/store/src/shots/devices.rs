//! The school's devices: who they are, how they are trusted, whether they are there.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::live::{announce, announce_all, tell};
use crate::base::schema::{device, reading};
use crate::base::store::Store;
use chrono::{DateTime, SubsecRound, Utc};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use serde::de::DeserializeOwned;
use std::collections::BTreeSet;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::reading::Offsets;
use tally_core::vocabulary::quantity::Quantity;
use uuid::Uuid;

/// A device.
#[derive(Debug, Clone, PartialEq)]
pub struct Device {
    /// Identifier.
    pub id: Uuid,
    /// What the school calls it.
    pub name: String,
    /// Its kind.
    pub kind: DeviceKind,
    /// Added to its values, internal units.
    pub offsets: Offsets,
    /// Values it measures, as it last said.
    pub measures: BTreeSet<Quantity>,
    /// Values it calculates, as it last said.
    pub calculates: BTreeSet<Quantity>,
    /// The session that its shots go to, when one was chosen.
    pub session_id: Option<Uuid>,
    /// Since when it is connected; absent while it is not.
    pub connected_at: Option<DateTime<Utc>>,
    /// When it last said something.
    pub heard_at: Option<DateTime<Utc>>,
    /// How far its clock is ahead of ours, s, when it told its time.
    pub clock_ahead_s: Option<f64>,
    /// Whether it is simulated.
    pub practice: bool,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = device)]
struct Row {
    school_id: Uuid,
    id: Uuid,
    name: String,
    kind: Key<DeviceKind>,
    offsets: serde_json::Value,
    measures: serde_json::Value,
    calculates: serde_json::Value,
    session_id: Option<Uuid>,
    connected_at: Option<DateTime<Utc>>,
    heard_at: Option<DateTime<Utc>>,
    clock_ahead_s: Option<f64>,
    practice: bool,
}

impl From<Row> for Device {
    fn from(row: Row) -> Self {
        Self {
            id: row.id,
            name: row.name,
            kind: row.kind.0,
            offsets: lenient(row.offsets),
            measures: lenient(row.measures),
            calculates: lenient(row.calculates),
            session_id: row.session_id,
            connected_at: row.connected_at,
            heard_at: row.heard_at,
            clock_ahead_s: row.clock_ahead_s,
            practice: row.practice,
        }
    }
}

/// What a program of another version stored and this one cannot read counts as none.
fn lenient<T: DeserializeOwned + Default>(json: serde_json::Value) -> T {
    serde_json::from_value(json).unwrap_or_default()
}

/// What a device says of itself when it connects.
#[derive(Debug, Clone, PartialEq)]
pub struct Greeting {
    /// Its kind.
    pub kind: DeviceKind,
    /// Values it measures.
    pub measures: BTreeSet<Quantity>,
    /// Values it calculates.
    pub calculates: BTreeSet<Quantity>,
    /// How far its clock is ahead of ours, s, when it told its time.
    pub clock_ahead_s: Option<f64>,
}

impl Store {
    /// The school's devices by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn devices(&self, school: Uuid) -> Result<Vec<Device>, StoreError> {
        let rows: Vec<Row> = device::table
            .filter(device::school_id.eq(school))
            .order((device::name, device::id))
            .select(Row::as_select())
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().map(Device::from).collect())
    }

    /// By name, the devices whose shots go to a session, and those that are chosen for none.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn devices_for(
        &self,
        school: Uuid,
        session: Uuid,
    ) -> Result<Vec<Device>, StoreError> {
        let here = device::session_id
            .eq(session)
            .or(device::session_id.is_null());
        let rows: Vec<Row> = device::table
            .filter(device::school_id.eq(school))
            .filter(here)
            .order((device::name, device::id))
            .select(Row::as_select())
            .load(&mut self.connection().await?)
            .await?;
        Ok(rows.into_iter().map(Device::from).collect())
    }

    /// One device.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn device(&self, school: Uuid, id: Uuid) -> Result<Device, StoreError> {
        let row: Option<Row> = device::table
            .filter(device::school_id.eq(school).and(device::id.eq(id)))
            .select(Row::as_select())
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        row.map(Device::from).ok_or(StoreError::NotFound("device"))
    }

    /// Adds a device with the digest of its secret; the same again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when another device has this name.
    pub async fn add_device(
        &self,
        school: Uuid,
        id: Uuid,
        name: &str,
        kind: DeviceKind,
        token_sha256: Option<&[u8]>,
        practice: bool,
    ) -> Result<(), StoreError> {
        let added = diesel::insert_into(device::table)
            .values((
                device::school_id.eq(school),
                device::id.eq(id),
                device::name.eq(name),
                device::kind.eq(Key(kind)),
                device::token_sha256.eq(token_sha256),
                device::practice.eq(practice),
            ))
            .on_conflict_do_nothing()
            .execute(&mut self.connection().await?)
            .await?;
        if added == 0 && self.device(school, id).await.is_err() {
            return Err(StoreError::Conflict(format!(
                "there is already a device called “{name}”; give this one another name"
            )));
        }
        Ok(())
    }

    /// Gives a device another secret; the old one is of no use any more.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn renew_token(
        &self,
        school: Uuid,
        id: Uuid,
        token_sha256: &[u8],
    ) -> Result<(), StoreError> {
        let done = diesel::update(
            device::table.filter(device::school_id.eq(school).and(device::id.eq(id))),
        )
        .set(device::token_sha256.eq(token_sha256))
        .execute(&mut self.connection().await?)
        .await?;
        if done == 0 {
            Err(StoreError::NotFound("device"))
        } else {
            Ok(())
        }
    }

    /// Changes a device's name, offsets, and the session its shots go to.
    ///
    /// # Errors
    /// [`StoreError::NotFound`]; [`StoreError::Conflict`] when another device has this
    /// name.
    pub async fn save_device(
        &self,
        school: Uuid,
        id: Uuid,
        name: &str,
        offsets: &Offsets,
        session: Option<Uuid>,
    ) -> Result<(), StoreError> {
        let offsets = serde_json::to_value(offsets).expect("offsets are plain data");
        if let Some(session) = session {
            self.session(school, session).await?;
        }
        let connection = &mut self.connection().await?;
        let done = diesel::update(
            device::table.filter(device::school_id.eq(school).and(device::id.eq(id))),
        )
        .set((
            device::name.eq(name),
            device::offsets.eq(offsets),
            device::session_id.eq(session),
        ))
        .execute(connection)
        .await
        .map_err(|error| match error {
            diesel::result::Error::DatabaseError(
                diesel::result::DatabaseErrorKind::UniqueViolation,
                _,
            ) => StoreError::Conflict(format!("there is already a device called “{name}”")),
            other => other.into(),
        })?;
        if done == 0 {
            return Err(StoreError::NotFound("device"));
        }
        announce_all(connection, school).await
    }

    /// Lets a device's shots go to a session, and tells the screens that show the device: it changes
    /// nothing else of it, nor any figure.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub async fn send_to(&self, school: Uuid, id: Uuid, session: Uuid) -> Result<(), StoreError> {
        self.session(school, session).await?;
        let connection = &mut self.connection().await?;
        connection
            .transaction(async |connection| {
                let of = device::school_id.eq(school).and(device::id.eq(id));
                let before: Option<(Option<Uuid>, Option<DateTime<Utc>>)> = device::table
                    .filter(of)
                    .select((device::session_id, device::connected_at))
                    .for_update()
                    .first(connection)
                    .await
                    .optional()?;
                let (before, connected) = before.ok_or(StoreError::NotFound("device"))?;
                diesel::update(device::table.filter(of))
                    .set(device::session_id.eq(session))
                    .execute(connection)
                    .await?;
                match before {
                    // One that is there and was chosen for no session is shown by all of them.
                    None if connected.is_some() => return announce_all(connection, school).await,
                    Some(other) if other != session => tell(connection, school, other).await?,
                    _ => {}
                }
                tell(connection, school, session).await
            })
            .await
    }

    /// Takes a device away unless a reading came in by it; says whether it went.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn drop_unused_device(&self, school: Uuid, id: Uuid) -> Result<bool, StoreError> {
        let read =
            reading::table.filter(reading::school_id.eq(school).and(reading::device_id.eq(id)));
        let connection = &mut self.connection().await?;
        let gone = diesel::delete(
            device::table
                .filter(device::school_id.eq(school).and(device::id.eq(id)))
                .filter(diesel::dsl::not(diesel::dsl::exists(read))),
        )
        .execute(connection)
        .await?;
        Ok(gone > 0)
    }

    /// The device with this secret, with its school.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when no device has it.
    pub async fn device_of_token(&self, token_sha256: &[u8]) -> Result<(Uuid, Device), StoreError> {
        let row: Option<Row> = device::table
            .filter(device::token_sha256.eq(token_sha256))
            .select(Row::as_select())
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?;
        let row = row.ok_or(StoreError::NotFound("device"))?;
        Ok((row.school_id, row.into()))
    }

    /// Notes that a device is here, and what it says of itself. Returns since when.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn greet_device(
        &self,
        school: Uuid,
        id: Uuid,
        session: Uuid,
        said: &Greeting,
    ) -> Result<DateTime<Utc>, StoreError> {
        let json =
            |set: &BTreeSet<Quantity>| serde_json::to_value(set).expect("names are plain data");
        // As PostgreSQL keeps it, so that it is found again.
        let since = Utc::now().trunc_subsecs(6);
        let connection = &mut self.connection().await?;
        diesel::update(device::table.filter(device::school_id.eq(school).and(device::id.eq(id))))
            .set((
                device::kind.eq(Key(said.kind)),
                device::measures.eq(json(&said.measures)),
                device::calculates.eq(json(&said.calculates)),
                device::clock_ahead_s.eq(said.clock_ahead_s),
                device::seen_at.eq(diesel::dsl::now),
                device::connected_at.eq(Some(since)),
                device::heard_at.eq(Some(since)),
            ))
            .execute(connection)
            .await?;
        announce(connection, school, session).await?;
        Ok(since)
    }

    /// Notes that a device is still there.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn device_heard(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        diesel::update(device::table.filter(device::school_id.eq(school).and(device::id.eq(id))))
            .set(device::heard_at.eq(Some(Utc::now())))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Notes that a device that came at `since` went away, unless it came again.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn device_left(
        &self,
        school: Uuid,
        id: Uuid,
        session: Uuid,
        since: DateTime<Utc>,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        diesel::update(
            device::table.filter(
                device::school_id
                    .eq(school)
                    .and(device::id.eq(id))
                    .and(device::connected_at.eq(since)),
            ),
        )
        .set(device::connected_at.eq(None::<DateTime<Utc>>))
        .execute(connection)
        .await?;
        tell(connection, school, session).await
    }
}
