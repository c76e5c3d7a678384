//! Two PostgreSQL that Patroni watches over: machines die by turns, and fifty sessions go on.

use crate::cluster::{as_postgres, free_port, kill_postgres, kill_with_children, programs};
use crate::stage::{Device, Stage, Visitor, hello, id, shot};
use futures_util::future::join_all;
use serde_json::json;
use std::fs::File;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicI64, Ordering};
use std::time::{Duration, Instant};
use tally_server::server::{Config, Server};

const SESSIONS: u32 = 50;
/// Between two shots of a session.
const PACE: Duration = Duration::from_millis(500);
/// Before something is tried again.
const AGAIN: Duration = Duration::from_millis(200);
/// What a session may wait for when a machine dies.
const BACK: Duration = Duration::from_secs(30);

/// A machine: PostgreSQL, and Patroni beside it.
struct Machine {
    settings: PathBuf,
    log: PathBuf,
    data: PathBuf,
    address: String,
    /// Where Patroni tells how it stands.
    told_at: String,
    patroni: Option<Child>,
}

/// Two machines, and the etcd that they agree by.
struct Pair {
    folder: PathBuf,
    etcd: Child,
    machines: [Machine; 2],
}

/// Begins a program that tells what it does in a file.
fn begun(command: &mut Command, log: &Path) -> Child {
    let log = File::options().create(true).append(true).open(log).unwrap();
    command
        .current_dir("/")
        .stdin(Stdio::null())
        .stdout(log.try_clone().unwrap())
        .stderr(log)
        .spawn()
        .unwrap()
}

impl Pair {
    async fn begin() -> Pair {
        let programs = programs().await;
        let folder = std::env::temp_dir().join(format!("tally-pair-{}", uuid::Uuid::now_v7()));
        // Whoever PostgreSQL runs as makes what is in it.
        let made = as_postgres("mkdir".into()).arg(&folder).status().unwrap();
        assert!(made.success());
        let (client, peer) = (free_port(), free_port());
        let [client_url, peer_url] = [client, peer].map(|port| format!("http://127.0.0.1:{port}"));
        let etcd = begun(
            as_postgres("etcd".into())
                .arg("--data-dir")
                .arg(folder.join("etcd"))
                .args(["--listen-client-urls", &client_url])
                .args(["--advertise-client-urls", &client_url])
                .args(["--listen-peer-urls", &peer_url])
                .args(["--initial-advertise-peer-urls", &peer_url])
                .args(["--initial-cluster", &format!("default={peer_url}")]),
            &folder.with_extension("etcd.log"),
        );
        while std::net::TcpStream::connect(("127.0.0.1", client)).is_err() {
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        let machines = ["one", "two"].map(|name| {
            let [port, rest] = [free_port(), free_port()];
            let data = folder.join(name);
            // What docs/scaling.md gives, at addresses of this machine.
            let settings = json!({
                "scope": "tally", "name": name,
                "etcd3": {"hosts": [format!("127.0.0.1:{client}")]},
                "restapi": {
                    "listen": format!("127.0.0.1:{rest}"),
                    "connect_address": format!("127.0.0.1:{rest}"),
                },
                "bootstrap": {
                    "dcs": {
                        "ttl": 20, "loop_wait": 2, "retry_timeout": 5,
                        "synchronous_mode": true,
                        "postgresql": {
                            "use_pg_rewind": true,
                            "parameters": {"max_connections": 200},
                        },
                    },
                    "initdb": [{"encoding": "UTF8"}, {"locale": "C.UTF-8"}, {"auth": "trust"}],
                },
                "postgresql": {
                    "listen": format!("127.0.0.1:{port}"),
                    "connect_address": format!("127.0.0.1:{port}"),
                    "data_dir": data, "bin_dir": programs,
                    "authentication": {
                        "superuser": {"username": "tally"},
                        "replication": {"username": "follower"},
                    },
                    "pg_hba": [
                        "host all all 127.0.0.1/32 trust",
                        "host replication all 127.0.0.1/32 trust",
                    ],
                    "parameters": {"unix_socket_directories": ""},
                },
            });
            let file = folder.with_extension(format!("{name}.yml"));
            // JSON is YAML.
            std::fs::write(&file, settings.to_string()).unwrap();
            Machine {
                settings: file,
                log: folder.with_extension(format!("{name}.log")),
                data,
                address: format!("127.0.0.1:{port}"),
                told_at: format!("http://127.0.0.1:{rest}"),
                patroni: None,
            }
        });
        let mut pair = Pair {
            folder,
            etcd,
            machines,
        };
        pair.start(0);
        pair.wait_for(0, "primary").await;
        pair.start(1);
        pair.wait_for(1, "synchronous").await;
        pair
    }

    fn start(&mut self, machine: usize) {
        let machine = &mut self.machines[machine];
        let mut patroni = as_postgres("patroni".into());
        machine.patroni = Some(begun(patroni.arg(&machine.settings), &machine.log));
    }

    /// Kills a machine with all that runs on it.
    fn kill(&mut self, machine: usize) {
        let machine = &mut self.machines[machine];
        let mut patroni = machine.patroni.take().unwrap();
        kill_with_children(&patroni.id().to_string());
        let _ = patroni.wait();
        kill_postgres(&machine.data);
    }

    /// Waits until a machine is the one that is written to (`primary`), or has each commit of the
    /// other before that is acknowledged and may take its place (`synchronous`).
    async fn wait_for(&self, machine: usize, state: &str) {
        let asked = format!("{}/{state}", self.machines[machine].told_at);
        while !reqwest::get(&asked)
            .await
            .is_ok_and(|told| told.status() == 200)
        {
            tokio::time::sleep(AGAIN).await;
        }
    }
}

impl Drop for Pair {
    fn drop(&mut self) {
        for machine in 0..2 {
            if self.machines[machine].patroni.is_some() {
                self.kill(machine);
            }
            let _ = std::fs::remove_file(&self.machines[machine].settings);
            let _ = std::fs::remove_file(&self.machines[machine].log);
        }
        kill_with_children(&self.etcd.id().to_string());
        let _ = self.etcd.wait();
        let _ = std::fs::remove_file(self.folder.with_extension("etcd.log"));
        let _ = std::fs::remove_dir_all(&self.folder);
    }
}

/// A session under way with its device, which hits until it is over.
struct Bay {
    session: String,
    token: String,
    intake: String,
    acknowledged: AtomicI64,
    /// How often its open page heard of a change.
    heard: AtomicI64,
}

/// Opens a session with a device and a player of their own.
async fn bay(coach: &Visitor, number: u32, intake: &str) -> Arc<Bay> {
    let [player, device, session] = [1000, 2000, 3000].map(|of| id(of + number));
    let new = json!({"id": player, "name": format!("Player {number}"), "born": 1990, "aim": ""});
    assert_eq!(coach.post("/players", &new).await.0, 201);
    let new = json!({"id": device, "name": format!("Bay {number}"), "kind": "radar"});
    let (_, secret) = coach.post("/devices", &new).await;
    let new = json!({
        "id": session, "player": player, "purpose": "benchmark", "club": "driver",
        "setting": {
            "place": "Bay", "altitude": {"value": 0, "unit": "m"},
            "temperature": {"value": 20, "unit": "c"},
        },
        "zone": "UTC", "devices": [device],
        "blocks": [{"id": id(4000 + number), "label": "Stock", "balls": 100}],
    });
    let (status, told) = coach.post("/sessions", &new).await;
    assert_eq!(status, 201, "{told}");
    Arc::new(Bay {
        session,
        token: secret["token"].as_str().unwrap().to_owned(),
        intake: intake.to_owned(),
        acknowledged: AtomicI64::new(0),
        heard: AtomicI64::new(0),
    })
}

/// A device that was let in, however often it takes.
async fn greeted(bay: &Bay) -> Device {
    let mut greeting = hello();
    greeting["token"] = json!(bay.token);
    loop {
        let mut device = Device::connect(&bay.intake).await;
        let answer = device.try_say(&greeting).await;
        if answer.is_some_and(|answer| answer["type"] == "welcome") {
            return device;
        }
        tokio::time::sleep(AGAIN).await;
    }
}

/// Sends a shot after another until it is over, each as often as it takes to be acknowledged.
async fn hit(bay: Arc<Bay>, over: Arc<AtomicBool>) {
    let mut device = greeted(&bay).await;
    while !over.load(Ordering::Relaxed) {
        let sequence = bay.acknowledged.load(Ordering::Relaxed) + 1;
        loop {
            match device.try_say(&shot(sequence, 90.0)).await {
                Some(answer) if answer["type"] == "ack" => break,
                Some(_) => tokio::time::sleep(AGAIN).await,
                None => device = greeted(&bay).await,
            }
        }
        bay.acknowledged.store(sequence, Ordering::Relaxed);
        tokio::time::sleep(PACE).await;
    }
}

/// An open page of a session: it hears of changes, and asks anew when it hears no more.
async fn listen(coach: Visitor, bay: Arc<Bay>, over: Arc<AtomicBool>) {
    let live = format!("{}/api/v1/live?sessions={}", coach.web, bay.session);
    while !over.load(Ordering::Relaxed) {
        if let Ok(mut page) = coach.http.get(&live).send().await {
            while let Ok(Some(told)) = page.chunk().await {
                if told.windows(5).any(|some| some == b"data:") {
                    bay.heard.fetch_add(1, Ordering::Relaxed);
                }
            }
        }
        tokio::time::sleep(AGAIN).await;
    }
}

/// Waits until a number of every bay has grown by so many.
async fn all_go_on(bays: &[Arc<Bay>], number: fn(&Bay) -> &AtomicI64, by: i64) {
    let seen = |bay: &Arc<Bay>| number(bay).load(Ordering::Relaxed);
    let before: Vec<i64> = bays.iter().map(seen).collect();
    while bays
        .iter()
        .zip(&before)
        .any(|(bay, before)| seen(bay) < before + by)
    {
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "needs Patroni and etcd: bin/test --cluster"]
async fn machines_die_by_turns_and_fifty_sessions_lose_no_acknowledged_shot() {
    let mut pair = Pair::begin().await;
    let [one, two] = [0, 1].map(|machine| pair.machines[machine].address.clone());
    let stage = Stage::with_session_at_either([&one, &two]).await;
    let second = Server::start(&Config::local(&stage.url)).await.unwrap();
    let coaches = [stage.visitor(), stage.elsewhere(&second)];
    let intakes = [stage.intake.clone(), second.intake_address().to_string()];
    let serving = tokio::spawn(async move { second.run().await.is_ok() });
    let over = Arc::new(AtomicBool::new(false));
    let (mut bays, mut devices, mut pages) = (Vec::new(), Vec::new(), Vec::new());
    for number in 0..SESSIONS {
        // The device speaks to one server, the page is open at the other.
        let [at, other] = [number as usize % 2, (number as usize + 1) % 2];
        let bay = bay(&coaches[0], number, &intakes[at]).await;
        devices.push(tokio::spawn(hit(Arc::clone(&bay), Arc::clone(&over))));
        let coach = stage.at(&coaches[other].web);
        pages.push(tokio::spawn(listen(
            coach,
            Arc::clone(&bay),
            Arc::clone(&over),
        )));
        bays.push(bay);
    }
    all_go_on(&bays, |bay| &bay.acknowledged, 5).await;
    for dies in [0, 1] {
        let died = Instant::now();
        tokio::task::block_in_place(|| pair.kill(dies));
        all_go_on(&bays, |bay| &bay.acknowledged, 3).await;
        println!("shots go on after {:.1} s", died.elapsed().as_secs_f64());
        all_go_on(&bays, |bay| &bay.heard, 1).await;
        let back = died.elapsed();
        println!("every open page too, after {:.1} s", back.as_secs_f64());
        assert!(back < BACK, "{back:?}");
        for coach in &coaches {
            assert_eq!(coach.get("/today").await.0, 200);
        }
        // It comes back as the one that follows, and has all again.
        pair.start(dies);
        pair.wait_for(dies, "synchronous").await;
    }
    over.store(true, Ordering::Relaxed);
    for device in join_all(devices).await {
        device.unwrap();
    }
    for bay in &bays {
        let stored = format!(
            "reading JOIN shot ON shot.id = reading.shot_id WHERE shot.session_id = '{}'",
            bay.session
        );
        let acknowledged = bay.acknowledged.load(Ordering::Relaxed);
        assert_eq!(stage.counted(&stored).await, acknowledged);
        let (_, read) = coaches[1]
            .get(&format!("/sessions/{}/read", bay.session))
            .await;
        assert_eq!(read["shots"].as_array().unwrap().len() as i64, acknowledged);
    }
    pages.iter().for_each(tokio::task::JoinHandle::abort);
    serving.abort();
}
