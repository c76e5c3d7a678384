//! The school's records in PostgreSQL, through Diesel.
//!
//! One file a subject; every query takes the school it may see. Derived figures are
//! never stored: [`sessions`] and [`shots`] load what core needs to compute them.

pub mod acts;
pub mod archive;
pub mod bag;
pub mod decisions;
pub mod devices;
pub mod house_rules;
pub mod import_writer;
pub mod imports;
pub mod live;
pub mod plan_templates;
pub mod players;
mod schema;
pub mod school;
pub mod sessions;
pub mod shots;
pub mod target_windows;
#[cfg(feature = "testing")]
pub mod testing;

use diesel_async::pooled_connection::AsyncDieselConnectionManager;
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::{AsyncMigrationHarness, AsyncPgConnection, RunQueryDsl};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// Any number, the same in every copy of the server, so that only one migrates.
const MIGRATION_LOCK: i64 = 0x7A11_1E5C;

/// Why the store could not do what was asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such thing in this school.
    #[error("no such {0}")]
    NotFound(&'static str),
    /// It contradicts what is already stored.
    #[error("{0}")]
    Conflict(String),
    /// The database refused or could not be reached.
    #[error("the database could not do it: {0}")]
    Database(#[from] diesel::result::Error),
    /// The database refused a COPY or a row as JSON.
    #[error("the database could not do it: {0}")]
    Raw(#[from] tokio_postgres::Error),
    /// No connection to the database could be had.
    #[error("the database cannot be reached: {0}")]
    Unreachable(String),
    /// The schema could not be brought up to date.
    #[error("the database could not be migrated: {0}")]
    Migration(String),
}

/// The school's records.
#[derive(Clone)]
pub struct Store {
    pool: Pool<AsyncPgConnection>,
    url: String,
}

impl Store {
    /// Opens the database at `url` and brings its schema up to date. Two servers that
    /// start together take turns.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] and [`StoreError::Migration`].
    pub async fn open(url: &str) -> Result<Store, StoreError> {
        let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new(url);
        let pool = Pool::builder(manager)
            .max_size(16)
            .build()
            .map_err(|e| StoreError::Unreachable(e.to_string()))?;
        let store = Store {
            pool,
            url: url.to_owned(),
        };
        store.migrate().await?;
        Ok(store)
    }

    async fn migrate(&self) -> Result<(), StoreError> {
        let mut connection = self.connection().await?;
        let lock = format!("SELECT pg_advisory_lock({MIGRATION_LOCK})");
        diesel::sql_query(lock).execute(&mut connection).await?;
        let mut harness = AsyncMigrationHarness::new(connection);
        let done = harness
            .run_pending_migrations(MIGRATIONS)
            .map(|_| ())
            .map_err(|e| StoreError::Migration(e.to_string()));
        let mut connection = harness.into_inner();
        let unlock = format!("SELECT pg_advisory_unlock({MIGRATION_LOCK})");
        diesel::sql_query(unlock).execute(&mut connection).await?;
        done
    }

    /// A connection of its own, for what Diesel has no words for: COPY, and rows as
    /// JSON. It closes when the client is dropped.
    async fn raw_connection(&self) -> Result<tokio_postgres::Client, StoreError> {
        let (client, connection) = tokio_postgres::connect(&self.url, tokio_postgres::NoTls)
            .await
            .map_err(|e| StoreError::Unreachable(e.to_string()))?;
        tokio::spawn(async move {
            if let Err(error) = connection.await {
                tracing::warn!(%error, "store: a connection of its own broke");
            }
        });
        Ok(client)
    }

    async fn connection(&self) -> Result<Object<AsyncPgConnection>, StoreError> {
        self.pool
            .get()
            .await
            .map_err(|e| StoreError::Unreachable(e.to_string()))
    }
}

/// What a column of JSON holds.
fn from_json<T: serde::de::DeserializeOwned>(json: serde_json::Value) -> Result<T, StoreError> {
    serde_json::from_value(json)
        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)).into())
}
