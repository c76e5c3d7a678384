//! A school of ten million shots beside the demo's few: every page in both, by the time until
//! its answer is whole.

use crate::attack::{held_by, memory};
use crate::readers::Readers;
use crate::{Api, live};
use serde_json::{Value, json};
use std::process::Command;
use std::time::{Duration, Instant};
use tally_e2e::{DEMO_PASSWORD, PASSWORD, Stage, program};
use tally_store::testing::fill;
use tokio_postgres::NoTls;
use uuid::Uuid;

/// Players, sessions of each, and shots of each session.
const SCHOOL: [u32; 3] = [2_000, 100, 50];
/// How often each page is asked for, after as many that are not counted as it takes to warm up.
const ASKED: usize = 40;
const WARMING: usize = 3;
/// What a page may take, ms: in the middle, and at 99 of 100.
const BUDGET_MS: [f64; 2] = [50.0, 200.0];
/// How much longer than at the demo's size.
const MOST_GROWTH: f64 = 3.0;
/// What 99 of 100 shots may take until they are on their screen, with fifty sessions at a time, ms.
const SHOT_MS: f64 = 150.0;
/// Below this growth says nothing: the demo's figure is all noise.
const NO_MATTER_MS: f64 = 15.0;

/// Whose shots are given to one player, whose records are then erased.
const TOGETHER: usize = 5;

/// Tells every page's time in both schools, the large one of so many players, sessions and shots
/// where they are given; answers whether all keep to what is asked.
pub async fn measure(asked: &[String]) -> bool {
    let asked: Vec<u32> = asked.iter().filter_map(|n| n.parse().ok()).collect();
    let size: [u32; 3] = asked.try_into().unwrap_or(SCHOOL);
    let demo = Stage::set(true).await;
    let small = pages(&demo, ["tova", DEMO_PASSWORD]).await;
    demo.clear().await;
    let stage = Stage::set(false).await;
    let began = Instant::now();
    fill(&stage.database_url(), size)
        .await
        .expect("the school is made");
    println!(
        "{} shots were made in {:.0} s",
        size.iter().product::<u32>(),
        began.elapsed().as_secs_f64()
    );
    read_by_then(&stage).await;
    let large = pages(&stage, ["orla", PASSWORD]).await;
    let api = signed_in(&stage, ["orla", PASSWORD]).await;
    let late = live(&stage, &api, &Readers::default()).await;
    erasure(&stage).await;
    backup(&stage).await;
    stage.clear().await;
    println!("page: many shots, middle and 99 of 100, ms; the demo; how much longer");
    let mut good = late <= SHOT_MS;
    for ((page, at), (_, before)) in large.iter().zip(&small) {
        let growth = at[0] / before[0];
        let kept = at[0] <= BUDGET_MS[0]
            && at[1] <= BUDGET_MS[1]
            && (growth <= MOST_GROWTH || at[0] < NO_MATTER_MS);
        good &= kept;
        println!(
            "{} {page:<32} {:7.1} {:7.1}   {:7.1}   x {growth:.1}",
            if kept { "  " } else { "! " },
            at[0],
            at[1],
            before[0]
        );
    }
    good
}

async fn signed_in(stage: &Stage, [name, password]: [&str; 2]) -> Api {
    let http = reqwest::Client::builder().cookie_store(true);
    let base = format!("{}/api/v1", stage.web);
    let http = http.build().expect("a client");
    let known = json!({"sign_in_name": name, "password": password});
    let asked = http.post(format!("{base}/sign-in")).json(&known).send();
    let answer = asked.await.expect("the server answers");
    assert!(answer.status().is_success(), "{}", answer.status());
    Api { http, base }
}

/// Waits until it is told of every player how they stand, which takes both cores meanwhile: a school
/// that came to its size over years has long been read.
async fn read_by_then(stage: &Stage) {
    let api = signed_in(stage, ["orla", PASSWORD]).await;
    let began = Instant::now();
    loop {
        let today = api.send("GET", "/today", Value::Null).await;
        if today["still_reading"] == 0 {
            break;
        }
        tokio::time::sleep(Duration::from_secs(1)).await;
    }
    let took = began.elapsed().as_secs_f64();
    println!("all players were read in {took:.0} s");
}

/// Erases a player who has the sessions of several, and tells how long it took and what the server
/// held.
async fn erasure(stage: &Stage) {
    let (client, connection) = tokio_postgres::connect(&stage.database_url(), NoTls)
        .await
        .expect("the database answers");
    let connection = tokio::spawn(connection);
    let all = client
        .query("SELECT id, name FROM player ORDER BY name", &[])
        .await
        .expect("players");
    let some: Vec<Uuid> = all.iter().take(TOGETHER).map(|row| row.get(0)).collect();
    let (player, name): (Uuid, String) = (some[0], all[0].get(1));
    client
        .execute(
            "UPDATE session SET player_id = $1 WHERE player_id = ANY($2)",
            &[&player, &some],
        )
        .await
        .expect("sessions");
    drop(client);
    connection.abort();
    let api = signed_in(stage, ["orla", PASSWORD]).await;
    let before = memory(stage);
    let began = Instant::now();
    let path = format!("/players/{player}/erasure");
    let told = api.send("POST", &path, json!({ "name": name })).await;
    let took = began.elapsed().as_secs_f64();
    let gone = told["gone"].as_array().expect("what went");
    let shots = gone.iter().find(|gone| gone["what"] == "shot");
    println!(
        "a player with {} shots erased in {took:.1} s; the server held {before} MB before and {} after",
        shots.map_or(0, |gone| gone["rows"].as_i64().unwrap_or(0)),
        memory(stage)
    );
}

/// Backs the whole database up, and tells how long it took, how much it is, and what the program
/// held at most.
async fn backup(stage: &Stage) {
    let file = std::env::temp_dir().join(format!("tally-{}.backup", Uuid::now_v7()));
    let began = Instant::now();
    let mut making = Command::new(program())
        .args(["backup", "--database-url", &stage.database_url(), "--file"])
        .arg(&file)
        .spawn()
        .expect("the program begins");
    let (mut most, mut at) = (0, 0);
    let done = loop {
        if let Some(done) = making.try_wait().expect("the program is ours") {
            break done;
        }
        most = most.max(held_by(making.id()).unwrap_or(0));
        at = at.max(memory(stage));
        tokio::time::sleep(Duration::from_millis(200)).await;
    };
    assert!(done.success(), "{done}");
    let size = std::fs::metadata(&file).map_or(0, |file| file.len());
    let _ = std::fs::remove_file(&file);
    println!(
        "a backup of {} MB made in {:.0} s; the program held {most} MB at most, the server {at}",
        size / 1_000_000,
        began.elapsed().as_secs_f64()
    );
}

/// The pages of a school with their times, ms: middle and 99 of 100.
async fn pages(stage: &Stage, [name, password]: [&str; 2]) -> Vec<(String, [f64; 2])> {
    let api = signed_in(stage, [name, password]).await;
    let get = async |path: &str| api.send("GET", path, Value::Null).await;
    let id = |told: &Value| -> Uuid {
        let text = told["id"].as_str().expect("an identifier");
        text.parse().expect("an identifier")
    };
    // The player with most, and one of their sessions.
    let roster = get("/roster?order=last").await;
    let all = roster["players"].as_array().expect("players");
    let most = all.iter().max_by_key(|p| p["sessions"].as_i64());
    let player = id(most.expect("a player"));
    let theirs = get(&format!("/players/{player}")).await;
    let session = id(&theirs["sessions"][0]);
    // Two that told of the same shots: two that did not would have nothing to be held against.
    let pairs = get("/device-pairs").await;
    let [first, second] =
        ["first", "second"].map(|one| pairs[0][one].as_str().expect("a device").to_owned());
    let mut times = Vec::new();
    for (page, path) in [
        ("Today", "/today".to_owned()),
        ("who trains today", "/training-today".to_owned()),
        ("players", "/roster".to_owned()),
        ("players, latest first", "/roster?order=last".to_owned()),
        ("players looked for", "/roster?words=mira%20ho".to_owned()),
        ("players to choose from", "/players".to_owned()),
        ("school", "/school".to_owned()),
        ("find", "/find?words=mira%20ho".to_owned()),
        ("player", format!("/players/{player}")),
        (
            "record",
            format!("/players/{player}/record?club=driver&quantity=club_speed"),
        ),
        ("records", format!("/players/{player}/records?club=driver")),
        ("what next", format!("/players/{player}/next")),
        ("bag", format!("/players/{player}/gapping")),
        (
            "prepare",
            format!("/players/{player}/prepare?purpose=benchmark&club=driver"),
        ),
        ("hit", format!("/sessions/{session}/hit")),
        ("read", format!("/sessions/{session}/read")),
        ("decide", format!("/sessions/{session}/decide")),
        ("doubtful", "/doubtful".to_owned()),
        ("devices", "/devices".to_owned()),
        ("device pairs", "/device-pairs".to_owned()),
        (
            "two devices agree",
            format!("/agreement?first={first}&second={second}"),
        ),
        ("files", "/imports".to_owned()),
        ("who saw what", "/audit".to_owned()),
    ] {
        let url = format!("{}{path}", api.base);
        let mut waits = Vec::new();
        for turn in 0..WARMING + ASKED {
            let began = Instant::now();
            let answer = api.http.get(&url).send().await.expect("the server answers");
            let status = answer.status();
            answer.bytes().await.expect("a whole answer");
            assert!(status.is_success(), "{path}: {status}");
            if turn >= WARMING {
                waits.push(began.elapsed().as_secs_f64() * 1e3);
            }
        }
        waits.sort_by(f64::total_cmp);
        let at = |share: f64| waits[((waits.len() - 1) as f64 * share).round() as usize];
        times.push((page.to_owned(), [at(0.5), at(0.99)]));
    }
    times
}
