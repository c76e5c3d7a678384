//! What a player takes home: drafted, written in the coach's words, read behind a link.

use crate::stage::{PLAYER, SESSION, Stage, hello, id, shot};
use serde_json::{Value, json};

/// A session of six swings, three usual ones and a decision taken in it.
async fn held(stage: &Stage) {
    let mut radar = stage.device().await;
    radar.say(&hello()).await;
    for sequence in 1..=6 {
        let speed = 90.0 + f64::from(sequence);
        radar
            .say_until_stored(&shot(i64::from(sequence), speed))
            .await;
    }
    let decision = json!({
        "id": id(70), "session": SESSION, "words": "Ball a hand further forward.",
        "verdict": "", "address": "", "recheck_on": "2026-12-24",
    });
    let path = format!("/players/{PLAYER}/decisions");
    assert_eq!(stage.post(&path, &decision).await.0, 201);
}

fn lines(draft: &Value) -> &Vec<Value> {
    draft["lines"].as_array().unwrap()
}

fn about(reader: &str) -> Value {
    json!({"session": SESSION, "reader": reader, "units": "mph_yd"})
}

fn draft_path(reader: &str) -> String {
    format!("/players/{PLAYER}/page-draft?session={SESSION}&units=mph_yd&reader={reader}")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_says_what_the_coach_chose_and_a_link_shows_it_with_its_shots_alone() {
    let stage = Stage::with_session().await;
    held(&stage).await;
    let (status, draft) = stage.get(&draft_path("club_player")).await;
    assert_eq!(status, 200, "{draft}");
    let keys: Vec<&str> = lines(&draft)
        .iter()
        .map(|l| l["key"].as_str().unwrap())
        .collect();
    assert_eq!((keys[0], keys[1]), ("opening", "figure:club_speed"));
    let decided = lines(&draft).iter().find(|l| l["part"] == "until").unwrap();
    assert_eq!(
        (&decided["ticked"], &decided["on"]),
        (&json!(true), &json!("2026-12-24"))
    );

    let page = format!("/players/{PLAYER}/pages/{}", id(71));
    let mut written = json!({
        "about": about("club_player"), "title": "Speed day", "called_by": "name",
        "lines": [
            {"key": "figure:club_speed", "part": "seen"},
            {"key": decided["key"], "part": "until", "said": "Ball one hand forward, every day."},
            {"part": "next", "said": "ボールを前に"},
        ],
    });
    let (status, kept) = stage.put(&page, &written).await;
    assert_eq!(status, 200, "{kept}");
    let shown = &kept["shown"]["parts"];
    assert_eq!(
        shown[0]["lines"][0]["text"],
        "Club speed: 93.5 mph on average, at best 96.0, over 6 shots."
    );
    assert_eq!(
        shown[1]["lines"][0]["text"],
        "Ball one hand forward, every day."
    );
    assert_eq!(
        kept["page"]["lines"][1]["computed"][0]["text"],
        "Ball a hand further forward."
    );

    // A slip names its line, and what was written stays.
    written["lines"][1]["key"] = json!("decision:gone");
    let (status, refused) = stage.put(&page, &written).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("lines[1].key"))
    );
    assert_eq!(
        stage.get(&format!("/pages/{}", id(71))).await.1["shown"],
        kept["shown"]
    );

    let links = format!("/players/{PLAYER}/links");
    let nothing = json!({"id": id(72), "decisions": false, "sessions": false, "days": 3.0});
    assert_eq!(stage.post(&links, &nothing).await.0, 422);
    let link =
        json!({"id": id(72), "decisions": false, "sessions": false, "days": 3.0, "page": id(71)});
    let (status, secret) = stage.post(&links, &link).await;
    assert_eq!(status, 201, "{secret}");
    let read = async |path: &str| {
        let token = secret["token"].as_str().unwrap();
        let asked = reqwest::Client::new().get(format!("{}/api/v1{path}", stage.web));
        let answer = asked.bearer_auth(token).send().await.unwrap();
        (answer.status().as_u16(), answer.text().await.unwrap())
    };
    let (_, seen) = read("/shared").await;
    let seen: Value = serde_json::from_str(&seen).unwrap();
    assert_eq!(seen["page"], kept["shown"]);
    assert_eq!(
        (&seen["decisions"], &seen["sessions"]),
        (&Value::Null, &Value::Null)
    );
    let (status, table) = read("/shared/shots.csv").await;
    assert_eq!((status, table.lines().count()), (200, 7), "{table}");

    assert_eq!(stage.delete(&format!("/pages/{}", id(71))).await, 204);
    assert_eq!(read("/shared").await.0, 404);
    assert_eq!(read("/shared/shots.csv").await.0, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_child_is_called_by_the_first_name_and_reads_no_intervals() {
    let stage = Stage::with_session().await;
    held(&stage).await;
    stage.all_are_children().await;
    let unsaid = format!("/players/{PLAYER}/page-draft?session={SESSION}&units=kmh_m");
    let (_, draft) = stage.get(&unsaid).await;
    assert_eq!(
        (&draft["child"], &draft["reader"]),
        (&json!(true), &json!("child"))
    );
    let whole = draft["player_name"].as_str().unwrap();
    let first = whole.split(' ').next().unwrap();
    assert_ne!(first, whole);
    let written = json!({
        "about": about("child"), "title": "Speed day", "called_by": "name",
        "lines": [{"key": "figure:club_speed", "part": "seen"}],
    });
    let page = format!("/players/{PLAYER}/pages/{}", id(71));
    let (status, kept) = stage.put(&page, &written).await;
    assert_eq!(status, 200, "{kept}");
    assert_eq!(kept["shown"]["called"], first);
    assert_eq!(
        kept["shown"]["parts"][0]["lines"][0]["text"],
        "Your fastest swing: 96.0 mph. Mostly it was near 93.5 mph."
    );
    let link =
        json!({"id": id(72), "decisions": false, "sessions": false, "days": 3.0, "page": id(71)});
    let (_, secret) = stage.post(&format!("/players/{PLAYER}/links"), &link).await;
    let asked = reqwest::Client::new().get(format!("{}/api/v1/shared/shots.csv", stage.web));
    let answer = asked
        .bearer_auth(secret["token"].as_str().unwrap())
        .send()
        .await
        .unwrap();
    let table = answer.text().await.unwrap();
    assert!(
        table
            .lines()
            .nth(1)
            .unwrap()
            .starts_with(&format!("{first},")),
        "{table}"
    );
    assert!(!table.contains(whole), "{table}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_without_shots_and_one_of_weeks_say_what_they_can() {
    let stage = Stage::with_session().await;
    let (status, draft) = stage.get(&draft_path("club_player")).await;
    assert_eq!((status, lines(&draft).len()), (200, 0), "{draft}");
    held(&stage).await;
    let weeks = |from: &str, to: &str| {
        format!("/players/{PLAYER}/page-draft?from={from}&to={to}&units=mph_yd&reader=elite")
    };
    let (status, draft) = stage.get(&weeks("2020-01-01", "2030-01-01")).await;
    assert_eq!(
        (status, &lines(&draft)[0]["key"]),
        (200, &json!("progress")),
        "{draft}"
    );
    let (_, nothing) = stage.get(&weeks("2020-01-01", "2020-02-01")).await;
    assert!(
        lines(&nothing).iter().all(|line| line["part"] != "seen"),
        "{nothing}"
    );
    let (status, refused) = stage.get(&weeks("2026-02-01", "2026-01-01")).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("to"))
    );
    let path = format!("/players/{PLAYER}/page-draft?units=mph_yd");
    assert_eq!(stage.get(&path).await.1["errors"][0]["field"], "session");
    stage.clear().await;
}
