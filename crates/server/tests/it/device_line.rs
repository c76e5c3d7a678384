//! The intake: what devices may rely on.

use crate::stage::{SESSION, Stage, hello, shot};
use serde_json::json;

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
