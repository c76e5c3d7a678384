//! A player over time: what became of the demo's players, goals, benchmarks.

use crate::stage::{Stage, id, said};
use serde_json::{Value, json};

pub async fn player(stage: &Stage, name: &str) -> String {
    let (_, players) = stage.get("/players").await;
    let found = players.as_array().unwrap().iter();
    let player = found.into_iter().find(|p| p["name"] == name).unwrap();
    player["id"].as_str().unwrap().to_owned()
}

/// Today, once every player is read.
pub async fn read_today(stage: &Stage) -> Value {
    for _ in 0..200 {
        let (_, today) = stage.get("/today").await;
        if today["still_reading"] == 0 {
            return today;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    panic!("the players are still being read");
}

#[tokio::test(flavor = "multi_thread")]
async fn months_of_check_ins_are_told_in_a_sentence_with_changes_records_and_lay_offs() {
    let stage = Stage::demo().await;
    let bram = player(&stage, "Bram Lindqvale").await;
    let (status, told) = stage.get(&format!("/players/{bram}/record")).await;
    assert_eq!(status, 200, "{told}");
    let shown = &told["shown"];
    assert_eq!(shown["choice"]["quantity"], "club_speed");
    let progress = &shown["progress"];
    let sentence = said(&progress["sentence"]);
    assert_eq!(
        sentence,
        "Thursday was an off day: #, under this player's own band. Until then up # since 2025-11-04, of which about # is likely to last; level since 2026-02-17."
    );
    assert_eq!(progress["lay_offs"][0]["days"], 42);
    assert_eq!(progress["changes"][0]["kind"], "real_and_worth_it");
    assert_eq!(progress["forecast"]["reached"], false);
    let days = progress["days"].as_array().unwrap();
    let other = days.iter().filter(|day| day["other_device"] == true);
    assert_eq!(other.count(), 1);
    // The record is a ball of a session that there is.
    let record = &told["records"][0]["record"];
    let place = record["session"].as_u64().unwrap() as usize;
    assert!(told["sessions"][place]["id"].is_string());
    assert!(record["best"].as_f64() > record["before"].as_f64());
    assert_eq!(
        told["sessions"][place]["set"][0]["quantity"],
        told["records"][0]["of"]["quantity"]
    );
    // Nobody checked in for long, by today's date.
    let today = read_today(&stage).await;
    let due = today["due"].as_array().unwrap().iter();
    let due: Vec<&Value> = due.map(|due| &due["player_name"]).collect();
    // As many as are named at most.
    assert_eq!(due.len(), 12, "{due:?}");
    assert_eq!(due[..2], [&json!("Bram Lindqvale"), &json!("Petra Quill")]);
    // Another value, by its key; one that nobody has shows nothing.
    let of = |asked: &str| format!("/players/{bram}/record?{asked}");
    let (_, carry) = stage.get(&of("quantity=carry&series=usual")).await;
    assert_eq!(carry["shown"]["choice"]["quantity"], "carry");
    let (_, none) = stage.get(&of("club=wedge_lob")).await;
    assert!(none["shown"].is_null());
    let (status, refused) = stage.get(&of("quantity=height")).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("quantity"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_day_two_days_and_none_are_no_trend() {
    let stage = Stage::demo().await;
    let edda = player(&stage, "Edda Mohr").await;
    let record = format!("/players/{edda}/record");
    let (_, two) = stage.get(&record).await;
    let sentence = said(&two["shown"]["progress"]["sentence"]);
    assert!(sentence.contains("two days make no trend"), "{sentence}");
    let earlier = format!("/sessions/{}", two["sessions"][0]["id"].as_str().unwrap());
    assert_eq!(stage.delete(&earlier).await, 204);
    let (_, one) = stage.get(&record).await;
    let sentence = said(&one["shown"]["progress"]["sentence"]);
    assert!(sentence.starts_with("One day so far: "), "{sentence}");
    assert_eq!(one["shown"]["progress"]["changes"], json!([]));
    let new = json!({"id": id(77), "name": "Wren Aldous"});
    assert_eq!(stage.post("/players", &new).await.0, 201);
    let (_, none) = stage.get(&format!("/players/{}/record", id(77))).await;
    assert_eq!(none["shown"], Value::Null);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_goal_is_set_in_the_unit_it_was_typed_in_and_refused_by_field() {
    let stage = Stage::demo().await;
    let petra = player(&stage, "Petra Quill").await;
    let goal = format!("/players/{petra}/goals/iron5/club_speed");
    let set = |value: Value, by: Value| json!({"value": {"value": value, "unit": "mph"}, "by": by});
    let forecast = async || {
        let record = format!("/players/{petra}/record?quantity=club_speed&club=iron5");
        stage.get(&record).await.1["shown"]["progress"]["forecast"].clone()
    };
    assert_eq!(forecast().await, Value::Null);
    let (status, _) = stage.put(&goal, &set(json!(75), json!("2026-12-01"))).await;
    assert_eq!(status, 204);
    let told = forecast().await;
    assert!((told["goal"].as_f64().unwrap() - 75.0 * 0.44704).abs() < 1e-9);
    assert_eq!(told["by"], "2026-12-01");
    let chance = told["chance"].as_f64().unwrap();
    assert!((0.0..=1.0).contains(&chance), "{told}");
    for (value, by, field) in [
        (json!(400), Value::Null, "value"),
        (Value::Null, Value::Null, "value"),
        (json!(75), json!("9026-12-01"), "by"),
    ] {
        let (status, told) = stage.put(&goal, &set(value, by)).await;
        assert_eq!((status, &told["errors"][0]["field"]), (422, &json!(field)));
    }
    // One that the player has reached is said to be.
    stage.put(&goal, &set(json!(40), Value::Null)).await;
    assert_eq!(forecast().await["reached"], true);
    assert_eq!(stage.delete(&goal).await, 204);
    assert_eq!(forecast().await, Value::Null);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_benchmark_is_frozen_and_says_what_was_done_otherwise_since() {
    let stage = Stage::demo().await;
    let bram = player(&stage, "Bram Lindqvale").await;
    let record = format!("/players/{bram}/record");
    let (_, told) = stage.get(&record).await;
    let sessions = told["sessions"].as_array().unwrap();
    let session = &sessions[2]["id"];
    let new = |number: u32, session: &Value| json!({"id": id(number), "session": session, "name": "Before the winter", "club": "driver"});
    let path = format!("/players/{bram}/benchmarks");
    assert_eq!(stage.post(&path, &new(1, session)).await.0, 201);
    // Sent again, it is the same one.
    assert_eq!(stage.post(&path, &new(1, session)).await.0, 201);
    let (_, told) = stage.get(&record).await;
    assert_eq!(told["benchmarks"].as_array().unwrap().len(), 1);
    let made = &told["benchmarks"][0];
    assert_eq!(made["setting"]["balls"], 10);
    assert_eq!(made["figures"][0]["quantity"], "club_speed");
    assert_eq!(
        said(&made["otherwise"]),
        "outdoors in place of indoors, at Outdoor deck in place of Two-bay barn"
    );
    let since = &told["shown"]["progress"]["changes"];
    assert!(
        since
            .as_array()
            .unwrap()
            .iter()
            .any(|c| c["since"] == "benchmark")
    );
    // What was frozen stays though its session is taken out.
    let mean = made["figures"][0]["mean"].clone();
    let out = format!("/sessions/{}", session.as_str().unwrap());
    assert_eq!(stage.delete(&out).await, 204);
    let (_, told) = stage.get(&record).await;
    assert_eq!(told["benchmarks"][0]["figures"][0]["mean"], mean);
    assert_eq!(told["benchmarks"][0]["session"], Value::Null);
    // One block of a session is enough, and one of another session is none of it.
    let (_, sessions) = stage.get(&format!("/players/{bram}")).await;
    let of_two = sessions["sessions"].as_array().unwrap().iter();
    let of_two = of_two.into_iter().find(|s| s["purpose_key"] == "speed_day");
    let two = of_two.unwrap()["id"].clone();
    let (_, read) = stage
        .get(&format!("/sessions/{}/read", two.as_str().unwrap()))
        .await;
    let block = &read["session"]["blocks"][0];
    let hit = read["shots"].as_array().unwrap().iter();
    let hit = hit.filter(|shot| shot["block"] == block["id"]).count();
    let mut part = new(3, &two);
    part["block"] = block["id"].clone();
    assert_eq!(stage.post(&path, &part).await.0, 201);
    let (_, told) = stage.get(&record).await;
    let made = told["benchmarks"].as_array().unwrap().iter();
    let made = made.into_iter().find(|b| b["id"] == id(3)).unwrap();
    let setting = &made["setting"];
    let balls = setting["balls"].as_u64().unwrap() + setting["set_aside"].as_u64().unwrap();
    assert_eq!(balls, hit as u64, "{setting}");
    part["id"] = json!(id(4));
    part["block"] = json!(id(999));
    assert_eq!(stage.post(&path, &part).await.0, 422);
    assert_eq!(stage.delete(&format!("{path}/{}", id(3))).await, 204);
    // Somebody else's session makes none.
    let niko = player(&stage, "Niko Tarrant").await;
    let (_, his) = stage.get(&format!("/players/{niko}")).await;
    let (status, refused) = stage.post(&path, &new(2, &his["sessions"][0]["id"])).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("session"))
    );
    assert_eq!(stage.delete(&format!("{path}/{}", id(1))).await, 204);
    let (_, told) = stage.get(&record).await;
    assert_eq!(told["benchmarks"], json!([]));
    stage.clear().await;
}

/// The record, once as it is kept and once counted anew.
async fn kept_and_counted(stage: &Stage, player: &str) -> [Value; 2] {
    let path = format!("/players/{player}/record");
    let kept = stage.get(&path).await.1;
    stage.sql("DELETE FROM session_figures").await;
    [kept, stage.get(&path).await.1]
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_kept_of_sessions_is_what_counting_anew_gives_after_every_change() {
    let stage = Stage::demo().await;
    let bram = player(&stage, "Bram Lindqvale").await;
    let [first, counted] = kept_and_counted(&stage, &bram).await;
    assert_eq!(first, counted);
    let sessions = first["sessions"].as_array().unwrap();
    let of = |place: usize| format!("/sessions/{}", sessions[place]["id"].as_str().unwrap());
    let shot = stage.get(&format!("{}/read", of(3))).await.1["shots"][0]["id"].clone();
    let marks = format!("{}/shots/{}/marks", of(3), shot.as_str().unwrap());
    let mut before = first.clone();
    let mut changed = async |what: &str| {
        let [kept, counted] = kept_and_counted(&stage, &bram).await;
        assert_eq!(kept, counted, "{what}");
        assert_ne!(kept, before, "{what}");
        before = kept;
    };
    let aside = json!({"id": id(1), "act": {"kind": "set_aside", "reason": "mishit"}});
    assert_eq!(stage.post(&marks, &aside).await.0, 201);
    changed("a ball set aside").await;
    let keep = json!({"id": id(2), "act": {"kind": "keep"}});
    assert_eq!(stage.post(&marks, &keep).await.0, 201);
    changed("a ball kept again").await;
    let facts = format!("{}/facts", of(2));
    assert_eq!(
        stage.put(&facts, &json!({"purpose": "speed_day"})).await.0,
        204
    );
    changed("another purpose").await;
    let niko = player(&stage, "Niko Tarrant").await;
    assert_eq!(stage.put(&facts, &json!({"player": niko})).await.0, 204);
    changed("given to another player").await;
    let rule = json!({"id": id(3), "given": {"value": 0, "unit": ""}});
    let (status, told) = stage.put("/house-rules/calculated_spin", &rule).await;
    assert_eq!(status, 204, "{told}");
    let [kept, counted] = kept_and_counted(&stage, &bram).await;
    assert_eq!(kept, counted, "a house rule");
    let (_, devices) = stage.get("/devices").await;
    for device in devices.as_array().unwrap() {
        let offset = json!({"quantity": "club_speed", "given": {"value": -1.0, "unit": "mph"}});
        let shifted = json!({"name": device["name"], "session": null, "offsets": [offset]});
        let path = format!("/devices/{}", device["id"].as_str().unwrap());
        assert_eq!(stage.put(&path, &shifted).await.0, 204);
    }
    changed("the offset of a device").await;
    assert_eq!(stage.delete(&of(1)).await, 204);
    changed("a session taken out").await;
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn today_names_what_there_is_to_look_at_and_forgets_it_when_it_is_gone() {
    let stage = Stage::demo().await;
    // As if the demo had been loaded today.
    let shift = "UPDATE session SET started_at = started_at + (now() - (SELECT max(started_at) FROM session))";
    stage.sql(shift).await;
    let kinds = async |name: &str| -> Vec<String> {
        let today = read_today(&stage).await;
        let flags = today["flags"].as_array().unwrap().iter();
        let own = flags.filter(|flag| flag["name"] == name);
        own.map(|flag| flag["flag"]["kind"].as_str().unwrap().to_owned())
            .collect()
    };
    let told = kinds("Bram Lindqvale").await;
    assert!(told.contains(&"off_day".to_owned()), "{told:?}");
    // The off day was another player's after all.
    let bram = player(&stage, "Bram Lindqvale").await;
    let niko = player(&stage, "Niko Tarrant").await;
    let (_, record) = stage.get(&format!("/players/{bram}/record")).await;
    let days = record["shown"]["progress"]["days"].as_array().unwrap();
    let place = days.last().unwrap()["sessions"][0].as_u64().unwrap() as usize;
    let facts = format!(
        "/sessions/{}/facts",
        record["sessions"][place]["id"].as_str().unwrap()
    );
    assert_eq!(stage.put(&facts, &json!({"player": niko})).await.0, 204);
    let told = kinds("Bram Lindqvale").await;
    assert!(!told.contains(&"off_day".to_owned()), "{told:?}");
    // A child without consent cannot be forgotten.
    let child = json!({"id": id(9), "name": "Fen Marlow", "born": 2016});
    assert_eq!(stage.post("/players", &child).await.0, 201);
    assert_eq!(kinds("Fen Marlow").await, ["consent"]);
    let consent = json!({"guardian": "Ivo Marlow", "given_on": "2026-04-01"});
    assert_eq!(
        stage
            .put(&format!("/players/{}/consent", id(9)), &consent)
            .await
            .0,
        204
    );
    assert_eq!(kinds("Fen Marlow").await, [""; 0]);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_next_is_ranked_pinned_dismissed_and_prepared() {
    let stage = Stage::demo().await;
    let bram = player(&stage, "Bram Lindqvale").await;
    let path = format!("/players/{bram}/next");
    let (status, told) = stage.get(&path).await;
    assert_eq!(status, 200, "{told}");
    let items = told["items"].as_array().unwrap();
    assert!((1..=5).contains(&items.len()), "{told}");
    let strokes = |item: &Value| item["worth"]["strokes"]["value"].as_f64();
    assert!(strokes(&items[0]).unwrap() > 0.0);
    let last = items.last().unwrap()["key"].as_str().unwrap().to_owned();
    let first = items[0]["key"].as_str().unwrap().to_owned();
    let choose = |item: &str, pinned: bool, reason: &str| json!({"item": item, "pinned": pinned, "reason": reason});
    assert_eq!(stage.put(&path, &choose(&last, true, "")).await.0, 204);
    let why = choose(&first, false, "Not before the season.");
    if first != last {
        assert_eq!(stage.put(&path, &why).await.0, 204);
    }
    let (status, refused) = stage.put(&path, &choose(&first, false, " ")).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("reason"))
    );
    let (_, told) = stage.get(&format!("{path}?by=distance")).await;
    assert_eq!(told["items"][0]["key"], json!(last));
    assert_eq!(told["items"][0]["pinned"], true);
    assert_eq!(told["dismissed"][0]["reason"], "Not before the season.");
    // Taken back, it is proposed again.
    let query = first.replace(' ', "%20");
    assert_eq!(stage.delete(&format!("{path}?item={query}")).await, 204);
    let (_, told) = stage.get(&path).await;
    assert_eq!(told["dismissed"], json!([]));
    // A player without a session is proposed nothing.
    let new = json!({"id": id(78), "name": "Wren Aldous"});
    assert_eq!(stage.post("/players", &new).await.0, 201);
    let (_, none) = stage.get(&format!("/players/{}/next", id(78))).await;
    assert_eq!(none["items"], json!([]));
    stage.clear().await;
}
