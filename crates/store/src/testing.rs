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
    /// Makes an empty database.
    ///
    /// # Panics
    /// When `TALLY_TEST_DATABASE_URL` is not set or does not answer.
    pub async fn create() -> TestDatabase {
        let server = std::env::var("TALLY_TEST_DATABASE_URL")
            .expect("TALLY_TEST_DATABASE_URL is not set: run the tests with bin/test");
        TestDatabase::create_on(server).await
    }

    /// Makes an empty database on another cluster.
    ///
    /// # Panics
    /// When `server`, the address of one of its databases, does not answer.
    pub async fn create_on(server: String) -> TestDatabase {
        let name = format!("tally_{}", Uuid::now_v7().simple());
        let (base, _) = server
            .rsplit_once('/')
            .expect("the test database's address ends in its name");
        let url = format!("{base}/{name}");
        let database = TestDatabase { server, name, url };
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

/// A player to add.
pub fn player(name: &str) -> Player {
    Player {
        id: Uuid::now_v7(),
        name: name.to_owned(),
        born: None,
        left_handed: false,
        aim: String::new(),
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
