//! Many browsers on few connections to the database: through a pooler that gives each transaction
//! another of them, and without one.

use crate::cluster::{Cluster, as_postgres, free_port, kill_with_children};
use crate::plans::every_page_answers;
use crate::stage::{PLAYER, SESSION, Stage, shot};
use futures_util::StreamExt;
use reqwest::header::RETRY_AFTER;
use reqwest::{RequestBuilder, Response, StatusCode};
use serde_json::json;
use std::path::PathBuf;
use std::process::{Child, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;
use tally_server::http::access::POSITION;
use tally_server::server::{Config, Server};

/// Connections of the pooler to the database.
const FEW: usize = 3;
/// Browsers that ask at once.
const BROWSERS: usize = 60;

struct Pooler {
    folder: PathBuf,
    child: Child,
    port: u16,
}

impl Pooler {
    /// Begins one before a cluster.
    fn begin(cluster: &Cluster) -> Pooler {
        let folder = std::env::temp_dir().join(format!("tally-pooler-{}", uuid::Uuid::now_v7()));
        std::fs::create_dir(&folder).unwrap();
        let port = free_port();
        let (host, of) = cluster
            .address()
            .split_once(':')
            .map(|(h, p)| (h.to_owned(), p.to_owned()))
            .unwrap();
        // What a transaction leaves behind on a connection is forgotten: statements have names.
        let settings = format!(
            "[databases]\n* = host={host} port={of} user=tally\n[pgbouncer]\nlisten_addr = 127.0.0.1\n\
             listen_port = {port}\nunix_socket_dir =\nauth_type = any\npool_mode = transaction\n\
             default_pool_size = {FEW}\nmax_client_conn = 1000\nserver_reset_query = DISCARD ALL\n\
             server_reset_query_always = 1\nignore_startup_parameters = extra_float_digits,options\n"
        );
        let file = folder.join("pooler.ini");
        std::fs::write(&file, settings).unwrap();
        let child = as_postgres("/usr/sbin/pgbouncer".into())
            .arg(&file)
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        while std::net::TcpStream::connect(("127.0.0.1", port)).is_err() {
            std::thread::sleep(Duration::from_millis(20));
        }
        Pooler {
            folder,
            child,
            port,
        }
    }

    fn address(&self) -> String {
        format!("127.0.0.1:{}", self.port)
    }
}

impl Drop for Pooler {
    fn drop(&mut self) {
        // As root it is the child of the program that made it somebody else's.
        kill_with_children(&self.child.id().to_string());
        let _ = self.child.wait();
        let _ = std::fs::remove_dir_all(&self.folder);
    }
}

/// What is answered at the third asking at the latest: what the server does not get to now is asked
/// again when it says so, as a browser does, for others may want the machine.
async fn answered(asked: RequestBuilder) -> Response {
    for _ in 0..2 {
        let again = asked.try_clone().expect("its body is no stream");
        let told = again.send().await.unwrap();
        if told.status() != StatusCode::SERVICE_UNAVAILABLE {
            return told;
        }
        let after = told.headers()[RETRY_AFTER].to_str().unwrap();
        tokio::time::sleep(Duration::from_secs(after.parse().unwrap())).await;
    }
    asked.send().await.unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn every_page_is_read_through_a_pooler_of_transactions_by_many_browsers_on_few_connections() {
    let cluster = Cluster::begin().await;
    let pooler = Pooler::begin(&cluster);
    let stage = Stage::with_session_read_at(&cluster, &pooler.address()).await;
    stage.device_with_shots(12).await;
    every_page_answers(&stage).await;
    let pages = [
        "/players",
        "/today",
        &format!("/players/{PLAYER}"),
        &format!("/sessions/{SESSION}/read"),
    ]
    .map(|path| format!("{}/api/v1{path}", stage.web));
    let asking = (0..BROWSERS).map(|i| {
        let (http, page) = (stage.http.clone(), pages[i % pages.len()].clone());
        tokio::spawn(async move {
            for _ in 0..5 {
                let asked = http.get(&page).header(POSITION, "0/0");
                let told = answered(asked).await;
                assert_eq!(told.status(), 200, "{page}");
                // Whose rows are seen goes with each transaction.
                assert!(
                    told.text().await.unwrap().contains("Wren")
                        || page.ends_with("today")
                        || page.ends_with("read")
                );
            }
        })
    });
    for asking in asking.collect::<Vec<_>>() {
        asking.await.unwrap();
    }
    let through = cluster.ask(
        "SELECT count(*) FROM pg_stat_activity WHERE backend_type = 'client backend' AND query = 'DISCARD ALL'",
    );
    let through: usize = through.parse().unwrap();
    assert!((1..=FEW).contains(&through), "{through}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_is_run_through_a_pooler_of_transactions_on_few_connections() {
    let cluster = Cluster::begin().await;
    let pooler = Pooler::begin(&cluster);
    let stage = Stage::with_session_through(&cluster, &pooler.address()).await;
    // Changes are heard of beside it.
    let live = format!("{}/api/v1/live?sessions={SESSION}", stage.web);
    let mut live = stage.http.get(&live).send().await.unwrap();
    stage.device_with_shots(12).await;
    let mut heard = Vec::new();
    while !String::from_utf8_lossy(&heard).contains("changed") {
        heard.extend(live.chunk().await.unwrap().expect("it goes on"));
    }
    every_page_answers(&stage).await;
    let asking = (0..BROWSERS).map(|i| {
        let (http, api) = (stage.http.clone(), format!("{}/api/v1", stage.web));
        tokio::spawn(async move {
            let id = uuid::Uuid::now_v7();
            let player = json!({"id": id, "name": format!("Player {i}"), "born": 1990});
            let players = format!("{api}/players");
            let told = answered(http.post(&players).json(&player)).await;
            assert_eq!(told.status(), 201);
            // It is there for whoever asks next, by whatever connection.
            let told = answered(http.get(format!("{players}/{id}"))).await;
            assert_eq!(told.status(), 200);
            // What is refused leaves nothing behind on a connection.
            let nameless = json!({"id": id, "name": "", "born": 1990});
            let told = answered(http.post(&players).json(&nameless)).await;
            assert_eq!(told.status(), 422);
        })
    });
    for asking in asking.collect::<Vec<_>>() {
        asking.await.unwrap();
    }
    // Who goes away before the answer leaves no transaction open behind.
    let read = format!("{}/api/v1/sessions/{SESSION}/read", stage.web);
    let leaving = (0..BROWSERS as u64).map(|i| {
        let asked = stage.http.get(&read);
        asked.timeout(Duration::from_millis(1 + i % 30)).send()
    });
    let left = futures_util::future::join_all(leaving).await;
    assert!(left.iter().any(Result::is_err));
    let by_now = stage.ask("SELECT clock_timestamp()::text").await.concat();
    every_page_answers(&stage).await;
    let open = format!(
        "pg_stat_activity WHERE state LIKE 'idle in transaction%' AND xact_start < '{by_now}'"
    );
    comes_to(&stage, &open, 0).await;
    assert_eq!(stage.counted("player").await, 1 + BROWSERS as i64);
    assert_eq!(stage.count("true").await, 12);
    let ours = "pg_stat_activity WHERE backend_type = 'client backend' AND pid <> pg_backend_pid()";
    let hears = format!("{ours} AND query LIKE 'LISTEN%'");
    assert_eq!(stage.counted(&hears).await, 1);
    let others = format!("{ours} AND query NOT LIKE 'LISTEN%'");
    comes_to(&stage, &others, FEW as i64).await;
    stage.clear().await;
}

/// Waits until there are no more than so many of these rows: connections of browsers that went away
/// are closed by and by.
async fn comes_to(stage: &Stage, rows: &str, most: i64) {
    for _ in 0..400 {
        if stage.counted(rows).await <= most {
            return;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("more than {most} stay of {rows}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_pooler_before_another_database_is_refused_by_what_is_wrong() {
    let stage = Stage::bare().await;
    let other = Stage::bare().await;
    let elsewhere = Config {
        pooled_database_url: Some(other.url.clone()),
        ..Config::local(&stage.url)
    };
    let error = Server::start(&elsewhere)
        .await
        .err()
        .expect("it is refused");
    assert!(error.to_string().contains("another database"), "{error}");
    let nobody = Config {
        pooled_database_url: Some(format!("postgres://tally@127.0.0.1:{}/tally", free_port())),
        ..Config::local(&stage.url)
    };
    let error = Server::start(&nobody).await.err().expect("nobody is there");
    assert!(error.to_string().contains("the pooler: "), "{error}");
    other.clear().await;
    stage.clear().await;
}

/// Connections of a server that is to have few.
const TWENTY: usize = 20;
/// Browsers with a page open.
const OPEN: usize = 2_000;

#[tokio::test(flavor = "multi_thread")]
async fn two_thousand_open_browsers_hear_and_read_on_twenty_connections() {
    let stage = Stage::with_session_on_few(TWENTY).await;
    let live = format!("{}/api/v1/live?sessions={SESSION}", stage.web);
    let opening = (0..OPEN).map(|_| {
        let asked = stage.http.get(&live);
        async move {
            let told = answered(asked).await;
            assert_eq!(told.status(), 200);
            told
        }
    });
    let open: Vec<_> = futures_util::stream::iter(opening)
        .buffer_unordered(100)
        .collect()
        .await;
    let over = Arc::new(AtomicBool::new(false));
    let most = async {
        let mut most = 0;
        while !over.load(Ordering::Relaxed) {
            let held =
                "pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()";
            most = most.max(stage.counted(held).await);
        }
        most
    };
    let everything = async {
        let mut device = stage.device_with_shots(1).await;
        // Each hears of the shot and reads again, as a browser does.
        let page = format!("{}/api/v1/players", stage.web);
        let heard = open.into_iter().map(|mut told| {
            let asked = stage.http.get(&page);
            async move {
                while let Some(piece) = told.chunk().await.unwrap() {
                    if piece.windows(7).any(|some| some == b"changed") {
                        break;
                    }
                }
                assert_eq!(answered(asked).await.status(), 200);
            }
        });
        let heard = futures_util::stream::iter(heard).buffer_unordered(100);
        assert_eq!(heard.count().await, OPEN);
        device.say_until_stored(&shot(2, 91.0)).await;
        over.store(true, Ordering::Relaxed);
    };
    let (most, ()) = tokio::join!(most, everything);
    assert!((2..=TWENTY as i64).contains(&most), "{most}");
    assert_eq!(stage.count("true").await, 2);
    stage.clear().await;
}
