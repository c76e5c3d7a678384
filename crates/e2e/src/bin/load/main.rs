//! How the server bears a full house: `bin/measure`, or this alone with the names of
//! the figures wanted: `import`, `live`, `readers`, `keys`, and `attack`, `neighbour`, `ten-million`
//! with PLAYERS SESSIONS SHOTS for another size, and `soak MINUTES`, which are told only when they are asked for.
//!
//! Four figures: bringing in 100,000 rows against PostgreSQL's own COPY of the same
//! rows into the same tables; a shot on every open screen with fifty sessions of one
//! shot a second; a page of two hundred coaches who read meanwhile; a key in a session
//! of 500 shots.

mod attack;
mod neighbour;
mod readers;
mod soak;
mod ten_million;

use futures_util::StreamExt;
use serde_json::{Value, json};
use std::fmt::Write;
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use tally_e2e::Stage;
use thirtyfour::prelude::*;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio_postgres::NoTls;
use uuid::Uuid;

const ROWS: usize = 100_000;
const SESSIONS: usize = 50;
const SECONDS: usize = 20;
/// First shots of each session that are not counted: the server's connections and their
/// statements are made anew then.
const WARMING: usize = 2;
const SHOTS: usize = 500;

#[tokio::main]
async fn main() {
    let asked: Vec<String> = std::env::args().skip(1).collect();
    if asked.first().is_some_and(|a| a == "ten-million") {
        let kept = ten_million::measure(&asked[1..]).await;
        std::process::exit(if kept { 0 } else { 1 });
    }
    let stage = Stage::set(false).await;
    let api = Api {
        http: stage.client().await,
        base: format!("{}/api/v1", stage.web),
    };
    let wanted = |figure: &str| asked.is_empty() || asked.iter().any(|a| a == figure);
    if wanted("import") {
        import(&stage, &api).await;
    }
    if wanted("live") {
        live(&stage, &api, &readers::Readers::default()).await;
    }
    if wanted("readers") {
        let readers = readers::gather(&stage, &api).await;
        live(&stage, &api, &readers).await;
    }
    if asked.iter().any(|a| a == "attack") {
        attack::attack(&stage, &api).await;
    }
    if asked.iter().any(|a| a == "neighbour") {
        neighbour::measure(&stage, &api).await;
    }
    if asked.first().is_some_and(|a| a == "soak") {
        let minutes = asked.get(1).map(|minutes| minutes.parse());
        let minutes = minutes.unwrap_or(Ok(60)).expect("minutes");
        let kept = soak::soak(&stage, &api, minutes).await;
        stage.clear().await;
        std::process::exit(if kept { 0 } else { 1 });
    }
    let keys = if wanted("keys") {
        keys(&stage, &api).await
    } else {
        Ok(())
    };
    stage.clear().await;
    keys.expect("the journey goes to its end");
}

/// The API, as somebody asks it.
#[derive(Clone)]
struct Api {
    http: reqwest::Client,
    base: String,
}

impl Api {
    async fn send(&self, method: &str, path: &str, body: Value) -> Value {
        let method = method.parse().expect("a method");
        let asked = self.http.request(method, format!("{}{path}", self.base));
        let answer = asked.json(&body).send().await.expect("the server answers");
        assert!(answer.status().is_success(), "{path}: {}", answer.status());
        answer.json().await.unwrap_or_default()
    }

    async fn player(&self, name: &str) -> Uuid {
        let id = Uuid::now_v7();
        let body = json!({"id": id, "name": name, "born": null, "aim": ""});
        self.send("POST", "/players", body).await;
        id
    }

    /// How a table seems to be laid out.
    async fn layout(&self, head: &str) -> String {
        let asked = self
            .http
            .post(format!("{}/import-previews", self.base))
            .body(head.to_owned());
        let answer = asked.send().await.expect("the server answers");
        let guess: Value = answer.json().await.expect("an answer in JSON");
        guess["looked"]["layout"].to_string()
    }

    /// Where a table is sent that is laid out so.
    fn import_address(&self, player: Uuid, layout: String) -> reqwest::Url {
        let query = [
            ("id", Uuid::now_v7().to_string()),
            ("player", player.to_string()),
            ("file_name", "many.csv".to_owned()),
            ("layout", layout),
            ("place", "Bay".to_owned()),
            ("zone", "UTC".to_owned()),
            ("day", "2025-06-01".to_owned()),
            ("club", "driver".to_owned()),
        ];
        reqwest::Url::parse_with_params(&format!("{}/imports", self.base), &query)
            .expect("an address")
    }

    /// Brings in a table of shots; answers with what became of it.
    async fn import(&self, player: Uuid, table: &str) -> Value {
        let layout = self
            .layout(&table.chars().take(64_000).collect::<String>())
            .await;
        let url = self.import_address(player, layout);
        let sent = self.http.post(url).body(table.to_owned()).send().await;
        let answer = sent.expect("the server answers");
        answer.json().await.expect("an answer in JSON")
    }

    /// A session in progress with a device of its own; its secret comes with it.
    async fn session(&self, player: Uuid, name: &str) -> (Uuid, String) {
        let (device, token) = self.device(name).await;
        (self.session_with(player, device).await, token)
    }

    /// A device with its secret.
    async fn device(&self, name: &str) -> (Uuid, String) {
        let device = Uuid::now_v7();
        let new = json!({"id": device, "name": name, "kind": "radar"});
        let secret = self.send("POST", "/devices", new).await;
        let token = secret["token"].as_str().expect("a secret").to_owned();
        (device, token)
    }

    async fn session_with(&self, player: Uuid, device: Uuid) -> Uuid {
        let id = Uuid::now_v7();
        let body = json!({
            "id": id, "player": player, "purpose": "benchmark", "club": "driver",
            "setting": {"place": "Bay", "altitude": {"value": 0, "unit": "m"}, "temperature": {"value": 20, "unit": "c"}},
            "zone": "UTC", "blocks": [{"id": Uuid::now_v7(), "label": "Stock", "balls": 100}],
            "devices": [device],
        });
        self.send("POST", "/sessions", body).await;
        id
    }
}

async fn import(stage: &Stage, api: &Api) {
    let player = api.player("Many rows").await;
    let mut table = String::from(
        "date,club speed (mph),ball speed (mph),launch angle (deg),spin rate (rpm),carry (yd)\n",
    );
    for i in 0..ROWS {
        let wobble = (i % 97) as f64 / 10.0;
        let (day, hour, minute) = (1 + i % 28, 8 + i / 28 % 10, i / 280 % 60);
        writeln!(
            table,
            "2025-{:02}-{day:02} {hour:02}:{minute:02}:{:02},{:.1},{:.1},{:.1},{},{}",
            1 + i / 8400,
            i % 60,
            88.0 + wobble,
            130.0 + wobble,
            11.0 + wobble / 5.0,
            2400 + i % 600,
            210 + i % 40
        )
        .expect("a text takes what is written to it");
    }
    let began = Instant::now();
    let told = api.import(player, &table).await;
    let ours = began.elapsed();
    assert_eq!(told["rows_good"], ROWS, "{told}");
    let theirs = copy_again(&stage.database_url()).await;
    println!(
        "import of {ROWS} rows: {:.2} s; COPY of the same rows into the same tables: {:.2} s; {:.0} % of its speed",
        ours.as_secs_f64(),
        theirs.as_secs_f64(),
        100.0 * theirs.as_secs_f64() / ours.as_secs_f64()
    );
    let id = told["id"].as_str().expect("an identifier");
    api.send("DELETE", &format!("/imports/{id}"), json!({}))
        .await;
}

/// Takes the rows out and puts them back by COPY alone.
async fn copy_again(url: &str) -> Duration {
    let (client, connection) = tokio_postgres::connect(url, NoTls)
        .await
        .expect("the database answers");
    let connection = tokio::spawn(connection);
    let mut held = Vec::new();
    for table in ["shot", "reading"] {
        let out = client
            .copy_out(&format!("COPY {table} TO STDOUT BINARY"))
            .await
            .expect("rows");
        let mut out = std::pin::pin!(out);
        let mut bytes = Vec::new();
        while let Some(piece) = out.next().await {
            bytes.extend_from_slice(&piece.expect("rows"));
        }
        held.push((table, bytes));
    }
    client
        .batch_execute("TRUNCATE reading, shot CASCADE")
        .await
        .expect("the tables can be emptied");
    let began = Instant::now();
    client.batch_execute("BEGIN").await.expect("a transaction");
    for (table, bytes) in held {
        let sink = client
            .copy_in(&format!("COPY {table} FROM STDIN BINARY"))
            .await
            .expect("a COPY");
        let mut sink = std::pin::pin!(sink);
        for piece in bytes.chunks(64 << 10) {
            use futures_util::SinkExt;
            sink.feed(std::io::Cursor::new(piece.to_vec()))
                .await
                .expect("a COPY");
        }
        sink.finish().await.expect("a COPY");
    }
    client.batch_execute("COMMIT").await.expect("a commit");
    let took = began.elapsed();
    drop(client);
    connection.abort();
    took
}

/// Fifty sessions of one shot a second, while these coaches read; answers how long 99 of 100
/// shots took at most until they were on their screen, ms.
async fn live(stage: &Stage, api: &Api, readers: &readers::Readers) -> f64 {
    let bays = bays(api, &format!("{} reading", readers.count())).await;
    live_in(stage, api, readers, &bays).await
}

/// A player and a device with its secret for each of fifty sessions.
async fn bays(api: &Api, called: &str) -> Vec<(Uuid, Uuid, String)> {
    let mut bays = Vec::new();
    for i in 0..SESSIONS {
        let player = api.player(&format!("Player {i}")).await;
        let (device, token) = api.device(&format!("Bay {i}, {called}")).await;
        bays.push((player, device, token));
    }
    bays
}

/// The same in bays that are there.
async fn live_in(
    stage: &Stage,
    api: &Api,
    readers: &readers::Readers,
    bays: &[(Uuid, Uuid, String)],
) -> f64 {
    let waits = Arc::new(Mutex::new(Vec::new()));
    let mut tasks = Vec::new();
    let mut opened = Vec::new();
    for (i, (player, device, token)) in bays.iter().enumerate() {
        let session = api.session_with(*player, *device).await;
        let token = token.clone();
        opened.push(session);
        let sent = Arc::new(Mutex::new(Vec::<Instant>::new()));
        tasks.push(tokio::spawn(watch(
            api.http.clone(),
            api.base.clone(),
            session,
            Arc::clone(&sent),
            Arc::clone(&waits),
        )));
        let (intake, offset) = (stage.intake.clone(), i as u64 * 1000 / SESSIONS as u64);
        tasks.push(tokio::spawn(hit(intake, token, session, offset, sent)));
    }
    let reading = readers.read();
    for task in tasks {
        task.await.expect("every screen sees every shot");
    }
    let mut waits = waits.lock().expect("no one failed").clone();
    waits.sort_by(f64::total_cmp);
    let late = within(&waits, 0.99);
    println!(
        "shot on every open screen, {SESSIONS} sessions of one shot a second, {} coaches reading: {}",
        readers.count(),
        spread(waits)
    );
    reading.tell().await;
    for session in opened {
        let path = format!("/sessions/{session}/progress");
        api.send("PUT", &path, json!({"in_progress": false})).await;
    }
    late
}

/// How long things took, ms.
fn spread(mut waits: Vec<f64>) -> String {
    waits.sort_by(f64::total_cmp);
    format!(
        "{} in all, median {:.0} ms, 99 % {:.0} ms, worst {:.0} ms",
        waits.len(),
        within(&waits, 0.5),
        within(&waits, 0.99),
        within(&waits, 1.0)
    )
}

/// How long a share of them took at most, of times in order.
fn within(waits: &[f64], share: f64) -> f64 {
    waits[((waits.len() - 1) as f64 * share) as usize]
}

/// Sends a shot each second and notes when.
async fn hit(
    intake: String,
    token: String,
    session: Uuid,
    offset_ms: u64,
    sent: Arc<Mutex<Vec<Instant>>>,
) {
    let stream = TcpStream::connect(&intake)
        .await
        .expect("the intake answers");
    stream.set_nodelay(true).expect("a socket");
    let (read, mut write) = stream.into_split();
    let mut answers = BufReader::new(read).lines();
    let hello = json!({"type": "hello", "version": 1, "token": token, "kind": "radar", "run": session.to_string(),
        "measures": ["club_speed", "ball_speed", "launch_angle", "spin_rate", "carry"], "calculates": []});
    write
        .write_all(format!("{hello}\n").as_bytes())
        .await
        .expect("a line");
    answers.next_line().await.expect("a line");
    // Every screen is open before the first ball.
    tokio::time::sleep(Duration::from_millis(3000 + offset_ms)).await;
    for sequence in 1..=SECONDS {
        let next = Instant::now() + Duration::from_secs(1);
        let measured = |value: f64| json!({"value": value, "from": "measured"});
        let time = chrono::Utc::now().to_rfc3339();
        let shot = json!({"type": "shot", "sequence": sequence, "time": time, "values": {
            "club_speed_mph": measured(101.0), "ball_speed_mph": measured(148.0),
            "launch_angle_deg": measured(12.0), "spin_rate_rpm": measured(2600.0), "carry_yd": measured(240.0)}});
        sent.lock().expect("no one failed").push(Instant::now());
        write
            .write_all(format!("{shot}\n").as_bytes())
            .await
            .expect("a line");
        answers.next_line().await.expect("a line");
        tokio::time::sleep_until(next.into()).await;
    }
}

/// Does what a browser does: hears that the session changed, and reads it again.
async fn watch(
    http: reqwest::Client,
    base: String,
    session: Uuid,
    sent: Arc<Mutex<Vec<Instant>>>,
    waits: Arc<Mutex<Vec<f64>>>,
) {
    let mut events = http
        .get(format!("{base}/live?sessions={session}"))
        .send()
        .await
        .expect("a stream")
        .bytes_stream();
    let mut seen = 0;
    while seen < SECONDS {
        let heard = events
            .next()
            .await
            .expect("the stream goes on")
            .expect("a piece");
        if !String::from_utf8_lossy(&heard).contains("changed") {
            continue;
        }
        let told: Value = http
            .get(format!("{base}/sessions/{session}/hit"))
            .send()
            .await
            .expect("the server answers")
            .json()
            .await
            .expect("an answer in JSON");
        let now = told["shots"].as_array().map_or(0, Vec::len);
        let sent = sent.lock().expect("no one failed");
        let mut waits = waits.lock().expect("no one failed");
        for at in &sent[seen.max(WARMING).min(now)..now] {
            waits.push(at.elapsed().as_secs_f64() * 1e3);
        }
        seen = now;
    }
}

async fn keys(stage: &Stage, api: &Api) -> WebDriverResult<()> {
    let player = api.player("Long day").await;
    let (session, token) = api.session(player, "Long bay").await;
    let shots = SHOTS.to_string();
    stage
        .simulate(&["--shots", &shots, "--pace-s", "0", "--token", &token])
        .await;
    for station in ["hit", "read"] {
        stage.go(&format!("/sessions/{session}/{station}")).await?;
        let last = format!("//*[@role='option'][contains(@aria-label, 'Shot {SHOTS},')]");
        stage.find(&last).await?;
        tokio::time::sleep(Duration::from_secs(3)).await;
        let took = stage
            .browser
            .execute_async(
                "const done = arguments[0];
                 const strip = document.querySelector('[role=listbox]');
                 strip.focus();
                 const took = [];
                 const press = () => {
                   if (took.length === 20) return done(took);
                   const began = performance.now();
                   strip.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowLeft', bubbles: true, cancelable: true}));
                   requestAnimationFrame(() => requestAnimationFrame(() => {
                     took.push(performance.now() - began);
                     setTimeout(press, 60);
                   }));
                 };
                 press();",
                vec![],
            )
            .await?;
        let mut took: Vec<f64> = took.convert()?;
        took.sort_by(f64::total_cmp);
        println!(
            "a key in {station} of a {SHOTS}-shot session, to its second frame: median {:.0} ms, worst {:.0} ms",
            took[took.len() / 2],
            took[took.len() - 1]
        );
    }
    Ok(())
}
