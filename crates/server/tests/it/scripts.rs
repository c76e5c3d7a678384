//! Scripts that speak in somebody's name, and answers that are as they were.

use crate::stage::{PASSWORD, PLAYER, Stage, Visitor, id};
use reqwest::header::{AUTHORIZATION, HeaderMap, HeaderValue};
use serde_json::{Value, json};

fn wanted(role: &str, changes: bool) -> Value {
    json!({
        "id": id(70), "name": "Weekly export", "role": role, "changes": changes,
        "days": 30, "password": PASSWORD,
    })
}

/// A program that has a token and no cookie.
fn script(stage: &Stage, token: &str) -> Visitor {
    let mut headers = HeaderMap::new();
    let bearer = HeaderValue::from_str(&format!("Bearer {token}")).unwrap();
    headers.insert(AUTHORIZATION, bearer);
    let http = reqwest::Client::builder().default_headers(headers);
    stage.as_client(http.build().unwrap())
}

async fn made(stage: &Stage, wanted: &Value) -> Visitor {
    let (status, told) = stage.post("/me/script-tokens", wanted).await;
    assert_eq!(status, 201, "{told}");
    script(stage, told["token"].as_str().unwrap())
}

fn player(number: u32) -> Value {
    json!({"id": id(number), "name": format!("Player {number}"), "born": null, "aim": ""})
}

#[tokio::test(flavor = "multi_thread")]
async fn a_script_reads_what_its_maker_reads_and_changes_nothing_unless_it_may() {
    let stage = Stage::with_session().await;
    let reads = made(&stage, &wanted("owner", false)).await;
    assert_eq!(reads.get("/players").await, stage.get("/players").await);
    assert!(
        reads
            .text("/shots.csv?units=mph_yd")
            .await
            .contains("club_speed_mph")
    );
    let (status, told) = reads.post("/players", &player(71)).await;
    assert_eq!(status, 403);
    assert!(told["detail"].as_str().unwrap().contains("only reads"));
    // A question that comes by a post changes nothing.
    let asked = json!({"club": "driver", "club_speed": 45.0});
    assert_ne!(reads.post("/bench/reach", &asked).await.0, 403);
    let file = reads.post("/import-previews", &Value::Null).await;
    assert_ne!(file.0, 403);
    assert_eq!(reads.post("/imports", &Value::Null).await.0, 403);

    let mut another = wanted("owner", true);
    another["id"] = json!(id(72));
    let changes = made(&stage, &another).await;
    assert_eq!(changes.post("/players", &player(73)).await.0, 201);
    // How people sign in is no business of a script's, whatever it may.
    let mut third = wanted("owner", true);
    third["id"] = json!(id(74));
    assert_eq!(changes.post("/me/script-tokens", &third).await.0, 403);
    let runa = json!({"id": id(75), "name": "Runa Holt", "role": "owner", "sign_in_name": "runa"});
    assert_eq!(changes.post("/people", &runa).await.0, 403);
    assert_eq!(changes.delete("/sign-in/everywhere").await, 403);
    assert_eq!(stage.get("/me").await.0, 200);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_script_is_never_more_than_its_token_says_nor_than_its_maker_is() {
    let stage = Stage::with_session().await;
    let as_coach = made(&stage, &wanted("coach", true)).await;
    let sees = |(status, players): (u16, Value)| (status, players.as_array().map(Vec::len));
    // An owner sees every player; a coach those that are theirs.
    assert_eq!(as_coach.get("/audit").await.0, 403);
    let runa = json!({"id": id(76), "name": "Runa Holt", "role": "coach", "sign_in_name": "runa"});
    let (_, code) = stage.post("/people", &runa).await;
    let chosen = json!({"sign_in_name": "runa", "code": code["code"], "password": PASSWORD});
    let stranger = stage.as_client(reqwest::Client::new());
    let (status, told) = stranger.post("/new-password", &chosen).await;
    assert_eq!(status, 204, "{told}");
    let runa = stage.as_client(stage.signed_in("runa", PASSWORD).await);
    let mut hers = wanted("owner", true);
    hers["id"] = json!(id(77));
    let (status, token) = runa.post("/me/script-tokens", &hers).await;
    assert_eq!(status, 201);
    let script = script(&stage, token["token"].as_str().unwrap());
    let (_, listed) = runa.get("/me/script-tokens").await;
    assert_eq!(listed[0]["role"], "coach");
    assert!(!listed.to_string().contains("script-"), "{listed}");
    assert_eq!(sees(script.get("/players").await), (200, Some(0)));
    assert_eq!(script.get(&format!("/players/{PLAYER}")).await.0, 404);
    // A colleague cannot take it back, an assistant's rights are its rights, and it ends
    // with her leaving.
    let path = format!("/me/script-tokens/{}", id(77));
    assert_eq!(stage.delete(&path).await, 404);
    let change = |left: bool, role: &str| json!({"name": "Runa Holt", "role": role, "away": left});
    let her = format!("/people/{}", id(76));
    assert_eq!(stage.put(&her, &change(false, "assistant")).await.0, 204);
    assert_eq!(script.get("/shots.csv?units=mph_yd").await.0, 403);
    assert_eq!(stage.put(&her, &change(true, "assistant")).await.0, 204);
    assert_eq!(script.get("/players").await.0, 401);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_token_needs_the_password_and_ends_on_its_day_or_when_it_is_taken_back() {
    let stage = Stage::bare().await;
    let refused = async |field: &str, value: Value| {
        let mut wrong = wanted("owner", false);
        wrong[field] = value;
        let (status, told) = stage.post("/me/script-tokens", &wrong).await;
        (status, told["errors"][0]["field"].clone())
    };
    for (field, value) in [
        ("name", json!(" ")),
        ("days", json!(0)),
        ("days", json!(400)),
        ("password", json!("another one, then")),
    ] {
        assert_eq!(refused(field, value).await, (422, json!(field)));
    }
    let script = made(&stage, &wanted("owner", false)).await;
    assert_eq!(script.get("/players").await.0, 200);
    let (_, listed) = stage.get("/me/script-tokens").await;
    assert!(listed[0]["used_at"].is_string(), "{listed}");
    stage
        .sql("UPDATE script_token SET until = now() - interval '1 second'")
        .await;
    let (status, told) = script.get("/players").await;
    assert_eq!(status, 401);
    assert!(told["detail"].as_str().unwrap().contains("ended"));
    assert_eq!(stage.get("/me/script-tokens").await.1, json!([]));
    // Those that ended make room; a twenty-first is refused in words.
    for number in 0..20 {
        let mut one = wanted("owner", false);
        one["id"] = json!(id(200 + number));
        assert_eq!(stage.post("/me/script-tokens", &one).await.0, 201);
    }
    let (status, told) = stage
        .post("/me/script-tokens", &{
            let mut one = wanted("owner", false);
            one["id"] = json!(id(220));
            one
        })
        .await;
    assert_eq!(status, 409, "{told}");
    let path = format!("/me/script-tokens/{}", id(200));
    assert_eq!(stage.delete(&path).await, 204);
    assert_eq!(stage.delete(&path).await, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn who_has_an_answer_already_is_not_sent_it_again() {
    let stage = Stage::with_session().await;
    let http = stage.http.clone();
    let players = format!("{}/api/v1/players", stage.web);
    let first = http.get(&players).send().await.unwrap();
    let tag = first.headers()["etag"].to_str().unwrap().to_owned();
    assert_eq!(first.headers()["cache-control"], "no-store");
    let again = async |tag: &str| {
        let asked = http.get(&players).header("if-none-match", tag);
        let answer = asked.send().await.unwrap();
        let (status, has) = (
            answer.status().as_u16(),
            answer.headers().get("etag").cloned(),
        );
        assert_eq!(has.unwrap().to_str().unwrap().len(), tag.len());
        (status, answer.bytes().await.unwrap().len())
    };
    assert_eq!(again(&tag).await, (304, 0));
    assert_eq!(stage.post("/players", &player(78)).await.0, 201);
    let (status, bytes) = again(&tag).await;
    assert!(status == 200 && bytes > 100, "{status} {bytes}");
    // Who may not see it hears no more for knowing its mark.
    let stranger = reqwest::Client::new().get(&players);
    let refused = stranger.header("if-none-match", &tag).send().await.unwrap();
    assert_eq!(refused.status(), 401);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_tool_of_statistics_reads_the_shots_as_a_database() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let url = format!("{}/api/v1/shots.sqlite?units=mph_yd", stage.web);
    let answer = stage.http.get(url).send().await.unwrap();
    assert_eq!(answer.status(), 200);
    let file = tempfile::NamedTempFile::new().unwrap();
    std::fs::write(file.path(), answer.bytes().await.unwrap()).unwrap();
    let database = rusqlite::Connection::open(file.path()).unwrap();
    let whole: String = database
        .query_row("PRAGMA integrity_check", [], |row| row.get(0))
        .unwrap();
    assert_eq!(whole, "ok");
    let found: (i64, i64, f64, String, String) = database
        .query_row(
            "SELECT count(*), count(DISTINCT session), avg(carry_yd), min(smash_factor_from), min(club) FROM shot",
            [],
            |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?, row.get(3)?, row.get(4)?)),
        )
        .unwrap();
    assert_eq!((found.0, found.1), (3, 1));
    assert!((found.2 - 183.0).abs() < 1e-9, "{found:?}");
    assert_eq!((&*found.3, &*found.4), ("calculated", "iron6"));
    // What is taken out stands in the audit, and a filter that lets nothing through is no error.
    let (_, audit) = stage.get("/audit").await;
    assert!(audit.to_string().contains("shots of 1 sessions"), "{audit}");
    let none = "/shots.sqlite?units=mph_yd&purpose=nothing";
    assert_eq!(stage.get(none).await.0, 422);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_client_generated_in_another_language_asks_by_a_token() {
    let made = std::env::var("TALLY_SECOND_CLIENT")
        .expect("run bin/test, which makes it: where the second client stands");
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let (_, token) = stage
        .post("/me/script-tokens", &wanted("owner", false))
        .await;
    let script = concat!(
        env!("CARGO_MANIFEST_DIR"),
        "/../../examples/weekly_export.py"
    );
    let run = tokio::process::Command::new(format!("{made}/bin/python"))
        .env("PYTHONPATH", format!("{made}/client"))
        .args([
            script,
            &stage.web,
            token["token"].as_str().unwrap(),
            "2020-01-01",
        ])
        .output()
        .await
        .expect("bin/test made it");
    let told = String::from_utf8_lossy(&run.stdout);
    let why = String::from_utf8_lossy(&run.stderr);
    assert!(run.status.success(), "{told}{why}");
    assert!(told.contains(": 1 of 1 sessions"), "{told}");
    assert_eq!(told.matches("iron6").count(), 3, "{told}");
    stage.clear().await;
}
