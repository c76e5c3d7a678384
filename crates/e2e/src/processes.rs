//! What runs behind a stage: the server, the driver, the browser.

use std::path::{Path, PathBuf};
use std::process::Stdio;
use thirtyfour::prelude::*;
use tokio::io::{AsyncBufReadExt, BufReader, Lines};
use tokio::process::{Child, ChildStdout, Command};

/// The program, beside this test in cargo's target folder.
pub fn program() -> PathBuf {
    let here = std::env::current_exe().expect("a running program has a path");
    let built = here
        .ancestors()
        .skip(1)
        .map(|folder| folder.join("amber-tally"))
        .find(|path| path.is_file());
    built.expect("amber-tally is not built beside the tests: run them with bin/test")
}

/// Starts the server on a database; its addresses, of the web and of the intake.
pub async fn serve(database_url: &str, port: &str, intake_port: &str) -> (Child, String, String) {
    let mut server = Command::new(program())
        .args([
            "serve",
            "--database-url",
            database_url,
            "--port",
            port,
            "--intake-port",
            intake_port,
        ])
        .env(
            "RUST_LOG",
            std::env::var("RUST_LOG").unwrap_or("warn".to_owned()),
        )
        .stdout(Stdio::piped())
        .kill_on_drop(true)
        .spawn()
        .expect("amber-tally is built");
    let mut lines = said_by(&mut server);
    let intake = word_after(&mut lines, "intake ").await;
    let web = word_after(&mut lines, "web ").await;
    (server, web, intake)
}

/// Starts a driver of browsers; its address.
pub async fn drive() -> (Child, String) {
    let driver = ["/usr/bin/chromedriver", "/usr/local/bin/chromedriver"]
        .into_iter()
        .find(|path| Path::new(path).is_file())
        .expect("chromedriver is missing: bin/test installs it");
    // The free port that it finds may be another's a moment later: then it finds another.
    for _ in 0..5 {
        let mut process = Command::new(driver)
            .arg("--port=0")
            .stdout(Stdio::piped())
            .kill_on_drop(true)
            .spawn()
            .expect("chromedriver runs");
        let mut lines = said_by(&mut process);
        let Some(port) = told_after(&mut lines, "started successfully on port ").await else {
            continue;
        };
        // It must not block on a full pipe.
        tokio::spawn(async move { while let Ok(Some(_)) = lines.next_line().await {} });
        let port = port.trim_end_matches('.').to_owned();
        return (process, format!("http://127.0.0.1:{port}"));
    }
    panic!("chromedriver found no port");
}

/// Opens a browser by a driver, with a profile of its own.
pub async fn open(driver: &str, profile: &Path) -> WebDriver {
    let mut wanted = DesiredCapabilities::chrome();
    let profile = format!("--user-data-dir={}", profile.display());
    for flag in [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--accept-lang=en-GB",
        "--disable-dev-shm-usage",
        "--hide-scrollbars",
        "--force-prefers-reduced-motion",
        "--window-size=1280,800",
        // Two pages of the address bar, which is not there.
        "--disable-features=WebUIOmniboxPopup,WebUIOmniboxAimPopup",
        &profile,
    ] {
        wanted.add_arg(flag).expect("a flag is text");
    }
    WebDriver::new(driver, wanted)
        .await
        .expect("chromium opens")
}

fn said_by(child: &mut Child) -> Lines<BufReader<ChildStdout>> {
    let out = child.stdout.take().expect("its output is piped");
    BufReader::new(out).lines()
}

async fn word_after(lines: &mut Lines<BufReader<ChildStdout>>, start: &str) -> String {
    let told = told_after(lines, start).await;
    told.unwrap_or_else(|| panic!("it ended before it said {start:?}"))
}

async fn told_after(lines: &mut Lines<BufReader<ChildStdout>>, start: &str) -> Option<String> {
    while let Some(line) = lines.next_line().await.expect("its output is text") {
        if let Some((_, rest)) = line.split_once(start) {
            return Some(rest.trim().to_owned());
        }
    }
    None
}
