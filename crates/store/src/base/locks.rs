//! Taking turns, and the clock that all go by: what must not happen twice at once.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::schema::session;
use chrono::{DateTime, Utc};
use diesel::QueryResult;
use diesel::prelude::*;
use diesel::sql_types::Text;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

/// Waits until nobody else's transaction is about this, and holds it until this one ends.
pub(crate) async fn take_turns(connection: &mut Connection, about: &str) -> QueryResult<()> {
    diesel::sql_query("SELECT pg_advisory_xact_lock(hashtextextended($1, 0))")
        .bind::<Text, _>(about)
        .execute(connection)
        .await?;
    Ok(())
}

/// Holds a session still until the transaction ends, while something is added to it.
/// Answers when it ended, if it did.
pub(crate) async fn lock_session(
    connection: &mut Connection,
    school: Uuid,
    id: Uuid,
) -> Result<Option<DateTime<Utc>>, StoreError> {
    session::table
        .filter(session::school_id.eq(school).and(session::id.eq(id)))
        .select(session::ended_at)
        .for_update()
        .first(connection)
        .await
        .optional()?
        .ok_or(StoreError::NotFound("session"))
}

/// The database's clock, by which all tries are judged, whichever server took them.
pub(crate) async fn clock(connection: &mut Connection) -> Result<DateTime<Utc>, StoreError> {
    Ok(diesel::select(clock_timestamp())
        .get_result(connection)
        .await?)
}

#[diesel::declare_sql_function]
extern "SQL" {
    /// The database's clock as it stands, also late in a transaction.
    fn clock_timestamp() -> Timestamptz;
}
