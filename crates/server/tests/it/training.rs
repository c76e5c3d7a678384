//! Training: implements, protocols, programmes on their dates, and a run from its first swing
//! to what it gave.

use crate::stage::{PLAYER, Stage, hello, id, said, shot};
use chrono::{Duration, NaiveDate, Utc};
use serde_json::{Value, json};

/// The identifier of one of our protocols, by its place from 1.
fn ours(place: u32) -> String {
    format!("0199aa11-0000-7000-8000-00000000000{place}")
}

const OVERSPEED: u32 = 1;
const STRENGTH: u32 = 2;
const RUN: u32 = 500;

async fn implement(stage: &Stage, number: u32, name: &str, grams: f64) -> (u16, Value) {
    let kind = if name == "own driver" {
        "own_driver"
    } else {
        "lighter"
    };
    let body = json!({"player": null, "name": name, "kind": kind,
                      "mass": {"value": grams, "unit": "g"}, "length": null});
    stage
        .put(&format!("/implements/{}", id(number)), &body)
        .await
}

/// A school with sticks, and a player.
async fn equipped() -> Stage {
    let stage = Stage::set().await;
    let player = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": ""});
    assert_eq!(stage.post("/players", &player).await.0, 201);
    for (number, name) in (700..).zip(["light", "medium", "heavy", "own driver"]) {
        assert_eq!(implement(&stage, number, name, 280.0).await.0, 204);
    }
    stage
}

async fn begin(stage: &Stage, number: u32, body: Value) -> (u16, Value) {
    let mut body = body;
    body["id"] = json!(id(number));
    body["zone"] = json!("Europe/Vienna");
    stage.post(&format!("/players/{PLAYER}/runs"), &body).await
}

async fn run(stage: &Stage, number: u32) -> Value {
    let (status, told) = stage.get(&format!("/sessions/{}/run", id(number))).await;
    assert_eq!(status, 200, "{told}");
    told
}

/// Types a reading in mph; answers with the status.
async fn typed(stage: &Stage, session: u32, number: u32, mph: f64) -> u16 {
    let path = format!("/sessions/{}/shots/{}/entries", id(session), id(number));
    let value = json!({"id": id(number + 50_000), "quantity": "club_speed",
                       "given": {"value": mph, "unit": "mph"}});
    stage.put(&path, &json!({"values": [value]})).await.0
}

async fn act(stage: &Stage, session: u32, number: u32, act: Value) -> u16 {
    let path = format!("/sessions/{}/acts", id(session));
    stage
        .post(&path, &json!({"id": id(number), "act": act}))
        .await
        .0
}

fn today() -> NaiveDate {
    Utc::now()
        .with_timezone(&chrono_tz::Europe::Vienna)
        .date_naive()
}

/// Two sessions of overspeed a week, on the weekday of `begins` and three days later.
fn programme(begins: NaiveDate) -> Value {
    let weekday = |days| {
        let day = begins + Duration::days(days);
        day.format("%A").to_string().to_lowercase()
    };
    json!({
        "name": "Spring", "begins": begins, "weeks": 6,
        "days": [weekday(0), weekday(3)],
        "rest_days": 1, "mix": [{"protocol": ours(OVERSPEED), "a_week": 2}],
        "check_in_weeks": 0, "lighter_weeks": 0,
        "progression": {"up_after": 1, "back_after_days": 14},
        "at": "17:30:00", "zone": "Europe/Vienna",
    })
}

async fn lay(stage: &Stage, number: u32, programme: Value) -> (u16, Value) {
    let body = json!({"id": id(number), "programme": programme});
    stage
        .put(&format!("/players/{PLAYER}/programme"), &body)
        .await
}

async fn laid(stage: &Stage) -> Value {
    let (status, told) = stage.get(&format!("/players/{PLAYER}/programme")).await;
    assert_eq!(status, 200, "{told}");
    told
}

async fn change(stage: &Stage, number: u32, act: Value) -> (u16, Value) {
    let body = json!({"id": id(number), "act": act});
    stage
        .post(&format!("/players/{PLAYER}/programme/acts"), &body)
        .await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_implement_keeps_its_name_and_says_when_its_mass_is_far_from_a_driver_s() {
    let stage = equipped().await;
    let (status, refused) = implement(&stage, 710, "light", 250.0).await;
    assert_eq!(status, 409, "{refused}");
    let (status, refused) = implement(&stage, 700, "feather", 250.0).await;
    assert_eq!(status, 409, "{refused}");
    let (status, refused) = implement(&stage, 711, "anvil", 4000.0).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("mass"))
    );
    // Its mass is corrected under the same name.
    assert_eq!(implement(&stage, 700, "light", 180.0).await.0, 204);
    let (_, told) = stage.get(&format!("/implements?player={PLAYER}")).await;
    let light = told
        .as_array()
        .unwrap()
        .iter()
        .find(|one| one["name"] == "light")
        .unwrap();
    assert!(said(&light["concern"]).contains("42 % lighter"), "{light}");
    assert_eq!(stage.delete(&format!("/implements/{}", id(700))).await, 204);
    assert_eq!(stage.delete(&format!("/implements/{}", id(700))).await, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_protocol_is_changed_for_the_school_and_ours_is_taken_again() {
    let stage = equipped().await;
    let (_, all) = stage.get("/protocols").await;
    let first = all[0].clone();
    assert_eq!(
        (&first["of_house"], &first["own"]),
        (&json!(true), &json!(false))
    );
    let mut changed = first["protocol"].clone();
    changed["levels"][0]["sets"][0]["swings"] = json!(5);
    let path = format!("/protocols/{}", ours(OVERSPEED));
    assert_eq!(stage.put(&path, &changed).await.0, 204);
    let (_, all) = stage.get("/protocols").await;
    assert_eq!(all[0]["own"], true);
    assert_eq!(all[0]["protocol"]["levels"][0]["sets"][0]["swings"], 5);
    changed["levels"][0]["sets"][0]["of"]["implement"] = json!("");
    let (status, refused) = stage.put(&path, &changed).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("levels[0].sets[0].of.implement"))
    );
    assert_eq!(stage.delete(&path).await, 204);
    let (_, all) = stage.get("/protocols").await;
    assert_eq!(all[0]["protocol"], first["protocol"]);
    // What kneels says so, and what the school does not have is named.
    assert!(all[1]["kneeling"].as_str().unwrap().contains("sore knees"));
    assert_eq!(all[1]["missing"], json!(["counterweighted"]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_radar_goes_from_set_to_set_by_itself_and_a_speed_is_no_club_s() {
    let stage = equipped().await;
    assert_eq!(
        begin(&stage, RUN, json!({"protocol": ours(OVERSPEED)}))
            .await
            .0,
        201
    );
    // Asking again is the same session.
    assert_eq!(
        begin(&stage, RUN, json!({"protocol": ours(OVERSPEED)}))
            .await
            .0,
        201
    );
    let told = run(&stage, RUN).await;
    assert_eq!(told["report"]["sets"].as_array().unwrap().len(), 5);
    assert_eq!(told["asks_for_warm_up"], true);
    assert_eq!(told["session"]["purpose_key"], "training");
    let mut radar = stage.device().await;
    assert_eq!(radar.say(&hello()).await["type"], "welcome");
    let swing = |sequence: i64, mph: f64| {
        let mut line = shot(sequence, mph);
        line["values"] = json!({"club_speed_mph": {"value": mph, "from": "measured"}});
        line
    };
    for (sequence, mph) in (1..).zip([114.0, 115.0, 116.0, 99.0]) {
        assert_eq!(radar.say(&swing(sequence, mph)).await["type"], "ack");
    }
    let told = run(&stage, RUN).await;
    let sets = &told["report"]["sets"];
    assert_eq!((&sets[0]["done"], &sets[1]["done"]), (&json!(3), &json!(1)));
    assert_eq!(told["report"]["now"], 1);
    let slower = told["report"]["other_side"].as_f64().unwrap();
    assert!((slower - (1.0 - 99.0 / 115.0)).abs() < 1e-9);
    // None of it is a driver's: the record knows the implement, and no club.
    let (_, record) = stage
        .get(&format!("/players/{PLAYER}/records?club=driver"))
        .await;
    let rows = record.as_array().unwrap();
    assert_eq!(rows.len(), 0, "{record}");
    let (_, whole) = stage.get(&format!("/players/{PLAYER}/record")).await;
    let of = &whole["records"][0]["of"];
    assert_eq!(of["swung"]["implement"], "light", "{whole}");
    assert_eq!(of["club"], Value::Null);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_set_is_left_out_repeated_or_swung_again_after_a_slip() {
    let stage = equipped().await;
    begin(&stage, RUN, json!({"protocol": ours(OVERSPEED)})).await;
    // A slip of the finger is refused before it is anything.
    assert_eq!(typed(&stage, RUN, 1, 1115.0).await, 422);
    for (number, mph) in (1..).zip([114.0, 161.0, 115.0]) {
        assert_eq!(typed(&stage, RUN, number, mph).await, 204);
    }
    let told = run(&stage, RUN).await;
    let strokes = &told["report"]["strokes"];
    assert!(
        said(&strokes[1]["doubt"]).contains("something else passed the radar"),
        "{told}"
    );
    // It is no best, and makes no record.
    assert!(told["report"]["sets"][0]["best"].as_f64().unwrap() < 52.0);
    let mark = json!({"id": id(90), "act": {"kind": "set_aside", "reason": "device", "note": ""}});
    let path = format!("/sessions/{}/shots/{}/marks", id(RUN), id(2));
    assert_eq!(stage.post(&path, &mark).await.0, 201);
    assert_eq!(
        run(&stage, RUN).await["report"]["now"],
        0,
        "it is swung again"
    );
    let block = told["session"]["blocks"][0]["id"].clone();
    let skip = json!({"kind": "skip_set", "block": block, "reason": "tired"});
    assert_eq!(act(&stage, RUN, 91, skip).await, 201);
    assert_eq!(run(&stage, RUN).await["report"]["now"], 1);
    assert_eq!(typed(&stage, RUN, 4, 99.0).await, 204);
    let told = run(&stage, RUN).await;
    assert_eq!(told["report"]["sets"][1]["done"], 1);
    // Once more: the same set before those to come.
    let blocks = told["session"]["blocks"].as_array().unwrap();
    let waiting: Vec<Value> = blocks
        .iter()
        .filter(|block| block["begun"] == false)
        .map(|block| {
            let mut plan = block["plan"].clone();
            plan["id"] = block["id"].clone();
            plan
        })
        .collect();
    let mut again = blocks[1]["plan"].clone();
    again["id"] = json!(id(92));
    let plan = [vec![again], waiting].concat();
    let path = format!("/sessions/{}/plan", id(RUN));
    assert_eq!(stage.put(&path, &json!({"blocks": plan})).await.0, 204);
    let sets = run(&stage, RUN).await["report"]["sets"].clone();
    assert_eq!(sets[2]["label"], sets[1]["label"]);
    assert_eq!(sets.as_array().unwrap().len(), 6);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn pain_holds_every_all_out_set_and_a_stop_leaves_the_gentle_ones() {
    let stage = equipped().await;
    assert_eq!(
        implement(&stage, 704, "counterweighted", 330.0).await.0,
        204
    );
    begin(&stage, RUN, json!({"protocol": ours(STRENGTH)})).await;
    assert_eq!(
        act(&stage, RUN, 1, json!({"kind": "stop", "reason": "enough"})).await,
        201
    );
    let told = run(&stage, RUN).await;
    let held: Vec<bool> = told["report"]["sets"]
        .as_array()
        .unwrap()
        .iter()
        .map(|set| set["held"].as_bool().unwrap())
        .collect();
    assert_eq!(held, [false, false, false, false, true]);
    // A set that is held under way takes no swing more: the next gentle one does.
    begin(&stage, RUN + 1, json!({"protocol": ours(OVERSPEED)})).await;
    assert_eq!(typed(&stage, RUN + 1, 40, 114.0).await, 204);
    let gentle = json!({"id": id(41), "label": "Easy", "balls": 3, "effort_pct": 70,
                        "swung": {"implement": "light", "side": "dominant", "position": "normal"}});
    let path = format!("/sessions/{}/plan", id(RUN + 1));
    assert_eq!(stage.put(&path, &json!({"blocks": [gentle]})).await.0, 204);
    let stop = json!({"kind": "stop", "reason": "enough"});
    assert_eq!(act(&stage, RUN + 1, 42, stop).await, 201);
    assert_eq!(run(&stage, RUN + 1).await["report"]["now"], 1);
    assert_eq!(typed(&stage, RUN + 1, 43, 90.0).await, 204);
    let sets = run(&stage, RUN + 1).await["report"]["sets"].clone();
    assert_eq!((&sets[0]["done"], &sets[1]["done"]), (&json!(1), &json!(1)));
    assert_eq!(
        act(&stage, RUN, 2, json!({"kind": "hold", "reason": "pain"})).await,
        201
    );
    // A block added later is held as well, by its name.
    let path = format!("/sessions/{}/blocks", id(RUN));
    let (status, refused) = stage
        .post(&path, &json!({"id": id(3), "label": "All-out 6"}))
        .await;
    assert_eq!(status, 409, "{refused}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_child_and_a_beginner_swing_fewer_and_what_is_missing_is_named() {
    let stage = equipped().await;
    let (status, refused) = begin(&stage, RUN, json!({"protocol": ours(STRENGTH)})).await;
    assert_eq!(
        (status, &refused["errors"][0]["value"]),
        (422, &json!("counterweighted"))
    );
    let (status, refused) = begin(
        &stage,
        RUN,
        json!({"protocol": ours(OVERSPEED), "level": 7}),
    )
    .await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("level"))
    );
    let full = async |number: u32| -> i64 {
        begin(
            &stage,
            number,
            json!({"protocol": ours(OVERSPEED), "level": 2}),
        )
        .await;
        let sets = run(&stage, number).await["report"]["sets"].clone();
        let asked = sets
            .as_array()
            .unwrap()
            .iter()
            .filter(|set| set["full"] == true);
        asked.map(|set| set["asked"].as_i64().unwrap()).sum()
    };
    let beginner = full(RUN).await;
    assert!((1..=20).contains(&beginner), "{beginner}");
    stage.all_are_children().await;
    let child = full(RUN + 1).await;
    assert!((1..=10).contains(&child), "{child}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_programme_is_laid_moved_and_tells_who_trains_today() {
    let stage = equipped().await;
    let mut tight = programme(today());
    tight["mix"][0]["a_week"] = json!(3);
    tight["rest_days"] = json!(2);
    let (status, refused) = lay(&stage, 1, tight).await;
    assert_eq!(status, 422);
    let problem = refused["errors"][0]["problem"].as_str().unwrap();
    assert!(problem.contains("need 9 days"), "{refused}");
    assert_eq!(lay(&stage, 2, programme(today())).await.0, 204);
    let told = laid(&stage).await;
    assert_eq!(told["days"].as_array().unwrap().len(), 12);
    assert_eq!(told["days"][0]["state"], "today");
    let (_, due) = stage.get("/training-today").await;
    assert_eq!(
        (&due[0]["title"], &due[0]["level"]),
        (&json!("Overspeed"), &json!("One"))
    );
    let from: NaiveDate = told["days"][1]["date"].as_str().unwrap().parse().unwrap();
    let at = |days| json!(from + Duration::days(days));
    let near = json!({"kind": "move", "from": from, "to": told["days"][0]["date"]});
    let (status, refused) = change(&stage, 3, near).await;
    assert_eq!(status, 422);
    assert!(
        refused["errors"][0]["remedy"]
            .as_str()
            .unwrap()
            .contains("or later")
    );
    let move_it = json!({"kind": "move", "from": from, "to": at(1)});
    assert_eq!(change(&stage, 4, move_it.clone()).await.0, 201);
    assert_eq!(
        change(&stage, 4, move_it).await.0,
        201,
        "the same again is harmless"
    );
    assert_eq!(laid(&stage).await["days"][1]["date"], at(1));
    // Pain: nothing is begun until the player is back.
    let away = json!({"kind": "away", "from": today(), "to": null, "why": "pain", "note": ""});
    assert_eq!(change(&stage, 5, away).await.0, 201);
    let told = laid(&stage).await;
    assert_eq!(told["days"][0]["state"], "away");
    let (status, refused) = begin(
        &stage,
        RUN,
        json!({"protocol": ours(OVERSPEED), "place": 0}),
    )
    .await;
    assert_eq!(status, 409, "{refused}");
    assert_eq!(stage.get("/training-today").await.1, json!([]));
    // Nor from elsewhere: another protocol, at no place of the programme.
    let (status, refused) = begin(
        &stage,
        RUN,
        json!({"protocol": laid(&stage).await["intent_test"]}),
    )
    .await;
    assert_eq!(status, 409, "{refused}");
    assert_eq!(laid(&stage).await["held_for_pain"], true);
    assert_eq!(
        change(&stage, 6, json!({"kind": "back", "on": today()}))
            .await
            .0,
        201
    );
    let begun = begin(
        &stage,
        RUN,
        json!({"protocol": ours(OVERSPEED), "place": 0}),
    )
    .await;
    assert_eq!(begun.0, 201, "{}", begun.1);
    assert_eq!(laid(&stage).await["days"][0]["state"], "under_way");
    // Children have less of a week than two such sessions ask for, and the page says so.
    stage.all_are_children().await;
    let told = laid(&stage).await;
    assert_eq!(
        (&told["week_asks"], &told["week"][1]),
        (&json!(30), &json!(20))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_whole_session_lifts_the_level_and_gives_next_time_something_to_beat() {
    let stage = equipped().await;
    assert_eq!(lay(&stage, 2, programme(today())).await.0, 204);
    // Begun from elsewhere, it is today's all the same.
    begin(&stage, RUN, json!({"protocol": ours(OVERSPEED)})).await;
    assert_eq!(laid(&stage).await["days"][0]["state"], "under_way");
    for number in 0..15_u32 {
        let mph = [114.0, 99.0, 110.0, 96.0, 108.0][(number / 3) as usize];
        assert_eq!(
            typed(&stage, RUN, number + 1, mph + f64::from(number % 3)).await,
            204
        );
    }
    let told = run(&stage, RUN).await;
    assert_eq!(told["report"]["now"], Value::Null);
    assert_eq!(
        (&told["after"]["whole"], &told["swung"]["week"]),
        (&json!(true), &json!(15))
    );
    let sentence = said(&told["after"]["said"]);
    assert!(
        sentence.contains("with the light implement: no club speed"),
        "{sentence}"
    );
    let beat = &told["next"]["to_beat"];
    assert_eq!(beat["label"], "light · own side");
    assert!((beat["best"].as_f64().unwrap() - 116.0 * 0.44704).abs() < 1e-6);
    // It is taken up again the next day, and ended.
    stage
        .sql("UPDATE session SET started_at = started_at - interval '1 day'")
        .await;
    stage
        .sql("UPDATE shot SET hit_at = hit_at - interval '1 day'")
        .await;
    let path = format!("/sessions/{}/progress", id(RUN));
    for in_progress in [false, true, false] {
        assert_eq!(
            stage
                .put(&path, &json!({"in_progress": in_progress}))
                .await
                .0,
            204
        );
    }
    let level = laid(&stage).await["levels"][0].clone();
    assert_eq!(
        (&level["level"], &level["name"]),
        (&json!(1), &json!("Two"))
    );
    assert!(said(&level["said"]).contains("a step up"));
    begin(
        &stage,
        RUN + 1,
        json!({"protocol": ours(OVERSPEED), "level": 0}),
    )
    .await;
    let set = run(&stage, RUN + 1).await["report"]["sets"][0].clone();
    assert!((set["last"]["best"].as_f64().unwrap() - 116.0 * 0.44704).abs() < 1e-6);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calendar_is_read_at_a_private_address_until_it_is_revoked() {
    let stage = equipped().await;
    assert_eq!(lay(&stage, 2, programme(today())).await.0, 204);
    let file = stage
        .text(&format!("/players/{PLAYER}/programme.ics"))
        .await;
    assert_eq!(file.matches("BEGIN:VEVENT").count(), 12);
    let own = format!("/players/{PLAYER}/calendar");
    let (status, told) = stage.post(&own, &json!({})).await;
    assert_eq!(status, 201, "{told}");
    let path = told["path"].as_str().unwrap().to_owned();
    let read = async || {
        // Whoever has the address reads it, signed in or not.
        let asked = reqwest::get(format!("{}{path}", stage.web)).await.unwrap();
        (asked.status().as_u16(), asked.text().await.unwrap())
    };
    let (status, text) = read().await;
    assert_eq!((status, text.matches("BEGIN:VEVENT").count()), (200, 12));
    // The player's name is nobody's.
    assert!(!text.contains("Wren"), "{text}");
    assert_eq!(stage.delete(&own).await, 204);
    let (status, text) = read().await;
    assert_eq!(status, 404);
    assert!(
        text.contains("ask your coach for another address"),
        "{text}"
    );
    // Another address, and the one made before it opens nothing.
    stage.post(&own, &json!({})).await;
    let (_, again) = stage.post(&own, &json!({})).await;
    assert_ne!(again["path"].as_str().unwrap(), path);
    assert_eq!(
        stage
            .counted("calendar_feed WHERE revoked_at IS NULL")
            .await,
        1
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_test_of_intent_is_one_request_and_its_balls_are_the_driver_s() {
    let stage = equipped().await;
    let intent = laid(&stage).await["intent_test"].clone();
    assert_eq!(begin(&stage, RUN, json!({"protocol": intent})).await.0, 201);
    let told = run(&stage, RUN).await;
    assert_eq!(told["session"]["purpose_key"], "speed_day");
    assert_eq!(told["report"]["sets"][1]["of"]["club"], "driver");
    let rests = told["session"]["blocks"][1]["plan"]["rest_after_s"]
        .as_u64()
        .unwrap();
    assert!(rests >= 60, "bundles rest between");
    for number in 0..24_u32 {
        let mph = if (6..18).contains(&number) {
            112.0
        } else {
            105.0
        };
        let strays = f64::from(number * 7 % 5) * 0.5;
        assert_eq!(typed(&stage, RUN, number + 1, mph + strays).await, 204);
    }
    let (_, opening) = stage.get(&format!("/sessions/{}/opening", id(RUN))).await;
    let sentence = said(&opening["verdict"]["sentence"]);
    assert!(sentence.contains("faster"), "{sentence}");
    stage.clear().await;
}
