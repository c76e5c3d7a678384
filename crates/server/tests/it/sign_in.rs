//! Who comes in, and who does not.

use crate::stage::{OWNER, PASSWORD, Stage, Visitor, id};
use futures_util::future::join_all;
use serde_json::{Value, json};
use std::time::{Duration, SystemTime, UNIX_EPOCH};
use tally_server::server::{Config, Server};
use tally_sim::scenario::PASSWORD as DEMO_PASSWORD;
use totp_rs::{Builder, Secret};

async fn try_in(stage: &Stage, name: &str, password: &str, code: &str) -> (u16, Value) {
    let asked = json!({"sign_in_name": name, "password": password, "code": code});
    let stranger = stage.as_client(reqwest::Client::new());
    stranger.post("/sign-in", &asked).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_school_is_founded_once_by_the_first_to_come() {
    let stage = Stage::unfounded().await;
    let (_, state) = stage.get("/set-up").await;
    assert_eq!(state, json!({"needed": true, "demo": null}));
    let school = |password: &str| json!({"school": "North Bay", "name": " ", "sign_in_name": "Orla", "password": password});
    let (status, told) = stage.post("/set-up", &school("short")).await;
    assert_eq!(status, 422);
    let fields: Vec<_> = told["errors"]
        .as_array()
        .unwrap()
        .iter()
        .map(|e| &e["field"])
        .collect();
    assert_eq!(fields, ["name", "password"]);
    assert!(!told.to_string().contains("short"), "{told}");
    let mut good = school(PASSWORD);
    good["name"] = json!("Orla Finch");
    assert_eq!(stage.post("/set-up", &good).await.0, 201);
    assert_eq!(stage.post("/set-up", &good).await.0, 409);
    assert_eq!(stage.get("/set-up").await.1["needed"], false);
    assert_eq!(try_in(&stage, " ORLA", PASSWORD, "").await.0, 204);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn guessing_by_the_thousand_is_refused_before_it_is_looked_at() {
    let stage = Stage::bare().await;
    let mut answers = [0; 2];
    for _ in 0..1_000 {
        match try_in(&stage, OWNER, "a wrong password", "").await.0 {
            401 => answers[0] += 1,
            429 => answers[1] += 1,
            other => panic!("{other}"),
        }
    }
    // A slow machine takes so long over them that a try or two comes back meanwhile.
    assert!(
        (5..=8).contains(&answers[0]) && answers[0] + answers[1] == 1_000,
        "{answers:?}"
    );
    let (status, told) = try_in(&stage, OWNER, PASSWORD, "").await;
    assert_eq!((status, &told["title"]), (429, &json!("Too many tries")));
    // A name that nobody has is answered no differently.
    assert_eq!(try_in(&stage, "nobody", PASSWORD, "").await.0, 401);
    // Who is in stays in.
    assert_eq!(stage.get("/me").await.0, 200);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_guesses_shuts_out_no_colleague_at_the_same_address() {
    let stage = Stage::bare().await;
    for guess in 0..40 {
        let name = format!("name{guess}");
        assert_eq!(try_in(&stage, &name, "a wrong password", "").await.0, 401);
    }
    assert_eq!(try_in(&stage, OWNER, PASSWORD, "").await.0, 204);
    // Who is told to wait is told for how long, also where a program looks.
    let asked = (0..30).map(|guess| {
        let name = format!("other{guess}");
        let body = json!({"sign_in_name": name, "password": "a wrong password"});
        let http = reqwest::Client::new();
        let asked = http.post(format!("{}/api/v1/sign-in", stage.web));
        asked.json(&body).send()
    });
    let answers = join_all(asked).await;
    let told: Vec<u64> = answers
        .iter()
        .filter_map(|answer| answer.as_ref().unwrap().headers().get("retry-after"))
        .map(|seconds| seconds.to_str().unwrap().parse().unwrap())
        .collect();
    assert!(
        told.len() > 20 && told.iter().all(|s| (5..=7).contains(s)),
        "{told:?}"
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_guesses_at_a_name_makes_nobody_wait_at_the_browser_they_have_used_before() {
    let stage = Stage::bare().await;
    let browser = || {
        reqwest::Client::builder()
            .cookie_store(true)
            .build()
            .unwrap()
    };
    let (used, new) = (browser(), browser());
    let enter = async |browser: &reqwest::Client, password: &str| {
        let body = json!({"sign_in_name": OWNER, "password": password});
        let asked = browser
            .post(format!("{}/api/v1/sign-in", stage.web))
            .json(&body);
        asked.send().await.unwrap().status().as_u16()
    };
    assert_eq!(enter(&used, PASSWORD).await, 204);
    join_all((0..12).map(|_| try_in(&stage, OWNER, "a wrong password", ""))).await;
    assert_eq!(enter(&new, PASSWORD).await, 429);
    for _ in 0..3 {
        assert_eq!(enter(&used, PASSWORD).await, 204);
    }
    // What it is known by opens nothing, and is no way to guess on.
    let guesses = join_all((0..9).map(|_| enter(&used, "a wrong password"))).await;
    assert_eq!(guesses.iter().filter(|status| **status == 401).count(), 5);
    assert_eq!(enter(&used, PASSWORD).await, 429);
    // For another person it is a browser like any other.
    let runa = json!({"id": id(1), "name": "Runa Holt", "role": "coach", "sign_in_name": "runa"});
    assert_eq!(stage.post("/people", &runa).await.0, 201);
    let body = json!({"sign_in_name": "runa", "password": "a wrong password"});
    let asked = used
        .post(format!("{}/api/v1/sign-in", stage.web))
        .json(&body);
    assert_eq!(asked.send().await.unwrap().status(), 401);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn behind_a_proxy_nobody_chooses_the_address_they_are_counted_by() {
    let stage = Stage::bare().await;
    let behind = Config {
        behind_tls_proxy: true,
        ..Config::local(&stage.url)
    };
    let server = Server::start(&behind).await.unwrap();
    let web = format!("http://{}/api/v1", server.web_address().unwrap());
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let body = json!({"sign_in_name": "nobody", "password": "a wrong password"});
    for made_up in ["198.51.100.1", "198.51.100.2:99", "junk"] {
        let asked = reqwest::Client::new()
            .post(format!("{web}/sign-in"))
            .json(&body);
        let asked = asked.header("x-forwarded-for", made_up);
        let answer = asked.header("x-forwarded-for", "[2001:db8:1:2::7]:443");
        assert_eq!(answer.send().await.unwrap().status(), 401);
    }
    let counted = stage
        .ask("SELECT DISTINCT from_address FROM wrong_try")
        .await;
    assert_eq!(counted, ["2001:db8:1:2::"]);
    // Only the cookie that no neighbour can plant counts there.
    let cookie = stage.cookie(OWNER, PASSWORD).await;
    let value = cookie.split(';').next().unwrap().split_once('=').unwrap().1;
    for (name, status) in [("amber-tally", 401), ("__Host-amber-tally", 200)] {
        let asked = reqwest::Client::new().get(format!("{web}/me"));
        let answer = asked.header("cookie", format!("{name}={value}"));
        assert_eq!(answer.send().await.unwrap().status(), status, "{name}");
    }
    serving.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn guesses_that_come_all_at_once_are_counted_like_those_that_come_one_by_one() {
    let stage = Stage::bare().await;
    let guesses = (0..100).map(|_| try_in(&stage, OWNER, "a wrong password", ""));
    let answers = join_all(guesses).await;
    let of = |status: u16| answers.iter().filter(|(s, _)| *s == status).count();
    assert_eq!((of(401), of(429)), (5, 95));
    // A new code from an owner lets its person in at once, whoever guessed.
    let runa = json!({"id": id(1), "name": "Runa Holt", "role": "coach", "sign_in_name": "runa"});
    stage.post("/people", &runa).await;
    join_all((0..9).map(|_| try_in(&stage, "runa", "a wrong password", ""))).await;
    assert_eq!(try_in(&stage, "runa", PASSWORD, "").await.0, 429);
    let path = format!("/people/{}/code", id(1));
    let (_, made) = stage.post(&path, &json!({})).await;
    let new = json!({"sign_in_name": "runa", "code": made["code"], "password": PASSWORD});
    let stranger = stage.as_client(reqwest::Client::new());
    assert_eq!(stranger.post("/new-password", &new).await.0, 204);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn many_who_know_their_passwords_come_in_at_once() {
    let stage = Stage::bare().await;
    let answers = join_all((0..5).map(|_| try_in(&stage, OWNER, PASSWORD, ""))).await;
    assert!(
        answers.iter().all(|(status, _)| *status == 204),
        "{answers:?}"
    );
    assert_eq!(try_in(&stage, OWNER, PASSWORD, "").await.0, 204);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_cookie_that_is_forged_old_or_signed_out_opens_nothing() {
    let stage = Stage::bare().await;
    let with = async |cookie: &str| {
        let asked = reqwest::Client::new().get(format!("{}/api/v1/players", stage.web));
        let answer = asked.header("cookie", cookie).send().await.unwrap();
        answer.status().as_u16()
    };
    for forged in [
        "amber-tally=",
        "amber-tally=web-0123456789",
        "amber-tally='; DROP TABLE player",
        "other=web",
        "\u{e9}",
    ] {
        assert_eq!(with(forged).await, 401, "{forged}");
    }
    let owner = |client| stage.as_client(client);
    let there = owner(stage.signed_in(OWNER, PASSWORD).await);
    assert_eq!(there.get("/players").await.0, 200);
    assert_eq!(there.delete("/sign-in").await, 204);
    assert_eq!(there.get("/players").await.0, 401);
    // Another browser stays, until its time is over.
    assert_eq!(stage.get("/players").await.0, 200);
    stage
        .sql("UPDATE web_session SET used_at = now() - interval '13 hours'")
        .await;
    assert_eq!(stage.get("/players").await.0, 401);
    let again = owner(stage.signed_in(OWNER, PASSWORD).await);
    stage
        .sql("UPDATE web_session SET opened_at = now() - interval '15 days'")
        .await;
    assert_eq!(again.get("/players").await.0, 401);
    let (one, other) = (
        owner(stage.signed_in(OWNER, PASSWORD).await),
        owner(stage.signed_in(OWNER, PASSWORD).await),
    );
    assert_eq!(one.delete("/sign-in/everywhere").await, 204);
    assert_eq!(other.get("/players").await.0, 401);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_open_stream_ends_when_its_browser_may_hear_it_no_longer() {
    let stage = Stage::demo().await;
    let often = Config {
        look_again: Duration::from_millis(30),
        ..Config::local(&stage.url)
    };
    let server = Server::start(&often).await.unwrap();
    let owner = stage.elsewhere(&server);
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let maren = Visitor {
        web: owner.web.clone(),
        http: stage.signed_in("maren", DEMO_PASSWORD).await,
    };
    let (_, players) = maren.get("/players").await;
    let path = format!("/players/{}", players[0]["id"].as_str().unwrap());
    let (_, player) = maren.get(&path).await;
    let session = player["sessions"][0]["id"].as_str().unwrap();
    let live = format!("{}/api/v1/live?sessions={session}", maren.web);
    let open = async || {
        let answer = maren.http.get(&live).send().await.unwrap();
        (answer.status().as_u16(), answer)
    };
    let to_its_end = async |mut stream: reqwest::Response| {
        while stream.chunk().await.unwrap().is_some() {}
    };
    let (status, stream) = open().await;
    assert_eq!(status, 200);
    let share = async |coach: &Value| {
        let with = json!({"coach": coach, "shared_with": []});
        let done = owner.put(&format!("{path}/sharing"), &with).await;
        assert_eq!(done.0, 204);
    };
    let (mine, theirs) = (owner.get("/me").await.1, maren.get("/me").await.1);
    share(&mine["id"]).await;
    to_its_end(stream).await;
    assert_eq!(open().await.0, 404);
    share(&theirs["id"]).await;
    let (status, stream) = open().await;
    assert_eq!(status, 200);
    // Another role sees other players.
    let path = format!("/people/{}", theirs["id"].as_str().unwrap());
    let person = json!({"name": "Maren Tolle", "role": "assistant", "away": false});
    assert_eq!(owner.put(&path, &person).await.0, 204);
    to_its_end(stream).await;
    let (status, stream) = open().await;
    assert_eq!(status, 200);
    assert_eq!(maren.delete("/sign-in").await, 204);
    to_its_end(stream).await;
    assert_eq!(open().await.0, 401);
    serving.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_changed_password_signs_the_other_browsers_out() {
    let stage = Stage::bare().await;
    let other = stage.as_client(stage.signed_in(OWNER, PASSWORD).await);
    let change = |old: &str| json!({"old": old, "new": "quite other words"});
    let (status, told) = stage.put("/me/password", &change("not the old one")).await;
    assert_eq!((status, &told["errors"][0]["field"]), (422, &json!("old")));
    assert_eq!(stage.put("/me/password", &change(PASSWORD)).await.0, 204);
    assert_eq!(stage.get("/me").await.0, 200);
    assert_eq!(other.get("/me").await.0, 401);
    assert_eq!(try_in(&stage, OWNER, PASSWORD, "").await.0, 401);
    assert_eq!(try_in(&stage, OWNER, "quite other words", "").await.0, 204);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_factor_is_asked_for_once_it_was_confirmed_and_each_code_holds_once() {
    let stage = Stage::bare().await;
    let begin = json!({"password": PASSWORD});
    let (_, factor) = stage.post("/me/second-factor", &begin).await;
    // Not yet confirmed: not asked for.
    assert_eq!(try_in(&stage, OWNER, PASSWORD, "").await.0, 204);
    let secret = Secret::try_from_base32(factor["secret"].as_str().unwrap()).unwrap();
    let totp = Builder::new().with_secret(secret).build_noncompliant();
    let now = SystemTime::now()
        .duration_since(UNIX_EPOCH)
        .unwrap()
        .as_secs();
    let code = |steps: u64| totp.generate(now + 30 * steps - 30).to_string();
    let wrong = json!({"code": "000000"});
    assert_eq!(stage.put("/me/second-factor", &wrong).await.0, 422);
    let shown = json!({"code": code(0)});
    assert_eq!(stage.put("/me/second-factor", &shown).await.0, 204);
    assert_eq!(stage.get("/me").await.1["second_factor"], true);
    let (status, told) = try_in(&stage, OWNER, PASSWORD, "").await;
    assert_eq!((status, &told["title"]), (401, &json!("Second factor")));
    // The code that confirmed it was used.
    assert_eq!(try_in(&stage, OWNER, PASSWORD, &code(0)).await.0, 401);
    assert_eq!(try_in(&stage, OWNER, PASSWORD, &code(1)).await.0, 204);
    assert_eq!(try_in(&stage, OWNER, PASSWORD, &code(1)).await.0, 401);
    // Another one that is begun, by whoever knows the password, switches nothing off.
    assert_eq!(stage.post("/me/second-factor", &begin).await.0, 200);
    assert_eq!(stage.get("/me").await.1["second_factor"], true);
    let (status, told) = try_in(&stage, OWNER, PASSWORD, "").await;
    assert_eq!((status, &told["title"]), (401, &json!("Second factor")));
    let end = stage
        .http
        .delete(format!("{}/api/v1/me/second-factor", stage.web));
    let ended = end.json(&begin).send().await.unwrap();
    assert_eq!(ended.status(), 204);
    assert_eq!(try_in(&stage, OWNER, PASSWORD, "").await.0, 204);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_owner_lets_in_who_lost_their_authenticator_and_the_record_tells() {
    let stage = Stage::demo().await;
    let maren = stage.as_client(stage.signed_in("maren", DEMO_PASSWORD).await);
    let begin = json!({"password": DEMO_PASSWORD});
    let (_, factor) = maren.post("/me/second-factor", &begin).await;
    let secret = Secret::try_from_base32(factor["secret"].as_str().unwrap()).unwrap();
    let totp = Builder::new().with_secret(secret).build_noncompliant();
    let shown = json!({"code": totp.generate_current().to_string()});
    assert_eq!(maren.put("/me/second-factor", &shown).await.0, 204);
    assert_eq!(try_in(&stage, "maren", DEMO_PASSWORD, "").await.0, 401);
    let me = maren.get("/me").await.1["id"].clone();
    let path = format!("/people/{}/second-factor", me.as_str().unwrap());
    assert_eq!(maren.delete(&path).await, 403);
    assert_eq!(stage.delete(&path).await, 204);
    assert_eq!(try_in(&stage, "maren", DEMO_PASSWORD, "").await.0, 204);
    let (_, record) = stage.get("/audit?act=sign_in").await;
    let told = record["entries"][0]["about"].as_str().unwrap();
    assert_eq!(told, "no second factor for maren any longer");
    // A browser that an owner left open gives nobody the owner's account.
    let own = stage.get("/me").await.1["id"].clone();
    let own = format!("/people/{}", own.as_str().unwrap());
    let factor = format!("{own}/second-factor");
    assert_eq!(stage.delete(&factor).await, 409);
    let (status, told) = stage.post(&format!("{own}/code"), &json!({})).await;
    assert_eq!(status, 409, "{told}");
    let nobody = format!("/people/{}/second-factor", id(99));
    assert_eq!(stage.delete(&nobody).await, 404);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_code_sets_one_password_in_its_time_and_a_school_keeps_an_owner() {
    let stage = Stage::bare().await;
    let person = |name: &str| json!({"id": id(1), "name": "Runa Holt", "role": "coach", "sign_in_name": name});
    assert_eq!(stage.post("/people", &person(OWNER)).await.0, 409);
    let (status, code) = stage.post("/people", &person("runa")).await;
    assert_eq!(status, 201);
    assert_eq!(try_in(&stage, "runa", "", "").await.0, 401);
    let stranger = stage.as_client(reqwest::Client::new());
    let set = async |code: &Value, password: &str| {
        let body = json!({"sign_in_name": "runa", "code": code, "password": password});
        stranger.post("/new-password", &body).await.0
    };
    assert_eq!(set(&json!("abcd-efgh-jkmn-pqrs"), PASSWORD).await, 401);
    assert_eq!(set(&code["code"], "short").await, 422);
    stage
        .sql("UPDATE credential SET code_until = now() WHERE sign_in_name = 'runa'")
        .await;
    assert_eq!(set(&code["code"], PASSWORD).await, 401);
    let (_, code) = stage
        .post(&format!("/people/{}/code", id(1)), &json!({}))
        .await;
    assert_eq!(set(&code["code"], PASSWORD).await, 204);
    assert_eq!(set(&code["code"], PASSWORD).await, 401);
    let runa = stage.as_client(stage.signed_in("runa", PASSWORD).await);
    assert_eq!(runa.get("/people").await.0, 403);
    // The only owner stays one; then there are two, and the new one sends the old away.
    let (_, me) = stage.get("/me").await;
    let own = format!("/people/{}", me["id"].as_str().unwrap());
    let as_coach = json!({"name": "Orla Finch", "role": "coach", "away": false});
    assert_eq!(stage.put(&own, &as_coach).await.0, 409);
    let promoted = json!({"name": "Runa Holt", "role": "owner", "away": false});
    assert_eq!(
        stage.put(&format!("/people/{}", id(1)), &promoted).await.0,
        204
    );
    let left = json!({"name": "Orla Finch", "role": "coach", "away": true});
    assert_eq!(runa.put(&own, &left).await.0, 204);
    assert_eq!(stage.get("/me").await.0, 401);
    assert_eq!(try_in(&stage, OWNER, PASSWORD, "").await.0, 401);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_site_s_page_cannot_use_our_cookie() {
    let stage = Stage::bare().await;
    let from = async |name: &str, value: &str| {
        let asked = stage.http.post(format!("{}/api/v1/players", stage.web));
        let body = json!({"id": id(1), "name": "Wren"});
        let answer = asked.header(name, value).json(&body).send().await.unwrap();
        answer.status().as_u16()
    };
    assert_eq!(from("sec-fetch-site", "cross-site").await, 403);
    assert_eq!(from("sec-fetch-site", "same-site").await, 403);
    assert_eq!(from("origin", "http://elsewhere.example").await, 403);
    assert_eq!(from("origin", "null").await, 403);
    assert_eq!(stage.get("/players").await.1, json!([]));
    assert_eq!(from("origin", &stage.web).await, 201);
    assert_eq!(from("sec-fetch-site", "same-origin").await, 201);
    let page = stage.http.get(&stage.web).send().await.unwrap();
    let told = |name: &str| page.headers()[name].to_str().unwrap().to_owned();
    assert!(told("content-security-policy").contains("script-src 'self';"));
    assert_eq!(told("x-content-type-options"), "nosniff");
    let cookie = stage.cookie(OWNER, PASSWORD).await;
    for part in ["HttpOnly", "SameSite=Strict", "Path=/"] {
        assert!(cookie.contains(part), "{cookie}");
    }
    stage.clear().await;
}
