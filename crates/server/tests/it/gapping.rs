//! The bag: what each club of the demo's player carries, in which air, and what changed.

use crate::record::player;
use crate::stage::{Stage, hello, id, said, session, shot};
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn a_bag_is_told_with_its_hole_in_the_air_that_is_asked_for() {
    let stage = Stage::demo().await;
    let dov = player(&stage, "Dov Ransley").await;
    let gapping = format!("/players/{dov}/gapping");
    let (status, told) = stage.get(&gapping).await;
    assert_eq!(status, 200, "{told}");
    let clubs = told["read"]["clubs"].as_array().unwrap();
    // The driver was hit for other reasons, as usual too: it belongs to the bag.
    assert_eq!((clubs.len(), &clubs[0]["club"]), (11, &json!("driver")));
    let sentence = said(&told["read"]["verdict"]["sentence"]);
    assert!(sentence.starts_with("No club is for # to #"), "{sentence}");
    let efforts = told["read"]["efforts"].as_array().unwrap();
    assert!(efforts.iter().any(|effort| effort["share"] == 0.5));
    // The same again is the same, and thin air carries further.
    assert_eq!(stage.get(&gapping).await.1, told);
    let (_, high) = stage.get(&format!("{gapping}?altitude_m=1500")).await;
    let carry =
        |told: &serde_json::Value| told["read"]["clubs"][0]["carry"]["value"].as_f64().unwrap();
    assert!(carry(&high) > 1.02 * carry(&told));
    // Every slip is named.
    for (asked, field) in [
        ("altitude_m=99999", "altitude_m"),
        ("wind_mps=4", "wind_from_deg"),
        ("temperature_c=-200", "temperature_c"),
    ] {
        let (status, refused) = stage.get(&format!("{gapping}?{asked}")).await;
        let named = &refused["errors"][0]["field"];
        assert_eq!((status, named), (422, &json!(field)), "{asked} {refused}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn then_and_now_are_the_last_two_bags_or_the_days_that_are_asked_for() {
    let stage = Stage::demo().await;
    let dov = player(&stage, "Dov Ransley").await;
    let changes = format!("/players/{dov}/gapping/changes");
    let (status, told) = stage.get(&changes).await;
    assert_eq!(status, 200, "{told}");
    assert_eq!(told["then"], json!(["2026-02-28", "2026-02-28"]));
    assert_eq!(told["now"], json!(["2026-04-04", "2026-04-04"]));
    assert_eq!(told["changes"]["clubs"].as_array().unwrap().len(), 10);
    let open = said(&told["changes"]["open"]);
    assert!(open.starts_with("One day each"), "{open}");
    let asked = "then_from=2026-01-01&then_to=2026-03-31&now_from=2026-04-01&now_to=2026-04-30";
    let (_, wider) = stage.get(&format!("{changes}?{asked}")).await;
    // The driver was hit in one of them alone, the others on as many days as before.
    assert_eq!(wider["changes"], told["changes"]);
    for (asked, field) in [
        ("then_from=2026-03-02&then_to=2026-03-01", "then_from"),
        (
            "then_from=2026-03-01&then_to=2026-04-10&now_from=2026-04-01",
            "then_to",
        ),
    ] {
        let (status, refused) = stage.get(&format!("{changes}?{asked}")).await;
        assert_eq!(
            (status, &refused["errors"][0]["field"]),
            (422, &json!(field)),
            "{asked}"
        );
    }
    // A player with one bag only has nothing to hold against each other.
    let petra = player(&stage, "Petra Quill").await;
    let (_, none) = stage
        .get(&format!("/players/{petra}/gapping/changes"))
        .await;
    assert!(none["then"].is_null() && none["changes"].is_null());
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn on_the_way_through_the_bag_a_club_gets_more_balls_until_it_is_known() {
    let stage = Stage::set().await;
    let wren = json!({"id": id(77), "name": "Wren Aldous"});
    assert_eq!(stage.post("/players", &wren).await.0, 201);
    let new = json!({
        "id": id(78), "player": id(77), "purpose": "bag_gapping",
        "blocks": [{"id": id(60), "label": "7-iron", "club": "iron7", "balls": 2}],
    });
    let mut begun = session();
    for (field, value) in new.as_object().unwrap() {
        begun[field] = value.clone();
    }
    let (status, told) = stage.post("/sessions", &begun).await;
    assert_eq!(status, 201, "{told}");
    let mut device = stage.device().await;
    device.say(&hello()).await;
    let carried = |sequence: i64, yd: f64| {
        let mut shot = shot(sequence, 84.0);
        shot["values"]["carry_yd"] = json!({"value": yd, "from": "measured"});
        shot
    };
    for (sequence, yd) in [(1, 178.0), (2, 187.0)] {
        device.say_until_stored(&carried(sequence, yd)).await;
    }
    let hit = format!("/sessions/{}/hit", id(78));
    let advice = said(&stage.get(&hit).await.1["advice"]);
    assert!(advice.contains("more with the 7-iron"), "{advice}");
    for sequence in 3..12 {
        device.say_until_stored(&carried(sequence, 182.0)).await;
    }
    let advice = said(&stage.get(&hit).await.1["advice"]);
    assert_eq!(advice, "The 7-iron is known to #: go on to the next club.");
    stage.clear().await;
}
