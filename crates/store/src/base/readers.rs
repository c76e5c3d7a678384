//! Copies of the database that are only read, and how far they must have come.

use crate::base::connection::Connection;
use crate::base::error::StoreError;
use crate::base::pools::pool;
use crate::base::scoped::Held;
use diesel::QueryableByName;
use diesel::sql_types::{Bool, Text};
use diesel_async::pooled_connection::RecyclingMethod;
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::{AnsiTransactionManager, RunQueryDsl, TransactionManager};
use std::fmt;
use std::num::ParseIntError;
use std::str::FromStr;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// How long a copy that is behind is waited for, and how often it is asked.
const CATCHES_UP_WITHIN: Duration = Duration::from_millis(60);
const ASKED_EVERY: Duration = Duration::from_millis(5);
/// How long a connection to it is waited for: the first database has what it has.
const PATIENCE: Duration = Duration::from_millis(500);
/// How long a copy that does not answer is left alone.
const LEFT_ALONE: Duration = Duration::from_secs(5);

/// A place in the database's log: whoever has come as far sees every change before it. As
/// PostgreSQL writes it, two hexadecimal numbers with a stroke between.
///
/// ```
/// use tally_store::base::readers::Position;
/// let at: Position = "1/16B3748".parse().unwrap();
/// assert!(at > "0/FFFFFFFF".parse().unwrap());
/// assert_eq!(at.to_string(), "1/16B3748");
/// assert!("16B3748".parse::<Position>().is_err());
/// ```
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord)]
pub struct Position(u64);

impl FromStr for Position {
    type Err = ParseIntError;

    fn from_str(text: &str) -> Result<Position, ParseIntError> {
        let (high, low) = text.split_once('/').unwrap_or((text, ""));
        let part = |text| u32::from_str_radix(text, 16).map(u64::from);
        Ok(Position((part(high)? << 32) | part(low)?))
    }
}

impl fmt::Display for Position {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:X}/{:X}", self.0 >> 32, self.0 & 0xFFFF_FFFF)
    }
}

/// Connections to a copy that is only read.
pub(crate) struct Readers {
    pool: Pool<Connection>,
    /// Until when it is left alone.
    alone: Mutex<Option<Instant>>,
}

/// What a copy says of how far it has come, and whose rows may be seen in this transaction.
const SCOPED: &str = "SELECT pg_last_wal_replay_lsn() IS NULL OR NOT pg_is_in_recovery() \
     OR pg_last_wal_replay_lsn() >= $3::pg_lsn AS fresh \
     FROM (SELECT set_config('transaction_read_only', 'on', true), set_config('jit', 'off', true), \
         set_config('TimeZone', 'UTC', true), \
         set_config('tally.school', $1, true), set_config('tally.coach', $2, true), \
         set_config('role', 'amber_tally_app', true)) AS scoped";

#[derive(QueryableByName)]
struct Told {
    #[diesel(sql_type = Bool)]
    fresh: bool,
}

impl Readers {
    /// Connections to the database at `url`, up to so many. None is used before a transaction, nor
    /// is anything remembered on one after it: a pooler that gives each transaction another of
    /// its own connections may stand between.
    pub(crate) fn new(url: &str, most: usize) -> Result<Readers, StoreError> {
        let connected = |url: String| async move { Connection::pooled(&url).await };
        let pool = pool(url, most, PATIENCE, RecyclingMethod::Fast, connected)?;
        Ok(Readers {
            pool,
            alone: Mutex::default(),
        })
    }

    /// A connection that sees the rows of a school and of a person, and every change before a
    /// position; nothing where the copy is too far behind, or away.
    pub(crate) async fn fresh(&self, [school, person]: [&str; 2], after: Position) -> Option<Held> {
        if self.alone().is_some_and(|until| Instant::now() < until) {
            return None;
        }
        match self.come_as_far([school, person], after).await {
            Ok(fresh) => fresh,
            Err(error) => {
                tracing::warn!(%error, "store: the copy that is read from does not answer; asking the first database");
                *self.alone.lock().unwrap_or_else(PoisonError::into_inner) =
                    Some(Instant::now() + LEFT_ALONE);
                None
            }
        }
    }

    fn alone(&self) -> Option<Instant> {
        *self.alone.lock().unwrap_or_else(PoisonError::into_inner)
    }

    async fn come_as_far(
        &self,
        [school, person]: [&str; 2],
        after: Position,
    ) -> Result<Option<Held>, StoreError> {
        let began = Instant::now();
        let away = |why: String| StoreError::Unreachable(why);
        // One that broke while it lay in the pool is followed by others; they all have then.
        for _ in 0..=self.pool.status().max_size {
            let got = self.pool.get().await;
            let mut connection = got.map_err(|error| away(error.to_string()))?;
            match scoped(&mut connection, [school, person], after, began).await {
                Ok(true) => return Ok(Some(Held::new(connection, true))),
                Ok(false) => {
                    drop(Held::new(connection, true));
                    return Ok(None);
                }
                Err(error) => {
                    tracing::info!(%error, "store: a connection to the copy broke; taking another");
                    drop(Object::take(connection));
                }
            }
        }
        Err(away("every connection to it broke".to_owned()))
    }
}

/// Begins a transaction that only reads and sees the rows of a school and of a person; whether it
/// sees every change before a position.
async fn scoped(
    connection: &mut Connection,
    [school, person]: [&str; 2],
    after: Position,
    began: Instant,
) -> Result<bool, diesel::result::Error> {
    AnsiTransactionManager::begin_transaction(connection).await?;
    loop {
        let Told { fresh } = diesel::sql_query(SCOPED)
            .bind::<Text, _>(school)
            .bind::<Text, _>(person)
            .bind::<Text, _>(after.to_string())
            .get_result(connection)
            .await?;
        if fresh || began.elapsed() > CATCHES_UP_WITHIN {
            return Ok(fresh);
        }
        tokio::time::sleep(ASKED_EVERY).await;
    }
}
