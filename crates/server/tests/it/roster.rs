//! The list of players, and what is counted of each.

use crate::files::{TABLE, bring};
use crate::stage::{PLAYER, SESSION, Stage, id, session, shot};
use serde_json::{Value, json};

fn names(roster: &Value) -> Vec<&str> {
    let players = roster["players"].as_array().unwrap().iter();
    players.map(|one| one["name"].as_str().unwrap()).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn players_are_found_put_in_order_and_told_a_few_at_a_time() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    for (number, name, aim) in [
        (31, "Åse Lund", "a higher flight"),
        (32, "Bram Aske", "speed"),
        (33, "Cato Flight", ""),
    ] {
        let new = json!({"id": id(number), "name": name, "born": null, "aim": aim});
        assert_eq!(stage.post("/players", &new).await.0, 201);
    }
    let roster = async |asked: &str| stage.get(&format!("/roster{asked}")).await.1;
    let all = roster("").await;
    assert_eq!(all["all"], 4);
    let first = &roster("?order=last").await["players"][0];
    let told = ["id", "sessions", "shots"].map(|field| &first[field]);
    assert_eq!(told, [&json!(PLAYER), &json!(1), &json!(3)]);
    assert_eq!(names(&roster("?words=as").await), ["Bram Aske", "Åse Lund"]);
    // Who is called so comes before who comes for it.
    let flight = roster("?words=FLIGHT").await;
    assert_eq!(names(&flight), ["Cato Flight", "Åse Lund"]);
    // So it is where anything is found.
    let (_, found) = stage.get("/find?words=flight").await;
    let labels = found.as_array().unwrap().iter();
    let labels: Vec<&Value> = labels
        .filter(|thing| thing["kind"] == "player")
        .map(|thing| &thing["label"])
        .collect();
    assert_eq!(labels, ["Cato Flight", "Åse Lund"]);
    // A session is told with its player, whichever of them was meant.
    for words in ["wren", "north%20bay", "benchmark%20wren", "bay%20benchmark"] {
        let (_, found) = stage.get(&format!("/find?words={words}")).await;
        let found = found.as_array().unwrap();
        let session = found.iter().find(|thing| thing["kind"] == "session");
        let about = session.map(|session| &session["about"]);
        assert_eq!(about, Some(&json!("Wren Aldous, North bay")), "{words}");
    }
    let few = roster("?words=flight&most=1").await;
    assert_eq!(
        (names(&few), &few["found"]),
        (vec!["Cato Flight"], &json!(2))
    );
    let gone = format!("/players/{}/archived", id(32));
    assert_eq!(stage.put(&gone, &json!({"archived": true})).await.0, 204);
    let without = roster("?words=bram").await;
    assert_eq!(
        (&without["found"], &without["away"]),
        (&json!(0), &json!(1))
    );
    assert_eq!(names(&roster("?words=bram&away=true").await), ["Bram Aske"]);
    assert_eq!(names(&roster("?words=%20").await).len(), 3);
    // Without words the same order, as far as is asked for.
    let come = ["Cato Flight", "Wren Aldous", "Åse Lund"];
    assert_eq!(names(&roster("").await), come);
    let two = roster("?most=2").await;
    assert_eq!(
        (names(&two), &two["found"]),
        (come[..2].to_vec(), &json!(3))
    );
    let with_away = roster("?away=true&most=2").await;
    let told = (names(&with_away), &with_away["found"]);
    assert_eq!(told, (vec!["Bram Aske", "Cato Flight"], &json!(4)));
    let last = ["Wren Aldous", "Cato Flight", "Åse Lund"];
    assert_eq!(names(&roster("?order=last").await), last);
    assert_eq!(stage.get("/roster?order=best").await.0, 400);
    for bad in ["?most=0", "?most=501", "?words=%00"] {
        assert_eq!(stage.get(&format!("/roster{bad}")).await.0, 422, "{bad}");
    }
    stage.clear().await;
}

/// Whether each session's shots are as many as it says, and each player was there last when it
/// is said.
async fn counts_hold(stage: &Stage, expected: &[&str]) {
    let off = "SELECT s.id::text FROM session s WHERE s.shots <> (SELECT count(*) FROM shot WHERE (shot.school_id, shot.session_id) = (s.school_id, s.id))";
    assert_eq!(stage.ask(off).await, Vec::<String>::new());
    let off = "SELECT id::text FROM player p WHERE last_session_at IS DISTINCT FROM (SELECT max(started_at) FROM session WHERE (school_id, player_id) = (p.school_id, p.id))";
    assert_eq!(stage.ask(off).await, Vec::<String>::new());
    let told = "SELECT shots::text FROM session ORDER BY shots DESC, id";
    assert_eq!(stage.ask(told).await, expected);
    let off = "SELECT s.id::text FROM session s WHERE NOT paired AND EXISTS (
        SELECT FROM shot JOIN reading r ON r.shot_id = shot.id
        WHERE (shot.school_id, shot.session_id) = (s.school_id, s.id)
        GROUP BY shot.id HAVING count(DISTINCT device_id) > 1)";
    assert_eq!(stage.ask(off).await, Vec::<String>::new());
}

/// In how many sessions two devices told of the same shot.
async fn paired(stage: &Stage) -> String {
    stage
        .ask("SELECT count(*)::text FROM session WHERE paired")
        .await
        .remove(0)
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_counted_of_a_session_is_what_is_there_whatever_was_done() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(5).await;
    counts_hold(&stage, &["5"]).await;
    let given = json!({"value": 90, "unit": "mph"});
    let typed = json!({"id": id(43), "quantity": "club_speed", "given": given});
    let path = format!("/sessions/{SESSION}/shots/{}/entries", id(41));
    let (status, told) = stage.put(&path, &json!({"values": [typed]})).await;
    assert_eq!(status, 204, "{told}");
    counts_hold(&stage, &["6"]).await;
    // A camera's reading of the first ball is found to be of another.
    assert_eq!(paired(&stage).await, "0");
    stage.camera().await.say(&shot(1, 91.4)).await;
    assert_eq!(paired(&stage).await, "1");
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let reading = read["shots"][0]["sources"][1]["id"].as_str().unwrap();
    let path = format!("/sessions/{SESSION}/readings/{reading}/shot");
    let own = json!({"shot": null, "new_shot": id(42)});
    assert_eq!(stage.put(&path, &own).await.0, 204);
    counts_hold(&stage, &["7"]).await;
    let import = bring(&stage, 1, TABLE, "").await;
    assert_eq!(import["rows_good"], 3);
    counts_hold(&stage, &["7", "2", "1"]).await;
    let import = import["id"].as_str().unwrap();
    assert_eq!(stage.delete(&format!("/imports/{import}")).await, 204);
    counts_hold(&stage, &["7"]).await;
    // It was of the second ball, of which the radar told too.
    stage.sql("UPDATE session SET paired = false").await;
    let (_, read) = stage.get(&format!("/sessions/{SESSION}/read")).await;
    let to = json!({"shot": read["shots"][1]["id"], "new_shot": id(46)});
    let path = format!("/sessions/{SESSION}/readings/{reading}/shot");
    let (status, told) = stage.put(&path, &to).await;
    assert_eq!(status, 204, "{told}");
    assert_eq!(paired(&stage).await, "1");
    // From one session to another, which nothing of ours does yet.
    let mut other = session();
    (other["id"], other["blocks"][0]["id"]) = (json!(id(44)), json!(id(45)));
    assert_eq!(stage.post("/sessions", &other).await.0, 201);
    stage
        .sql(&format!(
            "UPDATE shot SET session_id = '{}', block_id = '{}' WHERE id = (SELECT min(id::text)::uuid FROM shot)",
            id(44),
            id(45)
        ))
        .await;
    counts_hold(&stage, &["5", "1"]).await;
    // It was held on another day than was thought.
    let facts = json!({"day": "2026-04-02"});
    let (status, told) = stage
        .put(&format!("/sessions/{}/facts", id(44)), &facts)
        .await;
    assert!(status < 300, "{told}");
    counts_hold(&stage, &["5", "1"]).await;
    let erased = stage
        .post(
            &format!("/players/{PLAYER}/erasure"),
            &json!({"name": "Wren Aldous"}),
        )
        .await;
    assert!(erased.0 < 300, "{erased:?}");
    let left = stage.ask("SELECT count(*)::text FROM shot").await;
    assert_eq!(left, ["0"]);
    stage.clear().await;
}
