//! A connection that sees what its store may see, and goes back when it is dropped.

use crate::base::connection::Connection;
use diesel_async::pooled_connection::PoolableConnection;
use diesel_async::pooled_connection::deadpool::Object;
use diesel_async::{AnsiTransactionManager, TransactionManager};
use std::ops::{Deref, DerefMut};
use std::sync::{Arc, Mutex, PoisonError};
use tokio::runtime::Handle;

const THERE: &str = "a connection is there until it is dropped";

/// A connection of a pool, with whose rows it may see.
pub(crate) struct Held {
    /// Always there until it is dropped.
    connection: Option<Object<Connection>>,
    /// Whether that holds for a transaction, which ends before it goes back, and not for the
    /// connection.
    in_transaction: bool,
}

impl Held {
    pub(crate) fn new(connection: Object<Connection>, in_transaction: bool) -> Held {
        Held {
            connection: Some(connection),
            in_transaction,
        }
    }
}

impl Deref for Held {
    type Target = Connection;

    fn deref(&self) -> &Connection {
        self.connection.as_deref().expect(THERE)
    }
}

impl DerefMut for Held {
    fn deref_mut(&mut self) -> &mut Connection {
        self.connection.as_deref_mut().expect(THERE)
    }
}

impl Drop for Held {
    fn drop(&mut self) {
        let Some(mut connection) = self.connection.take() else {
            return;
        };
        if !self.in_transaction {
            // One that was left within a transaction holds a pooler's connection until it is closed.
            if connection.is_broken() {
                drop(Object::take(connection));
            }
            return;
        }
        let Ok(runtime) = Handle::try_current() else {
            drop(Object::take(connection));
            return;
        };
        // It only read: how it ends is all one.
        runtime.spawn(async move {
            let ended = AnsiTransactionManager::rollback_transaction(&mut *connection).await;
            if ended.is_err() {
                drop(Object::take(connection));
            }
        });
    }
}

/// Where a store keeps the connection that it used last, so that the next query need
/// neither wait for one nor say again whose rows it may see.
#[derive(Clone, Default)]
pub(crate) struct Kept(Arc<Mutex<Option<Held>>>);

impl Kept {
    /// The kept connection, unless another query has it.
    pub(crate) fn take(&self) -> Option<Held> {
        self.lock().take()
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, Option<Held>> {
        // What is in it is whole whoever panicked.
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// A connection in use.
pub(crate) struct Scoped {
    /// Always there until it is dropped.
    held: Option<Held>,
    kept: Option<Kept>,
}

impl Scoped {
    pub(crate) fn new(held: Held, kept: Option<Kept>) -> Scoped {
        Scoped {
            held: Some(held),
            kept,
        }
    }
}

impl Deref for Scoped {
    type Target = Connection;

    fn deref(&self) -> &Connection {
        self.held.as_deref().expect(THERE)
    }
}

impl DerefMut for Scoped {
    fn deref_mut(&mut self) -> &mut Connection {
        self.held.as_deref_mut().expect(THERE)
    }
}

impl Drop for Scoped {
    fn drop(&mut self) {
        // One within a transaction of its own counts as broken where nobody knows of it.
        if let (Some(kept), Some(mut held)) = (&self.kept, self.held.take())
            && (held.in_transaction || !held.is_broken())
        {
            *kept.lock() = Some(held);
        }
    }
}
