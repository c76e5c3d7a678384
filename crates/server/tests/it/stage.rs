//! A server in this process on free ports, with a database of its own.

use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use tally_server::app::{Config, Server};
use tally_store::Store;
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
const CAMERA_TOKEN: &str = "dev-test-camera";
pub const BLOCK: &str = "01890000-0000-7000-8000-000000000003";

impl Stage {
    /// A school with two devices and nothing else.
    pub async fn set() -> Stage {
        let stage = Stage::bare().await;
        let store = stage.store().await;
        let school = store.only_coach().await.unwrap().school_id;
        for (id, name, kind, token) in [
            (RADAR, "Test radar", "radar", RADAR_TOKEN),
            (CAMERA, "Test camera", "camera", CAMERA_TOKEN),
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

    /// The demo school.
    pub async fn demo() -> Stage {
        let stage = Stage::bare().await;
        tally_server::cli::demo::load(&stage.store().await)
            .await
            .unwrap();
        stage
    }

    /// An empty school.
    pub async fn bare() -> Stage {
        let database = TestDatabase::create().await;
        let any = "127.0.0.1:0".parse().unwrap();
        let config = Config {
            database_url: database.url.clone(),
            web: any,
            intake: any,
        };
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
        let stage = Stage::set().await;
        let player =
            json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": "Clear the ditch"});
        assert_eq!(stage.post("/players", &player).await.0, 201);
        assert_eq!(stage.post("/sessions", &session()).await.0, 201);
        stage
    }

    pub async fn store(&self) -> Store {
        Store::open(&self.url).await.unwrap()
    }

    pub async fn get(&self, path: &str) -> (u16, Value) {
        let answer = self
            .http
            .get(format!("{}/api/v1{path}", self.web))
            .send()
            .await
            .unwrap();
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

    pub async fn device(&self) -> Device {
        let (read, write) = TcpStream::connect(&self.intake).await.unwrap().into_split();
        Device {
            answers: BufReader::new(read).lines(),
            write,
        }
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
