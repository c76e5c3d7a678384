//! A connection to the database: straight, or through a pooler that gives each transaction another
//! of its own.
//!
//! Through a pooler nothing is remembered from one transaction to the next, so every query is
//! within one, and each begins with whose rows it may see.

use diesel::connection::{CacheSize, Instrumentation};
use diesel::query_builder::{AsQuery, QueryFragment, QueryId};
use diesel::{ConnectionError, ConnectionResult, QueryResult};
use diesel_async::pooled_connection::PoolableConnection;
use diesel_async::{
    AnsiTransactionManager, AsyncConnection, AsyncConnectionCore, AsyncPgConnection,
    SimpleAsyncConnection, TransactionManager,
};
use futures_util::future::BoxFuture;
use futures_util::stream::{self, StreamExt, TryStreamExt};
use std::future::{Future, poll_fn};
use tokio_postgres::NoTls;

/// A connection.
pub(crate) struct Connection {
    inner: AsyncPgConnection,
    /// What each transaction begins with where a pooler stands between.
    begins_with: Option<String>,
    /// Whether a transaction that only this knows of was begun and not ended.
    open: bool,
}

impl Connection {
    /// Connects to the database at `url` itself.
    pub(crate) async fn straight(url: &str) -> ConnectionResult<Connection> {
        Ok(Connection {
            inner: AsyncPgConnection::establish(url).await?,
            begins_with: None,
            open: false,
        })
    }

    /// Connects to a pooler of transactions at `url`. What Diesel says on a connection before it is
    /// used, it says within a transaction too.
    pub(crate) async fn pooled(url: &str) -> ConnectionResult<Connection> {
        let bad = |error: tokio_postgres::Error| ConnectionError::BadConnection(error.to_string());
        let (client, mut connection) = tokio_postgres::connect(url, NoTls).await.map_err(bad)?;
        {
            let mut begun = std::pin::pin!(client.batch_execute("BEGIN"));
            tokio::select! {
                done = &mut begun => done.map_err(bad)?,
                _ = poll_fn(|cx| connection.poll_message(cx)) => {
                    return Err(ConnectionError::BadConnection("it broke at once".to_owned()));
                }
            }
        }
        let mut inner =
            AsyncPgConnection::try_from_client_and_connection(client, connection).await?;
        inner.set_prepared_statement_cache_size(CacheSize::Disabled);
        inner
            .batch_execute("COMMIT")
            .await
            .map_err(ConnectionError::CouldntSetupConfiguration)?;
        Ok(Connection {
            inner,
            begins_with: None,
            open: false,
        })
    }

    /// Lets each transaction begin with this from now on.
    pub(crate) fn begin_with(&mut self, queries: String) {
        self.begins_with = Some(queries);
    }

    /// Whether anybody answers.
    ///
    /// # Errors
    /// What the database or the pooler says, or that nobody does.
    pub(crate) async fn answers(&mut self) -> QueryResult<()> {
        self.inner.batch_execute("SELECT 1").await
    }

    /// Whether a query is to have a transaction of its own: never is one asked through a pooler
    /// without saying whose rows it may see.
    fn alone(&mut self) -> bool {
        let status = AnsiTransactionManager::transaction_manager_status_mut(&mut self.inner);
        self.begins_with.is_some() && !matches!(status.transaction_depth(), Ok(Some(_)))
    }

    /// What that transaction begins with, and what it is run by.
    fn parts(&mut self) -> (&str, &AsyncPgConnection, &mut bool) {
        let begins_with = self.begins_with.as_deref().unwrap_or_default();
        (begins_with, &self.inner, &mut self.open)
    }
}

/// Runs what stands alone in a transaction of its own. Where it is given up on the way the
/// connection counts as broken.
async fn in_transaction<T>(
    begins_with: &str,
    mut connection: &AsyncPgConnection,
    open: &mut bool,
    work: impl Future<Output = QueryResult<T>>,
) -> QueryResult<T> {
    *open = true;
    connection
        .batch_execute(&format!("BEGIN; {begins_with}"))
        .await?;
    let done = work.await;
    let end = if done.is_ok() { "COMMIT" } else { "ROLLBACK" };
    let ended = connection.batch_execute(end).await;
    *open = ended.is_err();
    let done = done?;
    ended.map(|()| done)
}

impl SimpleAsyncConnection for Connection {
    async fn batch_execute(&mut self, query: &str) -> QueryResult<()> {
        if !self.alone() {
            return self.inner.batch_execute(query).await;
        }
        let (begins_with, mut connection, open) = self.parts();
        // Several in one message are one transaction, unless they begin one.
        let both = match query.strip_prefix("BEGIN") {
            Some(how) => format!("BEGIN{how}; {begins_with}"),
            None => format!("{begins_with}; {query}"),
        };
        *open = true;
        let done = connection.batch_execute(&both).await;
        *open = done.is_err();
        done
    }
}

impl AsyncConnectionCore for Connection {
    type ExecuteFuture<'conn, 'query> =
        <AsyncPgConnection as AsyncConnectionCore>::ExecuteFuture<'conn, 'query>;
    type LoadFuture<'conn, 'query> =
        <AsyncPgConnection as AsyncConnectionCore>::LoadFuture<'conn, 'query>;
    type Stream<'conn, 'query> = <AsyncPgConnection as AsyncConnectionCore>::Stream<'conn, 'query>;
    type Row<'conn, 'query> = <AsyncPgConnection as AsyncConnectionCore>::Row<'conn, 'query>;
    type Backend = diesel::pg::Pg;

    fn load<'conn, 'query, T>(&'conn mut self, source: T) -> Self::LoadFuture<'conn, 'query>
    where
        T: AsQuery + 'query,
        T::Query: QueryFragment<Self::Backend> + QueryId + 'query,
    {
        if !self.alone() {
            return self.inner.load(source);
        }
        let (begins_with, mut connection, open) = self.parts();
        let loading: BoxFuture<'conn, _> = AsyncConnectionCore::load(&mut connection, source);
        Box::pin(async move {
            // They are to be there before the transaction ends.
            let rows = async { loading.await?.try_collect::<Vec<_>>().await };
            let rows = in_transaction(begins_with, connection, open, rows).await?;
            Ok(stream::iter(rows.into_iter().map(Ok)).boxed())
        })
    }

    fn execute_returning_count<'conn, 'query, T>(
        &'conn mut self,
        source: T,
    ) -> Self::ExecuteFuture<'conn, 'query>
    where
        T: QueryFragment<Self::Backend> + QueryId + 'query,
    {
        if !self.alone() {
            return self.inner.execute_returning_count(source);
        }
        let (begins_with, mut connection, open) = self.parts();
        let work: BoxFuture<'conn, _> =
            AsyncConnectionCore::execute_returning_count(&mut connection, source);
        Box::pin(in_transaction(begins_with, connection, open, work))
    }
}

impl AsyncConnection for Connection {
    type TransactionManager = AnsiTransactionManager;

    async fn establish(url: &str) -> ConnectionResult<Connection> {
        Connection::straight(url).await
    }

    fn transaction_state(&mut self) -> &mut AnsiTransactionManager {
        self.inner.transaction_state()
    }

    fn instrumentation(&mut self) -> &mut dyn Instrumentation {
        self.inner.instrumentation()
    }

    fn set_instrumentation(&mut self, instrumentation: impl Instrumentation) {
        self.inner.set_instrumentation(instrumentation);
    }

    fn set_prepared_statement_cache_size(&mut self, size: CacheSize) {
        self.inner.set_prepared_statement_cache_size(size);
    }
}

impl PoolableConnection for Connection {
    fn is_broken(&mut self) -> bool {
        self.open || AnsiTransactionManager::is_broken_transaction_manager(self)
    }
}
