//! A database of its own for each test, on the cluster that `bin/test` starts.

use crate::base::error::StoreError;
use crate::base::signed_in::SignedIn;
use crate::base::store::Store;
use crate::school::people::Founder;
use crate::school::players::Player;
use diesel::QueryableByName;
use diesel::sql_types::BigInt;
use diesel_async::RunQueryDsl;
use tokio_postgres::NoTls;
use uuid::Uuid;

/// A database that lives as long as its test.
pub struct TestDatabase {
    server: String,
    name: String,
    /// Where to connect to it.
    pub url: String,
}

impl TestDatabase {
    /// Makes a database with all tables and nothing in them.
    ///
    /// # Panics
    /// When `TALLY_TEST_DATABASE_URL` is not set or does not answer.
    pub async fn create() -> TestDatabase {
        TestDatabase::create_like("tables", async |url| {
            Store::open(url)
                .await
                .expect("a new database can be migrated");
        })
        .await
    }

    /// Makes a database that is a copy of one called `what`, which `make` fills when it is
    /// asked for first. It is made once for all tests of a program, in whatever process
    /// they run.
    ///
    /// # Panics
    /// When `TALLY_TEST_DATABASE_URL` is not set or does not answer.
    pub async fn create_like(what: &str, make: impl AsyncFnOnce(&str)) -> TestDatabase {
        let server = server();
        let model = model(&server, what, make).await;
        let database = TestDatabase::named(server);
        let sql = format!("CREATE DATABASE {} TEMPLATE {model}", database.name);
        run(&database.server, &sql)
            .await
            .expect("the test cluster copies a database");
        database
    }

    /// Makes an empty database.
    ///
    /// # Panics
    /// When `TALLY_TEST_DATABASE_URL` is not set or does not answer.
    pub async fn create_empty() -> TestDatabase {
        TestDatabase::create_on(server()).await
    }

    fn named(server: String) -> TestDatabase {
        let name = format!("tally_{}", Uuid::now_v7().simple());
        let url = beside(&server, &name);
        TestDatabase { server, name, url }
    }

    /// Makes an empty database on another cluster.
    ///
    /// # Panics
    /// When `server`, the address of one of its databases, does not answer.
    pub async fn create_on(server: String) -> TestDatabase {
        let database = TestDatabase::named(server);
        database
            .make()
            .await
            .expect("the test cluster accepts a new database");
        database
    }

    /// Makes it, when it was removed.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn make(&self) -> Result<(), StoreError> {
        Ok(run(&self.server, &format!("CREATE DATABASE {}", self.name)).await?)
    }

    /// Runs a statement as the database's own user.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn run(&self, sql: &str) -> Result<(), StoreError> {
        Ok(run(&self.url, sql).await?)
    }

    /// The first column of a query's rows as text, as the database's own user.
    ///
    /// # Errors
    /// [`StoreError::Raw`].
    pub async fn ask(&self, sql: &str) -> Result<Vec<String>, StoreError> {
        let (client, connection) = tokio_postgres::connect(&self.url, NoTls).await?;
        let driver = tokio::spawn(connection);
        let rows = client.query(sql, &[]).await?;
        drop(client);
        let _ = driver.await;
        Ok(rows.iter().map(|row| row.get(0)).collect())
    }

    /// Removes the database, connections and all.
    ///
    /// # Errors
    /// [`StoreError::Unreachable`] when the cluster is gone.
    pub async fn remove(&self) -> Result<(), StoreError> {
        run(
            &self.server,
            &format!("DROP DATABASE IF EXISTS {} WITH (FORCE)", self.name),
        )
        .await
        .map_err(|e| StoreError::Unreachable(e.to_string()))
    }
}

/// Fills the founded school of a database with so many players, sessions of each, and shots of
/// each session, two devices beside them, and lets the planner look at it.
///
/// # Errors
/// [`StoreError::Raw`].
pub async fn fill(url: &str, [players, sessions, shots]: [u32; 3]) -> Result<(), StoreError> {
    let fill = include_str!("testing/fill.sql")
        .replace("$PLAYERS", &players.to_string())
        .replace("$SESSIONS", &sessions.to_string())
        .replace("$SHOTS", &shots.to_string());
    let (client, connection) = tokio_postgres::connect(url, NoTls).await?;
    let driver = tokio::spawn(connection);
    client.batch_execute(&fill).await?;
    client.batch_execute("VACUUM ANALYZE").await?;
    drop(client);
    let _ = driver.await;
    Ok(())
}

fn server() -> String {
    std::env::var("TALLY_TEST_DATABASE_URL")
        .expect("TALLY_TEST_DATABASE_URL is not set: run the tests with bin/test")
}

/// The address of another database of the same cluster.
fn beside(server: &str, name: &str) -> String {
    let (base, _) = server
        .rsplit_once('/')
        .expect("the test database's address ends in its name");
    format!("{base}/{name}")
}

/// The name of the database that others are copied from, once it is made.
async fn model(server: &str, what: &str, make: impl AsyncFnOnce(&str)) -> String {
    let sort = if parted() { "parted_" } else { "" };
    let name = format!("tally_model_{what}_{sort}{}", program_s_age());
    let (client, connection) = tokio_postgres::connect(server, NoTls)
        .await
        .expect("the test cluster answers");
    let driver = tokio::spawn(connection);
    // Others wait for the first; the lock goes with the connection.
    let lock = format!("SELECT pg_advisory_lock(hashtext('{name}'))");
    client
        .batch_execute(&lock)
        .await
        .expect("a lock is waited for");
    let there = format!("SELECT 1 FROM pg_database WHERE datname = '{name}' AND datistemplate");
    let there = client.query_opt(&there, &[]).await;
    if there.expect("the catalogue is read").is_none() {
        // One that was left half made goes.
        for sql in [
            format!("DROP DATABASE IF EXISTS {name} WITH (FORCE)"),
            format!("CREATE DATABASE {name}"),
        ] {
            client.batch_execute(&sql).await.expect("a model is begun");
        }
        make(&beside(server, &name)).await;
        if parted() {
            part(&beside(server, &name)).await;
        }
        for sql in [
            format!(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{name}'"
            ),
            format!("ALTER DATABASE {name} IS_TEMPLATE true"),
        ] {
            client.batch_execute(&sql).await.expect("a model is kept");
        }
    }
    drop(client);
    let _ = driver.await;
    name
}

/// Whether the tests run on tables that are parted by school, as in a distributed PostgreSQL.
pub fn parted() -> bool {
    std::env::var_os("TALLY_TEST_PARTITIONED").is_some()
}

async fn part(url: &str) {
    // A model without tables has none to part.
    let (client, connection) = tokio_postgres::connect(url, NoTls)
        .await
        .expect("a model answers");
    let driver = tokio::spawn(connection);
    let there = client.query_one("SELECT to_regclass('shot') IS NOT NULL", &[]);
    if there.await.expect("the catalogue is read").get(0) {
        client
            .batch_execute(include_str!("testing/partition.sql"))
            .await
            .expect("tables are parted");
    }
    drop(client);
    let _ = driver.await;
}

/// Tells one build of the tests from another, so that no test sees what an older program
/// left.
fn program_s_age() -> String {
    let built = std::env::current_exe()
        .and_then(|program| program.metadata())
        .and_then(|about| about.modified())
        .expect("a program knows its own file");
    let since = built.duration_since(std::time::UNIX_EPOCH);
    format!("{:x}", since.unwrap_or_default().as_nanos())
}

/// A player to add.
pub fn player(name: &str) -> Player {
    Player {
        id: Uuid::now_v7(),
        name: name.to_owned(),
        born: None,
        left_handed: false,
        aim: String::new(),
        height_m: None,
        mass_kg: None,
        level: None,
    }
}

/// A school with an owner of the same name, who has no password yet.
///
/// # Panics
/// When the name is taken.
pub async fn founded(store: &Store, sign_in_name: &str) -> SignedIn {
    let founder = Founder {
        school: sign_in_name,
        name: sign_in_name,
        sign_in_name,
        password_hash: None,
    };
    let founded = store.found_another(founder).await;
    founded.expect("the name is free")
}

/// How many rows of a table a store sees when its query forgets to name the school.
///
/// # Errors
/// [`StoreError::Database`], when the application's role may not read the table.
pub async fn count_forgetfully(store: &Store, table: &str) -> Result<i64, StoreError> {
    #[derive(QueryableByName)]
    struct Count {
        #[diesel(sql_type = BigInt)]
        n: i64,
    }
    let counted: Count = diesel::sql_query(format!("SELECT count(*) AS n FROM {table}"))
        .get_result(&mut store.connection().await?)
        .await?;
    Ok(counted.n)
}

/// Runs a statement as the application's role, as a store sees the records.
///
/// # Errors
/// [`StoreError::Database`], when the role may not do it.
pub async fn change_as_application(store: &Store, sql: &str) -> Result<(), StoreError> {
    diesel::sql_query(sql)
        .execute(&mut store.connection().await?)
        .await?;
    Ok(())
}

async fn run(url: &str, sql: &str) -> Result<(), tokio_postgres::Error> {
    let (client, connection) = tokio_postgres::connect(url, NoTls).await?;
    let driver = tokio::spawn(connection);
    let done = client.batch_execute(sql).await;
    drop(client);
    let _ = driver.await;
    done
}
