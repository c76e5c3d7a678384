//! A connection that sees what its store may see, and goes back when it is dropped.

use diesel_async::AsyncPgConnection;
use diesel_async::pooled_connection::PoolableConnection;
use diesel_async::pooled_connection::deadpool::Object;
use std::ops::{Deref, DerefMut};
use std::sync::{Arc, Mutex, PoisonError};

/// Where a store keeps the connection that it used last, so that the next query need
/// neither wait for one nor say again whose rows it may see.
#[derive(Clone, Default)]
pub(crate) struct Kept(Arc<Mutex<Option<Object<AsyncPgConnection>>>>);

impl Kept {
    /// The kept connection, unless another query has it.
    pub(crate) fn take(&self) -> Option<Object<AsyncPgConnection>> {
        self.lock().take()
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, Option<Object<AsyncPgConnection>>> {
        // What is in it is whole whoever panicked.
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// A connection in use.
pub(crate) struct Scoped {
    /// Always there until it is dropped.
    connection: Option<Object<AsyncPgConnection>>,
    kept: Option<Kept>,
}

impl Scoped {
    pub(crate) fn new(connection: Object<AsyncPgConnection>, kept: Option<Kept>) -> Scoped {
        Scoped {
            connection: Some(connection),
            kept,
        }
    }
}

const THERE: &str = "a connection is there until it is dropped";

impl Deref for Scoped {
    type Target = AsyncPgConnection;

    fn deref(&self) -> &AsyncPgConnection {
        self.connection.as_deref().expect(THERE)
    }
}

impl DerefMut for Scoped {
    fn deref_mut(&mut self) -> &mut AsyncPgConnection {
        self.connection.as_deref_mut().expect(THERE)
    }
}

impl Drop for Scoped {
    fn drop(&mut self) {
        if let (Some(kept), Some(mut connection)) = (&self.kept, self.connection.take())
            && !connection.is_broken()
        {
            *kept.lock() = Some(connection);
        }
    }
}
