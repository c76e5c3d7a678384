//! A server in this process on free ports, with a database of its own.

use crate::cluster::Cluster;
use argon2::password_hash::{PasswordHasher, SaltString};
use argon2::{Algorithm, Argon2, Params, Version};
use reqwest::header::{COOKIE, SET_COOKIE};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use std::time::Duration;
use tally_core::shots::device::DeviceKind;
use tally_formats::device_line::NOT_NOW;
use tally_server::server::{Config, Server};
use tally_sim::scenario::{PASSWORD as DEMO_PASSWORD, SIGN_IN_NAME as DEMO_SIGN_IN};
use tally_store::Store;
use tally_store::base::connections::Connections;
use tally_store::school::people::Founder;
use tally_store::testing::TestDatabase;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader, Lines};
use tokio::net::TcpStream;
use tokio::net::tcp::{OwnedReadHalf, OwnedWriteHalf};
use tokio::task::JoinHandle;

pub struct Stage {
    database: TestDatabase,
    server: JoinHandle<()>,
    pub url: String,
    pub web: String,
    pub intake: String,
    pub http: reqwest::Client,
}

pub const PLAYER: &str = "01890000-0000-7000-8000-000000000001";
pub const SESSION: &str = "01890000-0000-7000-8000-000000000002";
pub const RADAR: &str = "01890000-0000-7000-8000-000000000004";
pub const CAMERA: &str = "01890000-0000-7000-8000-000000000005";
const RADAR_TOKEN: &str = "dev-test-radar";
pub const CAMERA_TOKEN: &str = "dev-test-camera";
pub const BLOCK: &str = "01890000-0000-7000-8000-000000000003";
/// What the owner of a stage's school signs in with.
pub const OWNER: &str = "owner";
pub const PASSWORD: &str = "four plain words";

/// Founds a school in an empty database.
async fn found(url: &str) {
    let founder = Founder {
        school: "Test school",
        name: "Orla Finch",
        sign_in_name: OWNER,
        password_hash: Some(&cheap_hash(PASSWORD)),
    };
    let store = Store::open(url).await.unwrap();
    store.set_up(founder).await.unwrap();
}

/// A hash that costs next to nothing, for people whom tests make.
fn cheap_hash(password: &str) -> String {
    let cheap = Params::new(Params::MIN_M_COST, 1, 1, None).unwrap();
    let salt = SaltString::from_b64("c2FsdHNhbHRzYWx0").unwrap();
    Argon2::new(Algorithm::Argon2id, Version::V0x13, cheap)
        .hash_password(password.as_bytes(), &salt)
        .unwrap()
        .to_string()
}

impl Stage {
    /// A school with two devices and nothing else.
    pub async fn set() -> Stage {
        Stage::bare().await.equipped().await
    }

    async fn equipped(self) -> Stage {
        let stage = self;
        let store = stage.store().await;
        let school = store.founder().await.unwrap().school_id;
        for (id, name, kind, token) in [
            (RADAR, "Test radar", DeviceKind::Radar, RADAR_TOKEN),
            (CAMERA, "Test camera", DeviceKind::Camera, CAMERA_TOKEN),
        ] {
            let digest = Sha256::digest(token.as_bytes());
            let id = id.parse().unwrap();
            store
                .add_device(school, id, name, kind, Some(&digest), false)
                .await
                .unwrap();
        }
        stage
    }

    /// Address of its database.
    pub fn database_url(&self) -> String {
        self.database.url.clone()
    }

    /// The demo school, with its owner signed in.
    pub async fn demo() -> Stage {
        let database = TestDatabase::create_like("demo", async |url| {
            let store = Store::open(url).await.unwrap();
            tally_server::cli::demo::load(&store).await.unwrap();
        });
        let mut stage = Stage::on(database.await).await;
        stage.http = stage.signed_in(DEMO_SIGN_IN, DEMO_PASSWORD).await;
        stage
    }

    /// An empty school, with its owner signed in.
    pub async fn bare() -> Stage {
        let database = TestDatabase::create_like("founded", found);
        Stage::founded_on(database.await).await
    }

    /// The same on a database that has a school already.
    async fn founded_on(database: TestDatabase) -> Stage {
        let mut stage = Stage::on(database).await;
        stage.http = stage.signed_in(OWNER, PASSWORD).await;
        stage
    }

    /// The cookie that signs somebody in, as it is set.
    pub async fn cookie(&self, name: &str, password: &str) -> String {
        let asked = reqwest::Client::new()
            .post(format!("{}/api/v1/sign-in", self.web))
            .json(&json!({"sign_in_name": name, "password": password}));
        let answer = asked.send().await.unwrap();
        assert_eq!(answer.status(), 204, "{name} is not let in");
        answer.headers()[SET_COOKIE].to_str().unwrap().to_owned()
    }

    /// The same stage, asked by somebody else; clear away the first one.
    pub fn as_client(&self, http: reqwest::Client) -> Visitor {
        Visitor {
            web: self.web.clone(),
            http,
        }
    }

    /// Changes the database behind the server's back.
    pub async fn sql(&self, statement: &str) {
        self.database.run(statement).await.unwrap();
    }

    /// The first column of a query's rows, as the database's own user.
    pub async fn ask(&self, sql: &str) -> Vec<String> {
        self.database.ask(sql).await.unwrap()
    }

    /// A client that is signed in.
    pub async fn signed_in(&self, name: &str, password: &str) -> reqwest::Client {
        let cookie = self.cookie(name, password).await;
        let kept = cookie.split(';').next().unwrap().parse().unwrap();
        reqwest::Client::builder()
            .default_headers([(COOKIE, kept)].into_iter().collect())
            .build()
            .unwrap()
    }

    /// A server before any school.
    pub async fn unfounded() -> Stage {
        Stage::on(TestDatabase::create().await).await
    }

    async fn on(database: TestDatabase) -> Stage {
        let config = Config::local(&database.url);
        Stage::configured(database, config).await
    }

    /// Where `bin/test --pooled` tells of a pooler before the tests' common PostgreSQL, every server
    /// asks through it.
    async fn configured(database: TestDatabase, mut config: Config) -> Stage {
        let common = std::env::var("TALLY_TEST_DATABASE_URL").unwrap_or_default();
        let address = common.split(['@', '/']).nth_back(1).unwrap_or("nowhere");
        if let Ok(pooler) = std::env::var("TALLY_TEST_POOLER")
            && database.url.contains(address)
        {
            let pooled = database.url.replace(address, &pooler);
            config.pooled_database_url.get_or_insert(pooled);
        }
        let server = Server::start(&config).await.unwrap();
        let web = format!("http://{}", server.web_address().unwrap());
        let intake = server.intake_address().to_string();
        Stage {
            url: database.url.clone(),
            database,
            server: tokio::spawn(async move { server.run().await.unwrap() }),
            web,
            intake,
            http: reqwest::Client::new(),
        }
    }

    /// A school with a player and a session in progress.
    pub async fn with_session() -> Stage {
        Stage::set().await.begun().await
    }

    /// The same on a cluster that a test may kill: `server` is the address of one of its
    /// databases.
    pub async fn with_session_on(server: String) -> Stage {
        let database = TestDatabase::create_on(server).await;
        found(&database.url).await;
        let stage = Stage::founded_on(database).await;
        stage.equipped().await.begun().await
    }

    /// The same on the first of two clusters, which follow each other; the server knows both.
    pub async fn with_session_on_either(first: &Cluster, second: &Cluster) -> Stage {
        Stage::with_session_at_either([&first.address(), &second.address()]).await
    }

    /// The same by the addresses of the two.
    pub async fn with_session_at_either([first, second]: [&str; 2]) -> Stage {
        let server = format!("postgres://tally@{first}/postgres");
        let mut database = TestDatabase::create_on(server).await;
        found(&database.url).await;
        database.url = database.url.replace(first, &format!("{first},{second}"))
            + "?target_session_attrs=read-write&connect_timeout=3";
        let stage = Stage::founded_on(database).await;
        stage.equipped().await.begun().await
    }

    /// The same on a cluster, with pages read at another address: of what follows it, or of what
    /// stands before it.
    pub async fn with_session_read_at(first: &Cluster, address: &str) -> Stage {
        let read_there = |config: &mut Config, url| config.read_database_url = Some(url);
        Stage::with_session_also_at(first, address, read_there).await
    }

    /// The same on a cluster before which a pooler stands at another address.
    pub async fn with_session_through(first: &Cluster, pooler: &str) -> Stage {
        let through = |config: &mut Config, url| config.pooled_database_url = Some(url);
        Stage::with_session_also_at(first, pooler, through).await
    }

    async fn with_session_also_at(
        first: &Cluster,
        address: &str,
        so: impl FnOnce(&mut Config, String),
    ) -> Stage {
        let database = TestDatabase::create_on(first.url()).await;
        found(&database.url).await;
        let mut config = Config::local(&database.url);
        so(&mut config, database.url.replace(&first.address(), address));
        let mut stage = Stage::configured(database, config).await;
        stage.http = stage.signed_in(OWNER, PASSWORD).await;
        stage.equipped().await.begun().await
    }

    /// The same as [`Stage::with_session`], by a server with so few connections to the database.
    pub async fn with_session_on_few(connections: usize) -> Stage {
        let database = TestDatabase::create_like("founded", found).await;
        let mut config = Config::local(&database.url);
        config.connections = Connections::of(connections);
        let mut stage = Stage::configured(database, config).await;
        stage.http = stage.signed_in(OWNER, PASSWORD).await;
        stage.equipped().await.begun().await
    }

    async fn begun(self) -> Stage {
        let stage = self;
        let player =
            json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": "Clear the ditch"});
        assert_eq!(stage.post("/players", &player).await.0, 201);
        assert_eq!(stage.post("/sessions", &session()).await.0, 201);
        stage
    }

    /// The school's records.
    pub async fn store(&self) -> Store {
        let store = Store::open(&self.url).await.unwrap();
        let school = store.founder().await.unwrap().school_id;
        store.for_school(school)
    }

    /// Makes every player a child whose guardian consented.
    pub async fn all_are_children(&self) {
        self.sql("UPDATE player SET born = 2014, guardian = 'Ada', consent_on = '2026-04-01'")
            .await;
    }

    pub async fn get(&self, path: &str) -> (u16, Value) {
        self.visitor().get(path).await
    }

    pub async fn post(&self, path: &str, body: &Value) -> (u16, Value) {
        self.visitor().post(path, body).await
    }

    pub async fn put(&self, path: &str, body: &Value) -> (u16, Value) {
        self.visitor().put(path, body).await
    }

    pub async fn delete(&self, path: &str) -> u16 {
        self.visitor().delete(path).await
    }

    /// The text at a path.
    pub async fn text(&self, path: &str) -> String {
        self.visitor().text(path).await
    }

    pub fn visitor(&self) -> Visitor {
        self.as_client(self.http.clone())
    }

    /// Sends bytes as they are.
    pub async fn raw(
        &self,
        method: &str,
        path: &str,
        body: impl Into<reqwest::Body>,
    ) -> (u16, Value) {
        let asked = self
            .http
            .request(
                method.parse().unwrap(),
                format!("{}/api/v1{path}", self.web),
            )
            .body(body);
        let answer = asked.send().await.unwrap();
        (
            answer.status().as_u16(),
            answer.json().await.unwrap_or_default(),
        )
    }

    /// The session as Hit shows it.
    pub async fn hit(&self) -> Value {
        self.get(&format!("/sessions/{SESSION}/hit")).await.1
    }

    /// Records an act of the session under a number of its own.
    pub async fn act(&self, number: u32, act: Value) -> u16 {
        let body = json!({"id": id(number), "act": act});
        let path = format!("/sessions/{SESSION}/acts");
        self.post(&path, &body).await.0
    }

    /// How many readings of a kind are stored.
    pub async fn count(&self, which: &str) -> i64 {
        self.counted(&format!("reading WHERE {which}")).await
    }

    /// The same visitor, at another server.
    pub fn elsewhere(&self, server: &Server) -> Visitor {
        self.at(&format!("http://{}", server.web_address().unwrap()))
    }

    /// The same visitor, at another address.
    pub fn at(&self, web: &str) -> Visitor {
        Visitor {
            web: web.to_owned(),
            http: self.http.clone(),
        }
    }

    /// How many rows of a query there are.
    pub async fn counted(&self, rows: &str) -> i64 {
        let sql = format!("SELECT count(*)::text FROM {rows}");
        self.database.ask(&sql).await.unwrap()[0].parse().unwrap()
    }

    pub async fn device(&self) -> Device {
        Device::connect(&self.intake).await
    }

    /// The camera, with hello said.
    pub async fn camera(&self) -> Device {
        let mut device = self.device().await;
        let mut hello = hello();
        hello["token"] = json!(CAMERA_TOKEN);
        hello["kind"] = json!("camera");
        assert_eq!(device.say(&hello).await["type"], "welcome");
        device
    }

    /// A device that has said hello and sent `shots` shots.
    pub async fn device_with_shots(&self, shots: i64) -> Device {
        let mut device = self.device().await;
        assert_eq!(device.say(&hello()).await["type"], "welcome");
        for sequence in 1..=shots {
            let answer = device.say(&shot(sequence, 90.0 + sequence as f64)).await;
            assert_eq!(answer["type"], "ack", "{answer}");
        }
        device
    }

    pub async fn clear(self) {
        self.server.abort();
        self.database.remove().await.unwrap();
    }
}

/// Somebody who asks the API.
pub struct Visitor {
    pub web: String,
    pub http: reqwest::Client,
}

impl Visitor {
    pub async fn get(&self, path: &str) -> (u16, Value) {
        let asked = self.http.get(format!("{}/api/v1{path}", self.web));
        let answer = asked.send().await.unwrap();
        (
            answer.status().as_u16(),
            answer.json().await.unwrap_or_default(),
        )
    }

    pub async fn post(&self, path: &str, body: &Value) -> (u16, Value) {
        self.send("POST", path, body).await
    }

    pub async fn put(&self, path: &str, body: &Value) -> (u16, Value) {
        self.send("PUT", path, body).await
    }

    pub async fn delete(&self, path: &str) -> u16 {
        let asked = self.http.delete(format!("{}/api/v1{path}", self.web));
        asked.send().await.unwrap().status().as_u16()
    }

    /// The text at a path.
    pub async fn text(&self, path: &str) -> String {
        let asked = self.http.get(format!("{}/api/v1{path}", self.web));
        asked.send().await.unwrap().text().await.unwrap()
    }

    /// Posts a text.
    pub async fn post_text(&self, path: &str, text: String) -> (u16, Value) {
        let asked = self.http.post(format!("{}/api/v1{path}", self.web));
        let answer = asked.body(text).send().await.unwrap();
        (
            answer.status().as_u16(),
            answer.json().await.unwrap_or_default(),
        )
    }

    async fn send(&self, method: &str, path: &str, body: &Value) -> (u16, Value) {
        let asked = self
            .http
            .request(
                method.parse().unwrap(),
                format!("{}/api/v1{path}", self.web),
            )
            .json(body);
        let answer = asked.send().await.unwrap();
        (
            answer.status().as_u16(),
            answer.json().await.unwrap_or_default(),
        )
    }
}

/// An identifier made of a number.
pub fn id(number: u32) -> String {
    format!("01890000-0000-7000-8000-1000{number:08}")
}

pub fn session() -> Value {
    json!({
        "id": SESSION, "player": PLAYER, "purpose": "benchmark", "club": "iron6",
        "setting": {
            "place": "North bay", "altitude": {"value": 0, "unit": "m"},
            "temperature": {"value": 77, "unit": "f"},
        },
        "zone": "Europe/Vienna",
        "blocks": [{"id": BLOCK, "label": "Stock", "balls": 12}],
    })
}

pub fn hello() -> Value {
    json!({
        "type": "hello", "version": 1, "token": RADAR_TOKEN, "kind": "radar", "run": "a",
        "measures": ["club_speed", "ball_speed", "launch_angle", "spin_rate", "carry"],
        "calculates": ["smash_factor"],
    })
}

pub fn shot(sequence: i64, club_speed_mph: f64) -> Value {
    let measured = |value: f64| json!({"value": value, "from": "measured"});
    json!({
        "type": "shot", "sequence": sequence,
        "time": format!("2026-04-18T10:{:02}:{:02}Z", sequence / 60, sequence % 60),
        "values": {
            "club_speed_mph": measured(club_speed_mph),
            "ball_speed_mph": measured(127.0),
            "launch_angle_deg": measured(14.1),
            "spin_rate_rpm": measured(6231.0),
            "carry_yd": measured(183.0),
            "smash_factor": {"value": 1.38, "from": "calculated"},
        },
    })
}

pub struct Device {
    answers: Lines<BufReader<OwnedReadHalf>>,
    write: OwnedWriteHalf,
}

impl Device {
    pub async fn connect(intake: &str) -> Device {
        let (read, write) = TcpStream::connect(intake).await.unwrap().into_split();
        Device {
            answers: BufReader::new(read).lines(),
            write,
        }
    }

    /// Says a shot until it is acknowledged, as a device does whose shot could not be
    /// stored just then.
    pub async fn say_until_stored(&mut self, shot: &Value) {
        loop {
            let answer = self.say(shot).await;
            if answer["type"] == "ack" {
                return;
            }
            assert_eq!(answer["problem"], NOT_NOW, "{answer}");
            tokio::time::sleep(Duration::from_millis(10)).await;
        }
    }

    /// Says a line; hears nothing when the server has gone.
    pub async fn try_say(&mut self, line: &Value) -> Option<Value> {
        let line = format!("{line}\n");
        self.write.write_all(line.as_bytes()).await.ok()?;
        let answer = self.answers.next_line().await.ok()??;
        serde_json::from_str(&answer).ok()
    }

    pub async fn say(&mut self, line: &Value) -> Value {
        self.say_raw(format!("{line}\n").as_bytes()).await
    }

    pub async fn say_raw(&mut self, bytes: &[u8]) -> Value {
        self.write.write_all(bytes).await.unwrap();
        let answer = self.answers.next_line().await.unwrap().expect("an answer");
        serde_json::from_str(&answer).unwrap()
    }

    /// Sends bytes and goes away without hearing the answer.
    pub async fn say_and_leave(mut self, bytes: &[u8]) {
        self.write.write_all(bytes).await.unwrap();
        self.write.shutdown().await.unwrap();
    }
}

/// A sentence without its figures.
pub fn said(sentence: &Value) -> String {
    let parts = sentence.as_array().unwrap().iter();
    parts
        .map(|part| {
            part["text"]
                .as_str()
                .or(part["date"].as_str())
                .unwrap_or("#")
        })
        .collect()
}
