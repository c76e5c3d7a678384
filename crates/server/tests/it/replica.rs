//! Pages are read from a PostgreSQL that follows the first one, and nobody misses what they did.

use crate::cluster::Cluster;
use crate::plans::every_page_answers;
use crate::stage::{SESSION, Stage, id, shot};
use serde_json::{Value, json};
use std::time::Duration;
use tally_server::http::access::POSITION;

/// The names that the list of players has, for one who wants to see what was done until then.
async fn names(stage: &Stage, from: &str) -> Vec<String> {
    let asked = stage.http.get(format!("{}/api/v1/players", stage.web));
    let answer = asked.header(POSITION, from).send().await.unwrap();
    let told: Value = answer.json().await.unwrap();
    let name = |player: &Value| player["name"].as_str().unwrap().to_owned();
    told.as_array().unwrap().iter().map(name).collect()
}

/// Adds a player; where in the log that can be seen.
async fn add(stage: &Stage, number: u32) -> String {
    let player =
        json!({"id": id(number), "name": format!("Player {number}"), "born": 1990, "aim": ""});
    let asked = stage.http.post(format!("{}/api/v1/players", stage.web));
    let answer = asked.json(&player).send().await.unwrap();
    assert_eq!(answer.status(), 201);
    answer.headers()[POSITION].to_str().unwrap().to_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_did_something_sees_it_however_far_behind_the_copy_is_that_pages_are_read_from() {
    let first = Cluster::begin().await;
    let second = first.follower();
    let stage = Stage::with_session_read_at(&first, &second.address()).await;
    let (wren, added) = ("Wren Aldous".to_owned(), "Player 61".to_owned());
    let begun = add(&stage, 60).await;
    assert_eq!(names(&stage, &begun).await, ["Player 60", &wren]);

    // It stands still: who did something asks the first database, who did nothing the copy.
    second.ask("SELECT pg_wal_replay_pause()");
    while second.ask("SELECT pg_get_wal_replay_pause_state()") != "paused" {
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    let at = add(&stage, 61).await;
    assert_eq!(names(&stage, &at).await, ["Player 60", &added, &wren]);
    assert_eq!(names(&stage, &begun).await, ["Player 60", &wren]);
    // Who says nothing of a place, as a stream and a file do, is answered from the first database.
    let plain = stage.get("/players").await.1;
    assert_eq!(plain.as_array().unwrap().len(), 3);
    // Who hears of a change is told from where on it is seen.
    let live = format!("{}/api/v1/live?sessions={SESSION}", stage.web);
    let mut heard = stage.http.get(&live).send().await.unwrap();
    let mut device = stage.device_with_shots(0).await;
    device.say_until_stored(&shot(1, 90.0)).await;
    let mut told = String::new();
    while !told.contains("id: ") {
        let piece = tokio::time::timeout(Duration::from_secs(10), heard.chunk());
        let piece = piece.await.unwrap().unwrap().unwrap();
        told.push_str(&String::from_utf8_lossy(&piece));
    }
    let seen_from = told.rsplit("id: ").next().unwrap().lines().next().unwrap();
    let hit = stage
        .http
        .get(format!("{}/api/v1/sessions/{SESSION}/hit", stage.web));
    let hit = hit.header(POSITION, seen_from).send().await.unwrap();
    let hit: Value = hit.json().await.unwrap();
    assert_eq!(hit["shots"].as_array().unwrap().len(), 1);

    // It goes on, and whoever asks sees it soon.
    second.ask("SELECT pg_wal_replay_resume()");
    while names(&stage, "0/0").await.len() < 3 {
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    // What reads keeps things beside it, which goes to the first database: a child's record was
    // seen, a comparison was made.
    stage
        .sql("UPDATE player SET born = 2018, consent_on = '2026-01-01', guardian = 'Ebba Aldous'")
        .await;
    every_page_answers(&stage).await;
    let seen = stage
        .ask("SELECT count(*)::text FROM audit WHERE act = 'child_read'")
        .await;
    assert_ne!(seen, ["0"]);
    // It dies: the first database answers everything.
    second.kill();
    assert_eq!(names(&stage, "0/0").await, ["Player 60", &added, &wren]);
    stage.clear().await;
}
