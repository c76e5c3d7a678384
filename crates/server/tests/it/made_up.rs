//! Made-up players: in a school without any, and out again.

use crate::stage::Stage;
use serde_json::{Value, json};

async fn names(stage: &Stage, path: &str) -> Vec<String> {
    let (_, found) = stage.get(path).await;
    let name = |one: &Value| one["name"].as_str().unwrap_or_default().to_owned();
    found.as_array().unwrap().iter().map(name).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn made_up_players_come_into_an_empty_school_and_leave_nothing_behind() {
    let stage = Stage::bare().await;
    let (_, today) = stage.get("/today").await;
    assert_eq!(
        (&today["any_players"], &today["made_up"]),
        (&json!(false), &json!(false))
    );
    let before = stage.ask("SELECT count(*)::text FROM device").await;
    for _ in 0..2 {
        // A second press, or one after a break, adds nothing.
        assert_eq!(
            stage.post("/school/made-up-players", &json!({})).await.0,
            201
        );
        assert_eq!(names(&stage, "/players").await.len(), 13);
    }
    let (_, today) = stage.get("/today").await;
    assert_eq!(today["made_up"], json!(true));
    // Nobody can send shots into a real school with secrets that everybody may read.
    let secrets = "SELECT count(*)::text FROM device WHERE token_sha256 IS NOT NULL";
    assert_eq!(stage.ask(secrets).await, ["0"]);
    // A player of one's own stays when they go.
    let own = json!({"id": crate::stage::PLAYER, "name": "Wren Aldous"});
    assert_eq!(stage.post("/players", &own).await.0, 201);
    assert_eq!(stage.delete("/school/made-up-players").await, 204);
    assert_eq!(names(&stage, "/players").await, ["Wren Aldous"]);
    for rows in [
        "session",
        "shot",
        "reading",
        "decision",
        "programme",
        "implement",
        "player_group",
    ] {
        let left = stage
            .ask(&format!("SELECT count(*)::text FROM {rows}"))
            .await;
        assert_eq!(left, ["0"], "{rows}");
    }
    assert_eq!(stage.ask("SELECT count(*)::text FROM device").await, before);
    // With players of one's own, made-up ones are not mixed in.
    let (status, told) = stage.post("/school/made-up-players", &json!({})).await;
    assert_eq!(status, 409);
    assert!(
        told["detail"]
            .as_str()
            .unwrap()
            .contains("players of its own"),
        "{told}"
    );
    stage.clear().await;
}
