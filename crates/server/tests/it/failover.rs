//! A second PostgreSQL follows the first and takes its place.

use crate::cluster::Cluster;
use crate::stage::{SESSION, Stage, shot};
use std::time::{Duration, Instant};

/// Makes a first cluster wait with every commit until its follower has it too.
fn wait_for_follower(first: &Cluster) {
    first.ask("ALTER SYSTEM SET synchronous_standby_names = '*'");
    first.ask("SELECT pg_reload_conf()");
    while first.ask("SELECT count(*) FROM pg_stat_replication WHERE sync_state = 'sync'") != "1" {
        std::thread::sleep(Duration::from_millis(20));
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn when_the_first_database_dies_the_second_goes_on_with_all_that_was_acknowledged() {
    let first = Cluster::begin().await;
    let second = first.follower();
    wait_for_follower(&first);
    let stage = Stage::with_session_on_either(&first, &second).await;
    let live = format!("{}/api/v1/live?sessions={SESSION}", stage.web);
    let mut heard = stage.visitor().http.get(&live).send().await.unwrap();
    let mut device = stage.device_with_shots(20).await;
    while tokio::time::timeout(Duration::from_millis(300), heard.chunk())
        .await
        .is_ok()
    {}

    // Killed in the middle of shots; what watches over both takes a moment.
    let killed = Instant::now();
    let dying = tokio::task::spawn_blocking(move || {
        std::thread::sleep(Duration::from_millis(120));
        first.kill();
        std::thread::sleep(Duration::from_millis(500));
        second.promote();
        (first, second)
    });
    for sequence in 21..=60 {
        device.say_until_stored(&shot(sequence, 90.0)).await;
    }
    let (_first, _second) = dying.await.unwrap();
    assert!(
        killed.elapsed() < Duration::from_secs(30),
        "{:?}",
        killed.elapsed()
    );
    // Every shot once, for the page as for the database; the open page hears of it by itself.
    assert_eq!(stage.count("true").await, 60);
    let (status, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!((status, read["shots"].as_array().unwrap().len()), (200, 60));
    device.say_until_stored(&shot(61, 90.0)).await;
    let told = tokio::time::timeout(Duration::from_secs(10), heard.chunk()).await;
    assert!(told.unwrap().unwrap().is_some());
    assert_eq!(stage.get("/today").await.0, 200);
}
