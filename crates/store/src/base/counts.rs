//! How many shots there are.

use crate::base::error::StoreError;
use crate::base::schema::shot;
use diesel::dsl::count_star;
use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use std::collections::HashMap;
use uuid::Uuid;

/// How many shots each of some sessions has; those without are left out.
pub(crate) async fn count_shots(
    connection: &mut AsyncPgConnection,
    school: Uuid,
    sessions: &[Uuid],
) -> Result<HashMap<Uuid, i64>, StoreError> {
    let counts: Vec<(Uuid, i64)> = shot::table
        .filter(
            shot::school_id
                .eq(school)
                .and(shot::session_id.eq_any(sessions)),
        )
        .group_by(shot::session_id)
        .select((shot::session_id, count_star()))
        .load(connection)
        .await?;
    Ok(counts.into_iter().collect())
}
