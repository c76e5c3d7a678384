//! What an attack does to a full house: `bin/measure --attack`.
//!
//! Thousands of silent connections while fifty sessions go on; a hundred clients who have
//! passwords hashed; files whose rows never come; a flood of lines to the device port. Told
//! beside the same without them, with the server's memory before and after.

use crate::{Api, live, readers, spread};
use futures_util::future::join_all;
use serde_json::{Value, json};
use std::time::{Duration, Instant};
use tally_e2e::{PASSWORD, Stage};
use tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio::task::JoinHandle;

/// Silent connections on each port.
const SILENT: usize = 5_000;
/// Clients that have passwords hashed, and files that stall.
const CLIENTS: usize = 100;

/// Measures all of it.
pub async fn attack(stage: &Stage, api: &Api) {
    let handles = rlimit::increase_nofile_limit(40_000).expect("a limit");
    println!("{handles} file handles for the attacker");
    let before = memory(stage);
    silent(stage, api).await;
    hashing(stage, api).await;
    stalled(stage, api).await;
    lines(stage).await;
    tokio::time::sleep(Duration::from_secs(5)).await;
    let after = memory(stage);
    println!(
        "memory of the server: {before} MB before, {after} MB after: {:.2} times",
        after as f64 / before as f64
    );
}

/// What the server holds, MB.
pub fn memory(stage: &Stage) -> u64 {
    held_by(stage.server_id()).expect("the server runs")
}

/// What a process holds, MB; nothing once it has ended.
pub fn held_by(process: u32) -> Option<u64> {
    let status = std::fs::read_to_string(format!("/proc/{process}/status")).ok()?;
    let line = status.lines().find(|line| line.starts_with("VmRSS:"))?;
    let kilobytes: u64 = line.split_whitespace().nth(1)?.parse().ok()?;
    Some(kilobytes / 1024)
}

/// Fifty sessions go on while thousands connect to both ports and say nothing; whoever is
/// shown out comes again.
async fn silent(stage: &Stage, api: &Api) {
    let web = stage.web.trim_start_matches("http://").to_owned();
    let intake = stage.intake.clone();
    let holding: Vec<JoinHandle<()>> = (0..2 * SILENT)
        .map(|i| {
            let (address, preface) = match i % 4 {
                0 => (web.clone(), ""),
                2 => (web.clone(), "PRI * HTTP/2.0\r\n\r\nSM\r\n\r\n"),
                _ => (intake.clone(), ""),
            };
            tokio::spawn(async move {
                tokio::time::sleep(Duration::from_micros(400 * i as u64)).await;
                loop {
                    if let Ok(mut stream) = TcpStream::connect(&address).await {
                        let _ = stream.write_all(preface.as_bytes()).await;
                        let mut heard = Vec::new();
                        let _ = stream.read_to_end(&mut heard).await;
                    }
                    tokio::time::sleep(Duration::from_secs(5)).await;
                }
            })
        })
        .collect();
    println!("with {SILENT} silent connections on each port, who come again when shown out:");
    live(stage, api, &readers::Readers::default()).await;
    println!("  memory meanwhile {} MB", memory(stage));
    for one in holding {
        one.abort();
    }
}

/// How long a sign-in by a browser takes, ms, so many times one after another.
async fn sign_ins(base: &str, times: usize, http: &reqwest::Client) -> Vec<f64> {
    let mut took = Vec::new();
    for _ in 0..times {
        let began = Instant::now();
        let body = json!({"sign_in_name": "orla", "password": PASSWORD});
        let asked = http.post(format!("{base}/sign-in"));
        let answer = asked.json(&body).send().await.expect("the server answers");
        if answer.status().is_success() {
            took.push(began.elapsed().as_secs_f64() * 1e3);
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    took
}

async fn hashing(stage: &Stage, api: &Api) {
    // A browser that its coach has signed in with before.
    let coach = reqwest::Client::builder()
        .cookie_store(true)
        .build()
        .expect("a client");
    let alone = sign_ins(&api.base, 20, &coach).await;
    println!("a sign-in alone: {}", spread(alone));
    let set_up = json!({"school": "Another", "name": "Nobody", "sign_in_name": "nobody",
        "password": "a few plain words"});
    let guess = json!({"sign_in_name": "nobody", "password": "a few plain words"});
    for (path, body) in [("/set-up", set_up), ("/sign-in", guess)] {
        let clients: Vec<_> = (0..CLIENTS)
            .map(|i| {
                let (url, mut body) = (format!("{}{path}", api.base), body.clone());
                tokio::spawn(async move {
                    let http = reqwest::Client::new();
                    for n in 0.. {
                        body["sign_in_name"] = json!(format!("nobody{i}-{n}"));
                        let _ = http.post(&url).json(&body).send().await;
                    }
                })
            })
            .collect();
        tokio::time::sleep(Duration::from_secs(1)).await;
        let took = sign_ins(&api.base, 20, &coach).await;
        let memory = memory(stage);
        let told = if took.is_empty() {
            "none came in".to_owned()
        } else {
            spread(took)
        };
        println!(
            "a sign-in from the same address beside {CLIENTS} clients at {path}: {told}; memory {memory} MB"
        );
        for client in clients {
            client.abort();
        }
        tokio::time::sleep(Duration::from_secs(1)).await;
    }
}

/// Acknowledgements of a device, ms, while files stall.
async fn stalled(stage: &Stage, api: &Api) {
    let player = api.player("Stalled").await;
    let (_, token) = api.session(player, "Stalled bay").await;
    let mut device = Device::greet(&stage.intake, &token).await;
    println!(
        "an acknowledgement alone: {}",
        spread(device.shots(50).await)
    );
    let layout = api.layout("club speed (mph),carry (yd)\n92,231\n").await;
    let files: Vec<_> = (0..CLIENTS)
        .map(|_| {
            let url = api.import_address(player, layout.clone());
            let http = api.http.clone();
            tokio::spawn(async move {
                let never = futures_util::stream::pending::<Result<Vec<u8>, std::io::Error>>();
                let body = reqwest::Body::wrap_stream(never);
                let asked = http.post(url).body(body);
                let answer = asked.send().await;
                answer.map_or(0, |answer| answer.status().as_u16())
            })
        })
        .collect();
    tokio::time::sleep(Duration::from_secs(1)).await;
    println!(
        "an acknowledgement beside {CLIENTS} files that stall: {}",
        spread(device.shots(50).await)
    );
    let began = Instant::now();
    let ended = join_all(files).await;
    let refused = ended
        .iter()
        .filter(|ended| matches!(ended, Ok(429)))
        .count();
    println!(
        "  {refused} of them refused at once, all over after {:.0} s",
        began.elapsed().as_secs_f64()
    );
}

/// A flood of lines that are none.
async fn lines(stage: &Stage) {
    let began = Instant::now();
    let flood = (0..CLIENTS).map(|_| async {
        let mut sent = 0;
        while began.elapsed() < Duration::from_secs(9) {
            let Ok(mut stream) = TcpStream::connect(&stage.intake).await else {
                continue;
            };
            let some = "?\n".repeat(1000);
            let _ = stream.write_all(some.as_bytes()).await;
            let mut heard = Vec::new();
            let _ = stream.read_to_end(&mut heard).await;
            sent += 1000;
        }
        sent
    });
    let sent: usize = join_all(flood).await.into_iter().sum();
    println!("{sent} lines of strangers to the device port in 9 s");
}

struct Device {
    answers: BufReader<tokio::net::tcp::OwnedReadHalf>,
    write: tokio::net::tcp::OwnedWriteHalf,
    sequence: u64,
}

impl Device {
    async fn greet(intake: &str, token: &str) -> Device {
        let stream = TcpStream::connect(intake)
            .await
            .expect("the intake answers");
        stream.set_nodelay(true).expect("a socket");
        let (read, write) = stream.into_split();
        let mut device = Device {
            answers: BufReader::new(read),
            write,
            sequence: 0,
        };
        let hello = json!({"type": "hello", "version": 1, "token": token, "kind": "radar",
            "run": "stalled", "measures": ["club_speed"], "calculates": []});
        device.say(&hello).await;
        device
    }

    async fn say(&mut self, line: &Value) -> String {
        let line = format!("{line}\n");
        self.write.write_all(line.as_bytes()).await.expect("a line");
        let mut answer = String::new();
        self.answers.read_line(&mut answer).await.expect("a line");
        answer
    }

    async fn shots(&mut self, number: usize) -> Vec<f64> {
        let mut took = Vec::new();
        for _ in 0..number {
            self.sequence += 1;
            let time = chrono::Utc::now().to_rfc3339();
            let shot = json!({"type": "shot", "sequence": self.sequence, "time": time,
                "values": {"club_speed_mph": {"value": 101.0, "from": "measured"}}});
            let began = Instant::now();
            let answer = self.say(&shot).await;
            assert!(answer.contains("\"ack\""), "{answer}");
            took.push(began.elapsed().as_secs_f64() * 1e3);
            tokio::time::sleep(Duration::from_millis(40)).await;
        }
        took
    }
}
