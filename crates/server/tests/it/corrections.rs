//! What a coach recorded, put right: with who did it, and by whom it may be done.

use crate::stage::{PLAYER, SESSION, Stage, id};
use serde_json::{Value, json};

async fn audit(stage: &Stage, act: &str) -> Vec<String> {
    stage
        .ask(&format!(
            "SELECT about FROM audit WHERE act = '{act}' ORDER BY id"
        ))
        .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_player_s_facts_are_put_right_and_who_did_it_is_written_down() {
    let stage = Stage::with_session().await;
    let path = format!("/players/{PLAYER}");
    let right = json!({"name": "Wren Alder", "born": 1991, "left_handed": true, "aim": ""});
    assert_eq!(stage.put(&path, &right).await.0, 204);
    let (_, player) = stage.get(&path).await;
    assert_eq!(
        (&player["name"], &player["born"], &player["left_handed"]),
        (&json!("Wren Alder"), &json!(1991), &json!(true))
    );
    assert_eq!(
        audit(&stage, "correction").await,
        ["name: Wren Aldous → Wren Alder; born: 1990 → 1991; hand; aim"]
    );
    // The same again is nothing new; nonsense is refused by field.
    assert_eq!(stage.put(&path, &right).await.0, 204);
    assert_eq!(audit(&stage, "correction").await.len(), 1);
    let wrong = json!({"name": " ", "born": 1700, "left_handed": false, "aim": ""});
    let (status, problem) = stage.put(&path, &wrong).await;
    assert_eq!(
        (status, problem["errors"].as_array().unwrap().len()),
        (422, 2)
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_goes_to_its_player_purpose_and_day_with_all_its_shots() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let other = json!({"id": id(7), "name": "Lark Sorrel", "born": 1988});
    assert_eq!(stage.post("/players", &other).await.0, 201);
    let path = format!("/sessions/{SESSION}/facts");
    let read = format!("/sessions/{SESSION}/read");
    let before = stage.get(&read).await.1;
    let right = json!({
        "player": id(7), "purpose": "speed_day", "club": "driver", "day": "2026-04-02",
    });
    assert_eq!(stage.put(&path, &right).await.0, 204);
    let after = stage.get(&read).await.1;
    assert_eq!(after["session"]["player_name"], "Lark Sorrel");
    assert_eq!(after["session"]["purpose_key"], "speed_day");
    assert_eq!(after["shots"].as_array().unwrap().len(), 3);
    let began = after["session"]["started_at"].as_str().unwrap();
    assert!(began.starts_with("2026-04-0"), "{began}");
    // Every shot moves with it and keeps its time of the day.
    let hit = |read: &Value| read["shots"][1]["hit_at"].as_str().unwrap().to_owned();
    assert_ne!(hit(&after)[..10], hit(&before)[..10]);
    assert_eq!(hit(&after)[10..19], hit(&before)[10..19]);
    assert_eq!(audit(&stage, "correction").await.len(), 1);
    for (wrong, field) in [
        (json!({"purpose": "fun"}), "purpose"),
        (json!({"day": "2999-01-01"}), "day"),
    ] {
        let (status, problem) = stage.put(&path, &wrong).await;
        assert_eq!(
            (status, &problem["errors"][0]["field"]),
            (422, &json!(field))
        );
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_is_called_what_it_was_and_a_session_goes_out_whole() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let (_, session) = stage.get(&format!("/sessions/{SESSION}")).await;
    let block = session["blocks"][0]["id"].as_str().unwrap();
    let path = format!("/sessions/{SESSION}/blocks/{block}");
    let right = json!({"label": "Ball forward", "club": "iron7"});
    assert_eq!(stage.put(&path, &right).await.0, 204);
    let (_, session) = stage.get(&format!("/sessions/{SESSION}")).await;
    assert_eq!(session["blocks"][0]["label"], "Ball forward");
    assert_eq!(session["blocks"][0]["plan"]["club"], "iron7");
    let path = format!("/sessions/{SESSION}");
    assert_eq!(stage.delete(&path).await, 204);
    assert_eq!(stage.get(&path).await.0, 404);
    for table in ["shot", "reading", "block", "session_act"] {
        assert_eq!(stage.counted(table).await, 0, "{table}");
    }
    let removed = audit(&stage, "removal").await;
    assert!(removed[0].ends_with("3 shots"), "{removed:?}");
    assert_eq!(stage.delete(&path).await, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn full_effort_that_is_added_later_is_held_too() {
    let stage = Stage::with_session().await;
    let hold = json!({"kind": "hold", "reason": "back"});
    assert_eq!(stage.act(40, hold).await, 201);
    let path = format!("/sessions/{SESSION}/blocks");
    let all_out = json!({"id": id(41), "label": "All-out once more"});
    let (status, why) = stage.post(&path, &all_out).await;
    assert_eq!(status, 409, "{why}");
    assert!(why["detail"].as_str().unwrap().contains("held"), "{why}");
    let gentle = json!({"id": id(42), "label": "Wedges"});
    assert_eq!(stage.post(&path, &gentle).await.0, 201);
    stage.clear().await;
}
