//! Every route as every role, and as another school's owner: the table of rights, its
//! document and the API's description say the same.

use crate::stage::{PASSWORD, PLAYER, Stage, id, session};
use axum::http::Method;
use serde_json::{Value, json};
use std::collections::{BTreeMap, BTreeSet};
use tally_core::school::access::{Right, Role};
use tally_server::http::access::{BASE, ROUTES};
use tally_server::http::password;
use tally_sim::scenario::PASSWORD as DEMO_PASSWORD;
use tally_store::Store;
use tally_store::school::people::Founder;

/// Routes as the description tells them: method and path below the base.
async fn described(stage: &Stage) -> BTreeSet<(String, String)> {
    let asked = stage.http.get(format!("{}/api/openapi.json", stage.web));
    let description: Value = asked.send().await.unwrap().json().await.unwrap();
    let paths = description["paths"].as_object().unwrap();
    paths
        .iter()
        .flat_map(|(path, methods)| {
            let path = path.strip_prefix(BASE).unwrap().to_owned();
            let methods = methods.as_object().unwrap();
            methods
                .keys()
                .map(move |method| (method.to_uppercase(), path.clone()))
        })
        .collect()
}

/// What stands for the parts of a path: things of the demo that there are.
async fn things(stage: &Stage, player: &str) -> BTreeMap<&'static str, String> {
    let text = |value: &Value| value.as_str().unwrap_or_default().to_owned();
    let (_, players) = stage.get("/players").await;
    let player = players
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["name"] == player)
        .unwrap();
    let player = text(&player["id"]);
    let (_, seen) = stage.get(&format!("/players/{player}")).await;
    let session = text(&seen["sessions"][0]["id"]);
    let (_, read) = stage.get(&format!("/sessions/{session}/read")).await;
    let (_, devices) = stage.get("/devices").await;
    let (_, people) = stage.get("/people").await;
    let nothing = "01890000-0000-7000-8000-0000000000ff".to_owned();
    BTreeMap::from([
        ("player", player),
        ("session", session),
        ("shot", text(&read["shots"][0]["id"])),
        ("block", text(&read["shots"][0]["block"])),
        ("device", text(&devices[0]["id"])),
        ("person", text(&people[0]["id"])),
        ("key", "interval_level".to_owned()),
        ("club", "driver".to_owned()),
        ("quantity", "hand_speed".to_owned()),
        ("benchmark", nothing.clone()),
        ("reading", nothing.clone()),
        ("decision", nothing.clone()),
        ("template", nothing.clone()),
        ("link", nothing.clone()),
        ("import", nothing),
    ])
}

fn filled(path: &str, things: &BTreeMap<&'static str, String>) -> String {
    things.iter().fold(path.to_owned(), |path, (name, value)| {
        path.replace(&format!("{{{name}}}"), value)
    })
}

/// Asks a route with an empty body, and answers with its status alone.
async fn ask(stage: &Stage, client: &reqwest::Client, method: &str, path: &str) -> u16 {
    let method: Method = method.parse().unwrap();
    let asked = client.request(method.clone(), format!("{}{BASE}{path}", stage.web));
    let asked = if method == Method::GET {
        asked
    } else {
        asked.json(&json!({}))
    };
    asked.send().await.unwrap().status().as_u16()
}

/// Routes whose use would end what the test stands on.
const ENDS: [&str; 2] = ["/sign-in", "/sign-in/everywhere"];

#[tokio::test(flavor = "multi_thread")]
async fn every_route_is_open_to_those_whom_the_table_names_and_to_nobody_else() {
    let stage = Stage::demo().await;
    let listed = ROUTES
        .iter()
        .map(|(method, path, _)| ((*method).to_owned(), (*path).to_owned()));
    assert_eq!(described(&stage).await, listed.collect());
    let things = things(&stage, "Ayla Tarrant").await;
    // What is not in the table is done for nobody.
    assert_eq!(ask(&stage, &stage.http, "DELETE", "/players").await, 405);
    let people = [
        (None, reqwest::Client::new()),
        (
            Some(Role::Assistant),
            stage.signed_in("jori", DEMO_PASSWORD).await,
        ),
        (
            Some(Role::Coach),
            stage.signed_in("maren", DEMO_PASSWORD).await,
        ),
        (Some(Role::Owner), stage.http.clone()),
    ];
    for (method, path, right) in ROUTES {
        for (role, client) in &people {
            let may = match role {
                None => *right == Right::Open,
                Some(role) => role.may(*right),
            };
            if may && ENDS.contains(path) && *method == "DELETE" {
                continue;
            }
            let status = ask(&stage, client, method, &filled(path, &things)).await;
            let refused = match role {
                None => status == 401,
                Some(_) => status == 403,
            };
            // Signing in with nothing is refused for its own reasons.
            let told = format!("{method} {path} as {role:?}: {status}");
            assert_eq!(refused, !may, "{told}");
            assert!(status < 500, "{told}");
        }
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_school_and_a_coach_with_whom_nothing_is_shared_find_nothing() {
    let stage = Stage::demo().await;
    let store = Store::open(&stage.url).await.unwrap();
    let hash = password::hash(PASSWORD);
    store
        .found_another(Founder {
            school: "South Bay",
            name: "Ines Marsh",
            sign_in_name: "ines",
            password_hash: Some(&hash),
        })
        .await
        .unwrap();
    let things = things(&stage, "Dov Ransley").await;
    let (_, before) = stage.get("/players").await;
    for (name, password, others) in [
        (
            "ines",
            PASSWORD,
            &["player", "session", "shot", "block", "device", "person"][..],
        ),
        (
            "maren",
            DEMO_PASSWORD,
            &["player", "session", "shot", "block"][..],
        ),
    ] {
        let client = stage.signed_in(name, password).await;
        for (method, path, right) in ROUTES {
            let theirs = others
                .iter()
                .any(|thing| path.contains(&format!("{{{thing}}}")));
            if !theirs || (name == "maren" && *right == Right::Own) {
                continue;
            }
            let status = ask(&stage, &client, method, &filled(path, &things)).await;
            // A body that is not understood is refused before anything is looked for.
            assert!(
                matches!(status, 400 | 404 | 415 | 422),
                "{method} {path} as {name}: {status}"
            );
            if *method == "GET" {
                assert!(matches!(status, 400 | 404), "{path} as {name}: {status}");
            }
        }
        // What is listed without naming anything.
        let seen = stage.as_client(client);
        for path in [
            "/players",
            "/today",
            "/doubtful",
            "/shots.csv?units=mph_yd",
            "/school",
        ] {
            let text = seen.text(path).await;
            assert!(!text.contains("Dov Ransley"), "{path} as {name}: {text}");
        }
    }
    assert_eq!(stage.get("/players").await.1, before);
    // Nor can a session be begun for a player who is not theirs.
    let maren = stage.as_client(stage.signed_in("maren", DEMO_PASSWORD).await);
    let mut new = session();
    new["player"] = json!(things["player"]);
    assert_eq!(maren.post("/sessions", &new).await.0, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_school_s_identifiers_in_a_body_refer_to_nothing() {
    let stage = Stage::demo().await;
    let store = Store::open(&stage.url).await.unwrap();
    let hash = password::hash(PASSWORD);
    let ines = Founder {
        school: "South Bay",
        name: "Ines Marsh",
        sign_in_name: "ines",
        password_hash: Some(&hash),
    };
    store.found_another(ines).await.unwrap();
    let theirs = things(&stage, "Dov Ransley").await;
    let ines = stage.as_client(stage.signed_in("ines", PASSWORD).await);
    let mine = json!({"id": PLAYER, "name": "Wren Aldous", "born": 1990});
    assert_eq!(ines.post("/players", &mine).await.0, 201);
    let mut own = session();
    own["id"] = json!(id(1));
    own["blocks"][0]["id"] = json!(id(2));
    assert_eq!(ines.post("/sessions", &own).await.0, 201);
    let (_, before) = stage
        .get(&format!("/sessions/{}/read", theirs["session"]))
        .await;
    let session_with = |change: &dyn Fn(&mut Value)| {
        let mut new = session();
        new["id"] = json!(id(3));
        new["blocks"][0]["id"] = json!(id(4));
        change(&mut new);
        new
    };
    let (player, of_mine) = (format!("/players/{PLAYER}"), format!("/sessions/{}", id(1)));
    let asked = [
        (
            "POST",
            "/sessions".to_owned(),
            session_with(&|s| s["player"] = json!(theirs["player"])),
        ),
        (
            "POST",
            "/sessions".to_owned(),
            session_with(&|s| s["devices"] = json!([theirs["device"]])),
        ),
        (
            "POST",
            format!("{of_mine}/shots/{}/marks", theirs["shot"]),
            json!({"id": id(5), "act": {"kind": "set_aside", "reason": "mishit"}}),
        ),
        (
            "POST",
            format!("{of_mine}/blocks/{}/begin", theirs["block"]),
            json!({}),
        ),
        (
            "PUT",
            format!("{player}/sharing"),
            json!({"coach": theirs["person"], "shared_with": []}),
        ),
        (
            "POST",
            format!("{player}/decisions"),
            json!({"id": id(6), "words": "Go on", "session": theirs["session"]}),
        ),
    ];
    for (method, path, body) in asked {
        let (status, told) = match method {
            "POST" => ines.post(&path, &body).await,
            _ => ines.put(&path, &body).await,
        };
        assert!(
            matches!(status, 404 | 409 | 422),
            "{method} {path} {body}: {status} {told}"
        );
        assert!(!told.to_string().contains("Ransley"), "{told}");
    }
    // An identifier that another school used is free in this one, and changes nothing there.
    let taken = json!({"id": theirs["player"], "name": "Lark Sorrel", "born": 1991});
    assert_eq!(ines.post("/players", &taken).await.0, 201);
    let (_, after) = stage
        .get(&format!("/sessions/{}/read", theirs["session"]))
        .await;
    assert_eq!(after, before);
    let (_, dov) = stage.get(&format!("/players/{}", theirs["player"])).await;
    assert_eq!(dov["name"], "Dov Ransley");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_identifiers_of_a_colleague_s_records_tell_no_more_than_any_others() {
    let stage = Stage::demo().await;
    let maren = stage.as_client(stage.signed_in("maren", DEMO_PASSWORD).await);
    let (_, players) = maren.get("/players").await;
    let mine = players[0]["id"].as_str().unwrap();
    let (_, player) = maren.get(&format!("/players/{mine}")).await;
    let session = player["sessions"][0]["id"].as_str().unwrap();
    let (_, all) = stage.get("/players").await;
    let names = |of: &Value| -> Vec<String> {
        let each = of.as_array().unwrap().iter();
        each.map(|p| p["name"].as_str().unwrap().to_owned())
            .collect()
    };
    let (seen, all) = (names(&players), names(&all));
    let hidden = all.iter().find(|name| !seen.contains(name)).unwrap();
    let mut theirs = things(&stage, hidden).await;
    theirs.retain(|name, _| !matches!(*name, "key" | "club"));
    let nobody: BTreeMap<&'static str, String> = theirs
        .keys()
        .enumerate()
        .map(|(i, name)| (*name, id(900 + i as u32)))
        .collect();
    let answers = async |of: &BTreeMap<&'static str, String>| {
        let (player, session_of) = (format!("/players/{}", of["player"]), &of["session"]);
        let mut told = Vec::new();
        for (method, path, body) in [
            ("GET", player.clone(), json!({})),
            (
                "GET",
                format!("{player}/prepare?purpose=benchmark&club=iron7"),
                json!({}),
            ),
            ("GET", format!("{player}/archive"), json!({})),
            (
                "PUT",
                player.clone(),
                json!({"name": "X", "left_handed": false, "aim": ""}),
            ),
            (
                "PUT",
                format!("{player}/consent"),
                json!({"guardian": "", "given_on": null}),
            ),
            (
                "PUT",
                format!("{player}/sharing"),
                json!({"coach": id(1), "shared_with": []}),
            ),
            (
                "POST",
                format!("{player}/links"),
                json!({"id": id(2), "decisions": true, "sessions": true, "days": 3}),
            ),
            (
                "POST",
                format!("{player}/decisions"),
                json!({"id": id(3), "words": "Go on"}),
            ),
            (
                "POST",
                format!("{player}/bag"),
                json!({"id": id(4), "club": "driver", "head": "", "flex": ""}),
            ),
            (
                "POST",
                format!("/players/{mine}/decisions"),
                json!({"id": id(5), "words": "Go on", "session": session_of}),
            ),
            (
                "PUT",
                format!("/sessions/{session_of}/progress"),
                json!({"in_progress": false}),
            ),
            ("DELETE", format!("/sessions/{session_of}"), json!({})),
            (
                "PUT",
                format!("/sessions/{session}/facts"),
                json!({"player": of["player"]}),
            ),
            (
                "POST",
                format!("/sessions/{session}/shots/{}/marks", of["shot"]),
                json!({"id": id(6), "act": {"kind": "keep"}}),
            ),
            (
                "PUT",
                format!("/sessions/{session}/shots/{}/block", of["shot"]),
                json!({"id": id(7), "block": of["block"]}),
            ),
            (
                "POST",
                format!("/sessions/{session}/blocks/{}/begin", of["block"]),
                json!({}),
            ),
            (
                "POST",
                format!("/players/{mine}/compare"),
                json!({"quantity": "carry", "sets": [
                {"label": "a", "session": session_of}, {"label": "b", "session": session}]}),
            ),
        ] {
            let (status, answer) = match method {
                "GET" => maren.get(&path).await,
                "DELETE" => (maren.delete(&path).await, Value::Null),
                "POST" => maren.post(&path, &body).await,
                _ => maren.put(&path, &body).await,
            };
            let mut words = answer.to_string();
            for value in of.values() {
                words = words.replace(value.as_str(), "…");
            }
            // A question about balls that there are not is answered as such.
            let open = path.ends_with("/compare");
            assert!(open || status >= 400, "{method} {path}: {status}");
            let path = of
                .values()
                .fold(path, |path, value| path.replace(value.as_str(), "…"));
            told.push((method, path, status, words));
        }
        told
    };
    for (theirs, nobody) in answers(&theirs).await.iter().zip(&answers(&nobody).await) {
        assert_eq!(theirs, nobody);
    }
    stage.clear().await;
}

#[test]
fn the_document_s_table_is_the_code_s() {
    let mut table =
        String::from("| route | owner | coach | assistant | nobody |\n|---|---|---|---|---|\n");
    for (method, path, right) in ROUTES {
        let may = |yes: bool| if yes { "yes" } else { "–" };
        let [owner, coach, assistant] =
            [Role::Owner, Role::Coach, Role::Assistant].map(|role| may(role.may(*right)));
        let nobody = may(*right == Right::Open);
        table += &format!("| `{method} {path}` | {owner} | {coach} | {assistant} | {nobody} |\n");
    }
    let document = include_str!("../../../../docs/security.md");
    assert!(
        document.contains(&table),
        "docs/security.md holds another table; it should be:\n{table}"
    );
}
