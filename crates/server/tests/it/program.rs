//! The program as a process of its own.

use crate::stage::{OWNER, PASSWORD, Stage};
use serde_json::json;
use std::process::Stdio;
use std::time::Duration;
use tokio::io::{AsyncBufReadExt, AsyncReadExt, BufReader};
use tokio::process::{Child, Command};

pub fn program() -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_amber-tally"));
    command.env("RUST_LOG", "warn").kill_on_drop(true);
    command
}

/// How often a test kills something: as often as usual, or `TALLY_KILL_ROUNDS`.
pub fn kill_rounds(usual: u64) -> u64 {
    std::env::var("TALLY_KILL_ROUNDS").map_or(usual, |rounds| rounds.parse().unwrap())
}

/// Ends, by killing it where it has not ended by itself, what takes `whole`: later and later within
/// it from round to round.
pub async fn kill_within(child: &mut Child, whole: Duration, round: u64, rounds: u64) {
    let after = whole.mul_f64((round as f64 + 0.5) / rounds as f64);
    let _ = tokio::time::timeout(after, child.wait()).await;
    child.kill().await.unwrap();
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
    serve_by(program(), database_url).await
}

async fn serve_by(mut program: Command, database_url: &str) -> Served {
    let mut child = program
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

#[tokio::test(flavor = "multi_thread")]
async fn the_log_tells_who_asked_and_who_was_refused_and_no_secret_even_when_it_tells_all() {
    let stage = Stage::bare().await;
    let mut all = program();
    all.env("RUST_LOG", "trace").stderr(Stdio::piped());
    let mut served = serve_by(all, &stage.url).await;
    let mut log = served.child.stderr.take().unwrap();
    let reading = tokio::spawn(async move {
        let mut text = String::new();
        log.read_to_string(&mut text).await.unwrap();
        text
    });
    let coach = stage.at(&served.web);
    let wrong = json!({"sign_in_name": OWNER, "password": "not the right one"});
    assert_eq!(coach.post("/sign-in", &wrong).await.0, 401);
    let (_, factor) = coach
        .post("/me/second-factor", &json!({"password": PASSWORD}))
        .await;
    let cookie = stage.cookie(OWNER, PASSWORD).await;
    served.child.kill().await.unwrap();
    let text = reading.await.unwrap();
    let me = stage.get("/me").await.1["id"].as_str().unwrap().to_owned();
    let line = |holds: &[&str]| {
        let found = text
            .lines()
            .any(|line| holds.iter().all(|part| line.contains(part)));
        assert!(found, "no line holds {holds:?}");
    };
    line(&["sign-in: refused", &me, "from=\"127.0.0.1\""]);
    line(&[
        "answered",
        "path=\"/api/v1/sign-in\"",
        "status=401",
        "nobody",
    ]);
    line(&[
        "answered",
        "path=\"/api/v1/me/second-factor\"",
        "status=200",
        &me,
    ]);
    let token = cookie.split(';').next().unwrap().split_once('=').unwrap().1;
    let secret = factor["secret"].as_str().unwrap();
    for secret in [PASSWORD, "not the right one", secret, token, "argon2id"] {
        assert!(!text.contains(secret), "{secret} stands in the log");
    }
    stage.clear().await;
}
