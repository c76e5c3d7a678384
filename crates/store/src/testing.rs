//! A database of its own for each test, on the cluster that `bin/test` starts.

use crate::StoreError;
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
        let name = format!("tally_{}", Uuid::now_v7().simple());
        run(&server, &format!("CREATE DATABASE {name}"))
            .await
            .expect("the test cluster accepts a new database");
        let (base, _) = server
            .rsplit_once('/')
            .expect("the test database's address ends in its name");
        let url = format!("{base}/{name}");
        TestDatabase { server, name, url }
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

async fn run(url: &str, sql: &str) -> Result<(), tokio_postgres::Error> {
    let (client, connection) = tokio_postgres::connect(url, NoTls).await?;
    let driver = tokio::spawn(connection);
    let done = client.batch_execute(sql).await;
    drop(client);
    let _ = driver.await;
    done
}
