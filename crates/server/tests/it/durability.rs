//! What happens when something breaks: nothing acknowledged is lost, nothing is doubled.

use crate::cluster::Cluster;
use crate::files::{bring, table_of};
use crate::program::{kill_rounds, program, serve};
use crate::stage::{Device, SESSION, Stage, hello, shot};
use serde_json::{Value, json};
use std::os::unix::fs::PermissionsExt;
use std::time::Duration;
use tally_core::vocabulary::units::YARD;
use tally_server::http::watch::VERSION;
use tally_server::server::{Config, Server};
use tally_store::testing::{TestDatabase, founded, player};
use tally_store::{Store, StoreError};

/// How often the server is killed.
const ROUNDS: u64 = 6;
/// Shots that a device has in each round.
const SHOTS: i64 = 40;

pub async fn ran(arguments: &[&str]) -> (bool, String) {
    let out = program().args(arguments).output().await.unwrap();
    let told = String::from_utf8_lossy(&out.stderr).into_owned();
    (out.status.success(), told)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_killed_at_intake_loses_no_acknowledged_shot_and_doubles_none() {
    let stage = Stage::with_session().await;
    let rounds = kill_rounds(ROUNDS);
    for round in 0..rounds {
        let server = serve(&stage.url).await;
        let mut greeting = hello();
        greeting["run"] = json!(format!("round {round}"));
        let mut device = Device::connect(&server.intake).await;
        assert_eq!(device.say(&greeting).await["type"], "welcome");
        let mut child = server.child;
        // Later and later in the run, and within a shot's storing as well as between.
        let killed = tokio::spawn(async move {
            tokio::time::sleep(Duration::from_micros(3_000 + 3_700 * (round % 30))).await;
            child.kill().await.unwrap();
        });
        let mut acknowledged = 0;
        for sequence in 1..=SHOTS {
            match device.try_say(&shot(sequence, 90.0)).await {
                Some(answer) if answer["type"] == "ack" => acknowledged = sequence,
                _ => break,
            }
        }
        killed.await.unwrap();
        let stored = stage.count(&format!("run = 'round {round}'")).await;
        assert!(
            stored >= acknowledged,
            "round {round}: {stored} of {acknowledged}"
        );
        // The device sends again what it does not know to be stored, and a few more.
        let mut server = serve(&stage.url).await;
        let mut device = Device::connect(&server.intake).await;
        assert_eq!(device.say(&greeting).await["type"], "welcome");
        for sequence in (acknowledged - 3).max(1)..=SHOTS {
            assert_eq!(device.say(&shot(sequence, 90.0)).await["type"], "ack");
        }
        assert_eq!(stage.count(&format!("run = 'round {round}'")).await, SHOTS);
        server.child.kill().await.unwrap();
    }
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(
        read["shots"].as_array().unwrap().len() as i64,
        rounds as i64 * SHOTS
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_that_drops_every_connection_is_taken_up_again() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(2).await;
    for round in 0..3 {
        stage
            .sql(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity
                  WHERE datname = current_database() AND pid <> pg_backend_pid()",
            )
            .await;
        device.say_until_stored(&shot(3 + round, 95.0)).await;
        assert_eq!(stage.get("/players").await.0, 200);
    }
    assert_eq!(stage.count("true").await, 5);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn however_many_ask_at_once_each_waits_its_turn_and_none_is_turned_away() {
    let stage = Stage::demo().await;
    // All of them children, of whose reading notes are made at once.
    stage.all_are_children().await;
    let (_, players) = stage.get("/players").await;
    let mut pages = vec!["/today".to_owned(), "/players".to_owned()];
    for player in players.as_array().unwrap() {
        let player = format!("/players/{}", player["id"].as_str().unwrap());
        pages.push(format!("{player}/prepare?purpose=benchmark&club=driver"));
        pages.push(format!("{player}/decisions"));
        pages.push(player);
    }
    // Far more than there are connections to the database, each page by many.
    let asked = (0..160).map(|i| {
        let url = format!("{}/api/v1{}", stage.web, pages[i % pages.len()]);
        let sent = stage.http.get(url).send();
        tokio::spawn(async move { sent.await.unwrap().status().as_u16() })
    });
    for answer in asked.collect::<Vec<_>>() {
        assert_eq!(answer.await.unwrap(), 200);
    }
    stage.clear().await;
}

/// Brings in a session of 2,100 shots; its identifier.
async fn of_thousands(stage: &Stage) -> String {
    let told = bring(stage, 1, &table_of(2_100), "").await;
    assert_eq!(told["rows_good"], 2_100, "{told}");
    let found = "SELECT id::text FROM session WHERE shots = 2100";
    stage.ask(found).await[0].clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_of_thousands_is_read_by_several_at_once_in_turns() {
    let stage = Stage::with_session().await;
    let large = of_thousands(&stage).await;
    let read = format!("{}/api/v1/sessions/{large}/read", stage.web);
    let asked: Vec<_> = (0..6)
        .map(|_| tokio::spawn(stage.http.get(&read).send()))
        .collect();
    // Who has little to read does not wait for them.
    assert_eq!(stage.get(&format!("/sessions/{SESSION}/read")).await.0, 200);
    for answer in asked {
        let answer = answer.await.unwrap().unwrap();
        assert_eq!(answer.status(), 200);
        assert_eq!(answer.headers()["content-type"], "application/json");
        let told: Value = answer.json().await.unwrap();
        assert_eq!(told["session"]["id"], large.as_str());
        assert_eq!(told["report"]["shots"].as_array().unwrap().len(), 2_100);
        let shots = told["shots"].as_array().unwrap();
        assert_eq!(shots.len(), 2_100);
        // Each with its own row's values, in the order of the file.
        for (i, shot) in shots.iter().enumerate() {
            assert_eq!(shot["number"], i + 1);
            let carry = shot["reading"]["carry"]["si"].as_f64().unwrap() / YARD;
            assert!((carry - (200 + i * 37 % 97) as f64).abs() < 1e-3, "{shot}");
        }
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_page_of_a_session_of_thousands_takes_turns_and_a_lesson_s_does_not() {
    let stage = Stage::with_session().await;
    let large = of_thousands(&stage).await;
    for page in ["read", "hit", "decide", "speed-ladder"] {
        let url = format!("{}/api/v1/sessions/{large}/{page}", stage.web);
        // More than go and wait at a time.
        let asked: Vec<_> = (0..40)
            .map(|_| tokio::spawn(stage.http.get(&url).send()))
            .collect();
        let of_a_lesson = format!("/sessions/{SESSION}/{page}");
        assert_eq!(stage.get(&of_a_lesson).await.0, 200, "{page}");
        let mut told = Vec::new();
        for answer in asked {
            told.push(answer.await.unwrap().unwrap().status().as_u16());
        }
        told.sort_unstable();
        told.dedup();
        assert_eq!(told, [200, 503], "{page}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn shots_that_wait_for_the_database_keep_no_reader_waiting() {
    let stage = Stage::with_session().await;
    let (client, connection) = tokio_postgres::connect(&stage.url, tokio_postgres::NoTls)
        .await
        .unwrap();
    let connection = tokio::spawn(connection);
    let mut devices = Vec::new();
    for run in 0..20 {
        let mut device = stage.device().await;
        let mut greeting = hello();
        greeting["run"] = json!(format!("run {run}"));
        assert_eq!(device.say(&greeting).await["type"], "welcome");
        devices.push(device);
    }
    // Nothing can be stored meanwhile, as when the disk is slow.
    client
        .batch_execute("BEGIN; SELECT FROM session FOR NO KEY UPDATE")
        .await
        .unwrap();
    let waiting: Vec<_> = devices
        .into_iter()
        .map(|mut device| {
            tokio::spawn(async move { device.say_until_stored(&shot(1, 90.0)).await })
        })
        .collect();
    let held = "pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'";
    while stage.counted(held).await < 8 {
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    for page in ["/players", "/today", "/devices"] {
        assert_eq!(stage.get(page).await.0, 200, "{page}");
    }
    client.batch_execute("COMMIT").await.unwrap();
    for device in waiting {
        device.await.unwrap();
    }
    assert_eq!(stage.count("true").await, 20);
    connection.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_that_starts_late_is_waited_for() {
    let database = TestDatabase::create_empty().await;
    database.remove().await.unwrap();
    let impatient = Server::start(&Config::local(&database.url)).await;
    assert!(impatient.is_err());
    let patient = Config {
        wait_for_database: Duration::from_secs(60),
        ..Config::local(&database.url)
    };
    let starting = tokio::spawn(async move { Server::start(&patient).await.is_ok() });
    tokio::time::sleep(Duration::from_millis(700)).await;
    database.make().await.unwrap();
    assert!(starting.await.unwrap());
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_is_made_while_shots_come_and_restores_into_an_empty_database_alone() {
    let stage = Stage::demo().await;
    let (folder, empty) = (
        std::env::temp_dir().join(format!("tally-backup-{}", uuid::Uuid::now_v7())),
        TestDatabase::create_empty().await,
    );
    std::fs::create_dir(&folder).unwrap();
    let at = |name: &str| folder.join(name).display().to_string();
    let file = at("school.backup");
    let backup = ["backup", "--database-url", &stage.url, "--file", &file];
    let into = |url: &str, file: &str| {
        ["restore", "--database-url", url, "--file", file].map(str::to_owned)
    };
    let restored = async |url: &str, file: &str| {
        let arguments = into(url, file);
        ran(&arguments.iter().map(String::as_str).collect::<Vec<_>>()).await
    };
    // Shots come in meanwhile.
    let (_, before) = stage.get("/players").await;
    let sending = {
        let intake = stage.intake.clone();
        tokio::spawn(async move {
            ran(&[
                "simulate", "--server", &intake, "--shots", "60", "--pace-s", "0.01",
            ])
            .await
        })
    };
    let (made, told) = ran(&backup).await;
    assert!(made, "{told}");
    let (sent, told) = sending.await.unwrap();
    assert!(sent, "{told}");
    let (again, told) = ran(&backup).await;
    assert!(!again && told.contains("is there already"), "{told}");
    // One that was cut, one that was changed, one that is something else.
    let whole = std::fs::read(&file).unwrap();
    let mut changed = whole.clone();
    changed[whole.len() / 2] ^= 1;
    for (name, bytes) in [
        ("cut", &whole[..whole.len() / 2]),
        ("changed", &changed[..]),
        ("other", b"player,carry\n"),
    ] {
        std::fs::write(at(name), bytes).unwrap();
        let (done, told) = restored(&empty.url, &at(name)).await;
        assert!(!done && told.contains("not a whole backup"), "{told}");
    }
    let (done, told) = restored(&stage.url, &file).await;
    assert!(!done && told.contains("holds something already"), "{told}");
    let (done, told) = restored(&empty.url, &file).await;
    assert!(done, "{told}");
    let server = Server::start(&Config::local(&empty.url)).await.unwrap();
    let there = stage.elsewhere(&server);
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let (status, after) = there.get("/players").await;
    // The same cookie opens it; what came after the backup's moment is not in it.
    assert_eq!(status, 200);
    let names = |players: &Value| -> Vec<String> {
        let players = players.as_array().unwrap();
        players.iter().map(|p| p["name"].to_string()).collect()
    };
    assert_eq!(names(&after), names(&before));
    serving.abort();
    std::fs::remove_dir_all(folder).unwrap();
    empty.remove().await.unwrap();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_is_its_owner_s_alone_and_opens_to_the_key_it_was_encrypted_to() {
    let stage = Stage::with_session().await;
    let empty = TestDatabase::create_empty().await;
    let folder = std::env::temp_dir().join(format!("tally-sealed-{}", uuid::Uuid::now_v7()));
    std::fs::create_dir(&folder).unwrap();
    let at = |name: &str| folder.join(name).display().to_string();
    for name in ["right", "wrong"] {
        let (made, told) = ran(&["backup-key", "--file", &at(name)]).await;
        assert!(made, "{told}");
    }
    let secret = std::fs::read_to_string(at("right")).unwrap();
    let public = secret.lines().next().unwrap().rsplit(' ').next().unwrap();
    std::fs::write(at("public"), format!("# the school's\n{public}\n")).unwrap();
    let (file, plain, lost) = (at("school.backup"), at("plain.backup"), at("lost.backup"));
    let (right, public_keys) = (at("right"), at("public"));
    let backup = ["backup", "--database-url", &stage.url, "--file"];
    let asked = [&backup[..], &[&file, "--encrypt-to", &public_keys]].concat();
    let (made, told) = ran(&asked).await;
    assert!(made, "{told}");
    let (made, told) = ran(&[&backup[..], &[&plain]].concat()).await;
    assert!(made, "{told}");
    for name in ["right", "school.backup", "plain.backup"] {
        let mode = std::fs::metadata(at(name)).unwrap().permissions().mode();
        assert_eq!(mode & 0o777, 0o600, "{name}");
    }
    let bytes = std::fs::read(&file).unwrap();
    assert!(
        !bytes
            .windows(6)
            .any(|some| some == b"PGDMP\x01" || some == b"player")
    );
    std::fs::write(at("cut"), &bytes[..bytes.len() - 100]).unwrap();
    let secret_as_public = [&backup[..], &[&lost, "--encrypt-to", &right]].concat();
    let (made, told) = ran(&secret_as_public).await;
    assert!(!made && !told.contains("AGE-SECRET"), "{told}");
    let restore = ["restore", "--database-url", &empty.url, "--file"];
    for (file, key, words) in [
        (&file, None, "give the file with the secret key"),
        (&file, Some(at("wrong")), "does not open the backup"),
        (&file, Some(at("public")), "holds no secret key"),
        (&at("cut"), Some(at("right")), "not a whole backup"),
        (&file, Some(at("right")), ""),
    ] {
        let mut asked = [&restore[..], &[file]].concat();
        if let Some(key) = &key {
            asked.extend(["--identity", key]);
        }
        let (done, told) = ran(&asked).await;
        assert_eq!(done, words.is_empty(), "{told}");
        assert!(told.contains(words), "{told}");
    }
    let server = Server::start(&Config::local(&empty.url)).await.unwrap();
    let there = stage.elsewhere(&server);
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    assert_eq!(there.get("/players").await.1, stage.get("/players").await.1);
    serving.abort();
    std::fs::remove_dir_all(folder).unwrap();
    empty.remove().await.unwrap();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_operator_sees_that_it_lives_is_ready_and_what_it_does() {
    let stage = Stage::with_session().await;
    let config = Config {
        figures: Some("127.0.0.1:0".parse().unwrap()),
        ..Config::local(&stage.url)
    };
    let server = Server::start(&config).await.unwrap();
    let figures = server.figures_address().unwrap().unwrap();
    let web = format!("http://{}", server.web_address().unwrap());
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let text = async |url: String| reqwest::get(url).await.unwrap().text().await.unwrap();
    assert_eq!(
        text(format!("{web}/healthz")).await,
        format!("lives {VERSION}\n")
    );
    assert_eq!(text(format!("{web}/readyz")).await, "ready\n");
    stage.device_with_shots(1).await;
    let told = text(format!("http://{figures}/metrics")).await;
    assert!(told.contains("tally_shots_total{how=\"new\"}"), "{told}");
    assert!(told.contains("route=\"/api/v1/players\""), "{told}");
    // Figures are for the operator: not where browsers come in.
    assert!(
        !text(format!("{web}/metrics"))
            .await
            .contains("tally_shots_total")
    );
    serving.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_that_speaks_german_is_understood() {
    let cluster = Cluster::speaking("de").await;
    let database = TestDatabase::create_on(cluster.url()).await;
    let store = Store::open(&database.url).await.unwrap();
    let error = database.run("SELECT 1 FROM nowhere").await.unwrap_err();
    assert!(
        format!("{error:?}").contains("existiert nicht"),
        "it does not speak German: {error:?}"
    );
    let (north, south) = (
        founded(&store, "north").await,
        founded(&store, "south").await,
    );
    // Row-level security refuses it, in words that are looked for.
    let refused = store
        .for_person(&south)
        .add_player(north.school_id, &player("Lark"))
        .await
        .unwrap_err();
    assert!(
        matches!(refused, StoreError::NotFound("player")),
        "{refused:?}"
    );
    drop(store);
    database.remove().await.unwrap();
}
