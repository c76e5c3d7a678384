//! What a test shows, and what is decided: over the demo school, whose truth is known.

use crate::stage::{PLAYER, Stage, id, said};
use serde_json::{Value, json};

/// The demo's session of a player with a purpose.
async fn demo_session(stage: &Stage, player: &str, purpose: &str) -> (String, String) {
    let (_, players) = stage.get("/players").await;
    let found = players.as_array().unwrap().iter();
    let mut found = found.filter(|p| p["name"] == player);
    let player = text(&found.next().unwrap()["id"]);
    let (_, told) = stage.get(&format!("/players/{player}")).await;
    let sessions = told["sessions"].as_array().unwrap().iter();
    // The oldest of the purpose.
    let mut sessions = sessions.rev().filter(|s| s["purpose"] == purpose);
    let session = text(&sessions.next().unwrap()["id"]);
    (player, session)
}

fn text(value: &Value) -> String {
    value.as_str().unwrap().to_owned()
}

fn yd(value: f64) -> Value {
    json!({"value": value, "unit": "yd"})
}

fn fields(problem: &Value) -> Vec<(String, String)> {
    let errors = problem["errors"].as_array().unwrap().iter();
    errors
        .map(|e| (text(&e["field"]), text(&e["remedy"])))
        .collect()
}

fn usual_and_quiet(session: &str) -> Value {
    json!([
        {"label": "Usual", "session": session, "blocks": ["Usual start"]},
        {"label": "Quiet", "session": session, "blocks": ["Quiet start"]},
    ])
}

#[tokio::test(flavor = "multi_thread")]
async fn a_comparison_opens_with_its_sets_and_ends_in_a_verdict_that_never_changes_by_itself() {
    let stage = Stage::demo().await;
    let (player, session) = demo_session(&stage, "Petra Quill", "Comparison").await;
    let (status, opened) = stage.get(&format!("/sessions/{session}/decide")).await;
    assert_eq!(status, 200);
    assert_eq!(opened["opens_with"], "comparison");
    assert_eq!(opened["quantity"], "carry");
    let labels: Vec<_> = opened["sets"].as_array().unwrap().iter().collect();
    assert_eq!(labels[0]["label"], "Usual start");
    assert_eq!(labels[1]["blocks"], json!(["Quiet start"]));
    assert_eq!(
        opened["counts"],
        json!({"kept": 23, "set_aside": 1, "doubtful": 0})
    );

    let ask = json!({"quantity": "carry", "sets": usual_and_quiet(&session)});
    let path = format!("/players/{player}/compare");
    let (_, report) = stage.post(&path, &ask).await;
    // The quiet start truly strays less than half as far.
    let spread = &report["differences"][0]["side_spread"]["ratio"];
    assert!(spread["high"].as_f64().unwrap() < 1.0, "{spread}");
    assert_eq!(report["verdict"]["kind"], "yes");
    assert_eq!(
        said(&report["verdict"]["sentence"]),
        "Quiet carries # further than Usual, and ten balls land within # left to right instead of #."
    );
    assert_eq!(report["sets"][0]["counts"]["set_aside"], 1);
    assert_eq!(stage.post(&path, &ask).await.1, report);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn sets_may_be_days_clubs_and_kinds_of_ball_and_an_empty_one_is_said_to_be_empty() {
    let stage = Stage::demo().await;
    let (player, session) = demo_session(&stage, "Ilse Marrow", "Expected carry").await;
    let path = format!("/players/{player}/compare");
    let compare = |sets: Value| {
        let ask = json!({"quantity": "carry", "sets": sets});
        let (stage, path) = (&stage, &path);
        async move { stage.post(path, &ask).await.1 }
    };
    let report = compare(json!([
        {"label": "Winter", "to": "2026-02-01T00:00:00Z"},
        {"label": "Later", "from": "2026-02-01T00:00:00Z", "club": "wood5", "ball": "premium"},
    ]))
    .await;
    assert_eq!(report["sets"][0]["counts"]["set_aside"], 1);
    assert_eq!(report["differences"][0]["drift"], Value::Null);
    assert_eq!(report["differences"][0]["basis"], "days");
    let report = compare(json!([
        {"label": "Here", "session": session},
        {"label": "Range balls", "ball": "range"},
    ]))
    .await;
    assert_eq!(report["verdict"]["kind"], "cannot_tell_yet");
    assert_eq!(
        said(&report["verdict"]["sentence"]),
        "“Range balls” has no balls yet."
    );
    // Another player's session is nobody's ball here.
    let (_, others) = demo_session(&stage, "Dov Ransley", "Benchmark").await;
    let report = compare(json!([
        {"label": "Here", "session": session},
        {"label": "Dov", "session": others},
    ]))
    .await;
    assert_eq!(
        said(&report["verdict"]["sentence"]),
        "“Dov” has no balls yet."
    );
    let (_, sources) = stage.get(&format!("/players/{player}/ball-sources")).await;
    let sources = sources.as_array().unwrap();
    let forward = json!(["As usual", "Ball one width forward"]);
    assert!(sources.iter().any(|from| from["blocks"] == forward));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_compared_is_refused_by_field_in_the_unit_it_was_typed_in() {
    let stage = Stage::demo().await;
    let (player, session) = demo_session(&stage, "Petra Quill", "Comparison").await;
    let path = format!("/players/{player}/compare");
    let sets = usual_and_quiet(&session);
    for (ask, field, remedy) in [
        (
            json!({"quantity": "carry", "sets": sets, "margin": yd(0.0)}),
            "margin",
            "give more than 0",
        ),
        (
            json!({"quantity": "carry", "sets": sets, "fairway_width": yd(-3.0)}),
            "fairway_width",
            "give a number from 1.1 to 218.7 yd",
        ),
        (
            json!({"quantity": "carry", "sets": [sets[0]]}),
            "sets",
            "choose 2 to 12 sets",
        ),
        (
            json!({"quantity": "carry", "sets": [sets[0], {"label": "All"}]}),
            "sets[1].session",
            "say which balls",
        ),
        (
            json!({"quantity": "carry", "sets": [sets[0], {"label": "A", "club": "spoon"}]}),
            "sets[1].club",
            "use one of",
        ),
        (
            json!({"quantity": "carry", "sets": [sets[0],
                {"label": "A", "from": "2026-03-02T00:00:00Z", "to": "2026-03-01T00:00:00Z"}]}),
            "sets[1].from",
            "give the earlier time first",
        ),
    ] {
        let (status, problem) = stage.post(&path, &ask).await;
        assert_eq!(status, 422, "{problem}");
        let told = &fields(&problem)[0];
        assert_eq!(told.0, field);
        assert!(told.1.starts_with(remedy), "{told:?}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_effort_ladder_finds_what_the_simulated_golfer_truly_does() {
    let stage = Stage::demo().await;
    let (_, session) = demo_session(&stage, "Dov Ransley", "Effort ladder").await;
    let path = format!("/sessions/{session}/effort");
    let (status, report) = stage.post(&path, &json!({})).await;
    assert_eq!(status, 200);
    let levels = report["levels"].as_array().unwrap();
    assert_eq!(levels.len(), 7);
    // Stock is 1 where "100 %" is 1.06: it feels like 94 %.
    let stock = &report["stock_at"];
    let end = |name: &str| stock[name].as_f64().unwrap();
    assert!(end("low") <= 0.94 && 0.94 <= end("high"), "{stock}");
    assert_eq!(levels[2]["set_aside"], 1);
    let far = stage.post(&path, &json!({"criterion": "distance"})).await.1;
    assert_eq!(
        far["levels"][far["play"].as_u64().unwrap() as usize]["label"],
        "100 %"
    );

    // A narrow hole between trees and water, then one that cannot be played.
    let hole = |width: f64, from: f64| {
        json!({"length": yd(400.0), "fairway_width": yd(width),
            "left": {"kind": "water", "from": yd(from)}})
    };
    let (_, narrow) = stage.post(&path, &json!({"hole": hole(30.0, 20.0)})).await;
    let strokes = |r: &Value| r["levels"][6]["strokes"]["value"].as_f64().unwrap();
    assert!(strokes(&narrow) > strokes(&report) + 0.1);
    let (status, problem) = stage.post(&path, &json!({"hole": hole(-30.0, 5.0)})).await;
    assert_eq!(status, 422);
    assert_eq!(
        fields(&problem)[0],
        (
            "hole.fairway_width".to_owned(),
            "give a number from 1.1 to 218.7 yd".to_owned()
        )
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn ladders_and_warm_ups_are_read_and_clubs_on_a_hole_are_weighed() {
    let stage = Stage::demo().await;
    let (_, ladder) = demo_session(&stage, "Ayla Tarrant", "Speed ladder").await;
    let (_, report) = stage.get(&format!("/sessions/{ladder}/speed-ladder")).await;
    assert_eq!(report["points"].as_array().unwrap().len(), 24);
    assert_eq!(report["steps"].as_array().unwrap().len(), 6);
    assert!(report["straight"]["slope"]["low"].as_f64().unwrap() > 0.0);
    let (_, warm) = stage
        .get(&format!("/sessions/{ladder}/warm-up-effect"))
        .await;
    assert!(warm["fit"]["gain"]["n"].as_u64().unwrap() >= 20);

    let (dov, effort) = demo_session(&stage, "Dov Ransley", "Effort ladder").await;
    let choice = |label: &str| json!({"label": label, "session": effort, "blocks": [label]});
    let ask = json!({
        "hole": {"length": yd(380.0), "fairway_width": yd(30.0),
            "across": {"kind": "water", "from": yd(180.0), "to": yd(215.0)}},
        "choices": [choice("60 %"), choice("Stock")],
    });
    let (status, report) = stage.post(&format!("/players/{dov}/hole"), &ask).await;
    assert_eq!(status, 200, "{report}");
    // Sixty per cent carries about 205 yd: into the water.
    assert_eq!(report["best"], 1);
    assert_eq!(report["verdict"]["kind"], "yes");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_test_is_planned_from_the_player_s_spread_and_says_when_it_is_not_known() {
    let stage = Stage::demo().await;
    let (dov, _) = demo_session(&stage, "Dov Ransley", "Benchmark").await;
    let path = format!("/players/{dov}/test-plan");
    let ask = |club: &str, difference: f64| {
        json!({"club": club, "quantity": "carry", "difference": yd(difference),
            "blocks": [{"label": "A", "balls": 6}, {"label": "B", "balls": 6},
                {"label": "B", "balls": 6}, {"label": "A", "balls": 6}]})
    };
    let (_, plan) = stage.post(&path, &ask("driver", 20.0)).await;
    let each = plan["needed"]["each"].as_u64().unwrap();
    assert!((3..30).contains(&each), "{plan}");
    assert_eq!(plan["planned"][0]["balls"], each.div_ceil(2));
    let (_, fine) = stage.post(&path, &ask("driver", 0.3)).await;
    assert_eq!(fine["needed"]["each"], Value::Null);
    let (_, unknown) = stage.post(&path, &ask("iron3", 5.0)).await;
    assert_eq!(
        (&unknown["needed"], &unknown["from_balls"]),
        (&Value::Null, &json!(0))
    );
    let (status, problem) = stage.post(&path, &ask("driver", 0.0)).await;
    assert_eq!(
        (status, fields(&problem)[0].0.as_str()),
        (422, "difference")
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_decision_goes_to_the_record_shows_on_today_and_is_done_with() {
    let stage = Stage::with_session().await;
    let player = crate::stage::PLAYER;
    let path = format!("/players/{player}/decisions");
    let decision = json!({
        "id": id(1), "words": "Quiet start until Easter", "recheck_on": "2026-05-09",
        "session": crate::stage::SESSION, "verdict": "The same within 5 yd.",
        "address": "/sessions/x/decide?view=effort",
    });
    for _ in 0..2 {
        assert_eq!(stage.post(&path, &decision).await.0, 201);
    }
    let (_, kept) = stage.get(&path).await;
    assert_eq!(kept.as_array().unwrap().len(), 1);
    assert_eq!(kept[0]["words"], "Quiet start until Easter");
    let (_, today) = stage.get("/today").await;
    assert_eq!(today["rechecks"][0]["player_name"], "Wren Aldous");
    assert_eq!(today["in_progress"][0]["session"]["club"], "6-iron");
    // It is found by its words and by whom it is for, and tells both.
    for words in ["easter", "wren%20quiet"] {
        let (_, found) = stage.get(&format!("/find?words={words}")).await;
        let found = found.as_array().unwrap();
        let taken = found.iter().find(|thing| thing["kind"] == "decision");
        let about = taken.map(|taken| &taken["about"]);
        assert_eq!(about, Some(&json!("decided for Wren Aldous")), "{words}");
    }
    let done = format!("/decisions/{}/done", id(1));
    assert_eq!(stage.put(&done, &json!({"done": true})).await.0, 204);
    assert_eq!(stage.get("/today").await.1["rechecks"], json!([]));
    assert_eq!(stage.get(&path).await.1[0]["done"], true);
    assert_eq!(stage.put(&done, &json!({"done": false})).await.0, 204);
    assert_eq!(
        stage.get("/today").await.1["rechecks"][0]["decision"]["done"],
        false
    );

    let wrong = json!({"id": id(2), "words": " ", "recheck_on": "1820-01-01", "address": "here"});
    let (status, problem) = stage.post(&path, &wrong).await;
    assert_eq!(status, 422);
    let named: Vec<String> = fields(&problem).into_iter().map(|f| f.0).collect();
    assert_eq!(named, ["words", "address", "recheck_on"]);
    let lost = json!({"id": id(3), "words": "x", "session": id(9)});
    assert_eq!(stage.post(&path, &lost).await.0, 404);
    assert_eq!(
        stage
            .put(
                &format!("/decisions/{}/done", id(9)),
                &json!({"done": true})
            )
            .await
            .0,
        404
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_without_shots_says_what_is_missing_everywhere() {
    let stage = Stage::with_session().await;
    let session = crate::stage::SESSION;
    let (_, opened) = stage.get(&format!("/sessions/{session}/decide")).await;
    assert_eq!(
        (&opened["sets"], &opened["club"]),
        (&json!([]), &json!("iron6"))
    );
    for (report, words) in [
        (
            stage
                .post(&format!("/sessions/{session}/effort"), &json!({}))
                .await
                .1,
            "No shots yet. The ladder appears as they are hit.",
        ),
        (
            stage
                .get(&format!("/sessions/{session}/speed-ladder"))
                .await
                .1,
            "No shots yet. The ladder appears as they are hit.",
        ),
        (
            stage
                .get(&format!("/sessions/{session}/warm-up-effect"))
                .await
                .1,
            "No shots yet, so there is no warm-up to see.",
        ),
    ] {
        assert_eq!(report["verdict"]["kind"], "cannot_tell_yet");
        assert_eq!(said(&report["verdict"]["sentence"]), words);
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_question_with_more_sets_than_can_be_read_is_refused_before_any_is_looked_up() {
    let stage = Stage::with_session().await;
    let set = |n: usize| json!({"label": format!("set {n}"), "club": "driver"});
    let sets: Vec<_> = (0..8_000).map(set).collect();
    for (path, field) in [("compare", "sets"), ("hole", "choices")] {
        let mut asked = json!({"quantity": "carry"});
        if path == "hole" {
            let yards = |value: f64| json!({"value": value, "unit": "yd"});
            asked = json!({"hole": {"length": yards(400.0), "fairway_width": yards(32.0)}});
        }
        asked[field] = json!(sets);
        let (status, told) = stage
            .post(&format!("/players/{PLAYER}/{path}"), &asked)
            .await;
        assert_eq!(
            (status, &told["errors"][0]["field"]),
            (422, &json!("sets")),
            "{told}"
        );
        assert!(
            told["detail"].as_str().unwrap().contains("choose up to 12"),
            "{told}"
        );
    }
    stage.clear().await;
}
