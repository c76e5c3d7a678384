//! Where connections live: with the threads that opened the store, whoever asks for one first. What
//! comes over a connection is taken in by a task of the runtime that connected, and another may
//! have threads that wait for others.

use crate::base::connection::Connection;
use diesel::{ConnectionError, ConnectionResult};
use std::future::Future;
use tokio::runtime::Handle;

/// The runtime that a store was opened in.
#[derive(Clone)]
pub(crate) struct Home(Handle);

impl Home {
    /// That of this task.
    pub(crate) fn here() -> Home {
        Home(Handle::current())
    }

    /// Connects there.
    pub(crate) fn connect(
        &self,
        connecting: impl Future<Output = ConnectionResult<Connection>> + Send + 'static,
    ) -> impl Future<Output = ConnectionResult<Connection>> + Send + 'static {
        let connected = self.0.spawn(connecting);
        async move {
            let gone =
                |error: tokio::task::JoinError| ConnectionError::BadConnection(error.to_string());
            connected.await.map_err(gone)?
        }
    }
}
