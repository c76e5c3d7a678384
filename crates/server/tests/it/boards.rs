//! A second screen at the mat: opened by a code, dark when it should be.

use crate::stage::{OWNER, PASSWORD, PLAYER, SESSION, Stage, Visitor, id, shot};
use serde_json::{Value, json};
use std::time::Duration;
use tally_server::server::{Config, Server};

/// Somebody who is not signed in.
fn passer_by(web: &str) -> Visitor {
    Visitor {
        web: web.to_owned(),
        http: reqwest::Client::new(),
    }
}

async fn opened(stage: &Stage, units: &str) -> Value {
    let path = format!("/sessions/{SESSION}/board");
    let (status, board) = stage.put(&path, &json!({"units": units})).await;
    assert_eq!(status, 200, "{board}");
    board["code"].clone()
}

async fn board_of(who: &Visitor, code: &Value) -> String {
    let (status, told) = who.post("/boards", &json!({"code": code})).await;
    assert_eq!(status, 200, "{told}");
    format!("/boards/{}", told["board"].as_str().unwrap())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_board_shows_the_shown_numbers_of_its_session_and_nothing_else() {
    let stage = Stage::with_session().await;
    let mut radar = stage.device_with_shots(2).await;
    let code = opened(&stage, "kmh_m").await;
    let own = format!("/sessions/{SESSION}/board");
    assert_eq!(stage.get(&own).await.1["open"]["code"], code);

    let screen = passer_by(&stage.web);
    // As somebody types it off another screen.
    let typed = code.as_str().unwrap().to_uppercase();
    let typed = format!(" {}-{} ", &typed[..3], &typed[3..]);
    let path = board_of(&screen, &json!(typed)).await;
    let (status, board) = screen.get(&path).await;
    assert_eq!((status, &board["units"]), (200, &json!("kmh_m")));
    assert_eq!(board["shots"].as_array().unwrap().len(), 2);
    let hit = stage.hit().await;
    assert_eq!(board["report"]["shown"], hit["report"]["shown"]);
    assert_eq!(board["shots"][1]["values"], hit["shots"][1]["values"]);
    // Nothing of who plays, where, how the day is noted.
    let told = board.to_string();
    let player = stage.get(&format!("/players/{PLAYER}")).await.1;
    for private in [PLAYER, SESSION, player["name"].as_str().unwrap()] {
        assert!(!told.contains(private), "{private} in {told}");
    }
    // A number that is hidden at the mat is hidden on the board.
    stage
        .act(80, json!({"kind": "hide", "quantity": "club_speed"}))
        .await;
    let (_, board) = screen.get(&path).await;
    assert!(!board.to_string().contains("club_speed"), "{board}");

    // It hears of a shot as the station does, and it opens nothing else.
    let live = format!("{}/api/v1{path}/live", stage.web);
    let mut events = screen.http.get(live).send().await.unwrap();
    radar.say(&shot(3, 91.0)).await;
    let mut heard = String::new();
    while !heard.contains("event: changed") {
        let chunk = events.chunk().await.unwrap().expect("the stream goes on");
        heard.push_str(&String::from_utf8_lossy(&chunk));
    }
    for closed in [format!("/sessions/{SESSION}/hit"), own, "/players".into()] {
        assert_eq!(screen.get(&closed).await.0, 401, "{closed}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_board_goes_dark_with_its_session_its_code_and_its_coach() {
    let stage = Stage::with_session().await;
    let screen = passer_by(&stage.web);
    let first = opened(&stage, "mph_yd").await;
    let path = board_of(&screen, &first).await;
    // A new code takes the place of the old, and what the old one opened is over.
    let second = opened(&stage, "mph_yd").await;
    let (status, told) = screen.get(&path).await;
    assert_eq!(status, 404);
    assert!(told["detail"].as_str().unwrap().contains("over"), "{told}");
    let path = board_of(&screen, &second).await;
    let progress = format!("/sessions/{SESSION}/progress");
    let ended = json!({"in_progress": false});
    assert_eq!(stage.put(&progress, &ended).await.0, 204);
    assert_eq!(screen.get(&path).await.0, 404);
    let (status, told) = screen.post("/boards", &json!({"code": second})).await;
    assert_eq!(status, 404);
    assert!(told["detail"].as_str().unwrap().contains("session is over"));
    let own = format!("/sessions/{SESSION}/board");
    let (status, told) = stage.put(&own, &json!({"units": "mph_yd"})).await;
    assert_eq!(status, 409, "{told}");
    // Resumed, it shows again; closed, it does not.
    let resumed = json!({"in_progress": true});
    assert_eq!(stage.put(&progress, &resumed).await.0, 204);
    assert_eq!(screen.get(&path).await.0, 200);
    assert_eq!(stage.delete(&own).await, 204);
    assert_eq!(screen.get(&path).await.0, 404);
    assert_eq!(stage.get(&own).await.1["open"], Value::Null);
    // Hours later nobody closes it by hand.
    let third = opened(&stage, "mph_yd").await;
    let path = board_of(&screen, &third).await;
    stage.sql("UPDATE board SET until = now()").await;
    assert_eq!(screen.get(&path).await.0, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_board_s_stream_ends_when_the_board_does() {
    let stage = Stage::with_session().await;
    let often = Config {
        look_again: Duration::from_millis(30),
        ..Config::local(&stage.url)
    };
    let server = Server::start(&often).await.unwrap();
    let screen = passer_by(&stage.elsewhere(&server).web);
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let path = board_of(&screen, &opened(&stage, "mph_yd").await).await;
    let live = format!("{}/api/v1{path}/live", screen.web);
    let mut events = screen.http.get(&live).send().await.unwrap();
    assert_eq!(
        stage.delete(&format!("/sessions/{SESSION}/board")).await,
        204
    );
    while events.chunk().await.unwrap().is_some() {}
    assert_eq!(screen.http.get(&live).send().await.unwrap().status(), 404);
    serving.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn codes_are_not_guessed_by_the_thousand_and_who_is_in_stays_in() {
    let stage = Stage::with_session().await;
    let screen = passer_by(&stage.web);
    let code = opened(&stage, "mph_yd").await;
    let path = board_of(&screen, &code).await;
    let (status, told) = screen.post("/boards", &json!({"code": "l1"})).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("code")));
    let mut refused = 0;
    for guess in 0..20 {
        let guess = format!("aaaa2{}", guess % 8 + 2);
        let (status, told) = screen.post("/boards", &json!({"code": guess})).await;
        match status {
            404 => {}
            429 => refused += 1,
            other => panic!("{other}: {told}"),
        }
    }
    assert_eq!(refused, 15);
    // Even the right one has to wait; the board that shows goes on, and so does signing in.
    assert_eq!(screen.post("/boards", &json!({"code": code})).await.0, 429);
    assert_eq!(screen.get(&path).await.0, 200);
    let stranger = format!("/boards/{}", id(99));
    assert_eq!(screen.get(&stranger).await.0, 404);
    stage.signed_in(OWNER, PASSWORD).await;
    stage.clear().await;
}
