//! The intake: what devices may rely on.

use crate::stage::{SESSION, Stage, hello, shot};
use futures_util::{SinkExt, StreamExt};
use serde_json::json;
use tokio_tungstenite::connect_async;
use tokio_tungstenite::tungstenite::Message;

async fn stored(stage: &Stage) -> usize {
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    read["shots"].as_array().unwrap().len()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_resent_shot_is_acknowledged_again_and_stored_once() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(2).await;
    let again = device.say(&shot(2, 92.0)).await;
    assert_eq!(
        (&again["type"], &again["again"]),
        (&json!("ack"), &json!(true))
    );
    // Over a new connection too, as after a lost line.
    let mut device = stage.device().await;
    device.say(&hello()).await;
    assert_eq!(device.say(&shot(1, 91.0)).await["again"], true);
    assert_eq!(stored(&stage).await, 2);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_number_used_for_another_shot_is_refused_not_overwritten() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(1).await;
    let answer = device.say(&shot(1, 99.0)).await;
    assert_eq!(
        (&answer["type"], &answer["sequence"]),
        (&json!("error"), &json!(1))
    );
    assert!(answer["problem"].as_str().unwrap().contains("other values"));
    assert_eq!(stored(&stage).await, 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn bad_lines_get_error_lines_and_the_connection_lives_on() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(0).await;
    let long = format!("{{\"type\":\"{}\"}}\n", "x".repeat(1 << 20));
    for (line, field) in [
        (b"not json\n".to_vec(), "line"),
        (b"\xff\xfe\n".to_vec(), "line"),
        (long.into_bytes(), "line"),
        (b"{\"type\":\"hello\",\"version\":2}\n".to_vec(), "version"),
        (b"{\"type\":\"shot\",\"sequence\":1,\"time\":\"2026-04-18T10:00:00Z\",\"values\":{\"club_speed_mph\":{\"value\":NaN,\"from\":\"measured\"}}}\n".to_vec(), "line"),
        (b"{\"type\":\"shot\",\"time\":\"2026-04-18T10:00:00Z\"}\n".to_vec(), "sequence"),
    ] {
        let answer = device.say_raw(&line).await;
        assert_eq!(answer["field"], field, "{answer}");
        assert!(!answer["remedy"].as_str().unwrap().is_empty());
    }
    assert_eq!(device.say(&shot(1, 91.0)).await["type"], "ack");
    assert_eq!(stored(&stage).await, 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_that_stops_half_way_leaves_nothing_and_harms_nobody() {
    let stage = Stage::with_session().await;
    let half = shot(1, 91.0).to_string();
    stage
        .device_with_shots(0)
        .await
        .say_and_leave(&half.as_bytes()[..80])
        .await;
    stage.device_with_shots(1).await;
    assert_eq!(stored(&stage).await, 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn without_a_session_in_progress_a_device_is_told_what_to_do() {
    let stage = Stage::set().await;
    let answer = stage.device().await.say(&hello()).await;
    assert_eq!(answer["field"], "session");
    assert!(answer["remedy"].as_str().unwrap().contains("begin one"));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_ended_session_takes_no_new_shots_but_still_knows_its_own() {
    let stage = Stage::with_session().await;
    let mut named = hello();
    named["session"] = json!(SESSION);
    let mut device = stage.device().await;
    device.say(&named).await;
    device.say(&shot(1, 91.0)).await;
    let url = format!("{}/api/v1/sessions/{SESSION}/progress", stage.web);
    stage
        .http
        .put(url)
        .json(&json!({"in_progress": false}))
        .send()
        .await
        .unwrap();
    assert_eq!(device.say(&shot(1, 91.0)).await["again"], true);
    assert_eq!(device.say(&shot(2, 92.0)).await["type"], "error");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn shots_sent_over_several_lines_at_once_are_each_stored_once() {
    let stage = Stage::with_session().await;
    let mut lines = Vec::new();
    for _ in 0..4 {
        let mut device = stage.device().await;
        device.say(&hello()).await;
        lines.push(tokio::spawn(async move {
            for sequence in 1..=20 {
                assert_eq!(device.say(&shot(sequence, 91.0)).await["type"], "ack");
            }
        }));
    }
    for line in lines {
        line.await.unwrap();
    }
    assert_eq!(stored(&stage).await, 20);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_newer_device_tells_is_kept_apart_and_told_back() {
    let stage = Stage::with_session().await;
    let mut device = stage.device().await;
    let mut greeting = hello();
    greeting["firmware"] = json!("9.1");
    assert_eq!(device.say(&greeting).await["unread"], json!(["firmware"]));
    assert_eq!(
        device.say(&json!({"type": "ping"})).await,
        json!({"type": "pong"})
    );
    let mut newer = shot(1, 91.0);
    newer["values"]["spin_loft_deg"] = json!({"value": 12.5, "from": "measured"});
    newer["battery_pct"] = json!(71);
    let answer = device.say(&newer).await;
    assert_eq!(
        answer["unread"],
        json!(["battery_pct", "spin_loft_deg"]),
        "{answer}"
    );
    let kept = stage.ask("SELECT unread::text FROM reading").await;
    let kept: serde_json::Value = serde_json::from_str(&kept[0]).unwrap();
    assert_eq!(kept["spin_loft_deg"]["value"], 12.5);
    assert_eq!(stored(&stage).await, 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_secret_speaks_as_its_own_kind_and_a_clock_that_was_never_set_is_refused() {
    let stage = Stage::with_session().await;
    let mut device = stage.device().await;
    let mut other = hello();
    other["kind"] = json!("camera");
    let answer = device.say(&other).await;
    assert_eq!(answer["field"], "kind", "{answer}");
    assert!(
        answer["problem"]
            .as_str()
            .unwrap()
            .contains("which is radar"),
        "{answer}"
    );
    device.say(&hello()).await;
    for time in ["1970-01-01T00:00:12Z", "2099-01-01T00:00:00Z"] {
        let mut never = shot(1, 91.0);
        never["time"] = json!(time);
        assert_eq!(device.say(&never).await["field"], "time", "{time}");
    }
    assert_eq!(stored(&stage).await, 0);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_that_can_only_do_http_sends_the_same_lines() {
    let stage = Stage::with_session().await;
    let lines = |first: serde_json::Value, shots: i64| {
        let shots = (1..=shots).map(|n| shot(n, 90.0 + n as f64));
        let all = std::iter::once(first).chain(shots);
        all.map(|line| line.to_string() + "\n").collect::<String>()
    };
    let send = async |text: String| -> Vec<serde_json::Value> {
        // Nobody is signed in: the secret in the hello is enough.
        let url = format!("{}/api/v1/device-shots", stage.web);
        let sent = reqwest::Client::new()
            .post(url)
            .body(text)
            .send()
            .await
            .unwrap();
        assert_eq!(sent.status(), 200);
        let text = sent.text().await.unwrap();
        text.lines()
            .map(|line| serde_json::from_str(line).unwrap())
            .collect()
    };
    let answers = send(lines(hello(), 2)).await;
    let types: Vec<_> = answers.iter().map(|answer| &answer["type"]).collect();
    assert_eq!(types, ["welcome", "ack", "ack"]);
    let again = send(lines(hello(), 3)).await;
    let again: Vec<_> = again[1..]
        .iter()
        .map(|answer| answer["again"] == true)
        .collect();
    assert_eq!(again, [true, true, false]);
    assert_eq!(stored(&stage).await, 3);
    let mut wrong = hello();
    wrong["token"] = json!("guessed");
    let answers = send(lines(wrong, 9)).await;
    assert!(
        answers.len() < 7 && answers.iter().all(|answer| answer["type"] == "error"),
        "{answers:?}"
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_example_of_a_device_is_understood() {
    let stage = Stage::with_session().await;
    let (host, port) = stage.intake.rsplit_once(':').unwrap();
    let script = concat!(env!("CARGO_MANIFEST_DIR"), "/../../examples/device.py");
    let mut example = tokio::process::Command::new("python3")
        .args([script, host, port, hello()["token"].as_str().unwrap()])
        .stdin(std::process::Stdio::piped())
        .stdout(std::process::Stdio::piped())
        .spawn()
        .expect("python3 is installed");
    let shots =
        "{\"club_speed_mph\": 92.4, \"ball_speed_mph\": 131.0}\n{\"club_speed_mph\": 93.1}\n";
    let mut stdin = example.stdin.take().unwrap();
    tokio::io::AsyncWriteExt::write_all(&mut stdin, shots.as_bytes())
        .await
        .unwrap();
    drop(stdin);
    let done = example.wait_with_output().await.unwrap();
    let told = String::from_utf8(done.stdout).unwrap();
    assert!(done.status.success(), "{told}");
    assert_eq!(told.matches("\"type\": \"ack\"").count(), 2, "{told}");
    assert_eq!(stored(&stage).await, 2);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_server_keeps_what_the_conformance_tests_ask_of_any() {
    let stage = Stage::with_session().await;
    let (host, port) = stage.intake.rsplit_once(':').unwrap();
    let script = concat!(env!("CARGO_MANIFEST_DIR"), "/../../examples/conformance.py");
    let run = tokio::process::Command::new("python3")
        .args([script, host, port, hello()["token"].as_str().unwrap()])
        .output()
        .await
        .expect("python3 is installed");
    let told = String::from_utf8_lossy(&run.stdout).into_owned();
    assert!(run.status.success(), "{told}{:?}", run.stderr);
    assert!(told.lines().count() > 30, "{told}");
    assert_eq!(stored(&stage).await, 7);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_on_a_web_socket_speaks_the_same_lines() {
    let stage = Stage::with_session().await;
    let plain = reqwest::get(format!("{}/api/v1/device-line", stage.web));
    assert_eq!(plain.await.unwrap().status(), 426);
    let address = format!("{}/api/v1/device-line", stage.web).replacen("http", "ws", 1);
    let (mut socket, _) = connect_async(&address).await.unwrap();
    let mut say = async |line: String| -> serde_json::Value {
        socket.send(Message::text(line)).await.unwrap();
        loop {
            let heard = socket.next().await.unwrap().unwrap();
            if let Message::Text(text) = heard {
                return serde_json::from_str(&text).unwrap();
            }
        }
    };
    assert_eq!(say(shot(1, 90.0).to_string()).await["field"], "type");
    assert_eq!(say("{".to_owned()).await["field"], "line");
    assert_eq!(say(hello().to_string()).await["type"], "welcome");
    assert_eq!(say(shot(1, 90.0).to_string()).await["again"], false);
    assert_eq!(say(shot(1, 90.0).to_string()).await["again"], true);
    assert_eq!(stored(&stage).await, 1);
    drop(socket);
    // Whoever guesses is shown out.
    let (mut socket, _) = connect_async(&address).await.unwrap();
    let mut wrong = hello();
    wrong["token"] = json!("guessed");
    let mut answers = 0;
    for _ in 0..9 {
        if socket.send(Message::text(wrong.to_string())).await.is_err() {
            break;
        }
        match socket.next().await {
            Some(Ok(Message::Text(_))) => answers += 1,
            _ => break,
        }
    }
    assert_eq!(answers, 5);
    stage.clear().await;
}
