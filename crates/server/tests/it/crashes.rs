//! The database or the server dies, or has no room, in the middle of something: nothing
//! acknowledged is lost, nothing is doubled, and it is told.

use crate::cluster::Cluster;
use crate::durability::ran;
use crate::files::{Endless, TABLE, bring, sessions, table_of};
use crate::program::{kill_rounds, kill_within, program, serve};
use crate::stage::{SESSION, Stage, hello, id, shot};
use serde_json::json;
use std::process::Stdio;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};
use tally_formats::device_line::NOT_NOW;
use tally_store::testing::TestDatabase;

/// How often PostgreSQL is killed.
const KILLS: u64 = 3;
/// Shots of a school that is archived.
const MANY: usize = 1_500;
/// What PostgreSQL says when it cannot write, and when it cannot write all of a page.
const NO_ROOM: &str = "CREATE FUNCTION no_room() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
        RAISE EXCEPTION 'could not extend file \"base/16384/16402\": No space left on device'
            USING ERRCODE = 'disk_full';
    END $$;
    CREATE FUNCTION half_a_page() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
        RAISE EXCEPTION 'could not extend file \"base/16384/16491\": wrote only 4096 of 8192 bytes at block 84'
            USING ERRCODE = 'disk_full', HINT = 'Check free disk space.';
    END $$;
    CREATE TRIGGER no_room BEFORE INSERT ON reading EXECUTE FUNCTION no_room();
    CREATE TRIGGER no_room BEFORE INSERT ON player EXECUTE FUNCTION half_a_page();";
const ROOM_AGAIN: &str = "DROP FUNCTION no_room, half_a_page CASCADE";

#[tokio::test(flavor = "multi_thread")]
async fn a_database_killed_at_intake_loses_no_acknowledged_shot_and_doubles_none() {
    let cluster = Arc::new(Cluster::begin().await);
    let stage = Stage::with_session_on(cluster.url()).await;
    let over = Arc::new(AtomicBool::new(false));
    let killing = tokio::spawn({
        let (cluster, over) = (Arc::clone(&cluster), Arc::clone(&over));
        let web = stage.web.clone();
        async move {
            for round in 0..kill_rounds(KILLS) {
                tokio::time::sleep(Duration::from_millis(150 + 37 * round)).await;
                tokio::task::block_in_place(|| cluster.kill());
                // Who watches over it hears of it.
                let ready = reqwest::get(format!("{web}/readyz")).await.unwrap();
                assert_eq!(ready.status(), 503);
                tokio::task::block_in_place(|| cluster.start());
            }
            over.store(true, Ordering::Relaxed);
        }
    });
    let mut device = stage.device_with_shots(0).await;
    let (mut acknowledged, mut after) = (0, 0);
    while after < 20 {
        acknowledged += 1;
        device.say_until_stored(&shot(acknowledged, 90.0)).await;
        after += i64::from(over.load(Ordering::Relaxed));
    }
    killing.await.unwrap();
    assert_eq!(stage.count("true").await, acknowledged);
    let (status, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(status, 200);
    assert_eq!(read["shots"].as_array().unwrap().len() as i64, acknowledged);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_killed_within_an_import_keeps_nothing_of_it() {
    let cluster = Cluster::begin().await;
    for round in 0..kill_rounds(1) {
        let stage = Stage::with_session_on(cluster.url()).await;
        let endless = Endless::begin(&stage, &stage.visitor()).await;
        tokio::time::sleep(Duration::from_millis(13 * round)).await;
        tokio::task::block_in_place(|| cluster.kill());
        // It is told at once, or its record tells once it has been silent.
        if let Ok(answer) = endless.ended().await {
            assert!(matches!(answer.status().as_u16(), 200 | 503), "{answer:?}");
        }
        let (status, told) = stage.get("/players").await;
        assert_eq!((status, &told["title"]), (503, &json!("Database away")));
        tokio::task::block_in_place(|| cluster.start());
        the_first_broke_off_and_the_file_comes_in(&stage).await;
        stage.clear().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_killed_within_an_import_keeps_nothing_of_it() {
    for round in 0..kill_rounds(1) {
        let stage = Stage::with_session().await;
        let mut server = serve(&stage.url).await;
        let endless = Endless::begin(&stage, &stage.at(&server.web)).await;
        tokio::time::sleep(Duration::from_millis(13 * round)).await;
        server.child.kill().await.unwrap();
        assert!(endless.ended().await.is_err());
        the_first_broke_off_and_the_file_comes_in(&stage).await;
        stage.clear().await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_killed_within_an_archive_keeps_all_or_nothing_and_gives_out_none_that_looks_whole()
 {
    let stage = Stage::with_session().await;
    let told = bring(&stage, 1, &table_of(MANY), "").await;
    assert_eq!(told["rows_good"], MANY, "{told}");
    let began = Instant::now();
    let archive = stage.text("/school/archive").await;
    let going_out = began.elapsed();
    let (_, players) = stage.get("/players").await;
    // How long it takes to come in, of the debug build as of any other.
    let whole = Stage::bare().await;
    let began = Instant::now();
    let (status, _) = whole.raw("PUT", "/school/archive", archive.clone()).await;
    let coming_in = began.elapsed();
    assert_eq!(status, 204);
    whole.clear().await;
    let rounds = kill_rounds(2);
    for round in 0..rounds {
        let mut server = serve(&stage.url).await;
        let from = stage.at(&server.web);
        let asked = from.http.get(format!("{}/api/v1/school/archive", from.web));
        let reading = tokio::spawn(async move { asked.send().await?.text().await });
        kill_within(&mut server.child, going_out, round, rounds).await;
        if let Ok(read) = reading.await.unwrap() {
            assert!(
                read == archive,
                "a part of an archive came as if it were whole"
            );
        }

        let empty = Stage::bare().await;
        let mut server = serve(&empty.url).await;
        let to = empty.at(&server.web);
        let asked = to.http.put(format!("{}/api/v1/school/archive", to.web));
        let asked = asked.body(archive.clone());
        let writing = tokio::spawn(async move { asked.send().await });
        kill_within(&mut server.child, coming_in, round, rounds).await;
        let acknowledged = writing.await.unwrap().is_ok_and(|a| a.status() == 204);
        let (_, there) = empty.get("/players").await;
        if there == json!([]) {
            assert!(!acknowledged, "an archive that was taken is not there");
            let (status, told) = empty.raw("PUT", "/school/archive", archive.clone()).await;
            assert_eq!(status, 204, "{told}");
        }
        assert_eq!(empty.get("/players").await.1, players);
        assert!(empty.text("/school/archive").await == archive);
        empty.clear().await;
    }
    stage.clear().await;
}

/// Runs the program, and kills it within what it takes.
async fn killed(arguments: &[&str], whole: Duration, round: u64, rounds: u64) {
    let mut command = program();
    let begun = command.args(arguments).stdout(Stdio::null()).spawn();
    kill_within(&mut begun.unwrap(), whole, round, rounds).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_or_a_restore_that_is_killed_leaves_nothing_in_the_way_of_the_next() {
    let stage = Stage::demo().await;
    let (_, players) = stage.get("/players").await;
    let folder = std::env::temp_dir().join(format!("tally-killed-{}", uuid::Uuid::now_v7()));
    std::fs::create_dir(&folder).unwrap();
    let took = async |arguments: &[&str]| {
        let began = Instant::now();
        let (done, told) = ran(arguments).await;
        assert!(done, "{told}");
        began.elapsed()
    };
    let at = |name: &str| folder.join(name).display().to_string();
    let rounds = kill_rounds(2);
    let first = at("first.backup");
    let out = took(&["backup", "--database-url", &stage.url, "--file", &first]).await;
    let empty = TestDatabase::create_empty().await;
    let in_again = took(&["restore", "--database-url", &empty.url, "--file", &first]).await;
    empty.remove().await.unwrap();
    for round in 0..rounds {
        let file = at(&format!("{round}.backup"));
        let backup = ["backup", "--database-url", &stage.url, "--file", &file];
        killed(&backup, out, round, rounds).await;
        // What bears the name is whole; else the next writes it.
        if !std::path::Path::new(&file).exists() {
            let (done, told) = ran(&backup).await;
            assert!(done, "{told}");
        }
        let empty = TestDatabase::create_empty().await;
        let restore = ["restore", "--database-url", &empty.url, "--file", &file];
        killed(&restore, in_again, round, rounds).await;
        let (done, told) = ran(&restore).await;
        // The first may have come to its end.
        let there = told.contains("holds something already") || told.contains("already exists");
        assert!(done || there, "{told}");
        let mut server = serve(&empty.url).await;
        assert_eq!(stage.at(&server.web).get("/players").await.1, players);
        server.child.kill().await.unwrap();
        empty.remove().await.unwrap();
    }
    // Nor do parts pile up.
    let left = std::fs::read_dir(&folder).unwrap().count() as u64;
    assert_eq!(left, rounds + 1);
    std::fs::remove_dir_all(folder).unwrap();
    stage.clear().await;
}

async fn the_first_broke_off_and_the_file_comes_in(stage: &Stage) {
    stage
        .sql("UPDATE import SET touched_at = touched_at - interval '2 minutes'")
        .await;
    let (_, told) = stage.get(&format!("/imports/{}", id(1))).await;
    assert_eq!(told["state"], "failed", "{told}");
    assert!(
        told["message"]
            .as_str()
            .unwrap()
            .contains("nothing was added")
    );
    assert_eq!(sessions(stage).await.len(), 1);
    assert_eq!(stage.count("true").await, 0);
    let told = bring(stage, 2, TABLE, "").await;
    assert_eq!(
        (&told["state"], &told["rows_good"]),
        (&json!("done"), &json!(3))
    );
    assert_eq!(stage.count("true").await, 3);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_full_disk_is_told_and_what_waited_comes_in_once_there_is_room() {
    let stage = Stage::with_session().await;
    let mut device = stage.device().await;
    assert_eq!(device.say(&hello()).await["type"], "welcome");
    stage.sql(NO_ROOM).await;
    let answer = device.say(&shot(1, 90.0)).await;
    assert_eq!(answer["problem"], NOT_NOW, "{answer}");
    let player = json!({"id": id(5), "name": "Lark Sorrel", "born": 1988});
    let (status, told) = stage.post("/players", &player).await;
    assert_eq!((status, &told["title"]), (507, &json!("Disk full")));
    assert!(told["detail"].as_str().unwrap().contains("free room"));
    let told = bring(&stage, 1, TABLE, "").await;
    assert_eq!(told["state"], "failed");
    let message = told["message"].as_str().unwrap();
    assert!(message.contains("disk is full"), "{message}");
    stage.sql(ROOM_AGAIN).await;
    assert_eq!(device.say(&shot(1, 90.0)).await["type"], "ack");
    assert_eq!(stage.post("/players", &player).await.0, 201);
    assert_eq!(bring(&stage, 2, TABLE, "").await["state"], "done");
    assert_eq!(stage.count("true").await, 4);
    stage.clear().await;
}
