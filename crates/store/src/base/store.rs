//! The records, and whose of them are seen.
//!
//! Under the queries lies the database's own row-level security: a [`Store`] sees the
//! rows of the school that it was made for by [`Store::for_school`] or
//! [`Store::for_person`], and none before.

use crate::base::connection::Connection;
use crate::base::connections::Connections;
use crate::base::error::StoreError;
use crate::base::pools::{
    Kind, PATIENCE, Pooler, ROLE, checked_out, is_english, knock, pooled, straight, which,
};
use crate::base::readers::{Position, Readers};
use crate::base::scoped::{Held, Kept, Scoped};
use crate::base::signed_in::SignedIn;
use crate::base::tables::secret;
use diesel::QueryableByName;
use diesel::sql_types::{Bool, Text};
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_async::{AsyncMigrationHarness, RunQueryDsl, SimpleAsyncConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::ops::{Deref, DerefMut};
use std::sync::Arc;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use uuid::Uuid;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// Any number, the same in every copy of the server, so that only one migrates.
const MIGRATION_LOCK: i64 = 0x7A11_1E5C;

/// The school's records, as far as they may be seen.
#[derive(Clone)]
pub struct Store {
    /// As the application's role, under row-level security.
    pool: Pool<Connection>,
    /// As the database's own user, for what belongs to no school yet.
    owners: Pool<Connection>,
    pub(crate) url: String,
    /// A pooler of transactions before it, where there is one.
    pooler: Option<Pooler>,
    pub(crate) scope: Scope,
    /// Turns at connections of their own, for what is long: files, archives, erasures.
    long: Arc<Semaphore>,
    /// The connection used last, when it is kept for the next query.
    kept: Option<Kept>,
    /// A copy of the database that is only read, where there is one.
    readers: Option<Arc<Readers>>,
    /// From where in the log on what is read may be read from that copy; nothing where it may not.
    reads_from: Option<Position>,
}

/// A connection of its own, with its turn at one.
pub(crate) struct Raw {
    client: tokio_postgres::Client,
    _turn: OwnedSemaphorePermit,
}

impl Deref for Raw {
    type Target = tokio_postgres::Client;

    fn deref(&self) -> &tokio_postgres::Client {
        &self.client
    }
}

impl DerefMut for Raw {
    fn deref_mut(&mut self) -> &mut tokio_postgres::Client {
        &mut self.client
    }
}

/// Whose rows a store sees.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Scope {
    school: Option<Uuid>,
    /// Who asks; their players become theirs.
    pub(crate) person: Option<Uuid>,
    /// Whether players of other coaches are hidden from them.
    own_players: bool,
}

impl Store {
    /// Opens the database at `url` and brings its schema up to date. Two servers that
    /// start together take turns.
    ///
    /// # Errors
    /// [`StoreError::Shut`], [`StoreError::Unreachable`] and [`StoreError::Migration`].
    pub async fn open(url: &str) -> Result<Store, StoreError> {
        Store::open_with(url, Connections::default()).await
    }

    /// The same, with so many connections.
    ///
    /// # Errors
    /// As [`Store::open`].
    pub async fn open_with(url: &str, connections: Connections) -> Result<Store, StoreError> {
        drop(knock(url).await?);
        let store = Store {
            pool: straight(url, connections.pages, Kind::Application)?,
            owners: straight(url, connections.owners, Kind::Owner)?,
            long: Arc::new(Semaphore::new(connections.long)),
            url: url.to_owned(),
            pooler: None,
            scope: Scope::default(),
            kept: None,
            readers: None,
            reads_from: None,
        };
        store.migrate().await?;
        Ok(store)
    }

    /// Refuses a database that holds tables: a restore goes into an empty one.
    ///
    /// # Errors
    /// [`StoreError::Conflict`], or [`StoreError::Unreachable`].
    pub async fn refuse_unless_empty(url: &str) -> Result<(), StoreError> {
        let tables = knock(url)
            .await?
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

    /// The same records through a pooler at `url` that gives out connections for a transaction. What
    /// hears of changes, what migrates and what is long go past it.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] when the address is none, the pooler does not answer, or it leads
    /// to another database; [`StoreError::Shut`] when it lets nobody in.
    pub async fn through_pooler(self, url: &str) -> Result<Store, StoreError> {
        let of_pooler = |error| match error {
            StoreError::Unreachable(why) => StoreError::Unreachable(format!("the pooler: {why}")),
            StoreError::Shut(why) => StoreError::Shut(format!("the pooler: {why}")),
            other => other,
        };
        let [language, there] = which(&knock(&self.url).await?).await?;
        let pooler = knock(url).await.map_err(of_pooler)?;
        let [_, pooled_to] = which(&pooler).await?;
        if pooled_to != there {
            return Err(StoreError::Unreachable(
                "the pooler leads to another database than DATABASE_URL names; let both lead to one"
                    .to_owned(),
            ));
        }
        let pooler = Pooler {
            url: url.to_owned(),
            foreign: !is_english(&language),
        };
        let size = |pool: &Pool<Connection>| pool.status().max_size;
        Ok(Store {
            pool: pooled(&pooler, size(&self.pool), Kind::Application)?,
            owners: pooled(&pooler, size(&self.owners), Kind::Owner)?,
            pooler: Some(pooler),
            ..self
        })
    }

    /// The same records, with a copy at `url` that what only reads may be read from; a pooler that
    /// gives out connections for a transaction may stand before it. It need not be there yet.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] when the address is none.
    pub fn with_readers(self, url: &str) -> Result<Store, StoreError> {
        Ok(Store {
            readers: Some(Arc::new(Readers::new(url, 16)?)),
            ..self
        })
    }

    /// Whether there is a copy that is only read.
    pub fn has_readers(&self) -> bool {
        self.readers.is_some()
    }

    /// The same records for what only reads, with every change before `after` in them.
    pub fn reading(&self, after: Position) -> Store {
        Store {
            reads_from: self.readers.as_ref().map(|_| after),
            kept: None,
            ..self.clone()
        }
    }

    /// The same records where they are written, for what is kept beside reading.
    pub(crate) fn first(&self) -> Store {
        if self.reads_from.is_none() {
            return self.clone();
        }
        // Whoever waits for a connection holds none.
        self.let_go();
        Store {
            reads_from: None,
            kept: None,
            ..self.clone()
        }
    }

    /// How far the log has come: past all that was committed before.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn position(&self) -> Result<Position, StoreError> {
        #[derive(QueryableByName)]
        struct At {
            #[diesel(sql_type = Text)]
            at: String,
        }
        let At { at } = diesel::sql_query("SELECT pg_current_wal_insert_lsn()::text AS at")
            .get_result(&mut self.first().connection().await?)
            .await?;
        at.parse()
            .map_err(|_| StoreError::Unreachable(format!("{at} is no position in a log")))
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
            pool: match &self.pooler {
                Some(pooler) => pooled(pooler, connections, Kind::Application)?,
                None => straight(&self.url, connections, Kind::Application)?,
            },
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
        understood(&mut connection).await?;
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
    /// for: COPY, and rows as JSON. It closes when it is dropped. There are a few of them,
    /// so that what is long never takes the connections that shots and pages need.
    pub(crate) async fn raw_connection(&self) -> Result<Raw, StoreError> {
        let turn = tokio::time::timeout(PATIENCE, Arc::clone(&self.long).acquire_owned());
        let turn = turn.await.map_err(|_| StoreError::Busy)?;
        let turn = turn.expect("the turns never end");
        let (client, connection) = tokio_postgres::connect(&self.url, tokio_postgres::NoTls)
            .await
            .map_err(|e| StoreError::Unreachable(e.to_string()))?;
        tokio::spawn(async move {
            if let Err(error) = connection.await {
                tracing::warn!(%error, "store: a connection of its own broke");
            }
        });
        Ok(Raw {
            client,
            _turn: turn,
        })
    }

    /// A connection that sees what this store may see. Nothing that takes one of its own
    /// may be called while it is held: when all do so at once, all wait for ever.
    pub(crate) async fn connection(&self) -> Result<Scoped, StoreError> {
        if let Some(connection) = self.kept.as_ref().and_then(Kept::take) {
            return Ok(Scoped::new(connection, self.kept.clone()));
        }
        let text = |id: Option<Uuid>| id.map(|id| id.to_string()).unwrap_or_default();
        let Scope {
            school,
            person,
            own_players,
        } = self.scope;
        let (school, person) = (text(school), text(person.filter(|_| own_players)));
        if let (Some(readers), Some(after)) = (&self.readers, self.reads_from)
            && let Some(connection) = readers.fresh([&school, &person], after).await
        {
            return Ok(Scoped::new(connection, self.kept.clone()));
        }
        if let Some(pooler) = &self.pooler {
            let mut connection = checked_out(&self.pool).await?;
            connection.begin_with(pooler.begins_with(Kind::Application, [&school, &person]));
            return Ok(Scoped::new(Held::new(connection, false), self.kept.clone()));
        }
        // Connections that broke while they lay in the pool are found out here.
        for _ in 0..=self.pool.status().max_size {
            let mut connection = checked_out(&self.pool).await?;
            // A connection prepares it once, unlike `diesel::sql_query`: it is of every request.
            let scoped = diesel::select((
                set_config("tally.school", &school, false),
                set_config("tally.coach", &person, false),
            ))
            .execute(&mut connection)
            .await;
            match scoped {
                Ok(_) => {
                    let held = Held::new(connection, false);
                    return Ok(Scoped::new(held, self.kept.clone()));
                }
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
    pub(crate) async fn owner_connection(&self) -> Result<Held, StoreError> {
        Ok(Held::new(checked_out(&self.owners).await?, false))
    }
}

#[diesel::declare_sql_function]
extern "SQL" {
    /// Sets a parameter of the connection, or of the transaction.
    fn set_config(name: Text, value: Text, of_transaction: Bool) -> Text;
}

/// Refuses a database whose errors come in a language other than English and whose user
/// may not choose it.
async fn understood(connection: &mut Connection) -> Result<(), StoreError> {
    #[derive(QueryableByName)]
    struct Told {
        #[diesel(sql_type = Text)]
        language: String,
    }
    let told: Told = diesel::sql_query("SELECT current_setting('lc_messages') AS language")
        .get_result(connection)
        .await?;
    if is_english(&told.language) {
        return Ok(());
    }
    Err(StoreError::Migration(format!(
        "the database tells its errors in {}, and its user may not change that; \
         let an administrator run: ALTER DATABASE … SET lc_messages = 'C'",
        told.language
    )))
}

/// Makes the application's role where it is missing and gives it what it may use: every
/// table of a school's records, and nothing of how people sign in. What the audit notes
/// stays as it was noted.
async fn grant(connection: &mut Connection) -> Result<(), StoreError> {
    let secret = secret().collect::<Vec<_>>().join(", ");
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
             REVOKE ALL ON {secret}, __diesel_schema_migrations FROM {ROLE};
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
