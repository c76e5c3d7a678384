//! The program's commands as a person runs them.

use crate::stage::{SESSION, Stage};
use serde_json::json;
use std::process::Stdio;
use tokio::io::AsyncWriteExt;
use tokio::process::Command;

async fn run(arguments: &[&str], input: &str) -> (bool, String, String) {
    let mut program = Command::new(env!("CARGO_BIN_EXE_amber-tally"))
        .args(arguments)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    let mut stdin = program.stdin.take().unwrap();
    stdin.write_all(input.as_bytes()).await.unwrap();
    drop(stdin);
    let done = program.wait_with_output().await.unwrap();
    let text = |bytes| String::from_utf8(bytes).unwrap();
    (done.status.success(), text(done.stdout), text(done.stderr))
}

#[tokio::test]
async fn flight_writes_good_rows_tells_bad_ones_and_exits_accordingly() {
    let table = "ball_speed_mph,launch_angle_deg,spin_rate_rpm\n150,12,2600\n150,12,a lot\n";
    let (good, out, told) = run(&["flight"], table).await;
    assert!(!good);
    assert_eq!(out.lines().count(), 2);
    assert!(
        told.starts_with("line 3, column 3 (spin_rate_rpm)"),
        "{told}"
    );
    let (good, ..) = run(&["flight"], &table.replace("a lot", "2700")).await;
    assert!(good);
}

#[tokio::test]
async fn simulate_without_a_server_says_so_in_one_line() {
    let (good, _, told) = run(&["simulate", "--server", "127.0.0.1:9"], "").await;
    assert!(!good);
    assert!(told.contains("is the server running?"), "{told}");
}

#[tokio::test]
async fn an_unknown_golfer_lists_the_known_ones() {
    let (good, _, told) = run(&["simulate", "--golfer", "nobody"], "").await;
    assert!(!good);
    assert!(told.contains("ilse"), "{told}");
}

#[tokio::test]
async fn impact_adds_launches_that_flight_can_fly() {
    let table = "club_speed_mph,attack_angle_deg,dynamic_loft_deg\n100,2,14\n100,2,many\n";
    let (good, struck, told) = run(&["impact"], table).await;
    assert!(
        !good && told.contains("line 3, column 3 (dynamic_loft_deg)"),
        "{told}"
    );
    let (good, flown, told) = run(&["flight"], &struck).await;
    assert!(good, "{told}");
    assert!(
        flown
            .lines()
            .next()
            .unwrap()
            .ends_with("total_yd,landing_speed_mph")
    );
}

#[tokio::test]
async fn window_prints_the_best_of_a_speed_and_names_what_is_wrong() {
    let asked = ["window", "--ball-speed-mph", "150", "--aim", "carry"];
    let (good, out, told) = run(&asked, "").await;
    assert!(good, "{told}");
    let carry: serde_json::Value = serde_json::from_str(&out).unwrap();
    let total = run(
        &[
            "window",
            "--ball-speed-mph",
            "150",
            "--aim",
            "total",
            "--map",
        ],
        "",
    )
    .await
    .1;
    let total: serde_json::Value = serde_json::from_str(&total).unwrap();
    let best = |told: &serde_json::Value, key: &str| told["best"][key].as_f64().unwrap();
    assert!(best(&carry, "carry_yd") > best(&total, "carry_yd"));
    assert!(best(&carry, "total_yd") < best(&total, "total_yd"));
    assert!(total["map"]["levels"].as_array().unwrap().len() > 3);
    let (good, _, told) = run(&["window", "--ball-speed-mph", "900", "--aim", "carry"], "").await;
    assert!(
        !good && told.contains("ball_speed_mph") && told.contains("27 to 241 mph"),
        "{told}"
    );
    let wind = [&asked[..], &["--wind-mps", "5"]].concat();
    let (good, _, told) = run(&wind, "").await;
    assert!(!good && told.contains("--wind-from-deg"), "{told}");
}

/// Simulates in front of a stage's devices.
async fn simulate(stage: &Stage, more: &[&str]) -> (bool, String, String) {
    let mut arguments = vec!["simulate", "--server", &stage.intake, "--pace-s", "0"];
    arguments.extend(more);
    run(&arguments, "").await
}

#[tokio::test(flavor = "multi_thread")]
async fn simulate_plays_two_devices_on_the_same_swings() {
    let stage = Stage::with_session().await;
    let two = [
        "--monitor",
        "radar",
        "--token",
        "dev-test-radar",
        "--monitor",
        "camera",
        "--token",
        "dev-test-camera",
        "--shots",
        "4",
        "--cold",
    ];
    // Far apart in time, so that each swing is a shot of its own.
    let paced = [&two[..], &["--pace-s", "3"]].concat();
    let mut arguments = vec!["simulate", "--server", &stage.intake];
    arguments.extend(paced);
    let (good, out, told) = run(&arguments, "").await;
    assert!(good, "{told}");
    assert_eq!(out.lines().count(), 8);
    let hit = stage.hit().await;
    let devices = hit["shots"]
        .as_array()
        .unwrap()
        .iter()
        .map(|s| s["devices"].clone());
    assert_eq!(devices.collect::<Vec<_>>(), vec![json!(2); 4]);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn simulate_plays_every_kind_of_device() {
    let stage = Stage::with_session().await;
    for (number, kind, quantity) in [
        (1, "hand-radar", "club_speed"),
        (2, "force-plate", "torque"),
    ] {
        let new =
            json!({"id": crate::stage::id(number), "name": kind, "kind": kind.replace('-', "_")});
        let (_, secret) = stage.post("/devices", &new).await;
        let token = ["--token", secret["token"].as_str().unwrap(), "--shots", "1"];
        let (good, _, told) = simulate(&stage, &[&["--monitor", kind], &token[..]].concat()).await;
        assert!(good, "{told}");
        let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
        let last = read["shots"].as_array().unwrap().last().unwrap().clone();
        assert_eq!(last["reading"][quantity]["from"], "measured", "{kind}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn simulate_says_what_is_wrong_with_its_secrets_and_its_effort() {
    let stage = Stage::with_session().await;
    for (more, words) in [
        (
            &["--token", "dev-guess"][..],
            "is not the secret of any device",
        ),
        (
            &["--token", "a", "--token", "b"],
            "1 devices have 2 secrets",
        ),
        (&["--effort", "9"], "give an effort from 0.2 to 1.3"),
        (&["--golfer", "nobody"], "choose from ilse"),
    ] {
        let (good, _, told) = simulate(&stage, more).await;
        assert!(!good && told.contains(words), "{more:?}: {told}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_is_asked_about_brought_in_and_written_out_without_a_browser() {
    let stage = Stage::with_session().await;
    let file = std::env::temp_dir().join(format!("{}-shots.csv", std::process::id()));
    std::fs::write(
        &file,
        "date,club,club speed (mph),carry\n03/04/2026,7i,82.4,165\n",
    )
    .unwrap();
    let path = file.to_string_lossy().into_owned();
    let url = stage.database_url();
    let usual = [
        "import",
        "--database-url",
        &url,
        "--as",
        crate::stage::OWNER,
        "--player",
        "Wren Aldous",
    ];
    let import = async |more: &[&str]| {
        let all: Vec<&str> = usual
            .iter()
            .chain(more)
            .copied()
            .chain([path.as_str()])
            .collect();
        run(&all, "").await
    };
    let (good, _, told) = import(&[]).await;
    assert!(
        !good && told.contains("unit:distances=yd") && told.contains("dates=4 March 2026"),
        "{told}"
    );
    let (good, _, told) = import(&["--answer", "dates=yesterday"]).await;
    assert!(!good && told.contains("is none of the answers"), "{told}");
    let answers = [
        "--answer",
        "dates=4 March 2026",
        "--answer",
        "unit:distances=yd",
    ];
    let (good, out, told) = import(&answers).await;
    assert!(
        good && out.starts_with("shots now in: 1; in already: 0"),
        "{out}{told}"
    );
    let (good, out, _) = import(&answers).await;
    assert!(good && out.contains("in already"), "{out}");
    let (good, out, told) = run(
        &[
            "export",
            "--database-url",
            &url,
            "--as",
            crate::stage::OWNER,
        ],
        "",
    )
    .await;
    assert!(good, "{told}");
    assert!(
        out.lines()
            .any(|line| line.starts_with("Wren Aldous,2026-03-04T12:00:00")),
        "{out}"
    );
    let (good, _, told) = run(&["export", "--database-url", &url, "--as", "nobody"], "").await;
    assert!(!good && told.contains("signs in nowhere"), "{told}");
    std::fs::remove_file(&file).unwrap();
    stage.clear().await;
}

#[tokio::test]
async fn the_help_of_a_table_names_its_columns() {
    let (good, out, _) = run(&["flight", "--help"], "").await;
    assert!(
        good && out.contains("ball_speed_mph") && out.contains("wind_from_deg"),
        "{out}"
    );
}

#[tokio::test(flavor = "multi_thread")]
async fn a_database_that_lets_nobody_in_is_not_waited_for_and_the_remedy_is_told() {
    let stage = Stage::bare().await;
    let (begins, name) = stage.url.rsplit_once('/').unwrap();
    let (user, host) = begins.split_once('@').unwrap();
    let user = user.rsplit_once(':').unwrap().0;
    for (url, patience, remedy) in [
        (
            format!("{user}:wrong@{host}/{name}"),
            "60",
            "see to the user and the password",
        ),
        (
            "http://127.0.0.1/x".to_owned(),
            "60",
            "give it as postgres://",
        ),
        // One that may still be made is waited for.
        (format!("{begins}/not_there"), "0", "make it with createdb"),
    ] {
        let arguments = [
            "serve",
            "--port=0",
            "--intake-port=0",
            "--wait-for-database",
            patience,
            "--database-url",
            &url,
        ];
        let (good, _, told) = run(&arguments, "").await;
        assert!(!good && told.contains(remedy), "{told}");
        assert!(
            !told.contains("waiting") && !told.contains(":wrong@"),
            "{told}"
        );
    }
    stage.clear().await;
}
