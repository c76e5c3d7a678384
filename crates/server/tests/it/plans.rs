//! How much of a school its pages read, whatever PostgreSQL's planner knows of it.

use crate::stage::{Device, OWNER, PASSWORD, PLAYER, SESSION, Stage, hello, shot};
use tally_server::http::access::{POSITION, ROUTES};
use tally_store::testing::{fill, parted};

/// Players, sessions of each, shots of each session.
const SCHOOL: [u32; 3] = [400, 20, 2];
/// What is looked at, with the most rows of it that one page may read: what is of the twenty-five players
/// of a list, or in the latest of the school's sessions, and not in its 8,000 sessions.
const MOST: [(&str, i64); 4] = [
    ("session", 2_500),
    ("block", 4_000),
    ("shot", 3_000),
    ("reading", 3_000),
];
/// What reads it all, because all is asked for.
const WHOLE: [&str; 3] = ["/school/archive", "/shots.csv", "/shots.sqlite"];
/// What goes on until the one who asks goes away, and what needs something that is not there.
const ELSEWHERE: [&str; 9] = [
    "/live",
    "/boards/{board}",
    "/boards/{board}/live",
    "/device-line",
    "/calendars/{token}",
    "/shared",
    "/shared/shots.csv",
    "/agreement",
    "/club-length",
];

/// Asks for every page of the player and the session that a stage has, from wherever pages are read:
/// none may fail.
pub async fn every_page_answers(stage: &Stage) {
    for (method, path, _) in ROUTES {
        let page = asked(path, PLAYER, SESSION);
        let Some(page) = page.filter(|_| *method == "GET" && !ELSEWHERE.contains(path)) else {
            continue;
        };
        let url = format!("{}/api/v1{page}", stage.web);
        let asked = stage.http.get(url).header(POSITION, "0/0");
        let told = asked.send().await.unwrap();
        let status = told.status().as_u16();
        assert!(status < 500, "{page}: {}", told.text().await.unwrap());
    }
}

/// What the routes ask for.
fn asked(path: &str, player: &str, session: &str) -> Option<String> {
    let path = path
        .replace("{player}", player)
        .replace("{session}", session);
    if path.contains('{') {
        return None;
    }
    let query = match path.rsplit('/').next()? {
        "record" => "?club=driver&quantity=club_speed",
        "peers" => "?club=driver&quantity=club_speed",
        "records" | "delivery" => "?club=driver",
        "prepare" => "?purpose=benchmark&club=driver",
        "find" => "?words=mira%20ho",
        "over" => "?quantity=club_speed&value=40&unit=mps",
        "launch-spin" => "?units=mph_yd",
        "page-draft" => "?units=mph_yd&from=2026-01-01&to=2026-11-28",
        _ => "",
    };
    Some(format!("{path}{query}"))
}

/// The rows that were read of each table: the server's connections are ended, which then tell what
/// they have read.
async fn read(stage: &Stage, of: &[(&str, i64)]) -> Vec<i64> {
    stage
        .sql(
            "DO $$ BEGIN
                 LOOP
                     PERFORM pg_terminate_backend(pid) FROM pg_stat_activity
                     WHERE datname = current_database() AND pid <> pg_backend_pid() AND backend_type = 'client backend';
                     EXIT WHEN NOT FOUND;
                     PERFORM pg_sleep(0.005), pg_stat_clear_snapshot();
                 END LOOP;
             END $$",
        )
        .await;
    let tables: Vec<String> = of.iter().map(|(table, _)| format!("'{table}'")).collect();
    let rows = stage
        .ask(&format!(
            "SELECT sum(coalesce(seq_tup_read, 0) + coalesce(idx_tup_fetch, 0))::text
             FROM unnest(ARRAY[{}]) WITH ORDINALITY AS wanted (name, at)
             JOIN pg_stat_user_tables ON relname IN (name, name || '_piece_0', name || '_piece_1', name || '_piece_2', name || '_piece_3')
             GROUP BY at ORDER BY at",
            tables.join(", ")
        ))
        .await;
    rows.iter().map(|rows| rows.parse().unwrap()).collect()
}

/// What reads too much.
async fn greedy(stage: &Stage, pages: &[String], most: &[(&str, i64)]) -> Vec<String> {
    let mut greedy = Vec::new();
    let mut before = read(stage, most).await;
    for page in pages {
        let (status, told) = stage.get(page).await;
        if status >= 300 {
            greedy.push(format!("{page}: {status} {told}"));
        }
        let now = read(stage, most).await;
        for (((table, most), now), before) in most.iter().zip(&now).zip(&before) {
            if now - before > *most {
                greedy.push(format!("{page} reads {} rows of {table}", now - before));
            }
        }
        before = now;
    }
    greedy
}

#[tokio::test(flavor = "multi_thread")]
async fn no_page_reads_the_whole_school_whatever_the_planner_knows() {
    let stage = Stage::set().await;
    stage
        .sql(
            "DO $$
             DECLARE piece regclass;
             BEGIN
                 FOR piece IN
                     SELECT relid FROM unnest(ARRAY['session', 'block', 'shot', 'reading']) AS wanted,
                         pg_partition_tree(wanted::regclass) WHERE isleaf
                 LOOP
                     EXECUTE format('ALTER TABLE %s SET (autovacuum_enabled = false)', piece);
                 END LOOP;
             END $$",
        )
        .await;
    fill(&stage.database_url(), SCHOOL).await.unwrap();
    let (_, roster) = stage.get("/roster").await;
    let player = roster["players"][0]["id"].as_str().unwrap().to_owned();
    let (_, theirs) = stage.get(&format!("/players/{player}")).await;
    let session = theirs["sessions"][0]["id"].as_str().unwrap().to_owned();
    let gets = ROUTES
        .iter()
        .filter(|(method, path, _)| *method == "GET" && !ELSEWHERE.contains(path));
    let mut pages: Vec<String> = gets
        .filter(|(_, path, _)| !WHOLE.contains(path))
        .filter_map(|(_, path, _)| asked(path, &player, &session))
        .collect();
    let (_, pairs) = stage.get("/device-pairs").await;
    let [first, second] = ["first", "second"].map(|one| pairs[0][one].as_str().unwrap());
    pages.push(format!("/agreement?first={first}&second={second}"));
    // What Today tells of each player has been read before.
    let store = stage.store().await;
    let school = store.founder().await.unwrap().school_id;
    let store = store.for_school(school);
    let rules = store.house_rules(school).await.unwrap();
    let mark = store.figures_mark(school, &rules).await.unwrap();
    stage
        .sql(&format!(
            "INSERT INTO player_standing (school_id, player_id, changes, mark, flagged, told, check_ins, usual)
             SELECT school_id, id, 0, {mark}, true, '{{}}', 0, '[]' FROM player"
        ))
        .await;
    drop(store);
    let database = stage.ask("SELECT current_database()::text").await;
    let plans = async |how: &str| {
        let own = format!("ALTER DATABASE {} {how}", database[0]);
        stage.sql(&own).await;
    };
    plans("SET plan_cache_mode = force_generic_plan").await;
    // In a parted table one school may fill a piece, which a plan for any school does not know.
    let of = usize::from(parted());
    let found = greedy(&stage, &pages, &MOST[of..]).await;
    assert_eq!(found, Vec::<String>::new(), "with plans for any value");

    // A school that grew since PostgreSQL looked at it. Whoever lists its latest sessions then
    // goes through all of them once, which nothing prevents, and through nothing else.
    plans("RESET plan_cache_mode").await;
    stage
        .sql(
            "DELETE FROM pg_statistic WHERE starelid IN (SELECT oid FROM pg_class WHERE relnamespace = 'public'::regnamespace);
             UPDATE pg_class SET reltuples = -1, relpages = 0 WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'i')",
        )
        .await;
    let found = greedy(&stage, &pages, &MOST[1..]).await;
    assert_eq!(found, Vec::<String>::new(), "without statistics");
    stage.clear().await;
}

/// Many schools beside this one, each with an owner, a device, a player and a session of their own.
const SCHOOLS: u32 = 1_000;

#[tokio::test(flavor = "multi_thread")]
async fn among_a_thousand_schools_signing_in_a_device_and_today_read_their_own() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(1).await;
    // Each row of this school once more for every other, with secrets and names of its own.
    stage
        .sql(&format!(
            "SET session_replication_role = replica;
             CREATE TEMP TABLE other AS
             SELECT gen_random_uuid() AS school_id, n FROM generate_series(1, {SCHOOLS}) AS n;
             DO $$
             DECLARE name text;
             BEGIN
                 FOREACH name IN ARRAY ARRAY['school', 'coach', 'credential', 'web_session', 'device', 'player', 'session', 'block', 'shot', 'reading'] LOOP
                     EXECUTE format(
                         'INSERT INTO %1$I SELECT (jsonb_populate_record(NULL::%1$I,
                              to_jsonb(own) || jsonb_build_object(''school_id'', other.school_id)
                              || CASE WHEN to_jsonb(own) ? ''sign_in_name'' THEN jsonb_build_object(''sign_in_name'', ''other'' || n) ELSE ''{{}}'' END
                              || CASE WHEN to_jsonb(own) ? ''token_sha256'' THEN jsonb_build_object(''token_sha256'', ''\\x'' || md5(own::text || n)) ELSE ''{{}}'' END)).*
                          FROM %1$I AS own, other', name);
                 END LOOP;
             END $$;
             ANALYZE"
        ))
        .await;
    let tables = [
        "coach",
        "credential",
        "web_session",
        "device",
        "player",
        "session",
        "shot",
        "reading",
    ]
    // A piece of a parted table holds a quarter of them, and may be small enough to be gone through.
    .map(|table| (table, 600));
    let held = stage.ask("SELECT count(*)::text FROM session").await;
    assert_eq!(held, [(SCHOOLS + 1).to_string()]);
    let mut before = read(&stage, &tables).await;
    let mut all = Vec::new();
    for what in ["sign in", "hello", "shot", "today"] {
        match what {
            "sign in" => drop(stage.cookie(OWNER, PASSWORD).await),
            "hello" => device = Device::connect(&stage.intake).await,
            "shot" => drop(device.say(&shot(2, 91.0)).await),
            _ => assert_eq!(stage.get("/today").await.0, 200),
        }
        if what == "hello" {
            assert_eq!(device.say(&hello()).await["type"], "welcome");
        }
        let now = read(&stage, &tables).await;
        for (((table, most), now), before) in tables.iter().zip(&now).zip(&before) {
            if now - before > *most {
                all.push(format!("{what} reads {} rows of {table}", now - before));
            }
        }
        before = now;
    }
    assert_eq!(all, Vec::<String>::new());
    stage.clear().await;
}
