//! Files of shots and the archive of a school.

use crate::stage::{PLAYER, SESSION, Stage, Visitor, id};
use serde_json::{Value, json};
use std::collections::BTreeMap;
use std::time::Duration;
use tokio::task::JoinHandle;

/// Three good rows and a bad one.
pub const TABLE: &str = "date;club;club speed (mph);carry (yd);block\n\
    18.04.2026 10:15;driver;92,4;231;A\n\
    18.04.2026 10:16;driver;fast;231;A\n\
    18.04.2026 10:17;driver;93,1;233;B\n\
    19.04.2026 09:00;iron7;80,2;158;A\n";

/// So many shots of one session, no two alike.
pub fn table_of(rows: usize) -> String {
    let mut table = String::from("date;club;club speed (mph);carry (yd)\n");
    for i in 0..rows {
        let (minute, second, wobble) = (i / 60, i % 60, i * 37 % 97);
        let row = format!(
            "18.04.2026 {}:{:02}:{second:02};driver;9{}.{};2{wobble:02}\n",
            9 + minute / 60,
            minute % 60,
            wobble % 9,
            wobble % 10,
        );
        table.push_str(&row);
    }
    table
}

async fn layout(stage: &Stage, table: &str) -> String {
    let (status, told) = stage
        .raw("POST", "/import-previews", table.to_owned())
        .await;
    assert_eq!(status, 200, "{told}");
    told["looked"]["layout"].to_string()
}

fn path(number: u32, layout: &str, more: &str) -> String {
    let layout: String = layout.bytes().map(|b| format!("%{b:02X}")).collect();
    format!(
        "/imports?id={}&player={PLAYER}&file_name=april.csv&layout={layout}&place=Deck&zone=Europe/Vienna&day=2026-04-20&club=driver{more}",
        id(number)
    )
}

pub async fn bring(stage: &Stage, number: u32, table: &str, more: &str) -> Value {
    let layout = layout(stage, table).await;
    let (status, told) = stage
        .raw("POST", &path(number, &layout, more), table.to_owned())
        .await;
    assert_eq!(status, 200, "{told}");
    told
}

/// A file that never ends by itself, brought in as the first.
pub struct Endless {
    feeding: JoinHandle<()>,
    sending: JoinHandle<reqwest::Result<reqwest::Response>>,
}

impl Endless {
    /// Sends it until some of it was read.
    pub async fn begin(stage: &Stage, to: &Visitor) -> Endless {
        let layout = layout(stage, "club speed (mph),carry (yd)\n92,231\n").await;
        let (out, rows) = tokio::sync::mpsc::channel::<Result<String, std::io::Error>>(1);
        let body = reqwest::Body::wrap_stream(tokio_stream::wrappers::ReceiverStream::new(rows));
        let feeding = tokio::spawn(async move {
            let _ = out
                .send(Ok("club speed (mph),carry (yd)\n".to_owned()))
                .await;
            while out.send(Ok("92.4,231\n".repeat(2000))).await.is_ok() {}
        });
        let url = format!("{}/api/v1{}", to.web, path(1, &layout, ""));
        let sending = tokio::spawn(to.http.post(url).body(body).send());
        let import = format!("/imports/{}", id(1));
        while to.get(&import).await.1["rows_good"].as_i64().unwrap_or(0) < 4000 {
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        Endless { feeding, sending }
    }

    /// Waits for what becomes of it.
    pub async fn ended(self) -> reqwest::Result<reqwest::Response> {
        let ended = self.sending.await.unwrap();
        self.feeding.abort();
        ended
    }

    fn give_up(self) {
        self.feeding.abort();
        self.sending.abort();
    }
}

/// Sessions of the player, with how many shots each.
pub async fn sessions(stage: &Stage) -> Vec<(String, i64)> {
    let (_, player) = stage.get(&format!("/players/{PLAYER}")).await;
    let sessions = player["sessions"].as_array().unwrap().iter();
    sessions
        .map(|s| {
            (
                s["place"].as_str().unwrap().to_owned(),
                s["shots"].as_i64().unwrap(),
            )
        })
        .collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn who_is_refused_while_they_still_send_is_told_why() {
    let stage = Stage::with_session().await;
    let row = "19.04.2026 09:00;iron7;80,2;158;A\n";
    let table = format!("{TABLE}{}", row.repeat(500_000));
    let layout = layout(&stage, TABLE).await;
    let spoon = path(1, &layout, "").replace("club=driver", "club=spoon");
    for _ in 0..3 {
        let (status, told) = stage.raw("POST", &spoon, table.clone()).await;
        assert_eq!(status, 422, "{told}");
        assert_eq!(told["errors"][0]["field"], "club", "{told}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_head_of_a_file_is_shown_as_it_will_be_stored() {
    let stage = Stage::with_session().await;
    let (_, told) = stage.raw("POST", "/import-previews", TABLE).await;
    let rows = told["rows"].as_array().unwrap();
    assert_eq!(
        (&rows[0]["when"], &rows[0]["club"]),
        (&json!("2026-04-18 10:15"), &json!("driver"))
    );
    let trouble = &rows[1]["troubles"][0];
    assert_eq!(
        (&trouble["row"], &trouble["column"], &trouble["value"]),
        (&json!(3), &json!(3), &json!("fast"))
    );
    assert!(trouble["remedy"].as_str().unwrap().contains("92.4"));
    for (bad, words) in [("", "is empty"), ("club speed,carry\n", "no rows")] {
        let (status, refused) = stage.raw("POST", "/import-previews", bad).await;
        assert_eq!(status, 422);
        assert!(
            refused["detail"].as_str().unwrap().contains(words),
            "{refused}"
        );
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn good_rows_come_in_once_and_bad_ones_can_be_downloaded() {
    let stage = Stage::with_session().await;
    let told = bring(&stage, 1, TABLE, "").await;
    assert_eq!(
        (&told["state"], &told["rows_good"], &told["rows_bad"]),
        (&json!("done"), &json!(3), &json!(1))
    );
    let deck = |sessions: Vec<(String, i64)>| -> Vec<i64> {
        sessions
            .into_iter()
            .filter(|(place, _)| place == "Deck")
            .map(|(_, n)| n)
            .collect()
    };
    assert_eq!(deck(sessions(&stage).await), [1, 2]);
    let bad = stage
        .text(&format!("/imports/{}/bad-rows.csv", id(1)))
        .await;
    let mut lines = bad.lines();
    assert_eq!(
        lines.next(),
        Some("date,club,club speed (mph),carry (yd),block,row,what is wrong")
    );
    assert!(
        lines
            .next()
            .unwrap()
            .starts_with("18.04.2026 10:16,driver,fast,231,A,3,")
    );
    // The same file again makes no doubles.
    let again = bring(&stage, 2, TABLE, "").await;
    assert_eq!(again["state"], "known");
    assert_eq!(deck(sessions(&stage).await), [1, 2]);
    // Undone it can be brought in again.
    assert_eq!(stage.delete(&format!("/imports/{}", id(1))).await, 204);
    assert_eq!(deck(sessions(&stage).await), [0i64; 0]);
    assert_eq!(stage.delete(&format!("/imports/{}", id(1))).await, 409);
    assert_eq!(bring(&stage, 3, TABLE, "").await["state"], "done");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_import_undone_takes_marks_and_entries_with_it_and_leaves_the_rest() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(2).await;
    bring(&stage, 1, TABLE, "").await;
    let (_, player) = stage.get(&format!("/players/{PLAYER}")).await;
    let brought = player["sessions"]
        .as_array()
        .unwrap()
        .iter()
        .find(|s| s["shots"] == 1)
        .unwrap();
    let session = brought["id"].as_str().unwrap();
    let (_, read) = stage.get(&format!("/sessions/{session}/read")).await;
    let shot = read["shots"][0]["id"].as_str().unwrap();
    let mark = json!({"id": id(9), "act": {"kind": "set_aside", "reason": "mishit"}});
    assert_eq!(
        stage
            .post(&format!("/sessions/{session}/shots/{shot}/marks"), &mark)
            .await
            .0,
        201
    );
    assert_eq!(stage.delete(&format!("/imports/{}", id(1))).await, 204);
    assert_eq!(stage.get(&format!("/sessions/{session}")).await.0, 404);
    assert_eq!(sessions(&stage).await, [("North bay".to_owned(), 2)]);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn all_or_nothing_lets_nothing_in_for_one_bad_row() {
    let stage = Stage::with_session().await;
    let told = bring(&stage, 1, TABLE, "&all_or_nothing=true").await;
    assert_eq!(
        (&told["state"], &told["rows_bad"]),
        (&json!("refused"), &json!(1))
    );
    assert_eq!(told["troubles"][0]["value"], "fast");
    assert_eq!(sessions(&stage).await.len(), 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_running_import_tells_how_far_it_is_and_leaves_nothing_when_cancelled() {
    let stage = Stage::with_session().await;
    let endless = Endless::begin(&stage, &stage.visitor()).await;
    let import = format!("/imports/{}", id(1));
    assert_eq!(
        stage.post(&format!("{import}/cancel"), &json!({})).await.0,
        204
    );
    while stage.get(&import).await.1["state"] != "cancelled" {
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    endless.give_up();
    assert_eq!(sessions(&stage).await.len(), 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_browser_that_goes_away_half_way_leaves_nothing() {
    let stage = Stage::with_session().await;
    let layout = layout(&stage, "club speed (mph),carry (yd)\n92,231\n").await;
    let (out, rows) = tokio::sync::mpsc::channel::<Result<String, std::io::Error>>(1);
    let body = reqwest::Body::wrap_stream(tokio_stream::wrappers::ReceiverStream::new(rows));
    let web = &stage.web;
    let sent = stage
        .http
        .post(format!("{web}/api/v1{}", path(1, &layout, "")));
    let sending = tokio::spawn(sent.body(body).send());
    let rows = "club speed (mph),carry (yd)\n".to_owned() + &"92.4,231\n".repeat(9000);
    out.send(Ok(rows)).await.unwrap();
    let import = format!("/imports/{}", id(1));
    while stage.get(&import).await.0 == 404 {
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    let gone = out.send(Err(std::io::Error::other("the lid was shut")));
    gone.await.unwrap();
    assert!(sending.await.unwrap().is_err());
    let ended = loop {
        let (_, told) = stage.get(&import).await;
        if !matches!(told["state"].as_str(), Some("running") | None) {
            break told;
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
    };
    assert_eq!(ended["state"], "failed");
    assert_eq!(sessions(&stage).await.len(), 1);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_of_three_hundred_megabytes_is_read_as_it_arrives() {
    let stage = Stage::with_session().await;
    let layout = layout(&stage, "club speed (mph),carry (yd),notes\n92,231,x\n").await;
    let row = format!("92.4,231,{}\n", "n".repeat(600_000));
    let head = "club speed (mph),carry (yd),notes\n".to_owned();
    let rows = std::iter::once(head).chain(std::iter::repeat_n(row, 500));
    let body = reqwest::Body::wrap_stream(tokio_stream::iter(rows.map(Ok::<_, std::io::Error>)));
    let (status, told) = stage.raw("POST", &path(1, &layout, ""), body).await;
    assert_eq!((status, &told["rows_good"]), (200, &json!(500)), "{told}");
    assert!(told["bytes_done"].as_i64().unwrap() > 300_000_000);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_quote_that_never_closes_ends_the_import_with_its_row() {
    let stage = Stage::with_session().await;
    let layout = layout(&stage, "club speed (mph),notes\n92,x\n").await;
    let table = "club speed (mph),notes\n92,x\n93,\"never\n".to_owned() + &"94,y\n".repeat(400_000);
    let (status, told) = stage.raw("POST", &path(1, &layout, ""), table).await;
    assert_eq!((status, &told["state"]), (200, &json!("failed")));
    let message = told["message"].as_str().unwrap();
    assert!(
        message.contains("row 3") && message.contains("quote"),
        "{message}"
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn shots_go_out_as_csv_and_come_back_the_same() {
    let stage = Stage::with_session().await;
    stage.device_with_shots(3).await;
    let out = stage
        .text(&format!("/shots.csv?session={SESSION}&units=mph_yd"))
        .await;
    assert_eq!(out.lines().count(), 4);
    assert!(out.starts_with("player,hit_at,club,block,standing,set_aside_reason,our_shot,device,implement,swing_side,position,effort_pct,club_speed_mph,club_speed_from"));
    // What went out is known when it comes back, by its identifier.
    let told = bring(&stage, 1, &out, "").await;
    let counted = |told: &Value| [&told["rows_good"], &told["rows_known"]].map(Value::as_i64);
    assert_eq!(
        (&told["state"], counted(&told)),
        (&json!("known"), [Some(0), Some(3)])
    );
    // So it is by its time, club and values, without the identifier.
    let header = out.lines().next().unwrap();
    let at = header
        .split(',')
        .position(|name| name == "our_shot")
        .unwrap();
    let without = |line: &str| {
        let cells = line.split(',').enumerate().filter(|(i, _)| *i != at);
        cells.map(|(_, cell)| cell).collect::<Vec<_>>().join(",")
    };
    let bare: Vec<String> = out.lines().map(without).collect();
    let told = bring(&stage, 2, &(bare.join("\n") + "\n"), "").await;
    assert_eq!(
        (&told["state"], counted(&told)),
        (&json!("known"), [Some(0), Some(3)])
    );
    let back = stage
        .text(&format!("/shots.csv?player={PLAYER}&units=mph_yd"))
        .await;
    assert_eq!(back, out);
    let none = stage.text("/shots.csv?club=driver&units=mph_yd").await;
    assert_eq!(none.lines().count(), 1);
    assert_eq!(stage.get("/shots.csv?club=spoon&units=mph_yd").await.0, 422);
    stage.clear().await;
}

/// A weekly export of a device: two rows, then two more.
const WEEK: &str = "date,club,club speed (mph),ball speed (mph),carry (yd)\n\
    2026-04-18 10:15:01,driver,92.4,133.1,231\n\
    2026-04-18 10:15:40,driver,93.0,134.6,233\n";

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_grows_brings_in_its_new_rows_alone() {
    let stage = Stage::with_session().await;
    assert_eq!(bring(&stage, 1, WEEK, "").await["rows_good"], 2);
    let more = format!(
        "{WEEK}2026-04-25 09:00:00,iron7,80.2,106.0,158\n2026-04-18 10:16:20,driver,92.4,133.1,231\n"
    );
    let told = bring(&stage, 2, &more, "").await;
    assert_eq!(
        (&told["state"], &told["rows_good"], &told["rows_known"]),
        (&json!("done"), &json!(2), &json!(2))
    );
    let again = bring(&stage, 3, &more.replace("date,", "Date,"), "").await;
    assert_eq!(
        (&again["state"], &again["rows_known"]),
        (&json!("known"), &json!(4))
    );
    // By the day alone it takes three values, and each of two shots alike stands for one.
    let by_day = "date,club,club speed (mph),ball speed (mph),carry (yd)\n\
        2026-05-02,driver,92.4,133.1,231\n2026-05-02,driver,92.4,133.1,231.4\n";
    assert_eq!(bring(&stage, 4, by_day, "").await["rows_good"], 2);
    let third = format!("{by_day}2026-05-02,driver,92.4,133.1,231\n");
    let layout = layout(&stage, &third)
        .await
        .replace("\"settled\":[]", "\"settled\":[\"alike\"]");
    let (_, told) = stage.raw("POST", &path(5, &layout, ""), third).await;
    assert_eq!(
        (&told["rows_good"], &told["rows_known"]),
        (&json!(1), &json!(2)),
        "{told}"
    );
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_with_the_newest_shot_first_stands_as_it_was_hit() {
    let stage = Stage::with_session().await;
    let file = "date,club,block,ball speed (mph),carry (yd)\n\
        2026-04-18 10:21,iron7,After,106.5,158\n2026-04-18 10:20,iron7,After,106.4,157\n\
        2026-04-18 10:15,iron7,Before,106.3,156\n2026-04-18 10:15,iron7,Before,106.2,155\n\
        2026-04-18 10:15,iron7,Before,106.1,154\n";
    assert_eq!(bring(&stage, 1, file, "").await["rows_good"], 5);
    let (_, player) = stage.get(&format!("/players/{PLAYER}")).await;
    let sessions = player["sessions"].as_array().unwrap().iter();
    let session = sessions.into_iter().find(|s| s["shots"] == 5).unwrap();
    let read = format!("/sessions/{}/read", session["id"].as_str().unwrap());
    let (_, read) = stage.get(&read).await;
    let spoken = |field: &str| read["session"][field].as_str().unwrap().to_owned();
    assert!(
        spoken("started_at").starts_with("2026-04-18T08:15"),
        "{read}"
    );
    let shots = read["shots"].as_array().unwrap();
    let speeds: Vec<f64> = shots
        .iter()
        .map(|shot| shot["reading"]["ball_speed"]["si"].as_f64().unwrap())
        .collect();
    assert!(speeds.is_sorted(), "{speeds:?}");
    let blocks = read["session"]["blocks"].as_array().unwrap();
    let labels: Vec<_> = blocks.iter().map(|block| block["label"].clone()).collect();
    assert_eq!(labels, ["Before", "After"]);
    assert_eq!(shots[0]["block"], blocks[0]["id"]);
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_that_leaves_something_open_is_not_taken_in() {
    let stage = Stage::with_session().await;
    let table = "date,club speed (mph),carry\n03/04/2026,92.4,231\n04/05/2026,93,233\n";
    let layout = layout(&stage, table).await;
    let (status, told) = stage.raw("POST", &path(1, &layout, ""), table).await;
    assert_eq!((status, &told["state"]), (200, &json!("failed")), "{told}");
    let message = told["message"].as_str().unwrap();
    assert!(
        message.contains("names no unit") && message.contains("1 more"),
        "{message}"
    );
    let mut answered: Value = serde_json::from_str(&layout).unwrap();
    answered["settled"] = json!(["dates", "unit:distances"]);
    answered["dates"] = json!("month_first");
    let (_, told) = stage
        .raw("POST", &path(2, &answered.to_string(), ""), table)
        .await;
    assert_eq!(
        (&told["state"], &told["rows_good"]),
        (&json!("done"), &json!(2)),
        "{told}"
    );
    assert_eq!(
        told["columns"][2],
        json!({"name": "carry", "became": {"is": "value", "quantity": "carry", "unit": "yd"}})
    );
    // The next file of its kind is read alike, and what is of that file alone asked anew.
    let next = "date,club speed (mph),carry\n06/07/2026,90,229\n";
    let (_, preview) = stage.raw("POST", "/import-previews", next).await;
    assert_eq!(preview["like"], "april.csv");
    assert_eq!(preview["looked"]["layout"]["dates"], "month_first");
    let open = preview["looked"]["questions"].as_array().unwrap().iter();
    assert_eq!(open.filter(|q| q["open"] == true).count(), 0, "{preview}");
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_of_several_players_is_brought_in_for_each_of_them() {
    let stage = Stage::with_session().await;
    let table = "player,club speed (mph),carry (yd)\nWren,92.4,231\nAda,80,190\nWren,93,233\n";
    let (_, preview) = stage.raw("POST", "/import-previews", table).await;
    assert_eq!(
        preview["looked"]["players"],
        json!([{"name": "Ada", "rows": 1}, {"name": "Wren", "rows": 2}])
    );
    let mut layout = preview["looked"]["layout"].clone();
    for (number, name, rows) in [(1, "Wren", 2), (2, "Ada", 1)] {
        layout["only"] = json!(name);
        let (_, told) = stage
            .raw("POST", &path(number, &layout.to_string(), ""), table)
            .await;
        assert_eq!(
            (&told["state"], &told["rows_good"]),
            (&json!("done"), &json!(rows)),
            "{told}"
        );
        let remarks = told["remarks"].to_string();
        assert!(
            remarks.contains("Rows of others were left out"),
            "{remarks}"
        );
    }
    stage.clear().await;
}

/// Tables whose rows stay in their database: what one signs in with, links to pages, who saw
/// what, rows of files that could not be used, and what is counted again from the shots.
const STAYING: [&str; 11] = [
    "credential",
    "web_session",
    "wrong_try",
    "player_link",
    "calendar_feed",
    "audit",
    "import_bad_row",
    "known_browser",
    "script_token",
    "session_figures",
    "player_standing",
];

/// The rows of every other table, school and secrets left out.
async fn rows_of_all(stage: &Stage) -> BTreeMap<String, Vec<String>> {
    let tables = stage
        .ask(
            "SELECT relname::text FROM pg_class JOIN pg_attribute ON attrelid = pg_class.oid
             WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'p')
               AND NOT relispartition AND attname = 'school_id'",
        )
        .await;
    let mut all = BTreeMap::new();
    for table in tables
        .into_iter()
        .filter(|t| !STAYING.contains(&t.as_str()))
    {
        let home = match table.as_str() {
            "school" => " - 'created_at' - 'demo'",
            "device" => " - 'token_sha256' - 'connected_at'",
            "import" => " - 'sha256'",
            _ => "",
        };
        let rows =
            format!("SELECT (to_jsonb(t) - 'school_id'{home})::text FROM {table} t ORDER BY 1");
        let rows = stage.ask(&rows).await;
        all.insert(table, rows);
    }
    all
}

#[tokio::test(flavor = "multi_thread")]
async fn a_school_comes_out_of_an_empty_one_as_it_went_in() {
    let (stage, empty) = (Stage::demo().await, Stage::bare().await);
    let compared = "INSERT INTO comparison (school_id, player_id, key, told, p)
        SELECT school_id, id, repeat('a', 64), '[]', 0.5 FROM player ORDER BY id LIMIT 1";
    stage.sql(compared).await;
    let archive = stage.text("/school/archive").await;
    let (status, refused) = empty
        .raw(
            "PUT",
            "/school/archive",
            archive[..archive.len() / 2].to_owned(),
        )
        .await;
    assert_eq!(status, 422, "{refused}");
    assert_eq!(empty.get("/players").await.1, json!([]));
    // One of before it was noted which comparisons told nothing yet is as good.
    let older = archive.replace(r#","undecided":false"#, "");
    let older = older.replace(r#", "undecided": false"#, "");
    assert_ne!(older, archive);
    let (status, refused) = empty.raw("PUT", "/school/archive", older).await;
    assert_eq!(status, 204, "{refused}");
    assert_eq!(empty.text("/school/archive").await, archive);
    assert_eq!(empty.get("/players").await, stage.get("/players").await);
    assert_eq!(empty.get("/school").await.1["coach"], "Tova Veld");
    assert!(!archive.contains("token"));
    // Table by table as the database itself tells, so that one left out would be missed.
    let (before, after) = (rows_of_all(&stage).await, rows_of_all(&empty).await);
    assert!(before.values().filter(|rows| !rows.is_empty()).count() > 10);
    for (table, rows) in &before {
        assert_eq!(rows, &after[table], "{table}");
    }
    // Not over a school that holds something.
    assert_eq!(empty.raw("PUT", "/school/archive", archive).await.0, 409);
    stage.clear().await;
    empty.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_archive_with_a_row_that_does_not_fit_is_refused_whole() {
    let empty = Stage::bare().await;
    let archive = |tables: Value| {
        format!("{{\"format\":\"amber-tally school\",\"version\":1,\"tables\":{tables}}}")
    };
    let refused = async |tables: Value, field: &str| {
        let (status, told) = empty.raw("PUT", "/school/archive", archive(tables)).await;
        assert_eq!(status, 422, "{told}");
        assert_eq!(told["errors"][0]["field"], field, "{told}");
        let said = told.to_string();
        assert!(
            !said.contains("constraint") && !said.contains("violates"),
            "{said}"
        );
        assert_eq!(empty.get("/players").await.1, json!([]));
        said
    };
    refused(json!({"pg_class": [{}]}), "tables").await;
    refused(json!({"credential": [{}]}), "tables").await;
    let now = "2026-04-18T10:00:00+00:00";
    let player = |field: &str, value: Value| {
        let mut player = json!({"id": PLAYER, "name": "Wren", "left_handed": false, "aim": "",
            "created_at": now, "guardian": ""});
        player[field] = value;
        json!({"player": [player]})
    };
    for (field, value) in [
        ("name", Value::Null),
        ("name", json!("Wr\u{202e}en")),
        ("name", json!("x\0")),
        ("born", json!("NaN")),
        ("created_at", json!("infinity")),
        ("created_at", json!("+99999-01-01T00:00:00Z")),
        ("left_handed", json!("t")),
        ("id", json!("{}")),
        ("school_id", json!(PLAYER)),
        ("coach_id", json!([])),
    ] {
        refused(player(field, value), &format!("player[0].{field}")).await;
    }
    let device = |field: &str, value: Value| {
        let mut device = json!({"id": PLAYER, "name": "Radar", "kind": "radar", "seen_at": now,
            "offsets": {}, "measures": [], "calculates": [], "practice": false});
        device[field] = value;
        json!({"device": [device]})
    };
    for (field, value) in [
        // A secret that somebody knows.
        ("token_sha256", json!("\\x00")),
        ("kind", json!("oracle")),
        ("offsets", json!([1, 2])),
        ("measures", json!({"a": 1})),
        ("clock_ahead_s", json!("Infinity")),
    ] {
        refused(device(field, value), &format!("device[0].{field}")).await;
    }
    let rule = |key: &str, value: Value| {
        json!({"house_rule": [{"id": PLAYER, "coach_id": PLAYER, "key": key, "value": value,
            "changed_at": now}]})
    };
    refused(rule("interval_pct", json!({"a": 1})), "house_rule[0].value").await;
    refused(rule("no such rule", json!(1)), "key").await;
    refused(rule("warm_up_list", json!(["hop"])), "house_rule[0].value").await;
    // A player of a coach whom the archive does not hold.
    let said = refused(player("coach_id", json!(PLAYER)), "player").await;
    assert!(said.contains("refers to something"), "{said}");
    let twice = json!({"player": [player("aim", json!(""))["player"][0].clone(),
        player("aim", json!("again"))["player"][0].clone()]});
    let said = refused(twice, "player").await;
    assert!(said.contains("stands there twice"), "{said}");
    empty.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn files_whose_rows_never_come_take_no_connection_from_shots_and_pages() {
    let stage = Stage::with_session().await;
    let mut device = stage.device_with_shots(1).await;
    let layout = layout(&stage, "club speed (mph),carry (yd)\n92,231\n").await;
    let (told, mut answers) = tokio::sync::mpsc::channel(40);
    let stalled: Vec<_> = (1..=40)
        .map(|number| {
            let url = format!("{}/api/v1{}", stage.web, path(number, &layout, ""));
            let (http, told) = (stage.http.clone(), told.clone());
            let never = futures_util::stream::pending::<Result<Vec<u8>, std::io::Error>>();
            tokio::spawn(async move {
                let body = reqwest::Body::wrap_stream(never);
                let answer = http.post(url).body(body).send().await.unwrap();
                told.send(answer.status().as_u16()).await.unwrap();
            })
        })
        .collect();
    for _ in 0..38 {
        assert_eq!(answers.recv().await, Some(429));
    }
    let answer = device.say(&crate::stage::shot(2, 91.0)).await;
    assert_eq!(answer["type"], "ack", "{answer}");
    assert_eq!(stage.get("/players").await.0, 200);
    let waiting = "SELECT count(*)::text FROM pg_stat_activity \
                   WHERE datname = current_database() AND state = 'idle in transaction'";
    let waiting: u32 = stage.ask(waiting).await[0].parse().unwrap();
    assert!(waiting <= 2, "{waiting} connections wait for rows");
    for one in stalled {
        one.abort();
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_table_with_characters_that_cannot_be_kept_is_told_by_row_and_column() {
    let stage = Stage::with_session().await;
    let table =
        "club speed (mph);carry (yd);block;no\0te\n92;231;A;\0\n93;232;B\0;x\n94;233;=1+2;\n";
    let told = bring(&stage, 1, table, "").await;
    assert_eq!(
        (&told["state"], &told["rows_good"], &told["rows_bad"]),
        (&json!("done"), &json!(2), &json!(1))
    );
    let trouble = &told["troubles"][0];
    assert_eq!(
        (&trouble["row"], &trouble["column"]),
        (&json!(3), &json!(3)),
        "{told}"
    );
    let rows = stage
        .text(&format!("/imports/{}/bad-rows.csv", id(1)))
        .await;
    assert!(rows.contains("B\u{fffd}") && !rows.contains('\0'), "{rows}");
    // What a spreadsheet would run goes out as text, and comes back as it was.
    let out = stage.text("/shots.csv?units=mph_yd").await;
    assert!(out.contains(",'=1+2,"), "{out}");
    stage.clear().await;
}
