//! A session from Prepare to Hit, as its screens ask for it.

use crate::stage::{BLOCK, PLAYER, SESSION, Stage, id, said, session, shot};
use serde_json::{Value, json};

async fn prepared(stage: &Stage, purpose: &str) -> Value {
    let path = format!("/players/{PLAYER}/prepare?purpose={purpose}&club=iron6");
    let (status, told) = stage.get(&path).await;
    assert_eq!(status, 200, "{told}");
    told
}

/// A session with a gentle block begun and a full-effort one to come.
async fn with_full_effort() -> Stage {
    let stage = Stage::set().await;
    let player = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990, "aim": ""});
    stage.post("/players", &player).await;
    let mut new = session();
    new["blocks"] = json!([
        {"id": BLOCK, "label": "Stock", "balls": 2},
        {"id": id(1), "label": "Everything", "balls": 3, "full_effort": true, "rest_s": 60,
         "target": {"quantity": "club_speed", "low": 44.0, "high": null}},
    ]);
    assert_eq!(stage.post("/sessions", &new).await.0, 201);
    stage
}

#[tokio::test(flavor = "multi_thread")]
async fn a_purpose_proposes_blocks_and_last_time_s_figures_to_beat() {
    let stage = Stage::with_session().await;
    let first = prepared(&stage, "benchmark").await;
    assert_eq!(first["last"], Value::Null);
    assert_eq!(first["proposed"][0]["label"], "Stock");
    stage.device_with_shots(3).await;
    let told = prepared(&stage, "benchmark").await;
    let beat = &told["last"]["told"]["to_beat"][0];
    assert_eq!(
        (&beat["quantity"], &beat["n"]),
        (&json!("club_speed"), &json!(3))
    );
    // 93 mph was the fastest.
    assert!((beat["best"].as_f64().unwrap() - 93.0 * 0.44704).abs() < 1e-9);
    assert_eq!(told["places"][0]["name"], "North bay");
    let ladder = prepared(&stage, "speed_ladder").await;
    let target = &ladder["proposed"][0]["target"];
    assert!(target["low"].as_f64() < target["high"].as_f64());
    assert_eq!(
        stage
            .get(&format!("/players/{PLAYER}/prepare?purpose=fun&club=iron6"))
            .await
            .0,
        422
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_plan_of_the_coach_s_own_is_kept_replaced_and_forgotten() {
    let stage = Stage::with_session().await;
    let plan = |balls: u32| {
        json!({"id": id(balls), "name": "Short one", "purpose": "benchmark",
               "blocks": [{"label": "Only", "balls": balls}]})
    };
    assert_eq!(stage.post("/plan-templates", &plan(3)).await.0, 201);
    assert_eq!(stage.post("/plan-templates", &plan(5)).await.0, 201);
    let templates = prepared(&stage, "benchmark").await["templates"].clone();
    assert_eq!(templates.as_array().unwrap().len(), 1);
    assert_eq!(templates[0]["blocks"][0]["balls"], 5);
    let (status, refused) = stage.post("/plan-templates", &plan(0)).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("blocks[0].balls"))
    );
    let kept = templates[0]["id"].as_str().unwrap();
    assert_eq!(stage.delete(&format!("/plan-templates/{kept}")).await, 204);
    assert_eq!(prepared(&stage, "benchmark").await["templates"], json!([]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_takes_the_club_of_the_player_s_bag_and_the_weather_as_typed() {
    let stage = Stage::with_session().await;
    let club = json!({"id": id(1), "club": "iron6", "head": "forged", "loft_deg": 28.5,
                      "length_m": 0.96, "mass_g": null, "flex": "regular"});
    assert_eq!(
        stage.post(&format!("/players/{PLAYER}/bag"), &club).await.0,
        201
    );
    let mut odd = club.clone();
    odd["loft_deg"] = json!(285);
    let (status, refused) = stage.post(&format!("/players/{PLAYER}/bag"), &odd).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("loft_deg"))
    );
    let mut new = session();
    new["id"] = json!(id(2));
    new["blocks"][0]["id"] = json!(id(3));
    new["bag_club"] = json!(id(1));
    new["setting"]["wind"] = json!({"value": 12, "unit": "kmh"});
    new["setting"]["wind_from_deg"] = json!(90);
    new["setting"]["ground"] = json!({"surface": "fairway", "firmness": 0.8});
    new["setting"]["ball"] = json!("range");
    assert_eq!(stage.post("/sessions", &new).await.0, 201);
    let (_, view) = stage.get(&format!("/sessions/{}", id(2))).await;
    // Words and figures: the length is shown in the units of who reads it.
    let said = view["bag_club"].as_array().unwrap();
    let text = |part: &Value| part["text"].as_str().map(str::to_owned);
    let before: Vec<String> = said.iter().map_while(text).collect();
    assert_eq!(before.concat(), "6-iron, forged, 28.5°, ");
    let length = &said[before.len()];
    assert_eq!(
        (&length["dimension"], &length["si"]),
        (&json!("club_length"), &json!(0.96))
    );
    assert_eq!(view["ball"], "range");
    let wind = &view["conditions"]["wind"];
    assert!((wind["speed_mps"].as_f64().unwrap() - 12.0 / 3.6).abs() < 1e-9);
    let mut setting = new["setting"].clone();
    setting["wind_from_deg"] = Value::Null;
    let (status, refused) = stage.put(&format!("/sessions/{}", id(2)), &setting).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("wind_from_deg"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn pain_holds_the_full_effort_block_until_the_coach_lifts_it_with_a_reason() {
    let stage = with_full_effort().await;
    let hurt = json!({"kind": "readiness", "sleep": 4, "soreness": 1, "hard_exercise": false,
                      "pain": true, "note": "left wrist"});
    assert_eq!(stage.act(10, hurt).await, 201);
    let (_, warm) = stage.get(&format!("/sessions/{SESSION}/warm-up")).await;
    assert!(warm["cautions"][0].as_str().unwrap().contains("doctor"));
    let begin = format!("/sessions/{SESSION}/blocks/{}/begin", id(1));
    let (status, held) = stage.post(&begin, &json!({})).await;
    assert_eq!(status, 409);
    assert!(
        held["detail"].as_str().unwrap().contains("lift the hold"),
        "{held}"
    );
    assert_eq!(
        stage.act(11, json!({"kind": "lift", "reason": " "})).await,
        422
    );
    assert_eq!(
        stage
            .act(12, json!({"kind": "lift", "reason": "an old scar"}))
            .await,
        201
    );
    assert_eq!(stage.post(&begin, &json!({})).await.0, 204);
    assert_eq!(stage.hit().await["report"]["place"]["block"], 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_warm_up_is_ticked_off_or_skipped_and_that_is_recorded_once() {
    let stage = Stage::with_session().await;
    let tick = json!({"kind": "tick", "movement": "ankles"});
    assert_eq!(stage.act(20, tick.clone()).await, 201);
    assert_eq!(stage.act(20, tick).await, 201);
    assert_eq!(stage.act(21, json!({"kind": "skip_warm_up"})).await, 201);
    let (_, warm) = stage.get(&format!("/sessions/{SESSION}/warm-up")).await;
    let progress = &warm["session"]["progress"];
    assert_eq!(
        (&progress["done"], &progress["skipped"]),
        (&json!(["ankles"]), &json!(true))
    );
    assert_eq!(warm["movements"][0]["key"], "ankles");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn hit_tells_the_newest_shot_its_aim_and_what_comes_next() {
    let stage = with_full_effort().await;
    let mut device = stage.device_with_shots(2).await;
    let told = stage.hit().await;
    let place = &told["report"]["place"];
    assert_eq!(
        (
            &place["hit"],
            &place["balls"],
            &place["to_go"],
            &place["next"]
        ),
        (&json!(2), &json!(2), &json!(3), &json!(1))
    );
    stage
        .post(
            &format!("/sessions/{SESSION}/blocks/{}/begin", id(1)),
            &json!({}),
        )
        .await;
    device.say(&shot(3, 97.0)).await;
    device.say(&shot(4, 99.0)).await;
    let told = stage.hit().await;
    let met: Vec<_> = (2..4)
        .map(|i| told["report"]["shots"][i]["met"].clone())
        .collect();
    assert_eq!(met, [json!("under"), json!("met")]);
    assert_eq!(told["report"]["met"], json!([1, 2]));
    assert_eq!(told["report"]["place"]["rest_s"], 60);
    // Hidden values leave the answer altogether.
    stage
        .act(30, json!({"kind": "hide", "quantity": "club_speed"}))
        .await;
    let told = stage.hit().await;
    assert_eq!(told["report"]["shown"], json!(["ball_speed", "carry"]));
    assert_eq!(told["report"]["target"], Value::Null);
    assert!(told["shots"][0]["values"].get("club_speed").is_none());
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_typed_shot_and_a_correction_count_and_the_old_value_stays() {
    let stage = Stage::with_session().await;
    let entry = |n: u32, given: Value| json!({"values": [{"id": id(n), "quantity": "club_speed", "given": given}]});
    let path = format!("/sessions/{SESSION}/shots/{}/entries", id(40));
    let typed = entry(41, json!({"value": 150, "unit": "kmh"}));
    assert_eq!(stage.put(&path, &typed).await.0, 204);
    assert_eq!(stage.put(&path, &typed).await.0, 204);
    assert_eq!(
        stage
            .put(&path, &entry(42, json!({"value": 92, "unit": "mph"})))
            .await
            .0,
        204
    );
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let shot = &read["shots"][0];
    assert_eq!(shot["reading"]["club_speed"]["from"], "entered");
    assert_eq!(shot["entries"].as_array().unwrap().len(), 2);
    assert_eq!(read["shots"].as_array().unwrap().len(), 1);
    let (status, refused) = stage
        .put(&path, &entry(43, json!({"value": 920, "unit": "mph"})))
        .await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("club_speed_mph"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_practice_device_plays_until_the_block_is_hit_and_stops_when_told() {
    let stage = Stage::with_session().await;
    let begin = json!({"id": id(50), "devices": ["radar", "camera"], "pace_s": 0.05});
    let path = format!("/sessions/{SESSION}/practice");
    assert_eq!(stage.post(&path, &begin).await.0, 201);
    // Beginning again while it plays changes nothing.
    assert_eq!(
        stage
            .post(&path, &json!({"id": id(51), "devices": ["radar"]}))
            .await
            .0,
        201
    );
    let hit = loop {
        let told = stage.hit().await;
        if told["shots"].as_array().unwrap().len() == 12 {
            break told;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    };
    let both = hit["shots"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|s| s["devices"] == 2);
    assert!(both.count() >= 11, "{hit}");
    assert_eq!(hit["devices"].as_array().unwrap().len(), 2);
    assert_eq!(stage.act(52, json!({"kind": "practice_ends"})).await, 201);
    assert_eq!(
        stage.hit().await["session"]["progress"]["practising"],
        false
    );
    let none = stage
        .post(&path, &json!({"id": id(53), "devices": []}))
        .await;
    assert_eq!(none.0, 422);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_of_several_clubs_is_read_club_by_club() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(2).await;
    let plan = json!({"blocks": [{"id": id(60), "label": "Short", "balls": 3, "club": "iron9"}]});
    assert_eq!(
        stage
            .put(&format!("/sessions/{SESSION}/plan"), &plan)
            .await
            .0,
        204
    );
    stage
        .post(
            &format!("/sessions/{SESSION}/blocks/{}/begin", id(60)),
            &json!({}),
        )
        .await;
    device.say(&shot(3, 84.0)).await;
    let (_, all) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(
        (&all["club"], all["shots"].as_array().unwrap().len()),
        (&json!("iron6"), 2)
    );
    let (_, short) = stage
        .get(&format!("/sessions/{SESSION}/read?club=iron9"))
        .await;
    assert_eq!(
        (&short["shots"][0]["number"], &short["clubs"][1]["club"]),
        (&json!(3), &json!("iron9"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_unplanned_block_comes_before_those_still_to_come() {
    let stage = with_full_effort().await;
    let block = json!({"id": id(70), "label": "With the towel"});
    let path = format!("/sessions/{SESSION}/blocks");
    assert_eq!(stage.post(&path, &block).await.0, 201);
    let (_, view) = stage.get(&format!("/sessions/{SESSION}")).await;
    let blocks = view["blocks"].as_array().unwrap().iter();
    let labels: Vec<_> = blocks.map(|b| b["label"].as_str().unwrap()).collect();
    assert_eq!(labels, ["Stock", "With the towel", "Everything"]);
    assert_eq!(view["current"], 1);
    stage.device_with_shots(1).await;
    assert_eq!(stage.hit().await["shots"][0]["block"], id(70));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_of_the_weather_is_kept_and_the_place_keeps_its_height() {
    let stage = Stage::with_session().await;
    let setting = json!({
        "place": "Deck", "altitude": {"value": 1140, "unit": "m"},
        "temperature": {"value": 4, "unit": "c"}, "humidity_pct": 80,
        "ball": "competition",
    });
    let path = format!("/sessions/{SESSION}");
    assert_eq!(stage.put(&path, &setting).await.0, 204);
    let (_, view) = stage.get(&path).await;
    assert_eq!(
        (&view["place"], &view["conditions"]["temperature_c"]),
        (&json!("Deck"), &json!(4.0))
    );
    let told = prepared(&stage, "benchmark").await;
    assert_eq!(
        told["places"],
        json!([{"name": "Deck", "altitude": 1140.0, "indoors": null}])
    );
    let mut odd = setting.clone();
    odd["ball"] = json!("foam");
    odd["place"] = json!("");
    let (status, refused) = stage.put(&path, &odd).await;
    let errors = refused["errors"].as_array().unwrap().iter();
    let fields: Vec<_> = errors.map(|e| e["field"].as_str().unwrap()).collect();
    assert_eq!((status, fields), (422, vec!["place", "ball"]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn all_out_swings_are_asked_a_warm_up_once_and_stopped_at_the_day_s_bound() {
    let stage = Stage::set().await;
    let player = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990});
    assert_eq!(stage.post("/players", &player).await.0, 201);
    let mut all_out = session();
    all_out["purpose"] = json!("speed_day");
    all_out["blocks"][0]["full_effort"] = json!(true);
    assert_eq!(stage.post("/sessions", &all_out).await.0, 201);
    assert_eq!(stage.hit().await["asks_for_warm_up"], true);
    assert_eq!(stage.act(1, json!({"kind": "skip_warm_up"})).await, 201);
    assert_eq!(stage.hit().await["asks_for_warm_up"], false);
    for (rule, number) in [("full_swings", 60), ("full_swings_growing", 61)] {
        let few = json!({"id": id(number), "given": {"value": 5, "unit": ""}});
        let path = format!("/house-rules/{rule}");
        assert_eq!(stage.put(&path, &few).await.0, 204);
    }
    let mut device = stage.device_with_shots(4).await;
    let of_today = "UPDATE shot SET hit_at = now()";
    stage.sql(of_today).await;
    assert_eq!(stage.hit().await["stop"], Value::Null);
    device.say_until_stored(&shot(5, 95.0)).await;
    stage.sql(of_today).await;
    let told = stage.hit().await;
    assert_eq!(told["stop"]["kind"], "many_today");
    assert_eq!(told["stop"]["may_go_on"], true);
    let sentence = said(&told["stop"]["said"]);
    assert!(
        sentence.starts_with("Stop all-out swings here: 5"),
        "{sentence}"
    );
    // What is proposed next takes in what was swung.
    let path = format!("/players/{PLAYER}/prepare?purpose=speed_day&club=driver");
    let (_, proposed) = stage.get(&path).await;
    assert_eq!(proposed["today"]["week"], 5);
    // Going on needs a reason, and is nothing for one who still grows.
    assert_eq!(
        stage.act(2, json!({"kind": "go_on", "reason": " "})).await,
        422
    );
    let why = json!({"kind": "go_on", "reason": "The last of the winter, two more."});
    let growing = "UPDATE player SET born = extract(year FROM now())::int - 12, \
                   guardian = 'Ivo Aldous', consent_on = now()";
    stage.sql(growing).await;
    assert_eq!(stage.hit().await["stop"]["may_go_on"], false);
    assert_eq!(stage.act(3, why.clone()).await, 422);
    stage.sql("UPDATE player SET born = 1990").await;
    assert_eq!(stage.act(4, why).await, 201);
    let told = stage.hit().await;
    assert_eq!(told["stop"], Value::Null);
    assert_eq!(
        told["session"]["progress"]["went_on"],
        "The last of the winter, two more."
    );
    stage.clear().await;
}
