//! Two hundred coaches, each with a player of their own, who read page after page.

use crate::{Api, spread};
use serde_json::{Value, json};
use std::fmt::Write;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};
use tally_e2e::{PASSWORD, Stage};
use tokio::task::JoinHandle;
use uuid::Uuid;

const COACHES: usize = 200;
/// Shots of the session that each reads.
const SHOTS: usize = 60;

/// Coaches who can read, each with the pages that are theirs.
#[derive(Default)]
pub struct Readers(Vec<(Api, Vec<String>)>);

/// Coaches who are reading.
pub struct Reading {
    over: Arc<AtomicBool>,
    tasks: Vec<JoinHandle<(Vec<f64>, usize)>>,
}

/// Brings them all into the school, and a session of a player of theirs.
pub async fn gather(stage: &Stage, owner: &Api) -> Readers {
    gather_some(stage, owner, COACHES).await
}

/// The same, so many of them.
pub async fn gather_some(stage: &Stage, owner: &Api, coaches: usize) -> Readers {
    let mut readers = Vec::new();
    for i in 0..coaches {
        let name = format!("coach{i:03}");
        let person =
            json!({"id": Uuid::now_v7(), "name": name, "role": "coach", "sign_in_name": name});
        let code = owner.send("POST", "/people", person).await["code"].clone();
        let new = json!({"sign_in_name": name, "code": code, "password": PASSWORD});
        owner.send("POST", "/new-password", new).await;
        let api = Api {
            http: stage.client_of(&name).await,
            base: owner.base.clone(),
        };
        let player = api.player(&format!("Player of {name}")).await;
        bring(&api, player, &name).await;
        let theirs = api
            .send("GET", &format!("/players/{player}"), Value::Null)
            .await;
        let session = theirs["sessions"][0]["id"].as_str().expect("a session");
        let of_player = ["", "/prepare?purpose=benchmark&club=driver", "/decisions"]
            .map(|page| format!("/players/{player}{page}"));
        let of_session = ["/read", "/launch-spin?units=mph_yd", "/decide"]
            .map(|page| format!("/sessions/{session}{page}"));
        let pages = ["/today", "/players"].map(str::to_owned);
        readers.push((
            api,
            pages
                .into_iter()
                .chain(of_player)
                .chain(of_session)
                .collect(),
        ));
    }
    Readers(readers)
}

/// A file of shots of their own: one that was brought in before would be known.
async fn bring(api: &Api, player: Uuid, name: &str) {
    let mut table = String::from(
        "club speed (mph),ball speed (mph),launch angle (deg),spin rate (rpm),carry (yd),notes\n",
    );
    for i in 0..SHOTS {
        let wobble = (i * 37 % 61) as f64 / 10.0;
        writeln!(
            table,
            "{:.1},{:.1},{:.1},{},{},{name}",
            92.0 + wobble,
            134.0 + wobble,
            11.0 + wobble / 3.0,
            2400 + i * 53 % 600,
            214 + i * 17 % 30
        )
        .expect("a text takes what is written to it");
    }
    let told = api.import(player, &table).await;
    assert_eq!(told["rows_good"], SHOTS, "{told}");
}

impl Readers {
    /// How many they are.
    pub fn count(&self) -> usize {
        self.0.len()
    }

    /// Lets each read a page every one to five seconds.
    pub fn read(&self) -> Reading {
        let over = Arc::new(AtomicBool::new(false));
        let tasks = self.0.iter().enumerate().map(|(i, (api, pages))| {
            let (api, pages, over) = (api.clone(), pages.clone(), Arc::clone(&over));
            tokio::spawn(async move {
                let (mut waits, mut errors) = (Vec::new(), 0);
                for n in 0.. {
                    // Unlike for each, and the same in every run.
                    let think = 1000 + (i * 7919 + n * 104_729) % 4000;
                    tokio::time::sleep(Duration::from_millis(think as u64)).await;
                    if over.load(Ordering::Relaxed) {
                        break;
                    }
                    let page = &pages[(i + n) % pages.len()];
                    let began = Instant::now();
                    let asked = api.http.get(format!("{}{page}", api.base)).send().await;
                    let trouble = match asked {
                        Ok(answer) if !answer.status().is_success() => {
                            Some(answer.status().to_string())
                        }
                        Ok(answer) => answer.bytes().await.err().map(|e| e.to_string()),
                        Err(error) => Some(error.to_string()),
                    };
                    waits.push(began.elapsed().as_secs_f64() * 1e3);
                    if let Some(trouble) = trouble {
                        eprintln!("{page}: {trouble}");
                        errors += 1;
                    }
                }
                (waits, errors)
            })
        });
        Reading {
            tasks: tasks.collect(),
            over,
        }
    }
}

impl Reading {
    /// Ends it and tells how long the pages took.
    pub async fn tell(self) {
        self.over.store(true, Ordering::Relaxed);
        let (mut waits, mut errors) = (Vec::new(), 0);
        let coaches = self.tasks.len();
        for task in self.tasks {
            let (some, bad) = task.await.expect("a reader reads on");
            waits.extend(some);
            errors += bad;
        }
        if coaches > 0 {
            println!(
                "a page of {coaches} coaches, one every 1 to 5 s each, with those sessions: {}, {errors} errors",
                spread(waits)
            );
        }
    }
}
