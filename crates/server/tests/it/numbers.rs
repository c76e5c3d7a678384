//! The numbers of a session: which are shown, how many balls were over a value, and what
//! blocks were hit with.

use crate::stage::{BLOCK, PLAYER, SESSION, Stage, hello, id, session, shot};
use serde_json::{Value, json};

async fn begun(with: Value) -> Stage {
    let stage = Stage::set().await;
    let player = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": ""});
    stage.post("/players", &player).await;
    let mut new = session();
    for (name, value) in with.as_object().unwrap() {
        new[name] = value.clone();
    }
    assert_eq!(stage.post("/sessions", &new).await.0, 201);
    stage
}

#[tokio::test(flavor = "multi_thread")]
async fn the_numbers_shown_are_the_coach_s_choice_before_and_during_the_session() {
    let stage = begun(json!({"numbers": ["landing_angle", "carry"]})).await;
    let shown = async || stage.hit().await["report"]["shown"].clone();
    assert_eq!(shown().await, json!(["landing_angle", "carry"]));
    let choose = |quantities: Value| json!({"kind": "numbers", "quantities": quantities});
    let total = json!(["total", "club_speed", "smash_factor"]);
    assert_eq!(stage.act(1, choose(total.clone())).await, 201);
    assert_eq!(shown().await, total);
    let hide = json!({"kind": "hide", "quantity": "club_speed"});
    assert_eq!(stage.act(2, hide).await, 201);
    assert_eq!(shown().await, json!(["total", "smash_factor"]));
    let seven = json!([
        "carry",
        "total",
        "side",
        "apex",
        "spin_rate",
        "spin_axis",
        "hang_time"
    ]);
    assert_eq!(stage.act(3, choose(seven)).await, 422);
    // None is the purpose's own again; what was hidden stays so.
    assert_eq!(stage.act(4, choose(json!([]))).await, 201);
    assert_eq!(shown().await, json!(["ball_speed", "carry"]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_technique_session_shows_no_speed_until_the_coach_asks_for_it() {
    let stage = begun(json!({"purpose": "technique"})).await;
    let shown = stage.hit().await["report"]["shown"].clone();
    assert_eq!(shown[0], "angle_of_attack");
    assert!(!shown.as_array().unwrap().contains(&json!("club_speed")));
    let mut radar = stage.device().await;
    let mut greeting = hello();
    let measures = greeting["measures"].as_array_mut().unwrap();
    measures.push(json!("angle_of_attack"));
    assert_eq!(radar.say(&greeting).await["type"], "welcome");
    for n in 1..=3 {
        let mut hit = shot(n, 91.0);
        hit["values"]["angle_of_attack_deg"] = json!({"value": -4.0, "from": "measured"});
        assert_eq!(radar.say(&hit).await["type"], "ack");
    }
    let (_, opening) = stage.get(&format!("/sessions/{SESSION}/opening")).await;
    let sentence = opening["verdict"]["sentence"].to_string();
    assert!(sentence.contains("angle of attack"), "{sentence}");
    assert!(!sentence.contains("speed"), "{sentence}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn balls_at_or_over_a_value_are_counted_in_the_coach_s_unit() {
    let stage = Stage::with_session().await;
    let mut radar = stage.device_with_shots(3).await;
    assert_eq!(radar.say(&shot(4, 95.0)).await["type"], "ack");
    let ask = async |query: &str| {
        stage
            .get(&format!("/sessions/{SESSION}/over?{query}"))
            .await
    };
    let (_, told) = ask("quantity=club_speed&value=92&unit=mph").await;
    assert_eq!(told, json!({"over": 3, "of": 4}));
    let (_, told) = ask("quantity=club_speed&value=140&unit=kmh").await;
    assert_eq!(told["over"], 4);
    let (status, refused) = ask("quantity=club_speed&unit=mph").await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("value"))
    );
    let (status, refused) = ask("quantity=club_speed&value=92&unit=yd").await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("unit"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_heads_in_turns_of_one_session_are_two_sets() {
    let turn = |n: u32, head: &str| {
        json!({"id": if n == 0 { BLOCK.to_owned() } else { id(n) }, "label": "Stock", "balls": 2,
               "gear": {"head": head, "tee_m": 0.038}})
    };
    let turns = json!([turn(0, "low spin"), turn(1, "forgiving")]);
    let stage = begun(json!({"purpose": "comparison", "blocks": turns})).await;
    let mut radar = stage.device_with_shots(3).await;
    let begin = format!("/sessions/{SESSION}/blocks/{}/begin", id(1));
    assert_eq!(stage.post(&begin, &json!({})).await.0, 204);
    for n in 4..=6 {
        assert_eq!(radar.say(&shot(n, 95.0)).await["type"], "ack");
    }
    let (_, decide) = stage.get(&format!("/sessions/{SESSION}/decide")).await;
    let labels: Vec<&str> = decide["sets"]
        .as_array()
        .unwrap()
        .iter()
        .map(|set| set["label"].as_str().unwrap())
        .collect();
    let named = |head: &str| format!("Stock · {head}, tee 38 mm");
    assert_eq!(labels, [named("low spin"), named("forgiving")]);
    let asked = json!({"quantity": "carry", "sets": decide["sets"].as_array().unwrap().iter()
        .map(|set| json!({"label": set["label"], "session": SESSION, "blocks": set["blocks"]}))
        .collect::<Vec<_>>()});
    let (status, told) = stage
        .post(&format!("/players/{PLAYER}/compare"), &asked)
        .await;
    assert_eq!(status, 200, "{told}");
    assert_eq!(told["sets"][1]["counts"]["kept"], 3);
    let high = json!({"blocks": [{"id": id(9), "label": "Tall", "balls": 2,
                                  "gear": {"tee_m": 0.5}}]});
    let (status, refused) = stage.put(&format!("/sessions/{SESSION}/plan"), &high).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("blocks[0].gear.tee_m"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_swung_earlier_today_is_taken_from_what_is_proposed() {
    let stage = Stage::with_session().await;
    let path = format!("/players/{PLAYER}/prepare?purpose=speed_day&club=iron6");
    let (_, fresh) = stage.get(&path).await;
    let mut radar = stage.device_with_shots(3).await;
    for n in 4..=144 {
        assert_eq!(radar.say(&shot(n, 90.0)).await["type"], "ack");
    }
    stage.sql("UPDATE shot SET hit_at = now()").await;
    let (_, told) = stage.get(&path).await;
    assert_eq!(told["today"]["all"], 144);
    let balls = |told: &Value| -> u64 {
        let blocks = told["proposed"].as_array().unwrap();
        blocks.iter().map(|b| b["balls"].as_u64().unwrap()).sum()
    };
    // The house allows a grown player 150 a day.
    assert!(balls(&fresh) > 6 && balls(&told) <= 6, "{told}");
    assert_eq!(told["held_to_bounds"], true);
    stage
        .sql("UPDATE shot SET hit_at = now() - interval '20 hours'")
        .await;
    assert_eq!(stage.get(&path).await.1["today"]["all"], 0);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_test_keeps_what_it_was_prepared_for_and_its_comparisons_are_counted_together() {
    let blocks =
        json!([{"id": BLOCK, "label": "A", "balls": 3}, {"id": id(1), "label": "B", "balls": 3}]);
    let test = json!({"quantity": "carry", "margin": {"value": 3, "unit": "yd"}});
    let stage = begun(json!({"purpose": "comparison", "blocks": blocks, "test": test})).await;
    let mut radar = stage.device_with_shots(3).await;
    let begin = format!("/sessions/{SESSION}/blocks/{}/begin", id(1));
    assert_eq!(stage.post(&begin, &json!({})).await.0, 204);
    for n in 4..=6 {
        assert_eq!(radar.say(&shot(n, 95.0 + n as f64)).await["type"], "ack");
    }
    let ask = async |quantity: &str| {
        let set = |label: &str| json!({"label": label, "session": SESSION, "blocks": [label]});
        let asked = json!({"quantity": quantity, "sets": [set("A"), set("B")]});
        let (status, told) = stage
            .post(&format!("/players/{PLAYER}/compare"), &asked)
            .await;
        assert_eq!(status, 200, "{told}");
        told
    };
    let carry = ask("carry").await;
    // The margin is the one that was fixed at Prepare.
    assert!((carry["margin"].as_f64().unwrap() - 3.0 * 0.9144).abs() < 1e-9);
    let speed = ask("club_speed").await;
    let detail = speed["verdict"]["detail"][0]["text"].as_str().unwrap();
    assert!(
        detail.starts_with("The test was prepared for carry"),
        "{detail}"
    );
    // However the sets are called, and with their club told, it is the same question.
    let set = |block: &str| {
        json!({"label": format!("set {block}"), "session": SESSION, "blocks": [block],
               "club": "iron6"})
    };
    let again = json!({"quantity": "club_speed", "sets": [set("A"), set("B")]});
    let path = format!("/players/{PLAYER}/compare");
    assert_eq!(stage.post(&path, &again).await.0, 200);
    let (_, log) = stage.get(&format!("/players/{PLAYER}/comparisons")).await;
    let log = log.as_array().unwrap();
    assert_eq!(
        log.len(),
        2,
        "the same question asked again is one: {log:?}"
    );
    assert!(
        log.iter()
            .all(|made| made["chance"].as_f64().unwrap() <= 1.0)
    );
    stage.clear().await;
}

/// All numbers in an answer that have a fraction, as they are written.
fn fractions(of: &Value, found: &mut Vec<String>) {
    match of {
        Value::Number(number) if number.is_f64() => found.push(number.to_string()),
        Value::Array(items) => items.iter().for_each(|item| fractions(item, found)),
        Value::Object(fields) => fields.values().for_each(|field| fractions(field, found)),
        _ => {}
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_is_told_with_the_digits_of_a_measurement_and_close_to_what_was_sent() {
    let stage = begun(json!({})).await;
    stage.device_with_shots(3).await;
    for of in ["read", "hit", "decide"] {
        let (status, told) = stage.get(&format!("/sessions/{SESSION}/{of}")).await;
        assert_eq!(status, 200, "{told}");
        let mut written = Vec::new();
        fractions(&told, &mut written);
        assert!(written.len() >= 10, "{of}: {}", written.len());
        for number in written {
            let digits: String = number.chars().filter(char::is_ascii_digit).collect();
            assert!(digits.trim_start_matches('0').len() <= 10, "{of}: {number}");
        }
    }
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let speed = read["shots"][0]["reading"]["ball_speed"]["si"].as_f64();
    assert!((speed.unwrap() - 127.0 * 0.44704).abs() < 1e-5, "{speed:?}");
}
