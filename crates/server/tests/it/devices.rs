//! Devices: who they are, whether they are there, and how far they agree.

use crate::stage::{CAMERA, CAMERA_TOKEN, PLAYER, RADAR, SESSION, Stage, hello, id, session, shot};
use serde_json::{Value, json};
use tally_core::vocabulary::quantity::Quantity;
use tally_server::server::{Config, Server};

async fn listed(stage: &Stage, device: &str) -> Value {
    let (_, devices) = stage.get("/devices").await;
    let mut devices = devices.as_array().unwrap().iter();
    devices.find(|d| d["id"] == device).unwrap().clone()
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_is_added_with_a_secret_that_is_told_once_and_can_be_renewed() {
    let stage = Stage::with_session().await;
    let new = json!({"id": id(1), "name": "Bay 2 radar", "kind": "radar"});
    let (status, told) = stage.post("/devices", &new).await;
    assert_eq!(status, 201);
    let mut hello = hello();
    hello["token"] = told["token"].clone();
    let mut device = stage.device().await;
    assert_eq!(device.say(&hello).await["type"], "welcome");
    let (_, renewed) = stage
        .post(&format!("/devices/{}/token", id(1)), &json!({}))
        .await;
    assert_ne!(renewed["token"], told["token"]);
    let refused = stage.device().await.say(&hello).await;
    assert_eq!(refused["field"], "token");
    let (_, devices) = stage.get("/devices").await;
    assert!(
        !devices
            .to_string()
            .contains(told["token"].as_str().unwrap())
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_devices_cannot_have_one_name() {
    let stage = Stage::set().await;
    let new = json!({"id": id(1), "name": "Test radar", "kind": "camera"});
    let (status, refused) = stage.post("/devices", &new).await;
    assert_eq!(status, 409);
    assert!(refused["detail"].as_str().unwrap().contains("another name"));
    let rename = json!({"name": "Test radar", "session": null});
    assert_eq!(
        stage.put(&format!("/devices/{CAMERA}"), &rename).await.0,
        409
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_wrong_secret_is_refused_and_stores_nothing() {
    let stage = Stage::with_session().await;
    let mut wrong = hello();
    wrong["token"] = json!("dev-guess");
    let mut device = stage.device().await;
    let refused = device.say(&wrong).await;
    assert_eq!(
        (&refused["field"], &refused["value"]),
        (&json!("token"), &json!("(not shown)"))
    );
    assert_eq!(device.say(&shot(1, 90.0)).await["type"], "error");
    assert_eq!(stage.hit().await["shots"], json!([]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn whether_a_device_is_there_is_seen() {
    let stage = Stage::with_session().await;
    assert_eq!(listed(&stage, RADAR).await["connected"], false);
    let device = stage.device_with_shots(1).await;
    let there = listed(&stage, RADAR).await;
    assert_eq!(there["connected"], true);
    assert_eq!(there["calculates"], json!(["smash_factor"]));
    drop(device);
    while listed(&stage, RADAR).await["connected"] == true {
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_clock_ten_minutes_off_is_noticed_and_its_shots_are_put_right() {
    let stage = Stage::with_session().await;
    let ahead = chrono::Utc::now() + chrono::Duration::minutes(10);
    let mut hello = hello();
    hello["time"] = json!(ahead.to_rfc3339());
    let mut device = stage.device().await;
    device.say(&hello).await;
    let mut late = shot(1, 90.0);
    late["time"] = json!((ahead + chrono::Duration::milliseconds(200)).to_rfc3339());
    assert_eq!(device.say(&late).await["type"], "ack");
    let off = listed(&stage, RADAR).await["clock_ahead_s"]
        .as_f64()
        .unwrap();
    assert!((off - 600.0).abs() < 5.0, "{off}");
    let hit_at = stage.hit().await["shots"][0]["hit_at"]
        .as_str()
        .unwrap()
        .to_owned();
    let hit_at: chrono::DateTime<chrono::Utc> = hit_at.parse().unwrap();
    let apart = (chrono::Utc::now() - hit_at).num_seconds();
    assert!((0..60).contains(&apart), "{apart} s ago");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn sequence_numbers_that_restart_are_refused_with_a_remedy_and_taken_in_a_new_run() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(2).await;
    let refused = device.say(&shot(1, 99.0)).await;
    assert!(refused["remedy"].as_str().unwrap().contains("new run"));
    let mut again = hello();
    again["run"] = json!("b");
    device.say(&again).await;
    assert_eq!(device.say(&shot(1, 99.0)).await["type"], "ack");
    assert_eq!(stage.hit().await["shots"].as_array().unwrap().len(), 3);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_thousand_shots_at_once_are_each_acknowledged_and_stored_once() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(0).await;
    let mut burst = String::new();
    for sequence in 1..=1000 {
        burst.push_str(&format!(
            "{}\n",
            shot(sequence, 80.0 + sequence as f64 / 100.0)
        ));
    }
    let mut acknowledged = vec![device.say_raw(burst.as_bytes()).await];
    while acknowledged.len() < 1000 {
        acknowledged.push(device.say_raw(b"").await);
    }
    let sequences: Vec<_> = acknowledged
        .iter()
        .map(|a| a["sequence"].as_i64().unwrap())
        .collect();
    assert!(sequences.iter().copied().eq(1..=1000));
    let store = stage.store().await;
    let school = store.founder().await.unwrap().school_id;
    let shots = store
        .session_shots(school, SESSION.parse().unwrap())
        .await
        .unwrap();
    assert_eq!(shots.len(), 1000);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_devices_that_disagree_are_told_apart_until_an_offset_is_adopted() {
    let stage = Stage::with_session().await;
    let hit_six = async |from: i64, session: &str| {
        let mut devices = Vec::new();
        for kind in ["radar", "camera"] {
            let mut greeting = hello();
            greeting["run"] = json!(format!("{kind} {session}"));
            greeting["session"] = json!(session);
            if kind == "camera" {
                greeting["token"] = json!(CAMERA_TOKEN);
                greeting["kind"] = json!("camera");
            }
            let mut device = stage.device().await;
            assert_eq!(device.say(&greeting).await["type"], "welcome");
            devices.push(device);
        }
        for sequence in from..from + 6 {
            let speed = 90.0 + sequence as f64;
            devices[0].say(&shot(sequence * 5, speed)).await;
            // The camera reads two miles an hour more, give or take a tenth.
            let other = speed + 2.0 + 0.1 * (sequence % 2) as f64;
            devices[1].say(&shot(sequence * 5, other)).await;
        }
    };
    hit_six(1, SESSION).await;
    let path = format!("/agreement?first={RADAR}&second={CAMERA}");
    let speed = async || {
        let (_, told) = stage.get(&path).await;
        told["agreements"][0].clone()
    };
    let told = speed().await;
    assert_eq!(told["quantity"], "club_speed");
    let bias = told["bias"]["value"].as_f64().unwrap() / 0.44704;
    assert!((bias - 2.05).abs() < 0.01, "{bias}");
    let (_, pairs) = stage.get("/device-pairs").await;
    assert_eq!(pairs[0]["shots"], 6);
    let adopt = json!({"against": RADAR, "quantity": "club_speed"});
    let adopt = async || {
        stage
            .post(&format!("/devices/{CAMERA}/adopted-offsets"), &adopt)
            .await
    };
    // One session alone does not tell what another day's set-up would show.
    let (status, refused) = adopt().await;
    assert_eq!(status, 409);
    assert!(refused["detail"].as_str().unwrap().contains("another day"));
    let mut second = session();
    second["id"] = json!(id(2));
    second["blocks"][0]["id"] = json!(id(3));
    assert_eq!(stage.post("/sessions", &second).await.0, 201);
    hit_six(7, &id(2)).await;
    assert_eq!(speed().await["sessions"], 2);
    // Where they are more than are looked at, each session gives as many, first to last.
    let store = stage.store().await;
    let school = store.founder().await.unwrap().school_id;
    let store = store.for_school(school);
    let [first, second] = [RADAR, CAMERA].map(|id| id.parse().unwrap());
    let few = store.paired_readings(school, [first, second], 4).await;
    let few = few.unwrap().into_iter().map(|(_, [radar, _])| {
        let speed = radar.get(Quantity::ClubSpeed).unwrap() / 0.44704;
        speed.round()
    });
    assert_eq!(few.collect::<Vec<_>>(), [93.0, 96.0, 99.0, 102.0]);
    assert_eq!(adopt().await.0, 204);
    assert!(speed().await["bias"]["value"].as_f64().unwrap().abs() < 1e-9);
    let none = json!({"against": RADAR, "quantity": "hand_speed"});
    let (status, refused) = stage
        .post(&format!("/devices/{CAMERA}/adopted-offsets"), &none)
        .await;
    assert_eq!(status, 409, "{refused}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_reading_put_to_the_wrong_shot_is_moved_by_hand() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(2).await;
    let mut camera = stage.camera().await;
    camera.say(&shot(1, 91.4)).await;
    let path = format!("/sessions/{SESSION}/read");
    let (_, read) = stage.get(&path).await;
    let reading = read["shots"][0]["sources"][1]["id"].as_str().unwrap();
    let second = &read["shots"][1]["id"];
    let to = json!({"shot": second, "new_shot": id(2)});
    let moved = stage
        .put(&format!("/sessions/{SESSION}/readings/{reading}/shot"), &to)
        .await;
    assert_eq!(moved.0, 204);
    let (_, read) = stage.get(&path).await;
    assert_eq!(read["shots"][0]["sources"].as_array().unwrap().len(), 1);
    assert_eq!(read["shots"][1]["sources"].as_array().unwrap().len(), 2);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_s_shots_go_to_the_session_that_was_chosen_for_it() {
    let stage = Stage::with_session().await;
    let mut other = session();
    other["id"] = json!(id(3));
    other["blocks"][0]["id"] = json!(id(4));
    other["devices"] = json!([CAMERA]);
    assert_eq!(stage.post("/sessions", &other).await.0, 201);
    // Two are in progress: the camera has its own, the radar must not guess.
    let mut camera = stage.camera().await;
    assert_eq!(camera.say(&shot(1, 90.0)).await["type"], "ack");
    let (_, there) = stage.get(&format!("/sessions/{}/hit", id(3))).await;
    assert_eq!(there["shots"].as_array().unwrap().len(), 1);
    let refused = stage.device().await.say(&hello()).await;
    assert_eq!(refused["field"], "session");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_doubtful_list_is_worked_through() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(1).await;
    let mut odd = shot(2, 90.0);
    odd["values"]["carry_yd"]["value"] = json!(250.0);
    device.say(&odd).await;
    let (_, list) = stage.get("/doubtful").await;
    assert_eq!(list["sessions"][0]["player_name"], "Wren Aldous");
    let of = async |player: &str| stage.get(&format!("/doubtful?player={player}")).await;
    let (_, hers) = of(PLAYER).await;
    assert_eq!(
        (&hers["player_name"], &hers["sessions"]),
        (&json!("Wren Aldous"), &list["sessions"])
    );
    let another = json!({"id": id(6), "name": "Bram Oostra"});
    stage.post("/players", &another).await;
    let (_, his) = of(&id(6)).await;
    assert_eq!(
        (&his["player_name"], &his["sessions"]),
        (&json!("Bram Oostra"), &json!([]))
    );
    assert_eq!(of(&id(7)).await.0, 404);
    let waiting = &list["sessions"][0]["shots"];
    assert_eq!(
        (waiting.as_array().unwrap().len(), &waiting[0]["number"]),
        (1, &json!(2))
    );
    let shot = waiting[0]["shot"].as_str().unwrap();
    let keep = json!({"id": id(5), "act": {"kind": "keep"}});
    stage
        .post(&format!("/sessions/{SESSION}/shots/{shot}/marks"), &keep)
        .await;
    assert_eq!(stage.get("/doubtful").await.1["sessions"], json!([]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn two_servers_on_one_database_both_hear_of_a_shot() {
    let stage = Stage::with_session().await;
    let other = Server::start(&Config::local(&stage.url)).await.unwrap();
    let there = format!("http://{}/api/v1", other.web_address().unwrap());
    let running = tokio::spawn(async move { other.run().await.unwrap() });
    let mut events = stage
        .http
        .get(format!("{there}/live?sessions={SESSION}"))
        .send()
        .await
        .unwrap();
    // The device speaks to the first server.
    stage.device_with_shots(1).await;
    let mut heard = String::new();
    while !heard.contains("event: changed") {
        let chunk = events.chunk().await.unwrap().expect("the stream goes on");
        heard.push_str(&String::from_utf8_lossy(&chunk));
    }
    let hit: Value = stage
        .http
        .get(format!("{there}/sessions/{SESSION}/hit"))
        .send()
        .await
        .unwrap()
        .json()
        .await
        .unwrap();
    assert_eq!(hit["shots"].as_array().unwrap().len(), 1);
    assert_eq!(hit["session"]["player"], PLAYER);
    running.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn when_a_session_ends_and_another_begins_the_device_goes_on_in_that_one() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(1).await;
    let goes_on = json!({"in_progress": false});
    stage
        .put(&format!("/sessions/{SESSION}/progress"), &goes_on)
        .await;
    assert_eq!(device.say(&shot(2, 91.0)).await["field"], "session");
    let mut next = session();
    next["id"] = json!(id(6));
    next["blocks"][0]["id"] = json!(id(7));
    assert_eq!(stage.post("/sessions", &next).await.0, 201);
    assert_eq!(device.say(&shot(2, 91.0)).await["type"], "ack");
    let (_, there) = stage.get(&format!("/sessions/{}/hit", id(6))).await;
    assert_eq!(there["shots"].as_array().unwrap().len(), 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn offsets_are_added_to_what_is_read_and_the_device_s_own_reading_stays() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(1).await;
    let change = |value: Value| {
        json!({"name": "Deck", "session": null,
               "offsets": [{"quantity": "club_speed", "given": {"value": value, "unit": "mph"}}]})
    };
    let path = format!("/devices/{RADAR}");
    assert_eq!(stage.put(&path, &change(json!(-1.0))).await.0, 204);
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let speed = |from: &Value| from["club_speed"]["si"].as_f64().unwrap() / 0.44704;
    let shot = &read["shots"][0];
    assert!((speed(&shot["reading"]) - 90.0).abs() < 1e-6);
    assert!((speed(&shot["sources"][0]["reading"]) - 91.0).abs() < 1e-6);
    // The smash factor follows the speeds that are used.
    let smash = shot["reading"]["smash_factor"]["si"].as_f64().unwrap();
    assert!((smash - 127.0 / 90.0).abs() < 1e-6);
    let (status, refused) = stage.put(&path, &change(Value::Null)).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("club_speed"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_that_is_used_in_another_session_is_taken_over_on_purpose_only() {
    let stage = Stage::with_session().await;
    let mut first = session();
    first["id"] = json!(id(1));
    first["blocks"][0]["id"] = json!(id(2));
    first["devices"] = json!([RADAR]);
    assert_eq!(stage.post("/sessions", &first).await.0, 201);
    let mut second = session();
    second["id"] = json!(id(3));
    second["blocks"][0]["id"] = json!(id(4));
    second["devices"] = json!([RADAR]);
    let (status, told) = stage.post("/sessions", &second).await;
    assert_eq!(
        (status, &told["title"]),
        (409, &json!("Device in use")),
        "{told}"
    );
    assert!(
        told["detail"].as_str().unwrap().contains("Test radar"),
        "{told}"
    );
    assert_eq!(stage.get(&format!("/sessions/{}", id(3))).await.0, 404);
    second["take_over"] = json!([RADAR]);
    assert_eq!(stage.post("/sessions", &second).await.0, 201);
    assert_eq!(listed(&stage, RADAR).await["session"], id(3));
    // One that is not used any longer is free.
    stage
        .sql("UPDATE session SET started_at = started_at - interval '1 hour'")
        .await;
    let mut third = session();
    third["id"] = json!(id(5));
    third["blocks"][0]["id"] = json!(id(6));
    third["devices"] = json!([RADAR]);
    assert_eq!(stage.post("/sessions", &third).await.0, 201);
    stage.clear().await;
}
