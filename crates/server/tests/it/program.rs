//! The program as a process of its own.

use std::process::Stdio;
use tokio::io::{AsyncBufReadExt, BufReader};
use tokio::process::{Child, Command};

pub fn program() -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_amber-tally"));
    command.env("RUST_LOG", "warn").kill_on_drop(true);
    command
}

/// A server of its own process.
pub struct Served {
    pub child: Child,
    /// Where devices connect.
    pub intake: String,
    /// Where browsers connect.
    pub web: String,
}

pub async fn serve(database_url: &str) -> Served {
    let mut child = program()
        .args(["serve", "--port", "0", "--intake-port", "0"])
        .args(["--database-url", database_url])
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut lines = BufReader::new(child.stdout.take().unwrap()).lines();
    let mut said = async |start: &str| loop {
        let line = lines.next_line().await.unwrap().expect("it starts");
        if let Some(address) = line.strip_prefix(start) {
            return address.to_owned();
        }
    };
    let intake = said("intake ").await;
    let web = said("web ").await;
    Served { child, intake, web }
}
