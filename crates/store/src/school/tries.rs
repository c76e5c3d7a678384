//! Wrong tries to sign in, and how they slow further ones.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::locks::{clock, take_turns};
use crate::base::schema::wrong_try;
use crate::base::store::Store;
use chrono::{DateTime, Duration, Utc};
use diesel::dsl::{count_star, max};
use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use tally_core::school::access::{TRIES_COUNT_S, Turn, WrongTries, turn};
use uuid::Uuid;

/// A try to sign in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Try {
    /// Counted as wrong until it is taken back.
    Counted {
        /// The try.
        id: Uuid,
        /// Seconds until it is its turn.
        after_s: f64,
    },
    /// Not to be looked at: there were too many wrong ones of late.
    TooSoon {
        /// Seconds until one may come.
        wait_s: f64,
        /// Whether they came from this address, for whatever names.
        from_address: bool,
    },
}

impl Store {
    /// Counts a try to sign in as wrong before it is looked at, so that of many that come
    /// at once no more are looked at than of as many that come one by one. Old ones are
    /// forgotten.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn begin_try(
        &self,
        sign_in_name: &str,
        from_address: &str,
    ) -> Result<Try, StoreError> {
        self.owner_connection()
            .await?
            .transaction(async |connection| {
                // Those for the same name or from the same address take turns, in copies
                // of the server as well.
                take_turns(connection, &format!("from {from_address}")).await?;
                take_turns(connection, &format!("name {sign_in_name}")).await?;
                let now = clock(connection).await?;
                let for_name = tries(connection, now, Which::ForName(sign_in_name)).await?;
                let from = tries(connection, now, Which::From(from_address)).await?;
                let after_s = match turn(for_name, from) {
                    Turn::After(after_s) => after_s,
                    Turn::Refused(wait_s) => {
                        let by_name = turn(for_name, WrongTries::default());
                        return Ok(Try::TooSoon {
                            wait_s,
                            from_address: !matches!(by_name, Turn::Refused(_)),
                        });
                    }
                };
                let id = Uuid::now_v7();
                diesel::insert_into(wrong_try::table)
                    .values((
                        wrong_try::id.eq(id),
                        wrong_try::sign_in_name.eq(sign_in_name),
                        wrong_try::from_address.eq(from_address),
                        wrong_try::tried_at.eq(now + seconds(after_s)),
                    ))
                    .execute(connection)
                    .await?;
                let over = now - Duration::days(1);
                diesel::delete(wrong_try::table.filter(wrong_try::tried_at.lt(over)))
                    .execute(connection)
                    .await?;
                Ok(Try::Counted { id, after_s })
            })
            .await
    }

    /// Takes a try back: it was not wrong.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn take_back_try(&self, id: Uuid) -> Result<(), StoreError> {
        diesel::delete(wrong_try::table.find(id))
            .execute(&mut self.owner_connection().await?)
            .await?;
        Ok(())
    }

    /// Forgets the wrong tries for a name: its owner has come in.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn forget_wrong_tries(&self, sign_in_name: &str) -> Result<(), StoreError> {
        forget_tries(&mut *self.owner_connection().await?, sign_in_name).await
    }
}

pub(crate) async fn forget_tries(
    connection: &mut Connection,
    sign_in_name: &str,
) -> Result<(), StoreError> {
    diesel::delete(wrong_try::table.filter(wrong_try::sign_in_name.eq(sign_in_name)))
        .execute(connection)
        .await?;
    Ok(())
}

#[derive(Clone, Copy)]
enum Which<'a> {
    ForName(&'a str),
    From(&'a str),
}

/// The wrong tries of late.
async fn tries(
    connection: &mut Connection,
    now: DateTime<Utc>,
    which: Which<'_>,
) -> Result<WrongTries, StoreError> {
    let of_late = wrong_try::table
        .filter(wrong_try::tried_at.gt(now - seconds(TRIES_COUNT_S)))
        .select((count_star(), max(wrong_try::tried_at)))
        .into_boxed();
    let these = match which {
        Which::ForName(name) => of_late.filter(wrong_try::sign_in_name.eq(name)),
        Which::From(address) => of_late.filter(wrong_try::from_address.eq(address)),
    };
    let (number, latest): (i64, Option<DateTime<Utc>>) = these.first(connection).await?;
    Ok(WrongTries {
        number,
        latest_s: latest.map_or(0.0, |at| (now - at).num_milliseconds() as f64 / 1000.0),
    })
}

fn seconds(seconds: f64) -> Duration {
    Duration::milliseconds((seconds * 1000.0) as i64)
}
