//! `amber-tally serve`: the server.

use crate::server::{Config, LOOK_AGAIN, Server, StartError};
use clap::Args;
use std::net::{IpAddr, Ipv4Addr, SocketAddr};
use std::path::PathBuf;
use std::time::Duration;
use tally_store::base::connections::Connections;
use tokio::signal::unix::{SignalKind, signal};

/// How to serve.
#[derive(Debug, Args)]
pub struct Serve {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// Address of a pooler before it that gives each transaction a connection: pages, changes and
    /// shots go through it; what is heard of changes, files and archives do not.
    #[arg(long, env = "POOLED_DATABASE_URL", hide_env_values = true)]
    pooled_database_url: Option<String>,
    /// Address of a copy of it that follows it: pages are read from there, as soon as it has what
    /// the one who asks has done or heard of.
    #[arg(long, env = "READ_DATABASE_URL", hide_env_values = true)]
    read_database_url: Option<String>,
    /// Most connections to the database at once; where its copy is read from, 16 more to that.
    #[arg(long, default_value_t = Connections::USUAL, value_parser = connections, env = "TALLY_DATABASE_CONNECTIONS")]
    database_connections: usize,
    /// Address to listen on.
    #[arg(long, default_value_t = IpAddr::V4(Ipv4Addr::LOCALHOST), env = "TALLY_HOST")]
    host: IpAddr,
    /// Port for browsers; 0 takes a free one.
    #[arg(long, default_value_t = 8090, env = "TALLY_PORT")]
    port: u16,
    /// Port for devices; 0 takes a free one.
    #[arg(long, default_value_t = 8091, env = "TALLY_DEVICE_PORT")]
    intake_port: u16,
    /// A proxy stands before this server, speaks TLS with browsers, and tells whom it
    /// speaks for in X-Forwarded-For.
    #[arg(long, conflicts_with = "certificate", env = "TALLY_BEHIND_TLS_PROXY")]
    behind_tls_proxy: bool,
    /// Address of a further proxy of yours before that one; give it again for each.
    #[arg(
        long,
        requires = "behind_tls_proxy",
        value_delimiter = ',',
        env = "TALLY_TRUSTED_PROXY"
    )]
    trusted_proxy: Vec<IpAddr>,
    /// File of a certificate, PEM: browsers speak TLS with this server.
    #[arg(long, requires = "key", env = "TALLY_CERTIFICATE")]
    certificate: Option<PathBuf>,
    /// File of the certificate's key, PEM.
    #[arg(long, requires = "certificate", env = "TALLY_KEY")]
    key: Option<PathBuf>,
    /// Address for the operator's figures, at /metrics; keep it to yourself.
    #[arg(long, env = "TALLY_FIGURES")]
    figures: Option<SocketAddr>,
    /// Seconds to wait for a database that starts later.
    #[arg(long, default_value_t = 60, env = "TALLY_WAIT_FOR_DATABASE")]
    wait_for_database: u64,
}

/// How many connections a server may have.
fn connections(typed: &str) -> Result<usize, String> {
    let few = Connections::FEWEST;
    match typed.parse() {
        Ok(number) if (few..=1_000).contains(&number) => Ok(number),
        _ => Err(format!("give a whole number from {few} to 1000")),
    }
}

/// Serves until it is told to stop.
///
/// # Errors
/// [`StartError`] when it cannot start or go on.
pub async fn run(serve: Serve) -> Result<(), StartError> {
    let server = Server::start(&Config {
        database_url: serve.database_url,
        pooled_database_url: serve.pooled_database_url,
        read_database_url: serve.read_database_url,
        connections: Connections::of(serve.database_connections),
        web: SocketAddr::new(serve.host, serve.port),
        intake: SocketAddr::new(serve.host, serve.intake_port),
        behind_tls_proxy: serve.behind_tls_proxy,
        proxies: serve.trusted_proxy,
        certificate: serve.certificate.zip(serve.key),
        figures: serve.figures,
        wait_for_database: Duration::from_secs(serve.wait_for_database),
        look_again: LOOK_AGAIN,
        doors: None,
    })
    .await?;
    println!("intake {}", server.intake_address());
    println!("web {}://{}", server.scheme(), server.web_address()?);
    let mut terminate = signal(SignalKind::terminate())?;
    tokio::select! {
        done = server.run() => done,
        _ = terminate.recv() => Ok(()),
        _ = tokio::signal::ctrl_c() => Ok(()),
    }
}
