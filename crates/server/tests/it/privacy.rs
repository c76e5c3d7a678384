//! Children's consent, erasure, and who saw what.

use crate::stage::{PLAYER, Stage, id, session};
use serde_json::{Value, json};
use tally_sim::scenario::PASSWORD as DEMO_PASSWORD;

async fn player_called(stage: &Stage, name: &str) -> String {
    let (_, players) = stage.get("/players").await;
    let mut players = players.as_array().unwrap().iter();
    let found = players.find(|p| p["name"] == name).unwrap();
    found["id"].as_str().unwrap().to_owned()
}

fn audited(audit: &Value) -> Vec<(String, String, String)> {
    let text = |value: &Value| value.as_str().unwrap_or_default().to_owned();
    let entries = audit["entries"].as_array().unwrap().iter();
    entries
        .map(|e| (text(&e["person"]), text(&e["what"]), text(&e["player"])))
        .collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn no_session_of_a_child_is_kept_before_a_guardian_consented() {
    let stage = Stage::set().await;
    let child = json!({"id": PLAYER, "name": "Wren Aldous", "born": 2014});
    assert_eq!(stage.post("/players", &child).await.0, 201);
    let (status, told) = stage.post("/sessions", &session()).await;
    assert_eq!(
        (status, &told["title"]),
        (409, &json!("Consent is missing"))
    );
    let consent = |guardian: &str, day: Value| json!({"guardian": guardian, "given_on": day});
    let path = format!("/players/{PLAYER}/consent");
    let (status, told) = stage.put(&path, &consent(" ", json!("2026-04-01"))).await;
    assert_eq!(
        (status, &told["errors"][0]["field"]),
        (422, &json!("guardian"))
    );
    let (status, told) = stage
        .put(&path, &consent("Ada Aldous", json!("2126-04-01")))
        .await;
    assert_eq!(
        (status, &told["errors"][0]["field"]),
        (422, &json!("given_on"))
    );
    let given = consent("Ada Aldous", json!("2026-04-01"));
    assert_eq!(stage.put(&path, &given).await.0, 204);
    assert_eq!(stage.post("/sessions", &session()).await.0, 201);
    let (_, player) = stage.get(&format!("/players/{PLAYER}")).await;
    assert_eq!(player["consent"], json!({"needed": true, "given": given}));
    // Withdrawn, what there is stays until it is erased, and nothing is added.
    assert_eq!(stage.put(&path, &consent("", Value::Null)).await.0, 204);
    let mut another = session();
    another["id"] = json!(id(7));
    another["blocks"][0]["id"] = json!(id(8));
    assert_eq!(stage.post("/sessions", &another).await.0, 409);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_reads_a_child_s_records_is_noted_once_an_hour() {
    let stage = Stage::demo().await;
    let (ayla, dov) = (
        player_called(&stage, "Ayla Tarrant").await,
        player_called(&stage, "Dov Ransley").await,
    );
    let maren = stage.as_client(stage.signed_in("maren", DEMO_PASSWORD).await);
    let (_, seen) = maren.get(&format!("/players/{ayla}")).await;
    let read = format!(
        "/sessions/{}/read",
        seen["sessions"][0]["id"].as_str().unwrap()
    );
    for _ in 0..3 {
        assert_eq!(maren.get(&read).await.0, 200);
    }
    assert_eq!(stage.get(&format!("/players/{dov}")).await.0, 200);
    assert_eq!(stage.get(&read).await.0, 200);
    let shots = maren.text("/shots.csv?units=mph_yd").await;
    assert!(shots.starts_with("player,hit_at"), "{shots}");
    let (_, audit) = stage.get("/audit").await;
    let of = |person: &str, what: &str, player: &str| {
        (person.to_owned(), what.to_owned(), player.to_owned())
    };
    assert_eq!(
        audited(&audit),
        [
            of("Maren Tolle", "took records out", ""),
            of("Tova Veld", "read a child's records", "Ayla Tarrant"),
            of("Maren Tolle", "read a child's records", "Ayla Tarrant"),
        ]
    );
    // Nobody came for more than a house's years: nobody is past them; then all are.
    assert_eq!(audit["past"], json!([]));
    stage
        .sql("UPDATE session SET started_at = started_at - interval '9 years'")
        .await;
    let (_, audit) = stage.get("/audit").await;
    assert_eq!(audit["past"].as_array().unwrap().len(), 13);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_done_with_a_child_s_records_is_noted_wherever_they_are_shown() {
    let stage = Stage::demo().await;
    // Everybody a child.
    stage.all_are_children().await;
    let (_, today) = stage.get("/today").await;
    let mut expected: Vec<_> = today["rechecks"]
        .as_array()
        .unwrap()
        .iter()
        .map(|r| r["player_name"].clone())
        .collect();
    let noted = async || {
        let (_, audit) = stage.get("/audit?act=child_read").await;
        let of = audit["entries"].as_array().unwrap().iter();
        let mut of: Vec<String> = of.map(|e| e["player"].to_string()).collect();
        of.sort();
        of
    };
    expected.sort_by_key(Value::to_string);
    expected.dedup();
    let expected: Vec<_> = expected.iter().map(Value::to_string).collect();
    assert!(!expected.is_empty());
    assert_eq!(noted().await, expected);
    // Names in a list are not yet their records; a question about their balls is.
    let (_, players) = stage.get("/players").await;
    assert_eq!(noted().await, expected);
    let other = players
        .as_array()
        .unwrap()
        .iter()
        .find(|p| !expected.contains(&p["name"].to_string()))
        .unwrap();
    let path = format!("/players/{}/compare", other["id"].as_str().unwrap());
    stage.post(&path, &json!({})).await;
    assert!(noted().await.contains(&other["name"].to_string()));
    // Doubtful shots are shown with whose they are.
    let (_, doubtful) = stage.get("/doubtful").await;
    let after = noted().await;
    for session in doubtful["sessions"].as_array().unwrap() {
        assert!(after.contains(&session["player_name"].to_string()));
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_audit_is_looked_through_by_who_what_and_whose_page_by_page() {
    let stage = Stage::demo().await;
    let (ayla, dov) = (
        player_called(&stage, "Ayla Tarrant").await,
        player_called(&stage, "Dov Ransley").await,
    );
    let maren = stage.as_client(stage.signed_in("maren", DEMO_PASSWORD).await);
    for visitor in [&maren, &stage.visitor()] {
        visitor.get(&format!("/players/{ayla}")).await;
        visitor.text(&format!("/players/{ayla}/archive")).await;
    }
    stage.text(&format!("/players/{dov}/archive")).await;
    let (_, people) = stage.get("/people").await;
    let people = people.as_array().unwrap();
    let id_of = |name: &str| {
        let found = people.iter().find(|p| p["name"] == name).unwrap();
        found["id"].as_str().unwrap().to_owned()
    };
    let asked = async |query: String| {
        let (status, audit) = stage.get(&format!("/audit?{query}")).await;
        assert_eq!(status, 200, "{audit}");
        audited(&audit)
    };
    assert_eq!(asked(String::new()).await.len(), 5);
    let by_maren = asked(format!("person={}", id_of("Maren Tolle"))).await;
    assert_eq!(by_maren.len(), 2);
    assert!(by_maren.iter().all(|(person, ..)| person == "Maren Tolle"));
    let of_dov = asked(format!("player={dov}")).await;
    assert_eq!(of_dov.len(), 1);
    let taken = asked(format!("act=export&player={ayla}")).await;
    assert_eq!(taken.len(), 2);
    assert!(taken.iter().all(|(_, what, _)| what == "took records out"));
    // Before the second: the rest, in the same order.
    let (_, all) = stage.get("/audit").await;
    let second = all["entries"][1]["id"].as_str().unwrap();
    assert_eq!(asked(format!("before={second}")).await, audited(&all)[2..]);
    assert_eq!(all["earlier"], false);
    let (status, told) = stage.get("/audit?act=peeked").await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("act")));
    // More than a page of them: the next one goes on where this one ends.
    stage
        .sql(
            "INSERT INTO audit (school_id, id, coach_id, act, about)
             SELECT school_id, gen_random_uuid(), id, 'sharing', n::text
             FROM coach, generate_series(1, 450) n WHERE name = 'Tova Veld'",
        )
        .await;
    let (mut seen, mut pages, mut query) = (0, 0, "act=sharing".to_owned());
    loop {
        let (_, page) = stage.get(&format!("/audit?{query}")).await;
        let entries = page["entries"].as_array().unwrap();
        (seen, pages) = (seen + entries.len(), pages + 1);
        if page["earlier"] == false {
            break;
        }
        let last = entries.last().unwrap()["id"].as_str().unwrap();
        query = format!("act=sharing&before={last}");
    }
    assert_eq!((seen, pages), (450, 3));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_erased_player_leaves_nothing_behind_and_nobody_else_anything() {
    let stage = Stage::demo().await;
    let dov = player_called(&stage, "Dov Ransley").await;
    let archive: Value =
        serde_json::from_str(&stage.text(&format!("/players/{dov}/archive")).await).unwrap();
    let kept = |table: &str| archive["tables"][table].as_array().unwrap().len();
    assert_eq!(
        (kept("player"), kept("house_rule"), kept("device")),
        (1, 0, 0)
    );
    assert!(kept("shot") > 50 && kept("reading") >= kept("shot"));
    let path = format!("/players/{dov}/erasure");
    let (status, told) = stage.post(&path, &json!({"name": "Dov"})).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("name")));
    let all = stage.text("/school/archive").await;
    let (status, report) = stage.post(&path, &json!({"name": "Dov Ransley"})).await;
    assert_eq!(status, 200, "{report}");
    for (what, table) in [
        ("shot", "shot"),
        ("reading", "reading"),
        ("session act", "session_act"),
    ] {
        let gone = report["gone"]
            .as_array()
            .unwrap()
            .iter()
            .find(|g| g["what"] == what);
        assert_eq!(
            gone.map_or(0, |g| g["rows"].as_u64().unwrap()),
            kept(table) as u64,
            "{what}"
        );
    }
    assert_eq!(stage.get(&format!("/players/{dov}")).await.0, 404);
    let left: Value = serde_json::from_str(&stage.text("/school/archive").await).unwrap();
    let all: Value = serde_json::from_str(&all).unwrap();
    for (table, rows) in all["tables"].as_object().unwrap() {
        if ["school", "coach", "device"].contains(&table.as_str()) {
            continue;
        }
        let before = rows.as_array().unwrap().len();
        let after = left["tables"][table].as_array().unwrap().len();
        assert_eq!(after, before - kept(table), "{table}");
    }
    assert!(!left.to_string().contains(&dov));
    // The audit says that it was done, and of how much; not of whom by name.
    let (_, audit) = stage.get("/audit").await;
    assert_eq!(audit["entries"][1]["what"], "erased a player");
    assert!(
        audit["entries"][1]["about"]
            .as_str()
            .unwrap()
            .contains(" shot")
    );
    assert!(!audit.to_string().contains("Dov Ransley"));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_link_shows_what_was_shared_until_it_is_revoked_or_over() {
    let stage = Stage::demo().await;
    let dov = player_called(&stage, "Dov Ransley").await;
    let path = format!("/players/{dov}/links");
    let new = |number: u32, days: f64| json!({"id": id(number), "decisions": true, "sessions": false, "days": days});
    let (status, told) = stage.post(&path, &new(1, 0.0)).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("days")));
    let (_, made) = stage.post(&path, &new(1, 30.0)).await;
    let read = async |token: &str| {
        let asked = reqwest::Client::new().get(format!("{}/api/v1/shared", stage.web));
        let answer = asked.bearer_auth(token).send().await.unwrap();
        (
            answer.status().as_u16(),
            answer.json::<Value>().await.unwrap(),
        )
    };
    let token = made["token"].as_str().unwrap();
    let (status, page) = read(token).await;
    assert_eq!((status, &page["player"]), (200, &json!("Dov Ransley")));
    assert_eq!(page["decisions"].as_array().unwrap().len(), 1);
    assert_eq!(page["sessions"], Value::Null);
    assert_eq!(read("page-0123").await.0, 404);
    // Sessions are shared without what the coach noted of them.
    let (_, own) = stage.get(&format!("/players/{dov}")).await;
    let noted = own["sessions"][0]["id"].as_str().unwrap();
    let notes = json!({"note": "Quarrelled with his brother.", "tags": ["sulks"]});
    let notes_path = format!("/sessions/{noted}/notes");
    assert_eq!(stage.put(&notes_path, &notes).await.0, 204);
    let with_sessions = json!({"id": id(3), "decisions": true, "sessions": true, "days": 7});
    let (_, shared) = stage.post(&path, &with_sessions).await;
    let (_, seen) = read(shared["token"].as_str().unwrap()).await;
    assert_eq!(seen["sessions"][0]["id"], json!(noted));
    let seen = seen.to_string();
    assert!(
        !seen.contains("Quarrelled") && !seen.contains("sulks"),
        "{seen}"
    );
    assert_eq!(stage.delete(&format!("{path}/{}", id(3))).await, 204);
    // The secret opens this page and nothing else.
    let asked = reqwest::Client::new().get(format!("{}/api/v1/players", stage.web));
    assert_eq!(asked.bearer_auth(token).send().await.unwrap().status(), 401);
    assert_eq!(stage.get(&path).await.1.as_array().unwrap().len(), 1);
    assert_eq!(stage.delete(&format!("{path}/{}", id(1))).await, 204);
    assert_eq!(read(token).await.0, 404);
    let (_, made) = stage.post(&path, &new(2, 1.0)).await;
    let token = made["token"].as_str().unwrap();
    assert_eq!(read(token).await.0, 200);
    stage.sql("UPDATE player_link SET until = now()").await;
    assert_eq!(read(token).await.0, 404);
    assert_eq!(stage.get(&path).await.1, json!([]));
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_link_ends_for_good_when_its_maker_loses_the_player_or_leaves() {
    let stage = Stage::demo().await;
    let maren = stage.as_client(stage.signed_in("maren", DEMO_PASSWORD).await);
    let me = maren.get("/me").await.1["id"].clone();
    let owner = stage.get("/me").await.1["id"].clone();
    let (_, players) = maren.get("/players").await;
    let player = format!("/players/{}", players[0]["id"].as_str().unwrap());
    let make = async |number: u32| {
        let new = json!({"id": id(number), "decisions": true, "sessions": true, "days": 7});
        let (status, made) = maren.post(&format!("{player}/links"), &new).await;
        assert_eq!(status, 201, "{made}");
        made["token"].as_str().unwrap().to_owned()
    };
    let opens = async |token: &str| {
        let asked = reqwest::Client::new().get(format!("{}/api/v1/shared", stage.web));
        let answer = asked.bearer_auth(token).send().await.unwrap();
        answer.status() == 200
    };
    let given_to = async |coach: &Value| {
        let change = json!({"coach": coach, "shared_with": []});
        let (status, told) = stage.put(&format!("{player}/sharing"), &change).await;
        assert_eq!(status, 204, "{told}");
    };
    given_to(&me).await;
    let first = make(31).await;
    assert!(opens(&first).await);
    given_to(&owner).await;
    assert!(!opens(&first).await);
    given_to(&me).await;
    assert!(!opens(&first).await, "it is made anew, or not at all");
    let second = make(32).await;
    assert!(opens(&second).await);
    let path = format!("/people/{}", me.as_str().unwrap());
    let away = json!({"name": "Maren Holt", "role": "coach", "away": true});
    assert_eq!(stage.put(&path, &away).await.0, 204);
    assert!(!opens(&second).await);
    // Nobody shares with somebody who left.
    for change in [
        json!({"coach": me, "shared_with": []}),
        json!({"coach": owner, "shared_with": [me]}),
    ] {
        let (status, told) = stage.put(&format!("{player}/sharing"), &change).await;
        assert_eq!(status, 422, "{told}");
        assert!(
            told["detail"]
                .as_str()
                .unwrap()
                .contains("has left the school"),
            "{told}"
        );
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_consent_is_withdrawn_by_those_who_answer_for_the_player_only() {
    let stage = Stage::demo().await;
    let jori = stage.as_client(stage.signed_in("jori", DEMO_PASSWORD).await);
    let (_, players) = jori.get("/players").await;
    let path = format!("/players/{}/consent", players[0]["id"].as_str().unwrap());
    let given = json!({"guardian": "Ada Aldous", "given_on": "2026-04-01"});
    assert_eq!(jori.put(&path, &given).await.0, 204);
    let withdrawn = json!({"guardian": "", "given_on": null});
    let (status, told) = jori.put(&path, &withdrawn).await;
    assert_eq!(status, 403, "{told}");
    assert_eq!(stage.put(&path, &withdrawn).await.0, 204);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_session_has_no_club_of_another_player_s_bag_and_both_players_can_be_erased() {
    let stage = Stage::with_session().await;
    let other = json!({"id": id(1), "name": "Lark Sorrel", "born": 1991});
    assert_eq!(stage.post("/players", &other).await.0, 201);
    let club = json!({"id": id(2), "club": "driver", "head": "Low spin", "flex": ""});
    let bag = format!("/players/{}/bag", id(1));
    assert_eq!(stage.post(&bag, &club).await.0, 201);
    let mut theirs = crate::stage::session();
    theirs["id"] = json!(id(3));
    theirs["blocks"][0]["id"] = json!(id(4));
    theirs["bag_club"] = json!(id(2));
    let (status, told) = stage.post("/sessions", &theirs).await;
    assert_eq!(
        (status, &told["errors"][0]["field"]),
        (422, &json!("bag_club"))
    );
    // Nor behind the API's back.
    let planted = format!("UPDATE session SET bag_club_id = '{}'", id(2));
    let refused = tokio::spawn({
        let url = stage.url.clone();
        async move {
            let (client, line) = tokio_postgres::connect(&url, tokio_postgres::NoTls)
                .await
                .unwrap();
            tokio::spawn(line);
            client.execute(&planted, &[]).await.is_err()
        }
    });
    assert!(refused.await.unwrap());
    for player in [id(1), PLAYER.to_owned()] {
        let named = stage.get(&format!("/players/{player}")).await.1["name"].clone();
        let erase = json!({"name": named});
        let (status, told) = stage
            .post(&format!("/players/{player}/erasure"), &erase)
            .await;
        assert_eq!(status, 200, "{told}");
    }
    stage.clear().await;
}
