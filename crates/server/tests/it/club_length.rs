//! Club length across a group: measures as they are written, groups shared like their players.

use crate::stage::{Stage, id, said};
use serde_json::json;

/// A child with consent, measures and a file of swings with the driver.
async fn child(stage: &Stage, number: u32, height_cm: f64, share: f64) -> String {
    let child = id(100 + number);
    let new = json!({"id": child, "name": format!("Child {number}"), "born": 2015});
    assert_eq!(stage.post("/players", &new).await.0, 201);
    let consent = json!({"guardian": "A parent", "given_on": "2026-01-01"});
    assert_eq!(
        stage
            .put(&format!("/players/{child}/consent"), &consent)
            .await
            .0,
        204
    );
    let measures = json!({
        "height": format!("{height_cm} cm"),
        "driver": format!("{:.1} cm", height_cm * share),
    });
    let at = format!("/players/{child}/club-measures");
    assert_eq!(stage.put(&at, &measures).await.0, 204);
    let odd = [0.7, -0.5, 0.2, -0.9, 0.4][number as usize % 5];
    let speed = 64.0 - 900.0 * (share - 0.62).powi(2) + odd;
    let rows: String = (0..4)
        .map(|swing| {
            let stray = [-0.4, 0.4, 0.2, -0.2][swing];
            format!("driver,Own driver,{:.1}\n", speed + stray)
        })
        .collect();
    let csv = format!("club,block,club_speed_mph\n{rows}");
    let (_, preview) = stage.raw("POST", "/import-previews", csv.clone()).await;
    let layout: String = preview["looked"]["layout"]
        .to_string()
        .bytes()
        .map(|b| format!("%{b:02X}"))
        .collect();
    let path = format!(
        "/imports?id={}&player={child}&file_name=a.csv&layout={layout}&purpose=club_length\
         &place=Barn&zone=UTC&day=2026-02-20&club=driver",
        id(500 + number)
    );
    let (status, done) = stage.raw("POST", &path, csv).await;
    assert_eq!((status, &done["state"]), (200, &json!("done")), "{done}");
    child
}

#[tokio::test(flavor = "multi_thread")]
async fn a_group_s_peak_is_told_and_nobody_is_told_to_lengthen() {
    let stage = Stage::bare().await;
    let mut children = Vec::new();
    for number in 0..14 {
        let height = 125.0 + f64::from(number * 7 % 10) * 3.0;
        let share = 0.55 + 0.2 * f64::from(number) / 14.0;
        children.push(child(&stage, number, height, share).await);
    }
    let group = json!({"name": "Saturday juniors", "players": children});
    assert_eq!(
        stage.put(&format!("/groups/{}", id(900)), &group).await.0,
        204
    );
    let asked = format!("/club-length?groups={}", id(900));
    let (status, told) = stage.get(&format!("{asked}&splits=none")).await;
    assert_eq!(status, 200, "{told}");
    let curve = &told["read"]["groups"][0]["curves"][0];
    let peak = &curve["peak"];
    let within = |end: &str| peak[end].as_f64().unwrap();
    assert!(within("low") < 0.62 && within("high") > 0.62, "{peak}");
    assert_eq!(curve["points"].as_array().unwrap().len(), 14);
    let sentence = said(&told["read"]["verdict"]["sentence"]);
    assert!(
        sentence.ends_with("Shorter is the safe side."),
        "{sentence}"
    );
    assert!(!sentence.contains("lengthen"), "{sentence}");
    // Split where the coach says, by name where that is no height.
    let (_, split) = stage.get(&format!("{asked}&splits=1.4")).await;
    assert_eq!(split["read"]["groups"].as_array().unwrap().len(), 2);
    let (status, refused) = stage.get(&format!("{asked}&splits=tall")).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("splits"))
    );
    let (status, refused) = stage.get("/club-length?groups=nobody").await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("groups"))
    );
    // Heights are those of a day.
    assert!(told["children"][0]["height_on"].is_string());
    // Without a guardian's consent a child is in no group.
    let withdrawn = json!({"guardian": "", "given_on": null});
    let at = format!("/players/{}/consent", children[0]);
    let (status, answer) = stage.put(&at, &withdrawn).await;
    assert_eq!(status, 204, "{answer}");
    let (_, fewer) = stage.get(&asked).await;
    assert_eq!(fewer["children"].as_array().unwrap().len(), 13);
    // The group can be dropped, and its players stay.
    assert_eq!(stage.delete(&format!("/groups/{}", id(900))).await, 204);
    assert_eq!(stage.get("/groups").await.1, json!([]));
    assert_eq!(stage.get("/players").await.1.as_array().unwrap().len(), 14);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn measures_are_read_as_they_are_written_and_refused_by_name() {
    let stage = Stage::bare().await;
    let child = child(&stage, 1, 126.0, 0.6).await;
    let at = format!("/players/{child}/club-measures");
    let height = async || {
        let (_, told) = stage.get("/club-length").await;
        told["children"][0]["height_m"].as_f64().unwrap()
    };
    assert_eq!(stage.put(&at, &json!({"height": "4'4\""})).await.0, 204);
    assert!((height().await - 1.3208).abs() < 1e-6);
    for (wrong, field) in [
        (json!({"height": "126"}), "height"),
        (json!({"height": "126 lb"}), "height"),
        (json!({"driver": "5 m"}), "driver"),
        (json!({"height": "100 cm", "driver": "110 cm"}), "driver"),
    ] {
        let (status, refused) = stage.put(&at, &wrong).await;
        let named = &refused["errors"][0]["field"];
        assert_eq!((status, named), (422, &json!(field)), "{refused}");
    }
    assert!((height().await - 1.3208).abs() < 1e-6);
    stage.clear().await;
}
