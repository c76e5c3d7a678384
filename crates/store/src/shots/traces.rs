//! Whole traces of a force plate.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::live::announce;
use crate::base::packed_trace::{alike, kept, read};
use crate::base::schema::{reading, shot, trace};
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::shots::trace::{Marks, Trace};
use uuid::Uuid;

impl Store {
    /// Keeps a trace beside the shot that this device told of under this number; the same again
    /// changes nothing. Answers with the shot, and whether it was there before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the device told of no such shot; [`StoreError::Conflict`]
    /// when another trace is kept beside it.
    pub async fn store_trace(
        &self,
        school: Uuid,
        (device, run, sequence): (Uuid, &str, i64),
        told: &Trace,
    ) -> Result<(Uuid, bool), StoreError> {
        let (run, told) = (run.to_owned(), told.clone());
        self.connection()
            .await?
            .transaction(async |connection| {
                let of: Option<(Uuid, Uuid)> = reading::table
                    .inner_join(
                        shot::table.on(shot::school_id
                            .eq(reading::school_id)
                            .and(shot::id.eq(reading::shot_id))),
                    )
                    .filter(reading::school_id.eq(school))
                    .filter(reading::device_id.eq(device))
                    .filter(reading::run.eq(&run))
                    .filter(reading::sequence.eq(sequence))
                    .select((shot::id, shot::session_id))
                    .first(connection)
                    .await
                    .optional()?;
                let (shot, session) = of.ok_or(StoreError::NotFound("shot"))?;
                let again = keep(connection, school, shot, &told).await?;
                if !again {
                    announce(connection, school, session).await?;
                }
                Ok((shot, again))
            })
            .await
    }

    /// Keeps traces beside shots of a session; of each, why not, where it is not. The same again
    /// changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn store_traces(
        &self,
        school: Uuid,
        session: Uuid,
        told: Vec<(Uuid, Trace)>,
    ) -> Result<Vec<Result<(), StoreError>>, StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                let mut kept = Vec::new();
                for (shot, trace) in &told {
                    kept.push(match keep(connection, school, *shot, trace).await {
                        Ok(_) => Ok(()),
                        Err(StoreError::Conflict(why)) => Err(StoreError::Conflict(why)),
                        Err(other) => return Err(other),
                    });
                }
                announce(connection, school, session).await?;
                Ok(kept)
            })
            .await
    }

    /// The trace of a shot of this session.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without one.
    pub async fn trace_of(&self, school: Uuid, of: (Uuid, Uuid)) -> Result<Trace, StoreError> {
        trace_of(&mut *self.connection().await?, school, of).await
    }

    /// Marks the trace of a shot anew.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without such a trace; [`StoreError::Invalid`] for marks that
    /// cannot be.
    pub async fn mark_trace(
        &self,
        school: Uuid,
        (session, shot): (Uuid, Uuid),
        marks: Marks,
    ) -> Result<(), StoreError> {
        self.connection()
            .await?
            .transaction(async |connection| {
                let there = trace_of(connection, school, (session, shot)).await?;
                let marked = there.marked(marks)?;
                diesel::update(trace::table)
                    .filter(trace::school_id.eq(school).and(trace::shot_id.eq(shot)))
                    .set(trace::packed.eq(kept(&marked)))
                    .execute(connection)
                    .await?;
                announce(connection, school, session).await
            })
            .await
    }

    /// The traces of a session by shot; what cannot be read is left out.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn traces_of(
        &self,
        school: Uuid,
        session: Uuid,
    ) -> Result<Vec<(Uuid, Trace)>, StoreError> {
        let rows: Vec<(Uuid, Vec<u8>)> = trace::table
            .inner_join(
                shot::table.on(shot::school_id
                    .eq(trace::school_id)
                    .and(shot::id.eq(trace::shot_id))),
            )
            .filter(
                trace::school_id
                    .eq(school)
                    .and(shot::session_id.eq(session)),
            )
            .order((shot::hit_at, shot::id))
            .select((trace::shot_id, trace::packed))
            .load(&mut self.connection().await?)
            .await?;
        let rows = rows.into_iter();
        Ok(rows
            .filter_map(|(shot, packed)| Some((shot, read(&packed)?)))
            .collect())
    }
}

/// Keeps a trace beside a shot; answers whether it was there before.
async fn keep(
    connection: &mut Connection,
    school: Uuid,
    shot: Uuid,
    told: &Trace,
) -> Result<bool, StoreError> {
    let there: Option<Vec<u8>> = trace::table
        .filter(trace::school_id.eq(school).and(trace::shot_id.eq(shot)))
        .select(trace::packed)
        .first(connection)
        .await
        .optional()?;
    match there {
        Some(there) if read(&there).is_some_and(|there| alike(&there, told)) => return Ok(true),
        Some(_) => return Err(StoreError::Conflict("another trace is kept of it".into())),
        None => {}
    }
    diesel::insert_into(trace::table)
        .values((
            trace::school_id.eq(school),
            trace::shot_id.eq(shot),
            trace::packed.eq(kept(told)),
        ))
        .execute(connection)
        .await?;
    Ok(false)
}

async fn trace_of(
    connection: &mut Connection,
    school: Uuid,
    (session, shot): (Uuid, Uuid),
) -> Result<Trace, StoreError> {
    let packed: Option<Vec<u8>> = trace::table
        .inner_join(
            shot::table.on(shot::school_id
                .eq(trace::school_id)
                .and(shot::id.eq(trace::shot_id))),
        )
        .filter(trace::school_id.eq(school).and(trace::shot_id.eq(shot)))
        .filter(shot::session_id.eq(session))
        .select(trace::packed)
        .first(connection)
        .await
        .optional()?;
    let packed = packed.and_then(|packed| read(&packed));
    packed.ok_or(StoreError::NotFound("trace"))
}
