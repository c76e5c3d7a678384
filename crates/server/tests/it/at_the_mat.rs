//! What can be put right at the mat: a block begun too early, a ball of another feel, and
//! what every screen of a session must hear of.

use crate::stage::{BLOCK, PLAYER, RADAR, SESSION, Stage, hello, id, session, shot};
use serde_json::{Value, json};
use std::time::Duration;

/// A session with two planned blocks, the first of them begun, and a radar.
async fn with_two_blocks() -> Stage {
    let stage = Stage::set().await;
    let player = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": ""});
    assert_eq!(stage.post("/players", &player).await.0, 201);
    let mut new = session();
    new["blocks"] = json!([
        {"id": BLOCK, "label": "Fifty", "balls": 2},
        {"id": id(1), "label": "Sixty", "balls": 2},
    ]);
    assert_eq!(stage.post("/sessions", &new).await.0, 201);
    stage
}

fn begin(block: &str) -> String {
    format!("/sessions/{SESSION}/blocks/{block}/begin")
}

/// The blocks of the shots, in hitting order.
async fn blocks(stage: &Stage) -> Vec<String> {
    let shots = stage.hit().await["shots"].clone();
    let shots = shots.as_array().unwrap().iter();
    shots
        .map(|shot| shot["block"].as_str().unwrap().to_owned())
        .collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_begun_too_early_is_taken_back_and_its_balls_go_to_the_one_before() {
    let stage = with_two_blocks().await;
    let mut radar = stage.device_with_shots(1).await;
    assert_eq!(stage.post(&begin(&id(1)), &json!({})).await.0, 204);
    assert_eq!(radar.say(&shot(2, 92.0)).await["type"], "ack");
    assert_eq!(blocks(&stage).await, [BLOCK.to_owned(), id(1)]);
    assert_eq!(stage.delete(&begin(&id(1))).await, 204);
    // Once more, as a lost answer would have it.
    assert_eq!(stage.delete(&begin(&id(1))).await, 204);
    assert_eq!(blocks(&stage).await, [BLOCK, BLOCK]);
    let hit = stage.hit().await;
    assert_eq!(hit["session"]["current"], 0);
    assert_eq!(hit["session"]["blocks"][1]["begun"], false);
    // The next ball goes to the first block again, until the second is begun anew.
    assert_eq!(radar.say(&shot(3, 92.0)).await["type"], "ack");
    assert_eq!(stage.post(&begin(&id(1)), &json!({})).await.0, 204);
    assert_eq!(radar.say(&shot(4, 92.0)).await["type"], "ack");
    let of = [BLOCK.to_owned(), BLOCK.to_owned(), BLOCK.to_owned(), id(1)];
    assert_eq!(blocks(&stage).await, of);
    // The first cannot be taken back, nor one that others were begun after.
    assert_eq!(stage.delete(&begin(BLOCK)).await, 409);
    let unplanned = json!({"id": id(2), "label": "Free"});
    let added = stage
        .post(&format!("/sessions/{SESSION}/blocks"), &unplanned)
        .await;
    assert_eq!(added.0, 201);
    assert_eq!(stage.delete(&begin(&id(1))).await, 409);
    assert_eq!(stage.delete(&begin(&id(2))).await, 204);
    assert_eq!(stage.delete(&begin(&id(9))).await, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_ball_of_another_feel_goes_to_its_block_and_keeps_number_and_standing() {
    let stage = with_two_blocks().await;
    let mut radar = stage.device_with_shots(2).await;
    assert_eq!(stage.post(&begin(&id(1)), &json!({})).await.0, 204);
    assert_eq!(radar.say(&shot(3, 99.0)).await["type"], "ack");
    let shots = stage.hit().await["shots"].clone();
    let third = shots[2]["id"].as_str().unwrap().to_owned();
    let marks = format!("/sessions/{SESSION}/shots/{third}/marks");
    let aside = json!({"id": id(20), "act": {"kind": "set_aside", "reason": "mishit"}});
    assert_eq!(stage.post(&marks, &aside).await.0, 201);
    let to = format!("/sessions/{SESSION}/shots/{third}/block");
    let give = json!({"id": id(21), "block": BLOCK});
    for _ in 0..2 {
        assert_eq!(stage.put(&to, &give).await.0, 204);
    }
    assert_eq!(blocks(&stage).await, [BLOCK, BLOCK, BLOCK]);
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let moved = &read["shots"][2];
    assert_eq!((&moved["id"], &moved["number"]), (&json!(third), &json!(3)));
    assert_eq!(read["report"]["shots"][2]["standing"], "set_aside");
    let last = moved["marks"].as_array().unwrap().last().unwrap();
    assert_eq!(
        (&last["kind"], &last["note"]),
        (&json!("moved"), &json!("from “Sixty” to “Fifty”"))
    );
    // A ball that was set aside does not count in its new block either.
    assert_eq!(stage.hit().await["report"]["place"]["hit"], 0);
    assert_eq!(
        stage
            .put(&to, &json!({"id": id(22), "block": id(7)}))
            .await
            .0,
        404
    );
    assert_eq!(stage.delete(&begin(&id(1))).await, 204);
    let (status, refused) = stage.put(&to, &json!({"id": id(23), "block": id(1)})).await;
    assert_eq!(status, 409);
    assert!(
        refused["detail"].as_str().unwrap().contains("not begun"),
        "{refused}"
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_session_is_read_by_is_told_to_every_screen_of_it() {
    let stage = Stage::with_session().await;
    let live = format!("{}/api/v1/live?sessions={SESSION}", stage.web);
    let mut stream = stage.http.get(&live).send().await.unwrap();
    let heard = async |stream: &mut reqwest::Response| {
        let told = tokio::time::timeout(Duration::from_secs(10), stream.chunk()).await;
        assert!(told.is_ok_and(|told| told.unwrap().is_some()));
    };
    let rule = json!({"id": id(1), "given": {"value": 7, "unit": "yd"}});
    let (status, told) = stage.put("/house-rules/carry_margin", &rule).await;
    assert_eq!(status, 204, "{told}");
    heard(&mut stream).await;
    let window = json!({"launch_angle_deg": 16.0, "spin_rate_rpm": 6000.0});
    let path = format!("/players/{PLAYER}/target-windows/iron6");
    assert_eq!(stage.put(&path, &window).await.0, 200);
    heard(&mut stream).await;
    let renamed = json!({"name": "Bay radar", "offsets": [], "session": null});
    let (status, told) = stage.put(&format!("/devices/{RADAR}"), &renamed).await;
    assert!(status < 300, "{told}");
    heard(&mut stream).await;
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_target_window_is_as_wide_as_the_house_calls_sound() {
    let stage = Stage::with_session().await;
    let path = format!("/players/{PLAYER}/target-windows/iron6");
    let window = json!({"launch_angle_deg": 16.0, "spin_rate_rpm": 6000.0});
    let width = |told: &Value| {
        let ends = &told["launch_angle_deg"];
        ends[1].as_f64().unwrap() - ends[0].as_f64().unwrap()
    };
    let ours = width(&stage.put(&path, &window).await.1);
    let rule = json!({"id": id(1), "given": {"value": 3.5, "unit": "deg"}});
    let (status, told) = stage.put("/house-rules/sound_launch_deg", &rule).await;
    assert_eq!(status, 204, "{told}");
    let theirs = width(&stage.put(&path, &window).await.1);
    assert!((theirs - 7.0).abs() < 1e-9 && (ours - theirs).abs() > 0.1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn last_time_is_the_last_of_its_purpose_and_counts_the_balls_of_its_club() {
    let stage = Stage::with_session().await;
    let mut radar = stage.device_with_shots(2).await;
    // A ball with another club within the same session is no figure to beat with this one.
    let other = json!({"blocks": [{"id": id(1), "label": "Driver", "balls": 1, "club": "driver"}]});
    let plan = format!("/sessions/{SESSION}/plan");
    assert_eq!(stage.put(&plan, &other).await.0, 204);
    assert_eq!(stage.post(&begin(&id(1)), &json!({})).await.0, 204);
    assert_eq!(radar.say(&shot(3, 110.0)).await["type"], "ack");
    // Many sessions of another purpose come after it.
    let progress = |session: &str| format!("/sessions/{session}/progress");
    let ended = json!({"in_progress": false});
    assert_eq!(stage.put(&progress(SESSION), &ended).await.0, 204);
    for n in 0..12 {
        let mut new = session();
        new["id"] = json!(id(100 + n));
        new["purpose"] = json!("expected_carry");
        new["blocks"][0]["id"] = json!(id(200 + n));
        assert_eq!(stage.post("/sessions", &new).await.0, 201);
        let mut greeting = hello();
        greeting["run"] = json!(format!("run {n}"));
        greeting["session"] = json!(id(100 + n));
        let mut device = stage.device().await;
        assert_eq!(device.say(&greeting).await["type"], "welcome");
        assert_eq!(device.say(&shot(1, 80.0)).await["type"], "ack");
        assert_eq!(stage.put(&progress(&id(100 + n)), &ended).await.0, 204);
    }
    let path = format!("/players/{PLAYER}/prepare?purpose=benchmark&club=iron6");
    let (_, told) = stage.get(&path).await;
    let beat = &told["last"]["told"]["to_beat"][0];
    assert_eq!(beat["n"], 2, "{told}");
    // 92 mph with the 6-iron, not 110 with the driver.
    assert!((beat["best"].as_f64().unwrap() / 0.44704 - 92.0).abs() < 1e-6);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_zone_that_there_is_not_is_refused_before_anything_is_kept() {
    let stage = Stage::set().await;
    let player = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": ""});
    assert_eq!(stage.post("/players", &player).await.0, 201);
    let mut new = session();
    new["zone"] = json!("Mars/Phobos");
    let (status, refused) = stage.post("/sessions", &new).await;
    assert_eq!(status, 422);
    assert_eq!(refused["errors"][0]["field"], "zone");
    assert_eq!(stage.get(&format!("/sessions/{SESSION}")).await.0, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_list_of_players_tells_the_day_at_the_place_where_it_was() {
    let stage = Stage::with_session().await;
    let (_, roster) = stage.get("/roster").await;
    assert_eq!(roster["players"][0]["last_zone"], "Europe/Vienna");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn whatever_is_done_at_the_mat_may_be_sent_again_after_a_lost_answer() {
    let stage = with_two_blocks().await;
    let mut radar = stage.device_with_shots(3).await;
    let shots = stage.hit().await["shots"].clone();
    let first = shots[0]["id"].as_str().unwrap().to_owned();
    let base = format!("/sessions/{SESSION}");
    let marks = format!("{base}/shots/{first}/marks");
    let marked = |number: u32, act: Value| json!({"id": id(number), "act": act});
    let typed = json!({"hit_at": "2026-04-18T10:00:00Z", "values": [
        {"id": id(34), "quantity": "carry", "given": {"value": 201, "unit": "yd"}},
    ]});
    let acts = [
        ("POST", begin(&id(1)), json!({})),
        (
            "POST",
            marks.clone(),
            marked(30, json!({"kind": "set_aside", "reason": "mishit"})),
        ),
        ("POST", marks.clone(), marked(31, json!({"kind": "keep"}))),
        (
            "PUT",
            format!("{base}/shots/{first}/block"),
            json!({"id": id(32), "block": id(1)}),
        ),
        (
            "POST",
            format!("{base}/acts"),
            marked(33, json!({"kind": "tick", "movement": "hips"})),
        ),
        ("PUT", format!("{base}/shots/{first}/entries"), typed),
        (
            "POST",
            format!("{base}/blocks"),
            json!({"id": id(35), "label": "Free"}),
        ),
        ("DELETE", begin(&id(35)), Value::Null),
    ];
    let mut before = Value::Null;
    for (method, path, body) in &acts {
        let send = async || match *method {
            "POST" => stage.post(path, body).await.0,
            "PUT" => stage.put(path, body).await.0,
            _ => stage.delete(path).await,
        };
        let seen = async || {
            let (_, read) = stage.get(&format!("{base}/read")).await;
            json!([stage.hit().await, read])
        };
        let status = send().await;
        assert!(status < 300, "{method} {path}: {status}");
        let once = seen().await;
        assert_ne!(once, before, "{method} {path} did nothing");
        assert_eq!(send().await, status, "{method} {path} again");
        assert_eq!(seen().await, once, "{method} {path} did something again");
        before = once;
    }
    assert_eq!(radar.say(&shot(4, 92.0)).await["type"], "ack");
    assert_eq!(blocks(&stage).await, [&id(1), BLOCK, BLOCK, &id(1)]);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn balls_marks_and_moves_at_the_same_moment_lose_nothing_of_each_other() {
    let stage = with_two_blocks().await;
    let mut radar = stage.device_with_shots(6).await;
    assert_eq!(stage.post(&begin(&id(1)), &json!({})).await.0, 204);
    let shots = stage.hit().await["shots"].clone();
    let ids: Vec<String> = shots
        .as_array()
        .unwrap()
        .iter()
        .map(|shot| shot["id"].as_str().unwrap().to_owned())
        .collect();
    let balls = async {
        for n in 7..=12 {
            assert_eq!(radar.say(&shot(n, 92.0)).await["type"], "ack");
        }
    };
    let one_coach = async {
        for (n, shot) in (0..).zip(&ids) {
            let path = format!("/sessions/{SESSION}/shots/{shot}/marks");
            let aside =
                json!({"id": id(100 + n), "act": {"kind": "set_aside", "reason": "mishit"}});
            assert_eq!(stage.post(&path, &aside).await.0, 201);
        }
    };
    let another = async {
        for (n, shot) in (0..).zip(ids.iter().rev()) {
            let path = format!("/sessions/{SESSION}/shots/{shot}/block");
            let to = json!({"id": id(200 + n), "block": id(1)});
            assert_eq!(stage.put(&path, &to).await.0, 204);
        }
    };
    tokio::join!(balls, one_coach, another);
    assert_eq!(blocks(&stage).await, vec![id(1); 12]);
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let standing = |n: usize| read["report"]["shots"][n]["standing"].clone();
    assert!((0..6).all(|n| standing(n) == "set_aside"), "{read}");
    assert!((6..12).all(|n| standing(n) == "kept"), "{read}");
    // A move is no word on how the ball stands.
    for n in 0..6 {
        let marks = read["shots"][n]["marks"].as_array().unwrap();
        assert_eq!(marks.len(), 2, "{marks:?}");
    }
    stage.clear().await;
}
