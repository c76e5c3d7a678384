//! An evening that does not end: fifty sessions of one shot a second, one after another, with a
//! hundred coaches who read, and what the server holds meanwhile.

use crate::attack::memory;
use crate::{Api, bays, live_in, readers};
use std::time::{Duration, Instant};
use tally_e2e::Stage;
use tokio_postgres::NoTls;

/// Coaches who read.
const READING: usize = 100;
/// When what is held is taken for settled, and by how much it may differ from then on.
const SETTLED: Duration = Duration::from_secs(600);
const MOST_CHANGE: f64 = 0.10;

/// Goes on for so many minutes; answers whether what the server holds stayed as it was.
pub async fn soak(stage: &Stage, api: &Api, minutes: u64) -> bool {
    let readers = readers::gather_some(stage, api, READING).await;
    let bays = bays(api, "all evening").await;
    let began = Instant::now();
    let mut settled: Option<f64> = None;
    let mut holds = 0.0;
    println!("minute: memory MB, handles, connections to the database");
    while began.elapsed() < Duration::from_secs(60 * minutes) {
        live_in(stage, api, &readers, &bays).await;
        holds = memory(stage) as f64;
        println!(
            "{:5.1}: {holds:.0}, {}, {}",
            began.elapsed().as_secs_f64() / 60.0,
            handles(stage),
            connections(stage).await
        );
        if began.elapsed() > SETTLED && settled.is_none() {
            settled = Some(holds);
        }
    }
    let Some(settled) = settled else {
        println!(
            "it takes longer than {} minutes to settle",
            SETTLED.as_secs() / 60
        );
        return false;
    };
    let change = (holds - settled) / settled;
    println!("memory since it settled: {:+.1} %", 100.0 * change);
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
