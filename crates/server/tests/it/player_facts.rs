//! What is known of players, what is noted of sessions, and players among others.

use crate::record::{player, read_today};
use crate::stage::{PLAYER, SESSION, Stage, id, said, session};
use serde_json::{Value, json};

fn given(value: f64, unit: &str) -> Value {
    json!({"value": value, "unit": unit})
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_body_measures_is_kept_in_one_unit_and_refused_in_the_typed_one() {
    let stage = Stage::with_session().await;
    let path = format!("/players/{PLAYER}");
    let facts = |height: Value, mass: Value| {
        json!({"name": "Wren Aldous", "born": 1990, "left_handed": false, "aim": "Clear the ditch",
               "height": height, "mass": mass, "level": "club"})
    };
    let right = facts(given(70.0, "in"), given(165.0, "lb"));
    let (status, told) = stage.put(&path, &right).await;
    assert_eq!(status, 204, "{told}");
    let (_, told) = stage.get(&path).await;
    assert!(
        (told["height_m"].as_f64().unwrap() - 1.778).abs() < 1e-6,
        "{told}"
    );
    assert!(
        (told["mass_kg"].as_f64().unwrap() - 74.84).abs() < 0.01,
        "{told}"
    );
    assert_eq!(told["level"], "club");
    let (status, refused) = stage
        .put(&path, &facts(given(17.8, "cm"), given(-4.0, "kg")))
        .await;
    let errors = refused["errors"].as_array().unwrap();
    let fields: Vec<&Value> = errors.iter().map(|error| &error["field"]).collect();
    assert_eq!(
        (status, fields),
        (422, vec![&json!("height"), &json!("mass")])
    );
    assert!(
        errors[0]["remedy"].as_str().unwrap().contains("cm"),
        "{refused}"
    );
    // What a body measures is not written into the log of corrections.
    let about = stage
        .ask("SELECT about FROM audit WHERE act = 'correction'")
        .await;
    assert_eq!(about, ["height and mass; level of play"]);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn who_comes_no_more_is_out_of_the_way_begins_nothing_and_is_back_in_one_tap() {
    let stage = Stage::with_session().await;
    let child = json!({"id": id(9), "name": "Fen Marlow", "born": 2016});
    assert_eq!(stage.post("/players", &child).await.0, 201);
    let flags = async || read_today(&stage).await["flags"].as_array().unwrap().len();
    assert_eq!(flags().await, 1);
    let path = format!("/players/{}/archived", id(9));
    for _ in 0..2 {
        assert_eq!(stage.put(&path, &json!({"archived": true})).await.0, 204);
    }
    assert_eq!(flags().await, 0);
    let (_, players) = stage.get("/players").await;
    let fen = players
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["name"] == "Fen Marlow");
    assert!(fen.unwrap()["archived_at"].is_string(), "{players}");
    // Nothing begins for them, and what there is says why.
    let path = format!("/players/{PLAYER}/archived");
    assert_eq!(stage.put(&path, &json!({"archived": true})).await.0, 204);
    let mut another = session();
    another["id"] = json!(id(50));
    another["blocks"][0]["id"] = json!(id(51));
    let (status, refused) = stage.post("/sessions", &another).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("player"))
    );
    assert_eq!(stage.put(&path, &json!({"archived": false})).await.0, 204);
    assert_eq!(stage.post("/sessions", &another).await.0, 201);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_is_noted_and_tagged_and_its_roof_remembered_with_the_place() {
    let stage = Stage::with_session().await;
    let notes = format!("/sessions/{SESSION}/notes");
    let given =
        json!({"note": " Wind got up.\nStopped early. ", "tags": ["Wet Grass", "wet grass ", ""]});
    assert_eq!(stage.put(&notes, &given).await.0, 204);
    let (_, told) = stage.get(&format!("/players/{PLAYER}")).await;
    assert_eq!(told["sessions"][0]["note"], "Wind got up.\nStopped early.");
    assert_eq!(told["sessions"][0]["tags"], json!(["wet grass"]));
    let long = json!({"note": "x".repeat(2001), "tags": ["x".repeat(41)]});
    let (status, refused) = stage.put(&notes, &long).await;
    assert_eq!(
        (status, refused["errors"].as_array().unwrap().len()),
        (422, 2)
    );
    let mut setting = session()["setting"].clone();
    setting["indoors"] = json!(true);
    let path = format!("/sessions/{SESSION}");
    assert_eq!(stage.put(&path, &setting).await.0, 204);
    assert_eq!(stage.get(&path).await.1["indoors"], true);
    let prepare = format!("/players/{PLAYER}/prepare?purpose=benchmark&club=iron6");
    let (_, told) = stage.get(&prepare).await;
    assert_eq!(told["places"][0]["indoors"], true, "{}", told["places"]);
    stage.clear().await;
}

/// Everyone's sessions as if held lately, and the juniors of one age.
async fn of_today(stage: &Stage) {
    let lately = "UPDATE session SET started_at = started_at + \
                  (now() - (SELECT max(started_at) FROM session)) \
                  WHERE started_at < now()";
    stage.sql(lately).await;
    let juniors = "UPDATE player SET born = extract(year FROM now())::int - 14, \
                   level = 'club' WHERE born > 2008";
    stage.sql(juniors).await;
    read_today(stage).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_junior_is_ranked_among_those_of_the_age_by_whoever_sees_them_and_nobody_is_named() {
    let stage = Stage::demo().await;
    of_today(&stage).await;
    let ayla = player(&stage, "Ayla Tarrant").await;
    let path = format!("/players/{ayla}/peers?club=iron7&quantity=club_speed");
    let (status, told) = stage.get(&path).await;
    assert_eq!(status, 200, "{told}");
    assert_eq!(told["rank"]["n"], 9, "{told}");
    let sentence = said(&told["sentence"]);
    assert!(sentence.contains("club players of 13 to 15"), "{sentence}");
    assert!(!told.to_string().contains("Niko"), "{told}");
    // One who sees two of the children is told the same rank.
    let maren = stage.as_client(stage.signed_in("maren", "tally by the tarn").await);
    assert_eq!(maren.get(&path).await.1, told);
    // Of grown players there are too few.
    let bram = player(&stage, "Bram Lindqvale").await;
    let (_, few) = stage
        .get(&format!(
            "/players/{bram}/peers?club=driver&quantity=club_speed"
        ))
        .await;
    assert_eq!(few["rank"], Value::Null);
    assert!(
        said(&few["sentence"]).starts_with("No rank yet: it takes 8"),
        "{few}"
    );
    assert_eq!(few["reference"]["level"], "elite");
    let (status, refused) = stage
        .get(&format!(
            "/players/{ayla}/peers?club=iron7&quantity=spin_rate"
        ))
        .await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("quantity"))
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn reference_levels_are_the_school_s_own_and_wrong_ones_are_named_by_row() {
    let stage = Stage::demo().await;
    let level = |to_age: i32, mph: f64, unit: &str| {
        json!({"club": "driver", "quantity": "club_speed", "from_age": 20, "to_age": to_age,
               "level": "elite", "value": given(mph, unit), "source": "Our own long hitters."})
    };
    let list = |levels: Vec<Value>| json!({"id": uuid::Uuid::now_v7(), "levels": levels});
    let (status, refused) = stage
        .put(
            "/reference-levels",
            &list(vec![level(40, 125.0, "mph"), level(10, 900.0, "mph")]),
        )
        .await;
    let errors = refused["errors"].as_array().unwrap();
    let fields: Vec<&Value> = errors.iter().map(|error| &error["field"]).collect();
    assert_eq!(status, 422);
    assert_eq!(
        fields,
        [&json!("levels[1].to_age"), &json!("levels[1].value")]
    );
    let (status, refused) = stage
        .put("/reference-levels", &list(vec![level(40, 125.0, "parsec")]))
        .await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("levels[0].value.unit"))
    );
    let own = list(vec![level(40, 125.0, "mph")]);
    assert_eq!(stage.put("/reference-levels", &own).await.0, 204);
    let (_, rules) = stage.get("/house-rules").await;
    assert_eq!(rules["reference_levels_are_ours"], false);
    assert_eq!(rules["reference_levels"].as_array().unwrap().len(), 1);
    // A list is no number: the history of numbers goes on.
    assert_eq!(rules["changes"], json!([]));
    let bram = player(&stage, "Bram Lindqvale").await;
    let (_, told) = stage
        .get(&format!(
            "/players/{bram}/peers?club=driver&quantity=club_speed"
        ))
        .await;
    assert_eq!(told["reference"]["source"], "Our own long hitters.");
    let ours = json!({"id": uuid::Uuid::now_v7(), "levels": null});
    assert_eq!(stage.put("/reference-levels", &ours).await.0, 204);
    let (_, rules) = stage.get("/house-rules").await;
    assert_eq!(rules["reference_levels_are_ours"], true);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_off_day_stands_beside_what_was_said_before_it() {
    let stage = Stage::demo().await;
    let bram = player(&stage, "Bram Lindqvale").await;
    let record = format!("/players/{bram}/record");
    let (_, told) = stage.get(&record).await;
    let off = |told: &Value| said(&told["shown"]["off_days"][0]["said"]);
    let such = "Before it: a short night, sore muscles. 3 earlier days had such answers";
    assert!(off(&told).contains(such), "{}", off(&told));
    stage.sql("DELETE FROM session_act").await;
    let last = told["sessions"].as_array().unwrap().last().unwrap()["id"].clone();
    let answers = json!({"kind": "readiness", "sleep": 1, "soreness": 3, "hard_exercise": false,
                         "pain": false, "note": ""});
    let acts = format!("/sessions/{}/acts", last.as_str().unwrap());
    let (status, refused) = stage
        .post(&acts, &json!({"id": id(5), "act": answers}))
        .await;
    assert_eq!(status, 201, "{refused}");
    let (_, told) = stage.get(&record).await;
    assert!(
        off(&told)
            .contains("Before it: a short night, sore muscles. No earlier day had such answers."),
        "{}",
        off(&told)
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_best_to_beat_is_that_of_earlier_sessions() {
    let stage = Stage::demo().await;
    let bram = player(&stage, "Bram Lindqvale").await;
    let (_, told) = stage.get(&format!("/players/{bram}/record")).await;
    let records = told["records"].as_array().unwrap();
    let speed = records.iter().find(|r| r["of"]["quantity"] == "club_speed");
    let speed = &speed.unwrap()["record"];
    let place = speed["session"].as_u64().unwrap() as usize;
    let set_in = told["sessions"][place]["id"].as_str().unwrap();
    let best = async |before: &str| {
        let path = format!("/players/{bram}/records?club=driver{before}");
        let (_, told) = stage.get(&path).await;
        let all = told.as_array().unwrap().clone();
        let speed = all.into_iter().find(|r| r["quantity"] == "club_speed");
        speed.unwrap()["best"].as_f64()
    };
    assert_eq!(best("").await, speed["best"].as_f64());
    let before = best(&format!("&before={set_in}")).await;
    assert_eq!(before, speed["before"].as_f64());
    stage.clear().await;
}
