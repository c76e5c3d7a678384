//! The API: its answers, its refusals, its live events.

use crate::stage::{PLAYER, SESSION, Stage, id, session, shot};
use insta::{assert_json_snapshot, rounded_redaction};
use serde_json::{Value, json};

const OTHER_BLOCK: &str = "01890000-0000-7000-8000-00000000000b";
const MARK: &str = "01890000-0000-7000-8000-000000000009";

/// Snapshots with sorted keys: their order in JSON is nobody's business, and depends
/// on which crates are built together.
fn sorted() -> insta::Settings {
    let mut settings = insta::Settings::clone_current();
    settings.set_sort_maps(true);
    settings
}

async fn first_shot(stage: &Stage) -> String {
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    read["shots"][0]["id"].as_str().unwrap().to_owned()
}

async fn mark(stage: &Stage, shot: &str, id: &str, act: Value) -> (u16, Value) {
    stage
        .post(
            &format!("/sessions/{SESSION}/shots/{shot}/marks"),
            &json!({"id": id, "act": act}),
        )
        .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_is_read_with_its_shots_figures_and_verdict() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let (status, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(status, 200);
    // The last digits of a float are not what anyone relies on.
    sorted().bind(|| {
        assert_json_snapshot!(read, {
            ".session.started_at" => "[time]",
            ".shots[].id" => "[id]",
            ".shots[].sources[].id" => "[id]",
            ".report.verdict.working" => "[working]",
            ".report.unclaimed_working" => "[working]",
            ".report.**.best" => rounded_redaction(3),
            ".report.**.least" => rounded_redaction(3),
            ".report.**.mean" => rounded_redaction(3),
            ".report.**.spread" => rounded_redaction(3),
            ".report.**.value" => rounded_redaction(3),
            ".report.**.low" => rounded_redaction(3),
            ".report.**.high" => rounded_redaction(3),
            ".report.**.si" => rounded_redaction(3),
            ".report.**.carry" => rounded_redaction(3),
            ".report.**.attainable" => rounded_redaction(3),
            ".report.**.actual" => rounded_redaction(3),
            ".report.**.unexplained" => rounded_redaction(3),
            ".report.shots[].gap" => rounded_redaction(3),
            ".report.shots[].share" => rounded_redaction(3),
            ".report.**.model_error" => rounded_redaction(3),
            ".report.shots[].unclaimed.shares.*" => rounded_redaction(3),
        })
    });
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn players_and_their_sessions_are_listed() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(2).await;
    let (_, players) = stage.get("/players").await;
    let (_, player) = stage.get(&format!("/players/{PLAYER}")).await;
    sorted().bind(|| {
        assert_json_snapshot!(json!({"players": players, "player": player}), {
            ".players[].last_session" => "[time]",
            ".player.sessions[].started_at" => "[time]",
        })
    });
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_mark_is_made_once_recorded_and_withdrawn() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let shot = first_shot(&stage).await;
    let aside = json!({"kind": "set_aside", "reason": "mishit"});
    assert_eq!(mark(&stage, &shot, MARK, aside.clone()).await.0, 201);
    assert_eq!(mark(&stage, &shot, MARK, aside).await.0, 201);
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(read["shots"][0]["marks"].as_array().unwrap().len(), 1);
    assert_eq!(read["report"]["counts"]["set_aside"], 1);
    assert_eq!(read["report"]["shots"][0]["standing"], "set_aside");
    let other = "01890000-0000-7000-8000-00000000000a";
    assert_eq!(
        mark(&stage, &shot, other, json!({"kind": "withdraw"}))
            .await
            .0,
        201
    );
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(read["report"]["counts"]["set_aside"], 0);
    assert_eq!(read["shots"][0]["marks"].as_array().unwrap().len(), 2);
    // The same identifier for another mark is a mistake of the sender's.
    assert_eq!(
        mark(&stage, &shot, MARK, json!({"kind": "keep"})).await.0,
        409
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_used_is_refused_as_a_problem_with_field_value_and_remedy() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(1).await;
    let shot = first_shot(&stage).await;
    let mut furlongs = session();
    furlongs["id"] = json!("01890000-0000-7000-8000-0000000000aa");
    furlongs["setting"]["altitude"] = json!({"value": 5, "unit": "furlong"});
    furlongs["setting"]["temperature"] = json!({"value": 5, "unit": "k"});
    furlongs["club"] = json!("spoon");
    let long = json!({"kind": "set_aside", "reason": "other", "note": "x".repeat(100_000)});
    let refused = json!({
        "wrong units and club": stage.post("/sessions", &furlongs).await,
        "a very long reason": mark(&stage, &shot, MARK, long).await,
        "no reason in words": mark(&stage, &shot, MARK, json!({"kind": "set_aside", "reason": "other"})).await,
        "a strike off the face": mark(&stage, &shot, MARK, json!({"kind": "strike", "cell": 12})).await,
        "a shot of no session": mark(&stage, PLAYER, MARK, json!({"kind": "keep"})).await,
        "no identifier": stage.get("/sessions/seven/read").await,
        "a stranger's identifier": stage.get(&format!("/players/{SESSION}")).await,
        "nowhere": stage.get("/nowhere").await,
    });
    sorted().bind(|| assert_json_snapshot!(refused));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_body_that_is_not_json_is_a_problem_too() {
    let stage = Stage::set().await;
    let url = format!("{}/api/v1/players", stage.web);
    let answer = stage
        .http
        .post(url)
        .header("content-type", "application/json")
        .body("{oh")
        .send()
        .await
        .unwrap();
    assert_eq!(answer.status(), 400);
    assert_eq!(answer.headers()["content-type"], "application/problem+json");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_stored_shot_is_heard_live_by_whoever_watches_its_session() {
    let stage = Stage::with_session().await;
    let url = format!("{}/api/v1/live?sessions={SESSION}", stage.web);
    let mut events = stage.http.get(url).send().await.unwrap();
    let mut device = stage.device_with_shots(0).await;
    device.say(&shot(1, 91.0)).await;
    let mut heard = String::new();
    // Browsers drop an event without data.
    while !heard.contains(&format!("event: changed\ndata: {SESSION}\n")) {
        let chunk = events.chunk().await.unwrap().expect("the stream goes on");
        heard.push_str(&String::from_utf8_lossy(&chunk));
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_demo_loads_once_however_often_it_is_asked_for() {
    let stage = Stage::demo().await;
    let store = stage.store().await;
    let (_, once) = stage.get("/players").await;
    tally_server::cli::demo::load(&store).await.unwrap();
    let (_, twice) = stage.get("/players").await;
    assert_eq!(once, twice);
    assert_eq!(once.as_array().unwrap().len(), 13);
    stage.clear().await;
    // A school of somebody's own is left alone.
    let own = Stage::set().await;
    let refused = tally_server::cli::demo::load(&own.store().await).await;
    assert!(refused.is_err());
    assert_eq!(own.get("/players").await.1, json!([]));
    own.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_block_takes_the_shots_that_follow() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(1).await;
    let block = json!({"id": MARK, "label": "Ball forward"});
    assert_eq!(
        stage
            .post(&format!("/sessions/{SESSION}/blocks"), &block)
            .await
            .0,
        201
    );
    device.say(&shot(2, 92.0)).await;
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(read["session"]["blocks"][1]["label"], "Ball forward");
    assert_eq!(read["shots"][1]["block"], MARK);
    assert_ne!(read["shots"][0]["block"], MARK);
    // Its identifier is another's: told, and not a fault of the server.
    let mut another = session();
    another["id"] = json!(PLAYER);
    another["blocks"][0]["id"] = json!(OTHER_BLOCK);
    assert_eq!(stage.post("/sessions", &another).await.0, 201);
    let taken = json!({"id": OTHER_BLOCK, "label": "Ball back"});
    let path = format!("/sessions/{SESSION}/blocks");
    assert_eq!(stage.post(&path, &taken).await.0, 409);
    let unnamed = json!({"id": PLAYER, "label": "  "});
    assert_eq!(
        stage
            .post(&format!("/sessions/{SESSION}/blocks"), &unnamed)
            .await
            .0,
        422
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn beginning_the_same_session_again_is_harmless() {
    let stage = Stage::with_session().await;
    assert_eq!(stage.post("/sessions", &session()).await.0, 201);
    let (_, player) = stage.get(&format!("/players/{PLAYER}")).await;
    assert_eq!(player["sessions"].as_array().unwrap().len(), 1);
    let (_, school) = stage.get("/school").await;
    assert_eq!(school["in_progress"].as_array().unwrap().len(), 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_quantity_has_a_unit_under_every_choice() {
    let stage = Stage::set().await;
    let (_, words) = stage.get("/vocabulary").await;
    for quantity in words["quantities"].as_array().unwrap() {
        for units in ["mph_yd", "kmh_m", "mps_m"] {
            let shown = words["units"].as_array().unwrap().iter().filter(|unit| {
                unit["units"] == units && unit["dimension"] == quantity["dimension"]
            });
            assert_eq!(shown.count(), 1, "{quantity} {units}");
        }
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_description_names_every_route_that_is_served() {
    let stage = Stage::set().await;
    let url = format!("{}/api/openapi.json", stage.web);
    let description: Value = stage
        .http
        .get(url)
        .send()
        .await
        .unwrap()
        .json()
        .await
        .unwrap();
    let mut paths: Vec<_> = description["paths"].as_object().unwrap().keys().collect();
    paths.sort();
    sorted().bind(|| assert_json_snapshot!(paths));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_s_address_opens_the_application_and_a_lost_script_does_not() {
    let stage = Stage::set().await;
    let get = async |path: &str| {
        stage
            .http
            .get(format!("{}{path}", stage.web))
            .send()
            .await
            .unwrap()
    };
    let page = get("/players").await;
    assert_eq!(page.status(), 200);
    assert!(page.text().await.unwrap().contains("Amber Tally"));
    assert_eq!(get("/assets/lost.js").await.status(), 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn text_that_cannot_be_kept_is_refused_by_its_field_wherever_it_comes_in() {
    let stage = Stage::with_session().await;
    let decisions = format!("/players/{PLAYER}/decisions");
    let decision = |field: &str, text: &str| {
        let mut decision = json!({"id": id(7), "words": "Play stock"});
        decision[field] = json!(text);
        decision
    };
    let refused = async |path: &str, body: Value, field: &str| {
        let (status, told) = stage.post(path, &body).await;
        assert_eq!(
            (status, &told["errors"][0]["field"]),
            (422, &json!(field)),
            "{told}"
        );
    };
    for odd in ["a\0b", "a\u{202e}b", "a\u{7}b", "\0"] {
        refused(&decisions, decision("verdict", odd), "verdict").await;
        refused(&decisions, decision("words", odd), "words").await;
        let player = json!({"id": id(8), "name": odd});
        refused("/players", player, "name").await;
    }
    refused(
        "/players",
        json!({"id": id(8), "name": "\u{200b}\u{2060}"}),
        "name",
    )
    .await;
    let deep = json!({"id": id(8), "name": "Wren", "aim": {"a": ["x", "b\0"]}});
    refused("/players", deep, "aim.a[1]").await;
    for away in [
        "//elsewhere.invalid/x",
        "/\\elsewhere.invalid",
        "/\t/elsewhere.invalid",
    ] {
        refused(&decisions, decision("address", away), "address").await;
    }
    let own = decision("address", "/sessions/x/decide?club=iron7");
    assert_eq!(stage.post(&decisions, &own).await.0, 201);
    // One that was kept before is not followed either.
    stage
        .sql("UPDATE decision SET address = '//elsewhere.invalid/x', recheck_on = '2026-01-01'")
        .await;
    assert_eq!(
        stage.get("/today").await.1["rechecks"][0]["decision"]["address"],
        ""
    );
    for (path, status) in [
        ("/house-rules/a%00b", 405),
        ("/shots.csv?units=mph_yd&club=%00", 422),
        ("/players/%00", 422),
        (
            "/shots.csv?units=mph_yd&from=%2B262142-01-01T00:00:00Z",
            422,
        ),
        ("/shots.csv?units=mph_yd&to=0001-01-01T00:00:00Z", 422),
    ] {
        let (answered, told) = stage.get(path).await;
        assert!(
            answered == status || answered == 422,
            "{path}: {answered} {told}"
        );
    }
    stage.clear().await;
}
