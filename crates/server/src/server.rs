//! The server put together: store, live events, routes, intake.

use crate::guard::doors::{Doors, Limits};
use crate::guard::few::Few;
use crate::guard::held::ByTheDoor;
use crate::guard::looks::Looks;
use crate::http::heard_out::hear_out;
use crate::http::problem::Problem;
use crate::http::{access, assets, request_log, unchanged, watch};
use crate::intake::device_line;
use crate::routes;
use crate::state::App;
use axum::Router;
use axum::extract::{DefaultBodyLimit, Request};
use axum::http::{HeaderName, HeaderValue, header};
use axum_server::tls_rustls::{RustlsAcceptor, RustlsConfig};
use hyper_util::rt::{TokioExecutor, TokioTimer};
use hyper_util::server::conn::auto::Builder;
use std::net::{IpAddr, SocketAddr};
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::{Duration, Instant};
use tally_store::base::connections::Connections;
use tally_store::{Store, StoreError};
use tokio::net::TcpListener;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::RequestBodyTimeoutLayer;

/// Largest body of a request, bytes.
const LARGEST_BODY: usize = 1 << 20;

/// Files that a person may have under way at a time, and a school: half of what there is room for.
const FILES: [usize; 2] = [2, 4];
/// How long the next piece of a body may take to come.
const PIECE_WITHIN: Duration = Duration::from_secs(15);
/// How long a request's head may take to come.
const HEADERS_WITHIN: Duration = Duration::from_secs(20);
/// How long until a database that did not answer is asked again.
const ASK_AGAIN: Duration = Duration::from_millis(500);

/// How often an open stream is looked at again.
pub const LOOK_AGAIN: Duration = Duration::from_secs(60);

/// How to serve.
#[derive(Debug, Clone)]
pub struct Config {
    /// Address of the database.
    pub database_url: String,
    /// Address of a pooler of transactions before it.
    pub pooled_database_url: Option<String>,
    /// Address of a copy of it that pages are read from.
    pub read_database_url: Option<String>,
    /// How many connections to the database there may be.
    pub connections: Connections,
    /// Where browsers connect.
    pub web: SocketAddr,
    /// Where devices connect.
    pub intake: SocketAddr,
    /// Whether a proxy of ours stands before us, which speaks TLS with browsers.
    pub behind_tls_proxy: bool,
    /// Addresses of further proxies of ours, before that one.
    pub proxies: Vec<IpAddr>,
    /// Files of a certificate and its key, PEM: then browsers speak TLS with us.
    pub certificate: Option<(PathBuf, PathBuf)>,
    /// Where the operator reads the figures.
    pub figures: Option<SocketAddr>,
    /// How long a database that is not there yet is waited for.
    pub wait_for_database: Duration,
    /// How often an open stream is looked at again: whether its browser may hear it.
    pub look_again: Duration,
    /// How many may be connected to the web port and to the device port; by the file
    /// handles that this process may open, when they are not given.
    pub doors: Option<[Limits; 2]>,
}

impl Config {
    /// A server on free ports of this machine alone.
    pub fn local(database_url: &str) -> Config {
        let any = SocketAddr::from(([127, 0, 0, 1], 0));
        Config {
            database_url: database_url.to_owned(),
            pooled_database_url: None,
            read_database_url: None,
            connections: Connections::default(),
            web: any,
            intake: any,
            behind_tls_proxy: false,
            proxies: Vec::new(),
            certificate: None,
            figures: None,
            wait_for_database: Duration::ZERO,
            look_again: LOOK_AGAIN,
            doors: None,
        }
    }
}

/// Why the server could not start.
#[derive(Debug, thiserror::Error)]
pub enum StartError {
    /// The database.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A port.
    #[error("cannot listen on {address}: {source}; choose another port, or stop what uses it")]
    Listen {
        /// The address.
        address: SocketAddr,
        /// Why.
        source: std::io::Error,
    },
    /// A certificate.
    #[error(
        "the certificate {certificate} with its key {key} cannot be used: {source}; give both as PEM"
    )]
    Certificate {
        /// The certificate's file.
        certificate: PathBuf,
        /// The key's file.
        key: PathBuf,
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
    figures: Option<TcpListener>,
    tls: Option<RustlsConfig>,
    /// Connections to the database that are for devices.
    for_devices: usize,
    /// Of the web port and of the device port.
    doors: [Doors; 2],
}

impl Server {
    /// Takes the ports and opens the database.
    ///
    /// # Errors
    /// [`StartError`].
    pub async fn start(config: &Config) -> Result<Server, StartError> {
        let doors = config.doors.map_or_else(limits, Ok)?;
        let web = listen(config.web).await?;
        let intake = listen(config.intake).await?;
        let figures = match config.figures {
            Some(address) => Some(listen(address).await?),
            None => None,
        };
        let tls = match &config.certificate {
            Some((certificate, key)) => Some(certified(certificate, key).await?),
            None => None,
        };
        let store = open(config).await?;
        let store = match &config.read_database_url {
            Some(url) => store.with_readers(url)?,
            None => store,
        };
        let app = App {
            live: store.listen(),
            store,
            intake: intake.local_addr()?,
            secure: config.behind_tls_proxy || tls.is_some(),
            behind_proxy: config.behind_tls_proxy,
            proxies: config.proxies.clone().into(),
            files: FILES.map(|most| Arc::new(Few::new(most))),
            answers: Arc::default(),
            reading: Arc::new(Few::new(1)),
            set_up: Arc::default(),
            refused: Arc::default(),
            looks: Looks::every(config.look_again),
        };
        let [mut of_browsers, of_devices] = doors;
        if config.behind_tls_proxy {
            // They all come from the proxy.
            of_browsers.strangers_from = None;
        }
        Ok(Server {
            app,
            web,
            intake,
            figures,
            tls,
            for_devices: config.connections.devices,
            doors: [of_browsers, of_devices].map(Doors::new),
        })
    }

    /// Where browsers connect.
    ///
    /// # Errors
    /// When the socket is gone.
    pub fn web_address(&self) -> std::io::Result<SocketAddr> {
        self.web.local_addr()
    }

    /// How browsers speak with it.
    pub fn scheme(&self) -> &'static str {
        if self.tls.is_some() { "https" } else { "http" }
    }

    /// Where the operator reads the figures, if anywhere.
    ///
    /// # Errors
    /// When the socket is gone.
    pub fn figures_address(&self) -> std::io::Result<Option<SocketAddr>> {
        self.figures
            .as_ref()
            .map(TcpListener::local_addr)
            .transpose()
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
        // Where commits are slow, on a busy disk say, shots wait, and readers do not.
        let apart = self.app.store.apart(self.for_devices)?;
        let [of_browsers, of_devices] = self.doors;
        let tls = self.tls.as_ref().map(|tls| tls.get_inner().into());
        let intake = device_line::run(apart, self.intake, of_devices, tls);
        let figures = async {
            match self.figures {
                Some(listener) => axum::serve(listener, watch::figures_router()).await,
                None => std::future::pending().await,
            }
        };
        tokio::select! {
            done = serve(self.web, self.tls, of_browsers, router(self.app)) => Ok(done?),
            done = intake => Ok(done?),
            done = figures => Ok(done?),
        }
    }
}

/// Opens the database; one that does not answer yet is waited for.
async fn open(config: &Config) -> Result<Store, StoreError> {
    let began = Instant::now();
    loop {
        match opened(config).await {
            Err(StoreError::Unreachable(why)) if began.elapsed() < config.wait_for_database => {
                tracing::warn!(why, "the database does not answer yet; waiting for it");
                tokio::time::sleep(ASK_AGAIN).await;
            }
            done => return done,
        }
    }
}

async fn opened(config: &Config) -> Result<Store, StoreError> {
    let store = Store::open_with(&config.database_url, config.connections).await?;
    match &config.pooled_database_url {
        Some(url) => store.through_pooler(url).await,
        None => Ok(store),
    }
}

async fn certified(certificate: &Path, key: &Path) -> Result<RustlsConfig, StartError> {
    // The first to come chooses for the process; there is but one to choose.
    let _ = rustls::crypto::ring::default_provider().install_default();
    RustlsConfig::from_pem_file(certificate, key)
        .await
        .map_err(|source| StartError::Certificate {
            certificate: certificate.to_owned(),
            key: key.to_owned(),
            source,
        })
}

async fn serve(
    web: TcpListener,
    tls: Option<RustlsConfig>,
    doors: Doors,
    router: Router,
) -> std::io::Result<()> {
    let service = router.into_make_service_with_connect_info::<SocketAddr>();
    let listener = web.into_std()?;
    // Who says nothing, or half a request, does not hold a connection for ever.
    match tls {
        Some(tls) => {
            let acceptor = RustlsAcceptor::new(tls).acceptor(ByTheDoor(doors));
            let mut server = axum_server::from_tcp(listener)?.acceptor(acceptor);
            hold_short(server.http_builder());
            server.serve(service).await
        }
        None => {
            let mut server = axum_server::from_tcp(listener)?.acceptor(ByTheDoor(doors));
            hold_short(server.http_builder());
            server.serve(service).await
        }
    }
}

fn hold_short(builder: &mut Builder<TokioExecutor>) {
    builder
        .http1()
        .timer(TokioTimer::new())
        .header_read_timeout(HEADERS_WITHIN);
}

/// File handles that are asked of the operating system: one for each connection.
const HANDLES: u64 = 65_536;
/// Of these, what the database's connections, files and streams are left.
const HANDLES_OF_OURS: usize = 200;
/// Most that may be connected to the web port, and to the device port.
const MOST: [usize; 2] = [20_000, 8_000];

/// How many may be connected, by the file handles that this process may open.
fn limits() -> std::io::Result<[Limits; 2]> {
    let handles = rlimit::increase_nofile_limit(HANDLES)?;
    let room = usize::try_from(handles)
        .unwrap_or(usize::MAX)
        .saturating_sub(HANDLES_OF_OURS);
    let [web, devices] = [MOST[0].min(room / 3 * 2), MOST[1].min(room / 3)];
    tracing::info!(handles, web, devices, "so many may be connected at once");
    Ok([Limits::web(web), Limits::devices(devices)])
}

async fn listen(address: SocketAddr) -> Result<TcpListener, StartError> {
    TcpListener::bind(address)
        .await
        .map_err(|source| StartError::Listen { address, source })
}

fn router(app: App) -> Router {
    let (api, openapi) = routes::described();
    let openapi = axum::Json(openapi);
    let secure = app.secure;
    let router = api
        .route(
            "/api/openapi.json",
            axum::routing::get(async move || openapi.clone()),
        )
        .merge(watch::routes())
        .fallback(async |request: Request| {
            let path = request.uri().path();
            if path.starts_with("/api/") {
                return axum::response::IntoResponse::into_response(Problem::no_such_path(path));
            }
            assets::serve(request).await
        })
        .layer(axum::middleware::from_fn_with_state(
            app.clone(),
            access::admit,
        ))
        .layer(axum::middleware::from_fn(watch::count))
        .layer(axum::middleware::from_fn(unchanged::told))
        .layer(CompressionLayer::new())
        .layer(DefaultBodyLimit::max(LARGEST_BODY))
        .layer(axum::middleware::from_fn(hear_out))
        .layer(RequestBodyTimeoutLayer::new(PIECE_WITHIN))
        .layer(CatchPanicLayer::custom(|_| {
            axum::response::IntoResponse::into_response(Problem::ours())
        }))
        .with_state(app.clone());
    hardened(router, secure)
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(axum::middleware::from_fn_with_state(
            app,
            request_log::write,
        ))
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid))
}

/// What browsers are told to keep to. Styles may stand in a page, because Ant Design
/// writes them there; scripts may not.
const HEADERS: [(&str, &str); 6] = [
    (
        "content-security-policy",
        "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; \
         img-src 'self' data: blob:; font-src 'self' data:; connect-src 'self'; \
         object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    ),
    ("x-content-type-options", "nosniff"),
    ("x-frame-options", "DENY"),
    ("referrer-policy", "no-referrer"),
    ("cross-origin-opener-policy", "same-origin"),
    (
        "permissions-policy",
        "camera=(), geolocation=(), microphone=()",
    ),
];
/// For as long as a browser shall speak nothing but TLS with us: two years.
const ONLY_TLS: (&str, &str) = ("strict-transport-security", "max-age=63072000");

fn hardened(router: Router, secure: bool) -> Router {
    let only_tls = secure.then_some(ONLY_TLS);
    HEADERS
        .into_iter()
        .chain(only_tls)
        .fold(router, |router, (name, value)| {
            router.layer(SetResponseHeaderLayer::overriding(
                HeaderName::from_static(name),
                HeaderValue::from_static(value),
            ))
        })
        // What the API answers is for the one who asked, now.
        .layer(SetResponseHeaderLayer::if_not_present(
            header::CACHE_CONTROL,
            HeaderValue::from_static("no-store"),
        ))
}
