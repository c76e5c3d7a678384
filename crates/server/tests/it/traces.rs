//! Traces of a force plate by the device line, and what is told of them.

use crate::stage::{SESSION, Stage, hello, said, shot};
use serde_json::{Value, json};

/// A trace of this shot whose force peaks so many samples before impact.
fn trace(sequence: i64, before: i64) -> Value {
    let samples: Vec<f64> = (0..900)
        .map(|i| {
            let off = (i - (700 - before)) as f64 / 80.0;
            (900.0 + 600.0 * (-off * off).exp()).round() / 10.0
        })
        .collect();
    json!({
        "type": "trace", "sequence": sequence, "rate_hz": 1000, "impact_s": 0.7,
        "both_pct_bw": samples,
    })
}

#[tokio::test(flavor = "multi_thread")]
async fn traces_are_kept_once_beside_their_shots_and_told_with_their_peaks() {
    let stage = Stage::with_session().await;
    let mut plate = stage.device().await;
    plate.say(&hello()).await;
    let told = format!("/sessions/{SESSION}/traces");
    assert_eq!(stage.get(&told).await, (200, Value::Null));
    // A trace of a shot that nobody told of is refused by its number.
    let early = plate.say(&trace(1, 120)).await;
    assert_eq!(
        (&early["type"], &early["field"]),
        (&json!("error"), &json!("sequence"))
    );
    for sequence in 1..=3 {
        plate.say_until_stored(&shot(sequence, 90.0)).await;
        let kept = plate.say(&trace(sequence, 120 + sequence)).await;
        assert_eq!(
            (&kept["type"], &kept["again"]),
            (&json!("ack"), &json!(false)),
            "{kept}"
        );
    }
    assert_eq!(plate.say(&trace(3, 123)).await["again"], true);
    let other = plate.say(&trace(3, 50)).await;
    assert_eq!(other["problem"], "another trace is kept of it");
    let (_, read) = stage.get(&told).await;
    let mean = &read["sets"][0]["means"][0];
    assert_eq!(
        (&read["sets"][0]["n"], &mean["channel"]),
        (&json!(3), &json!("both"))
    );
    assert!(
        (mean["when"]["value"].as_f64().unwrap() - 0.122).abs() < 0.003,
        "{}",
        mean["when"]
    );
    let sentence = said(&read["said"][0]);
    assert_eq!(
        sentence,
        "Both feet together peak # before impact, where it can still help."
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn forces_in_newtons_need_the_player_s_mass_and_bad_traces_name_their_field() {
    let stage = Stage::with_session().await;
    let mut plate = stage.device().await;
    plate.say(&hello()).await;
    plate.say_until_stored(&shot(1, 90.0)).await;
    let mut newtons = trace(1, 100);
    let whole = newtons.as_object_mut().unwrap();
    let values = whole.remove("both_pct_bw").unwrap();
    whole.insert("both_n".to_owned(), values);
    let refused = plate.say(&newtons).await;
    assert_eq!(
        (&refused["field"], &refused["sequence"]),
        (&json!("mass"), &json!(1)),
        "{refused}"
    );
    let mut gap = trace(1, 100);
    for i in 300..400 {
        gap["both_pct_bw"][i] = Value::Null;
    }
    let refused = plate.say(&gap).await;
    assert_eq!(refused["field"], "both", "{refused}");
    assert!(
        refused["problem"].as_str().unwrap().contains("100 ms"),
        "{refused}"
    );
    // The line lives on, and the trace that is whole is kept.
    assert_eq!(plate.say(&trace(1, 100)).await["type"], "ack");
    stage.clear().await;
}
