//! The bench, the map of a session and the target windows, over HTTP.

use crate::stage::{PLAYER, SESSION, Stage, hello, id, shot};
use serde_json::{Value, json};

const CALM: &str = r#"{"altitude_m": 0, "temperature_c": 25, "humidity_pct": 50}"#;

pub fn calm() -> Value {
    serde_json::from_str(CALM).unwrap()
}

fn drive(ball_speed: f64) -> Value {
    json!({"by": "launch", "club": "driver", "launch": {
        "ball_speed": ball_speed, "launch_angle_deg": 12, "launch_direction_deg": 0,
        "spin_rate_rpm": 2600, "spin_axis_deg": 0,
    }})
}

#[tokio::test(flavor = "multi_thread")]
async fn shots_are_flown_side_by_side_and_a_refused_one_takes_no_other_with_it() {
    let stage = Stage::set().await;
    let iron = json!({"by": "delivery", "club": "iron7", "held": {"static_loft_deg": 33, "shaft_lean_deg": 8},
        "delivery": {"club_speed": 36, "angle_of_attack_deg": -4, "dynamic_loft_deg": 0}});
    let shots = json!([drive(65.0), drive(500.0), iron]);
    let (status, told) = stage
        .post(
            "/bench/flight",
            &json!({"conditions": calm(), "shots": shots}),
        )
        .await;
    assert_eq!(status, 200, "{told}");
    assert_eq!(told["shots"][1]["refused"]["field"], "ball_speed");
    assert_eq!(
        told["shots"][2]["flown"]["delivery"]["dynamic_loft_deg"],
        25.0
    );
    let carry = told["side_by_side"]["rows"][0]["values"]
        .as_array()
        .unwrap()
        .clone();
    assert!(carry[0].as_f64().unwrap() > carry[2].as_f64().unwrap() && carry[1].is_null());
    assert_eq!(
        told["shots"][0]["flown"]["explanations"]
            .as_array()
            .unwrap()
            .len(),
        3
    );
    let path = &told["shots"][0]["flown"]["journey"];
    assert!(path["air_path"].as_array().unwrap().len() > 50);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_wet_face_a_cold_ball_and_the_usual_place_on_the_face_are_reckoned_with() {
    let stage = Stage::set().await;
    let flown = async |club: &str, more: Value, conditions: &Value| {
        let mut delivery =
            json!({"club_speed": 34, "angle_of_attack_deg": -4, "dynamic_loft_deg": 42});
        delivery
            .as_object_mut()
            .unwrap()
            .extend(more.as_object().unwrap().clone());
        let shot = json!({"by": "delivery", "club": club, "delivery": delivery});
        let body = json!({"conditions": conditions, "shots": [shot]});
        stage.post("/bench/flight", &body).await
    };
    let spin = |told: &Value| {
        told["shots"][0]["flown"]["launch"]["spin_rate_rpm"]
            .as_f64()
            .unwrap()
    };
    let ball = |told: &Value| {
        told["shots"][0]["flown"]["launch"]["ball_speed"]
            .as_f64()
            .unwrap()
    };
    let dry = flown("wedge_sand", json!({}), &calm()).await.1;
    let wet = flown("wedge_sand", json!({"lie": "wet"}), &calm()).await.1;
    assert!(
        spin(&wet) < 0.9 * spin(&dry),
        "{} {}",
        spin(&wet),
        spin(&dry)
    );
    let mut cold = calm();
    cold["ball_temperature_c"] = json!(0);
    let slow = flown("wedge_sand", json!({}), &cold).await.1;
    assert!((ball(&slow) / ball(&dry) - 0.98).abs() < 1e-6);
    let carry = |told: &Value| {
        told["shots"][0]["flown"]["journey"]["flight"]["carry"]
            .as_f64()
            .unwrap()
    };
    let mut reduced = calm();
    reduced["ball_flight"] = json!({"drag": 1.35, "lift": 0.85});
    let held_back = flown("driver", json!({"dynamic_loft_deg": 14}), &reduced)
        .await
        .1;
    let in_full = flown("driver", json!({"dynamic_loft_deg": 14}), &calm())
        .await
        .1;
    assert!(carry(&held_back) < 0.9 * carry(&in_full));
    // Where no height is told, a driver is met where good players meet it.
    let usual = flown("driver", json!({"dynamic_loft_deg": 14}), &calm())
        .await
        .1;
    let high = &usual["shots"][0]["flown"]["delivery"]["impact_high"];
    assert!(high.as_f64().unwrap() > 0.005, "{high}");
    let middle = json!({"dynamic_loft_deg": 14, "impact_high": 0});
    assert!(spin(&flown("driver", middle, &calm()).await.1) > 1.1 * spin(&usual));
    for (more, field) in [
        (json!({"club_speed": 80}), "club_speed"),
        (json!({"impact_high": 0.2}), "impact_high"),
    ] {
        let told = flown("driver", more, &calm()).await.1;
        assert_eq!(told["shots"][0]["refused"]["field"], field, "{told}");
    }
    cold["ball_temperature_c"] = json!(90);
    let (status, told) = flown("driver", json!({}), &cold).await;
    assert_eq!(
        (status, &told["errors"][0]["field"]),
        (422, &json!("ball_temperature_c"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn bad_conditions_and_too_many_shots_are_refused_by_field() {
    let stage = Stage::set().await;
    let ask = async |conditions: Value, shots: Value| {
        let body = json!({"conditions": conditions, "shots": shots});
        stage.post("/bench/flight", &body).await
    };
    let mut gale = calm();
    gale["wind"] = json!({"speed_mps": 80, "from_deg": 0});
    let (status, told) = ask(gale, json!([drive(65.0)])).await;
    assert_eq!(
        (status, &told["errors"][0]["field"]),
        (422, &json!("wind_mps"))
    );
    let mut nowhere = calm();
    nowhere["wind"] = json!({"speed_mps": 5});
    let (status, told) = ask(nowhere, json!([drive(65.0)])).await;
    assert!(
        status == 422 && told["detail"].as_str().unwrap().contains("from_deg"),
        "{told}"
    );
    let mut soft = calm();
    soft["ground"] = json!({"surface": "green"});
    let (status, told) = ask(soft, json!([drive(65.0)])).await;
    assert!(
        status == 422 && told["detail"].as_str().unwrap().contains("firmness"),
        "{told}"
    );
    let (status, told) = ask(calm(), json!([])).await;
    assert_eq!(
        (status, &told["errors"][0]["field"]),
        (422, &json!("shots"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn reach_puts_the_player_s_sessions_on_the_curve_and_refuses_what_no_swing_reaches() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let ask = async |target: f64| {
        let body = json!({"target": target, "club": "iron6", "aim": "carry", "conditions": calm(),
            "player": PLAYER, "units": "mph_yd"});
        stage.post("/bench/reach", &body).await
    };
    let (status, told) = ask(170.0).await;
    assert_eq!(status, 200, "{told}");
    assert_eq!(told["sessions"][0]["id"], SESSION);
    assert_eq!(told["sessions"][0]["shots"], 3);
    assert!(told["reach"]["sessions"][0]["efficiency"].as_f64().unwrap() > 0.5);
    assert!(!told["map"]["levels"].as_array().unwrap().is_empty());
    let (status, told) = ask(500.0).await;
    assert_eq!(status, 422);
    let why = told["errors"][0]["problem"].as_str().unwrap();
    assert!(
        why.contains("no delivery reaches 547 yd at 167.8 mph; the most is"),
        "{why}"
    );
    let both = json!({"club": "driver", "aim": "carry", "conditions": calm(), "units": "mph_yd"});
    assert_eq!(stage.post("/bench/reach", &both).await.0, 422);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_s_shots_lie_on_the_map_and_a_saved_window_is_what_they_are_held_to() {
    let stage = Stage::with_session().await;
    let map = format!("/sessions/{SESSION}/launch-spin?units=mph_yd");
    let (status, told) = stage.get(&map).await;
    assert_eq!((status, &told["title"]), (409, &json!("Nothing to draw")));
    stage.device_with_shots(3).await;
    let (status, told) = stage.get(&map).await;
    assert_eq!((status, told["kept"].as_u64()), (200, Some(3)), "{told}");
    assert_eq!(told["inside"], 3);

    let windows = format!("/players/{PLAYER}/target-windows");
    let save = json!({"launch_angle_deg": 22.0, "spin_rate_rpm": 6200.0});
    let (status, saved) = stage.put(&format!("{windows}/iron6"), &save).await;
    assert_eq!(
        (status, &saved["launch_angle_deg"]),
        (200, &json!([20.0, 24.0]))
    );
    assert_eq!(stage.get(&windows).await.1[0]["club"], "iron6");
    let (_, told) = stage.get(&map).await;
    assert_eq!((told["inside"].as_u64(), &told["saved"]), (Some(0), &saved));
    let (status, told) = stage.put(&format!("{windows}/spoon"), &save).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("club")));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_sliders_have_the_ranges_that_the_model_accepts() {
    let stage = Stage::set().await;
    let (_, words) = stage.get("/vocabulary").await;
    let speed = words["inputs"]
        .as_array()
        .unwrap()
        .iter()
        .find(|input| input["key"] == "ball_speed")
        .unwrap();
    for (end, good) in [(0.0, true), (0.1, false)] {
        let edge = drive(speed["to"].as_f64().unwrap() + end);
        let body = json!({"conditions": calm(), "shots": [edge]});
        let (_, told) = stage.post("/bench/flight", &body).await;
        assert_eq!(told["shots"][0]["flown"].is_object(), good, "{told}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn reach_goes_by_the_attack_that_the_player_was_seen_to_deliver() {
    let stage = Stage::with_session().await;
    let mut radar = stage.device().await;
    let mut greeting = hello();
    greeting["measures"]
        .as_array_mut()
        .unwrap()
        .push(json!("angle_of_attack"));
    assert_eq!(radar.say(&greeting).await["type"], "welcome");
    for n in 1..=4 {
        let mut hit = shot(n, 91.0);
        hit["values"]["angle_of_attack_deg"] = json!({"value": -7.0, "from": "measured"});
        assert_eq!(radar.say(&hit).await["type"], "ack");
    }
    let ask = async |player: Value, attack: Value| {
        let body = json!({"target": 160.0, "club": "iron6", "aim": "carry", "conditions": calm(),
            "player": player, "attack_deg": attack, "units": "mph_yd"});
        stage.post("/bench/reach", &body).await.1
    };
    let own = ask(json!(PLAYER), Value::Null).await;
    let limits = &own["own"]["angle_of_attack_deg"];
    assert_eq!(
        (limits[0].as_f64(), limits[1].as_f64()),
        (Some(-9.0), Some(-5.0)),
        "{own}"
    );
    let any = ask(Value::Null, Value::Null).await;
    assert_eq!(any["own"], Value::Null);
    let speed = |told: &Value| told["reach"]["levels"][0]["club_speed"].as_f64().unwrap();
    assert_ne!(speed(&own), speed(&any));
    // What is asked for stands before it.
    assert_eq!(
        ask(json!(PLAYER), json!([-4.0, -2.0])).await["own"],
        Value::Null
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_club_is_told_with_its_band_and_a_wrong_one_is_named() {
    let stage = Stage::set().await;
    let build = json!({"static_loft_deg": 10.5, "club_length_m": 1.149, "head_mass_g": 203, "forgiveness_pct": 100});
    let asked = |longer: f64| {
        let mut other = build.clone();
        other["club_length_m"] = json!(1.149 + longer);
        json!({"club": "driver", "conditions": calm(), "now": build, "other": other,
            "scatter_toe": 0.01, "scatter_high": 0.007,
            "delivery": {"club_speed": 45, "angle_of_attack_deg": -1, "dynamic_loft_deg": 13}})
    };
    let (status, told) = stage.post("/bench/club", &asked(0.0254)).await;
    assert_eq!(status, 200, "{told}");
    assert_eq!(told["levers"][0]["lever"], "length");
    let carry = |end: &str| told["carry"][end].as_f64().unwrap();
    assert!(carry("low") <= carry("value") && carry("value") < carry("high"));
    let (status, refused) = stage.post("/bench/club", &asked(1.0)).await;
    assert_eq!(status, 422, "{refused}");
    assert_eq!(refused["errors"][0]["field"], "other.club_length_m");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_player_s_delivery_comes_with_the_club_of_the_bag() {
    let stage = Stage::with_session().await;
    let club = json!({"id": id(1), "club": "iron6", "head": "", "loft_deg": 29.0,
                      "length_m": null, "mass_g": null, "flex": ""});
    let noted = stage.post(&format!("/players/{PLAYER}/bag"), &club).await;
    assert_eq!(noted.0, 201, "{}", noted.1);
    let mut radar = stage.device().await;
    let mut greeting = hello();
    for more in ["angle_of_attack", "dynamic_loft"] {
        greeting["measures"]
            .as_array_mut()
            .unwrap()
            .push(json!(more));
    }
    assert_eq!(radar.say(&greeting).await["type"], "welcome");
    let delivery = format!("/players/{PLAYER}/delivery?club=iron6");
    let none = stage.get(&delivery).await.1;
    assert_eq!(none["own"], Value::Null);
    for n in 1..=4 {
        let mut hit = shot(n, 91.0);
        hit["values"]["angle_of_attack_deg"] = json!({"value": -4.0, "from": "measured"});
        hit["values"]["dynamic_loft_deg"] = json!({"value": 21.0, "from": "measured"});
        assert_eq!(radar.say(&hit).await["type"], "ack");
    }
    let told = stage.get(&delivery).await.1;
    assert_eq!(told["own"]["balls"], 4, "{told}");
    assert_eq!(told["own"]["delivery"]["angle_of_attack_deg"], -4.0);
    assert_eq!(told["build"]["static_loft_deg"], 29.0);
    assert_eq!(
        (&told["loft_noted"], &told["length_noted"]),
        (&json!(true), &json!(false))
    );
    stage.clear().await;
}
