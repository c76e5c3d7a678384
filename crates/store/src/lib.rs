//! The school's records in PostgreSQL, through Diesel.
//!
//! One file a subject; every query takes the school it may see. Derived figures are
//! never stored: [`sessions`] and [`shots`] load what core needs to compute them.
//!
//! Under the queries lies the database's own row-level security: a [`Store`] sees the
//! rows of the school that it was made for by [`Store::for_school`] or
//! [`Store::for_person`], and none before.

pub mod accounts;
pub mod acts;
pub mod archive;
pub mod bag;
pub mod blocks;
pub mod decisions;
pub mod device_pairs;
pub mod devices;
mod erasure;
pub mod house_rules;
pub mod import_writer;
pub mod imports;
pub mod links;
pub mod live;
pub mod people;
pub mod plan_templates;
pub mod players;
pub mod privacy;
mod schema;
pub mod school;
pub(crate) mod scoped;
pub mod sessions;
pub mod shot_edits;
pub mod shot_intake;
pub mod shots;
pub mod target_windows;
#[cfg(feature = "testing")]
pub mod testing;

use crate::school::SignedIn;
use crate::scoped::{Kept, Scoped};
use diesel::result::DatabaseErrorInformation;
use diesel::sql_types::Text;
use diesel::{ConnectionError, QueryResult};
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::pooled_connection::{
    AsyncDieselConnectionManager, ManagerConfig, RecyclingMethod,
};
use diesel_async::{
    AsyncConnection, AsyncMigrationHarness, AsyncPgConnection, RunQueryDsl, SimpleAsyncConnection,
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::time::Duration;
use tokio_postgres::error::SqlState;
use uuid::Uuid;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// Any number, the same in every copy of the server, so that only one migrates.
const MIGRATION_LOCK: i64 = 0x7A11_1E5C;
/// The role that the application's queries run as, subject to row-level security.
const ROLE: &str = "amber_tally_app";
/// How long a connection is waited for.
const PATIENCE: Duration = Duration::from_secs(10);

/// Why the store could not do what was asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such thing in this school.
    #[error("no such {0}")]
    NotFound(&'static str),
    /// It contradicts what is already stored.
    #[error("{0}")]
    Conflict(String),
    /// The database has no room left on its disk.
    #[error("the database's disk is full: {0}")]
    Full(String),
    /// The database refused.
    #[error("the database could not do it: {0}")]
    Database(#[source] diesel::result::Error),
    /// The database refused a COPY or a row as JSON.
    #[error("the database could not do it: {0}")]
    Raw(#[source] tokio_postgres::Error),
    /// No connection to the database could be had, or it broke.
    #[error("the database cannot be reached: {0}")]
    Unreachable(String),
    /// The schema could not be brought up to date.
    #[error("the database could not be migrated: {0}")]
    Migration(String),
}

/// What PostgreSQL says when it cannot write, or not all of it: Diesel hands on its
/// words, not its codes.
fn no_room(told: &dyn DatabaseErrorInformation) -> bool {
    told.message().contains("No space left on device")
        || told.hint() == Some("Check free disk space.")
}

impl From<tokio_postgres::Error> for StoreError {
    /// A full disk and a lost connection are told as such.
    fn from(error: tokio_postgres::Error) -> Self {
        match error.code() {
            Some(code) if *code == SqlState::DISK_FULL => Self::Full(error.to_string()),
            Some(code)
                if [
                    SqlState::ADMIN_SHUTDOWN,
                    SqlState::CRASH_SHUTDOWN,
                    SqlState::CANNOT_CONNECT_NOW,
                ]
                .contains(code) =>
            {
                Self::Unreachable(error.to_string())
            }
            None if error.is_closed() => Self::Unreachable(error.to_string()),
            _ => Self::Raw(error),
        }
    }
}

impl From<diesel::result::Error> for StoreError {
    /// What the sender's identifiers are to blame for is told as such, and so are a full
    /// disk and a lost connection.
    fn from(error: diesel::result::Error) -> Self {
        use diesel::result::DatabaseErrorKind::{
            ClosedConnection, ForeignKeyViolation, UniqueViolation,
        };
        use diesel::result::Error::DatabaseError;
        match &error {
            DatabaseError(UniqueViolation, _) => Self::Conflict(
                "something else already has this identifier or name; give it another".into(),
            ),
            DatabaseError(ForeignKeyViolation, _) => Self::NotFound("thing as this refers to"),
            DatabaseError(_, told) if told.message().contains("row-level security") => {
                Self::NotFound("player")
            }
            DatabaseError(ClosedConnection, told) => Self::Unreachable(told.message().to_owned()),
            DatabaseError(_, told) if no_room(&**told) => Self::Full(told.message().to_owned()),
            _ => Self::Database(error),
        }
    }
}

/// The school's records, as far as they may be seen.
#[derive(Clone)]
pub struct Store {
    /// As the application's role, under row-level security.
    pool: Pool<AsyncPgConnection>,
    /// As the database's own user, for what belongs to no school yet.
    owners: Pool<AsyncPgConnection>,
    url: String,
    scope: Scope,
    /// The connection used last, when it is kept for the next query.
    kept: Option<Kept>,
}

/// Whose rows a store sees.
#[derive(Debug, Clone, Copy, Default)]
struct Scope {
    school: Option<Uuid>,
    /// Who asks; their players become theirs.
    person: Option<Uuid>,
    /// Whether players of other coaches are hidden from them.
    own_players: bool,
}

impl Store {
    /// Opens the database at `url` and brings its schema up to date. Two servers that
    /// start together take turns.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] and [`StoreError::Migration`].
    pub async fn open(url: &str) -> Result<Store, StoreError> {
        let store = Store {
            pool: pool(url, 16, true)?,
            owners: pool(url, 8, false)?,
            url: url.to_owned(),
            scope: Scope::default(),
            kept: None,
        };
        store.migrate().await?;
        Ok(store)
    }

    /// Refuses a database that holds tables: a restore goes into an empty one.
    ///
    /// # Errors
    /// [`StoreError::Conflict`], or [`StoreError::Unreachable`].
    pub async fn refuse_unless_empty(url: &str) -> Result<(), StoreError> {
        let (client, connection) = tokio_postgres::connect(url, tokio_postgres::NoTls)
            .await
            .map_err(|e| StoreError::Unreachable(e.to_string()))?;
        tokio::spawn(connection);
        let tables = client
            .query_one(
                "SELECT count(*) FROM pg_class WHERE relnamespace = 'public'::regnamespace",
                &[],
            )
            .await?;
        if tables.get::<_, i64>(0) == 0 {
            return Ok(());
        }
        Err(StoreError::Conflict(
            "this database holds something already; restore into a new, empty one".into(),
        ))
    }

    /// Whether the database answers.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] or [`StoreError::Database`].
    pub async fn answers(&self) -> Result<(), StoreError> {
        self.connection().await.map(|_| ())
    }

    /// The same records, seen as a school sees them.
    pub fn for_school(&self, school: Uuid) -> Store {
        Store {
            scope: Scope {
                school: Some(school),
                ..Scope::default()
            },
            kept: None,
            ..self.clone()
        }
    }

    /// The same records for what is done now and at once, a request: its queries take
    /// turns at one connection, which is held until the store is dropped.
    pub fn for_now(&self) -> Store {
        Store {
            kept: Some(Kept::default()),
            ..self.clone()
        }
    }

    /// The same records over connections of its own, up to so many: what waits there
    /// keeps nobody else waiting.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] when the address is none.
    pub fn apart(&self, connections: usize) -> Result<Store, StoreError> {
        Ok(Store {
            pool: pool(&self.url, connections, true)?,
            kept: None,
            ..self.clone()
        })
    }

    /// Gives the held connection back before something that takes its time; the next
    /// query takes another.
    pub fn let_go(&self) {
        drop(self.kept.as_ref().and_then(Kept::take));
    }

    /// The same records for what goes on for long: no connection is held between its
    /// queries.
    pub fn for_long(&self) -> Store {
        Store {
            kept: None,
            ..self.clone()
        }
    }

    /// The same records, seen as a person of a school sees them.
    pub fn for_person(&self, who: &SignedIn) -> Store {
        Store {
            scope: Scope {
                school: Some(who.school_id),
                person: Some(who.coach_id),
                own_players: !who.role.sees_all(),
            },
            kept: None,
            ..self.clone()
        }
    }

    async fn migrate(&self) -> Result<(), StoreError> {
        let mut connection = self.owner_connection().await?;
        let lock = format!("SELECT pg_advisory_lock({MIGRATION_LOCK})");
        diesel::sql_query(lock).execute(&mut connection).await?;
        let mut harness = AsyncMigrationHarness::new(connection);
        let done = harness
            .run_pending_migrations(MIGRATIONS)
            .map(|_| ())
            .map_err(|e| StoreError::Migration(e.to_string()));
        let mut connection = harness.into_inner();
        let done = match done {
            Ok(()) => grant(&mut connection).await,
            failed => failed,
        };
        let unlock = format!("SELECT pg_advisory_unlock({MIGRATION_LOCK})");
        diesel::sql_query(unlock).execute(&mut connection).await?;
        done
    }

    /// A connection of its own as the database's own user, for what Diesel has no words
    /// for: COPY, and rows as JSON. It closes when the client is dropped.
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

    /// A connection that sees what this store may see. Nothing that takes one of its own
    /// may be called while it is held: when all do so at once, all wait for ever.
    async fn connection(&self) -> Result<Scoped, StoreError> {
        if let Some(connection) = self.kept.as_ref().and_then(Kept::take) {
            return Ok(Scoped::new(connection, self.kept.clone()));
        }
        let text = |id: Option<Uuid>| id.map(|id| id.to_string()).unwrap_or_default();
        let Scope {
            school,
            person,
            own_players,
        } = self.scope;
        // Connections that broke while they lay in the pool are found out here.
        for _ in 0..=self.pool.status().max_size {
            let mut connection = checked_out(&self.pool).await?;
            let scoped = diesel::sql_query(
                "SELECT set_config('tally.school', $1, false), set_config('tally.coach', $2, false)",
            )
            .bind::<Text, _>(text(school))
            .bind::<Text, _>(text(person.filter(|_| own_players)))
            .execute(&mut connection)
            .await;
            match scoped {
                Ok(_) => return Ok(Scoped::new(connection, self.kept.clone())),
                Err(error) => {
                    tracing::info!(%error, "store: a connection broke; taking another");
                    drop(Object::take(connection));
                }
            }
        }
        Err(StoreError::Unreachable("every connection broke".into()))
    }

    /// A connection that sees every school: for signing in, whose school is not known
    /// before, and for the people of a school, whose secrets the application's role
    /// cannot read.
    async fn owner_connection(&self) -> Result<Object<AsyncPgConnection>, StoreError> {
        checked_out(&self.owners).await
    }
}

fn pool(
    url: &str,
    size: usize,
    as_application: bool,
) -> Result<Pool<AsyncPgConnection>, StoreError> {
    let mut config = ManagerConfig::default();
    if as_application {
        // Saying whose rows it may see tells whether it is broken.
        config.recycling_method = RecyclingMethod::Fast;
        config.custom_setup = Box::new(|url| {
            let url = url.to_owned();
            Box::pin(async move {
                let mut connection = AsyncPgConnection::establish(&url).await?;
                diesel::sql_query(format!("SET ROLE {ROLE}"))
                    .execute(&mut connection)
                    .await
                    .map_err(ConnectionError::CouldntSetupConfiguration)?;
                Ok(connection)
            })
        });
    } else {
        config.recycling_method = RecyclingMethod::Verified;
    }
    let manager = AsyncDieselConnectionManager::new_with_config(url, config);
    Pool::builder(manager)
        .max_size(size)
        .runtime(deadpool::Runtime::Tokio1)
        .wait_timeout(Some(PATIENCE))
        .create_timeout(Some(PATIENCE))
        .recycle_timeout(Some(PATIENCE))
        .build()
        .map_err(|e| StoreError::Unreachable(e.to_string()))
}

async fn checked_out(
    pool: &Pool<AsyncPgConnection>,
) -> Result<Object<AsyncPgConnection>, StoreError> {
    pool.get()
        .await
        .map_err(|e| StoreError::Unreachable(e.to_string()))
}

/// Makes the application's role where it is missing and gives it what it may use: every
/// table of a school's records, and nothing of how people sign in. What the audit notes
/// stays as it was noted.
async fn grant(connection: &mut AsyncPgConnection) -> Result<(), StoreError> {
    connection
        .batch_execute(&format!(
            "DO $$ BEGIN
                 IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '{ROLE}') THEN
                     CREATE ROLE {ROLE} NOLOGIN;
                 END IF;
             EXCEPTION WHEN duplicate_object OR unique_violation THEN NULL;
             END $$;
             DO $$ BEGIN
                 IF NOT pg_has_role(current_user, '{ROLE}', 'MEMBER') THEN
                     EXECUTE format('GRANT {ROLE} TO %I', current_user);
                 END IF;
             END $$;
             GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {ROLE};
             REVOKE ALL ON credential, web_session, wrong_try, __diesel_schema_migrations FROM {ROLE};
             REVOKE INSERT, UPDATE, DELETE ON school, coach FROM {ROLE};
             REVOKE UPDATE, DELETE ON audit FROM {ROLE};"
        ))
        .await
        .map_err(|error| {
            StoreError::Migration(format!(
                "{error}; the database's user needs the right to make the role {ROLE}, or to be a member of it"
            ))
        })
}

/// Waits until nobody else's transaction is about this, and holds it until this one ends.
async fn take_turns(connection: &mut AsyncPgConnection, about: &str) -> QueryResult<()> {
    diesel::sql_query("SELECT pg_advisory_xact_lock(hashtextextended($1, 0))")
        .bind::<Text, _>(about)
        .execute(connection)
        .await?;
    Ok(())
}

/// What a column of JSON holds.
fn from_json<T: serde::de::DeserializeOwned>(json: serde_json::Value) -> Result<T, StoreError> {
    serde_json::from_value(json)
        .map_err(|e| diesel::result::Error::DeserializationError(Box::new(e)).into())
}
