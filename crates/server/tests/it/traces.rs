//! Traces of a force plate by the device line, and what is told of them.

use crate::stage::{SESSION, Stage, hello, id, said, session, shot};
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
    let none = json!({"told": null, "traces": []});
    assert_eq!(stage.get(&told).await, (200, none));
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
    let read = &read["told"];
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
    // The next session of the kind is held against how this one ended.
    assert_eq!(read["stayed"], json!([]));
    let mut next = session();
    next["id"] = json!(id(70));
    next["blocks"][0]["id"] = json!(id(71));
    assert_eq!(stage.post("/sessions", &next).await.0, 201);
    let mut plate = stage.device().await;
    let mut again = hello();
    again["run"] = json!("b");
    again["session"] = json!(id(70));
    assert_eq!(plate.say(&again).await["session"], json!(id(70)));
    for sequence in 1..=3 {
        plate.say_until_stored(&shot(sequence, 90.0)).await;
        assert_eq!(
            plate.say(&trace(sequence, 20 + sequence)).await["type"],
            "ack"
        );
    }
    let (_, read) = stage.get(&format!("/sessions/{}/traces", id(70))).await;
    let stayed = said(&read["told"]["stayed"][0]);
    assert!(stayed.ends_with("it went back (n 3 and 3)."), "{stayed}");
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

/// A table of this shot whose force peaks so many milliseconds after the first sample, unevenly
/// sampled.
fn rows(shot: usize, peak_ms: f64) -> String {
    let mut at = 100.0;
    (0..500)
        .map(|i| {
            at += if i % 2 == 0 { 1.5 } else { 2.5 };
            let off = (at - 100.0 - peak_ms) / 80.0;
            format!("{shot},{at:.2},{:.1}\n", 70.0 + 40.0 * f64::exp(-off * off))
        })
        .collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn traces_come_by_a_table_and_impact_is_marked_by_hand() {
    let stage = Stage::with_session().await;
    let mut plate = stage.device().await;
    plate.say(&hello()).await;
    for sequence in 1..=3 {
        plate.say_until_stored(&shot(sequence, 90.0)).await;
    }
    let path = format!("/sessions/{SESSION}/traces");
    let bring = async |text: String| stage.visitor().post_text(&path, text).await;

    // A slip is named by line and column, and nothing is kept.
    let (status, told) = bring("shot,time_ms,lead_kg\n1,0,heavy\n".to_owned()).await;
    assert_eq!(status, 422, "{told}");
    assert_eq!(told["errors"][0]["field"], "line 2, column 3");
    let (status, told) = bring(format!("shot,time_ms,lead_kg\n{}", rows(1, 400.0))).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("mass")));

    let table = format!(
        "shot,time_ms,lead_pct_bw\n{}{}{}",
        rows(1, 600.0),
        rows(2, 610.0),
        rows(9, 600.0)
    );
    let (status, told) = bring(table.clone()).await;
    assert_eq!((status, &told["kept"]), (200, &json!(2)), "{told}");
    assert_eq!(told["refused"][0]["field"], "shot, line 1002");
    // Brought in again it changes nothing.
    assert_eq!(bring(table).await.1["kept"], 2);

    let (_, told) = stage.get(&path).await;
    assert_eq!(told["told"], Value::Null, "{told}");
    let unmarked: Vec<&Value> = told["traces"].as_array().unwrap().iter().collect();
    assert_eq!((unmarked.len(), &unmarked[0]["marked"]), (2, &json!(false)));
    let of = |i: usize| format!("{path}/{}", unmarked[i]["shot"].as_str().unwrap());
    let (_, trace) = stage.get(&of(0)).await;
    assert!(
        (trace["length_s"].as_f64().unwrap() - 1.0).abs() < 0.01,
        "{}",
        trace["length_s"]
    );

    let marks = json!({"impact_s": 0.72, "checkpoints": {"shaft_level": 0.66}});
    let wrong = json!({"impact_s": 0.72, "checkpoints": {"shaft_level": 0.8}});
    let (status, refused) = stage.put(&format!("{}/marks", of(0)), &wrong).await;
    assert_eq!(
        (status, &refused["errors"][0]["field"]),
        (422, &json!("shaft_level_s")),
        "{refused}"
    );
    for i in 0..2 {
        assert_eq!(stage.put(&format!("{}/marks", of(i)), &marks).await.0, 204);
    }
    let (_, told) = stage.get(&path).await;
    let set = &told["told"]["sets"][0];
    assert_eq!(
        (&set["n"], &set["checkpoints"][0]["label"]),
        (&json!(2), &json!("shaft level"))
    );
    let when = set["means"][0]["when"]["value"].as_f64().unwrap();
    assert!((when - 0.115).abs() < 0.01, "{when}");
    let sentence = said(&told["told"]["said"][0]);
    assert!(sentence.contains("before shaft level"), "{sentence}");

    // What goes out as a table, evenly spaced now, comes in again.
    let out = stage.text(&format!("{path}.csv")).await;
    assert_eq!(out.lines().filter(|row| row.starts_with("1,")).count(), 400);
    assert!(out.lines().nth(1).unwrap().contains(",0.7200,"), "{out}");
    let (status, told) = bring(out).await;
    assert_eq!((status, &told["kept"]), (200, &json!(2)), "{told}");
    stage.clear().await;
}
