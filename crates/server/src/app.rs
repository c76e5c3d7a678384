//! The server put together: store, live events, routes, intake.

use crate::problem::Problem;
use crate::{assets, intake, routes};
use axum::Router;
use axum::extract::{DefaultBodyLimit, Request};
use std::net::SocketAddr;
use tally_store::Store;
use tally_store::live::Changed;
use tokio::net::TcpListener;
use tokio::sync::broadcast;
use tower_http::compression::CompressionLayer;
use tower_http::trace::TraceLayer;

/// Largest body of a request, bytes.
const LARGEST_BODY: usize = 1 << 20;

/// What every route can reach.
#[derive(Clone)]
pub struct App {
    /// The school's records.
    pub store: Store,
    /// Changes as they are committed, by any copy of the server.
    pub live: broadcast::Sender<Changed>,
    /// Where devices connect.
    pub intake: SocketAddr,
}

/// How to serve.
#[derive(Debug, Clone)]
pub struct Config {
    /// Address of the database.
    pub database_url: String,
    /// Where browsers connect.
    pub web: SocketAddr,
    /// Where devices connect.
    pub intake: SocketAddr,
}

/// Why the server could not start.
#[derive(Debug, thiserror::Error)]
pub enum StartError {
    /// The database.
    #[error(transparent)]
    Store(#[from] tally_store::StoreError),
    /// A port.
    #[error("cannot listen on {address}: {source}; choose another port, or stop what uses it")]
    Listen {
        /// The address.
        address: SocketAddr,
        /// Why.
        source: std::io::Error,
    },
    /// Serving failed.
    #[error("serving stopped: {0}")]
    Serve(#[from] std::io::Error),
}

/// A server that has its ports and its database.
pub struct Server {
    app: App,
    web: TcpListener,
    intake: TcpListener,
}

impl Server {
    /// Opens the database, founds the school if there is none, and takes the ports.
    ///
    /// # Errors
    /// [`StartError`].
    pub async fn start(config: &Config) -> Result<Server, StartError> {
        let web = listen(config.web).await?;
        let intake = listen(config.intake).await?;
        let store = Store::open(&config.database_url).await?;
        store.found_school("Your school", "Coach").await?;
        let app = App {
            live: store.listen(),
            store,
            intake: intake.local_addr()?,
        };
        Ok(Server { app, web, intake })
    }

    /// Where browsers connect.
    ///
    /// # Errors
    /// When the socket is gone.
    pub fn web_address(&self) -> std::io::Result<SocketAddr> {
        self.web.local_addr()
    }

    /// Where devices connect.
    pub fn intake_address(&self) -> SocketAddr {
        self.app.intake
    }

    /// Serves until something fails.
    ///
    /// # Errors
    /// [`StartError::Serve`].
    pub async fn run(self) -> Result<(), StartError> {
        let intake = intake::run(self.app.store.clone(), self.intake);
        tokio::select! {
            done = async { axum::serve(self.web, router(self.app)).await } => Ok(done?),
            done = intake => Ok(done?),
        }
    }
}

async fn listen(address: SocketAddr) -> Result<TcpListener, StartError> {
    TcpListener::bind(address)
        .await
        .map_err(|source| StartError::Listen { address, source })
}

fn router(app: App) -> Router {
    let (api, openapi) = routes::api().split_for_parts();
    let openapi = axum::Json(openapi);
    api.route(
        "/api/openapi.json",
        axum::routing::get(async move || openapi.clone()),
    )
    .fallback(async |request: Request| {
        let path = request.uri().path();
        if path.starts_with("/api/") {
            return axum::response::IntoResponse::into_response(Problem::no_such_path(path));
        }
        assets::serve(request).await
    })
    .layer(CompressionLayer::new())
    .layer(DefaultBodyLimit::max(LARGEST_BODY))
    .layer(TraceLayer::new_for_http())
    .with_state(app)
}
