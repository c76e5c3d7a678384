//! An evening that does not end: fifty sessions of one shot a second, one after another, with a
//! hundred coaches who read, and what the server holds meanwhile.

use crate::attack::memory;
use crate::{Api, bays, live_in, readers};
use std::time::{Duration, Instant};
use tally_e2e::Stage;
use tokio_postgres::NoTls;

/// Coaches who read.
const READING: usize = 100;
/// When what is held is taken for settled, and by how much the mean of ten minutes may differ from
/// that of the first ten from then on. From one minute to the next it moves by a fifth: an allocator
/// gives back what it likes when it likes.
const SETTLED_MIN: f64 = 10.0;
const MEAN_OF_MIN: f64 = 10.0;
const MOST_CHANGE: f64 = 0.10;

/// Goes on for so many minutes; answers whether what the server holds stayed as it was.
pub async fn soak(stage: &Stage, api: &Api, minutes: u64) -> bool {
    let readers = readers::gather_some(stage, api, READING).await;
    let bays = bays(api, "all evening").await;
    let began = Instant::now();
    let mut held: Vec<(f64, f64)> = Vec::new();
    println!("minute: memory MB, handles, connections to the database");
    while began.elapsed() < Duration::from_secs(60 * minutes) {
        live_in(stage, api, &readers, &bays).await;
        let (minute, holds) = (began.elapsed().as_secs_f64() / 60.0, memory(stage) as f64);
        println!(
            "{minute:5.1}: {holds:.0}, {}, {}",
            handles(stage),
            connections(stage).await
        );
        held.push((minute, holds));
    }
    let end = held.last().map_or(0.0, |(minute, _)| *minute);
    let mean = |from: f64| {
        let within = |(minute, _): &&(f64, f64)| (from..from + MEAN_OF_MIN).contains(minute);
        let some: Vec<f64> = held
            .iter()
            .filter(within)
            .map(|(_, holds)| *holds)
            .collect();
        some.iter().sum::<f64>() / some.len() as f64
    };
    let last = end - MEAN_OF_MIN;
    if last < SETTLED_MIN + MEAN_OF_MIN {
        println!("half an hour at least is needed to tell");
        return false;
    }
    let (settled, at_last) = (mean(SETTLED_MIN), mean(last));
    let change = (at_last - settled) / settled;
    println!(
        "memory, mean of ten minutes: {settled:.0} MB once it settled, {at_last:.0} MB at last: {:+.1} %",
        100.0 * change
    );
    change.abs() <= MOST_CHANGE
}

fn handles(stage: &Stage) -> usize {
    let held = std::fs::read_dir(format!("/proc/{}/fd", stage.server_id()));
    held.map_or(0, Iterator::count)
}

async fn connections(stage: &Stage) -> i64 {
    let (client, connection) = tokio_postgres::connect(&stage.database_url(), NoTls)
        .await
        .expect("the database answers");
    let connection = tokio::spawn(connection);
    let held = "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()";
    let row = client.query_one(held, &[]).await.expect("a row");
    connection.abort();
    row.get(0)
}
