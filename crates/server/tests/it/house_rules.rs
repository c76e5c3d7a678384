//! House rules: changed, told, used, taken back.

use crate::stage::{SESSION, Stage, id};
use serde_json::{Value, json};

async fn rule(stage: &Stage, key: &str) -> Value {
    let (_, told) = stage.get("/house-rules").await;
    let mut rules = told["rules"].as_array().unwrap().iter();
    rules.find(|rule| rule["key"] == key).unwrap().clone()
}

async fn change(stage: &Stage, number: u32, key: &str, given: Value) -> (u16, Value) {
    let body = json!({"id": id(number), "given": given});
    stage.put(&format!("/house-rules/{key}"), &body).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_changed_rule_changes_what_shows_it_and_old_readings_keep_theirs() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(4).await;
    let read = format!("/sessions/{SESSION}/read");
    let level = async |path: &str| stage.get(path).await.1["report"]["interval_level"].clone();
    assert_eq!(level(&read).await, 0.9);
    let before = chrono::Utc::now().to_rfc3339().replace('+', "%2B");
    let given = json!({"value": 95, "unit": "pct"});
    assert_eq!(change(&stage, 1, "interval_level", given).await.0, 204);
    assert_eq!(level(&read).await, 0.95);
    assert_eq!(level(&format!("{read}?rules_at={before}")).await, 0.9);
    let told = rule(&stage, "interval_level").await;
    assert_eq!(
        (&told["changed"], &told["ours"]),
        (&json!(true), &json!(0.9))
    );
    assert_eq!(
        change(&stage, 2, "interval_level", Value::Null).await.0,
        204
    );
    assert_eq!(level(&read).await, 0.9);
    let (_, all) = stage.get("/house-rules").await;
    let changes = all["changes"].as_array().unwrap();
    assert_eq!((changes.len(), &changes[0]["value"]), (2, &Value::Null));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_house_factor_of_the_coach_s_own_moves_the_expectation() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(2).await;
    let expected = async || {
        let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
        read["report"]["carry"]["by_club_speed"]["mean"]
            .as_f64()
            .unwrap()
    };
    let before = expected().await;
    let ours = rule(&stage, "factor_iron6").await["ours"].as_f64().unwrap() * 0.44704 / 0.9144;
    let given = json!({"value": ours * 0.7, "unit": "yd_per_mph"});
    assert_eq!(change(&stage, 1, "factor_iron6", given).await.0, 204);
    // Ours rises with speed, a factor does not: they agree at a sound player's.
    let share = expected().await / before;
    assert!((0.6..0.95).contains(&share), "{share}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_a_rule_is_refused_in_the_unit_it_came_in() {
    let stage = Stage::set().await;
    for (key, given, field, words) in [
        (
            "interval_level",
            json!({"value": 100, "unit": "pct"}),
            "interval_level",
            "from 50 to 99 pct",
        ),
        (
            "carry_margin",
            json!({"value": -1, "unit": "yd"}),
            "carry_margin",
            "yd",
        ),
        (
            "carry_margin",
            json!({"value": 5, "unit": "mph"}),
            "carry_margin.unit",
            "yd",
        ),
        (
            "carry_margin",
            json!({"value": null, "unit": "yd"}),
            "carry_margin",
            "number",
        ),
        (
            "luck",
            json!({"value": 1, "unit": ""}),
            "key",
            "interval_level",
        ),
    ] {
        let (status, refused) = change(&stage, 9, key, given).await;
        let error = &refused["errors"][0];
        assert_eq!((status, &error["field"]), (422, &json!(field)), "{refused}");
        assert!(
            error["remedy"].as_str().unwrap().contains(words),
            "{refused}"
        );
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_warm_up_list_is_the_school_s_own_until_ours_is_taken_again() {
    let stage = Stage::with_session().await;
    let movement = json!({"key": "skips", "label": "Skips", "how": "Lightly", "repetitions": 20, "each_side": false});
    let save = async |movements: Value| {
        stage
            .put(
                "/warm-up-list",
                &json!({"id": uuid(), "movements": movements}),
            )
            .await
    };
    assert_eq!(save(json!([movement])).await.0, 204);
    let (_, warm) = stage.get(&format!("/sessions/{SESSION}/warm-up")).await;
    assert_eq!(warm["movements"], json!([movement]));
    let (status, refused) = save(json!([])).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("movements"))
    );
    assert_eq!(save(Value::Null).await.0, 204);
    let (_, rules) = stage.get("/house-rules").await;
    assert_eq!(rules["warm_up_is_ours"], true);
    stage.clear().await;
}

fn uuid() -> String {
    uuid::Uuid::now_v7().to_string()
}
