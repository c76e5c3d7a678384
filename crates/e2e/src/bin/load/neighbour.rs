//! What another school's heavy work does to a school's sessions: `bin/measure --neighbour`.

use crate::{Api, bays, live_in, readers, spread};
use std::fmt::Write;
use std::sync::{Arc, Mutex};
use std::time::Instant;
use tally_e2e::Stage;
use tokio::task::JoinHandle;

/// Files that the neighbour brings in at once, and rows of each.
const FILES: usize = 4;
const ROWS: usize = 100_000;
/// Reads that it asks for at once, of a session of so many shots.
const READS: usize = 8;
const SHOTS: usize = 5_000;

/// Fifty sessions with and without a neighbour who does all it can.
pub async fn measure(stage: &Stage, api: &Api) {
    println!("alone:");
    let (bays, nobody) = (bays(api, "all day").await, readers::Readers::default());
    live_in(stage, api, &nobody, &bays).await;
    let neighbour = Api {
        http: stage.another_school("ida").await,
        base: api.base.clone(),
    };
    let player = neighbour.player("Long day").await;
    let told = neighbour.import(player, &table(SHOTS, SHOTS)).await;
    assert_eq!(told["rows_good"], SHOTS, "{told}");
    let path = format!("/players/{player}");
    let theirs = neighbour.send("GET", &path, serde_json::Value::Null).await;
    let session = theirs["sessions"][0]["id"].as_str().expect("a session");
    let read = format!("{}/sessions/{session}/read", neighbour.base);
    let table = Arc::new(table(ROWS, 500));
    let counted = Arc::new(Mutex::new((0_usize, Vec::new())));
    let mut working: Vec<JoinHandle<()>> = Vec::new();
    for _ in 0..FILES {
        let (api, table, counted) = (neighbour.clone(), Arc::clone(&table), Arc::clone(&counted));
        working.push(tokio::spawn(async move {
            // A player for each file: the same shots again would not be stored.
            loop {
                let player = api.player("Many rows").await;
                let told = api.import(player, &table).await;
                if told["state"] == "done" {
                    counted.lock().expect("no one failed").0 += 1;
                }
            }
        }));
    }
    for _ in 0..READS {
        let (http, read, counted) = (neighbour.http.clone(), read.clone(), Arc::clone(&counted));
        working.push(tokio::spawn(async move {
            loop {
                let began = Instant::now();
                if let Ok(answer) = http.get(&read).send().await {
                    let _ = answer.bytes().await;
                }
                let took = began.elapsed().as_secs_f64() * 1e3;
                counted.lock().expect("no one failed").1.push(took);
            }
        }));
    }
    println!(
        "beside a school that brings in {FILES} files of {ROWS} rows and reads {SHOTS} shots {READS} times at once, again and again:"
    );
    live_in(stage, api, &nobody, &bays).await;
    for one in working {
        one.abort();
    }
    let (files, reads) = counted.lock().expect("no one failed").clone();
    println!(
        "the neighbour meanwhile: {files} files; reads: {}",
        spread(reads)
    );
}

/// Shots of the year 2025, one a second, so many in a row on each day.
fn table(rows: usize, on_a_day: usize) -> String {
    let mut table = String::from(
        "date,club speed (mph),ball speed (mph),launch angle (deg),spin rate (rpm),carry (yd)\n",
    );
    for i in 0..rows {
        let (wobble, day, second) = ((i * 37 % 97) as f64 / 10.0, i / on_a_day, i % on_a_day);
        writeln!(
            table,
            "2025-{:02}-{:02} {:02}:{:02}:{:02},{:.1},{:.1},{:.1},{},{}",
            1 + day / 28,
            1 + day % 28,
            8 + second / 3600,
            second / 60 % 60,
            second % 60,
            88.0 + wobble,
            130.0 + wobble,
            11.0 + wobble / 5.0,
            2400 + i * 53 % 600,
            210 + i * 17 % 40
        )
        .expect("a text takes what is written to it");
    }
    table
}
