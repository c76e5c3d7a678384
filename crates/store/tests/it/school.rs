//! What the store promises about schools.

use serde_json::json;
use std::collections::{BTreeMap, BTreeSet};
use tally_core::physics::club::Club;
use tally_core::record::flags::{FlagHead, FlagKind};
use tally_core::school::find::{has, words};
use tally_store::record::standings::NewStanding;
use tally_store::school::players::{Player, RosterRow};
use tally_store::testing::{TestDatabase, player};
use tally_store::trials::decisions::NewDecision;
use tally_store::{Store, StoreError};
use uuid::Uuid;

#[tokio::test(flavor = "multi_thread")]
async fn two_servers_that_start_together_migrate_once_and_found_one_school() {
    let database = TestDatabase::create_empty().await;
    let (one, other) = tokio::join!(Store::open(&database.url), Store::open(&database.url));
    let (one, other) = (one.unwrap(), other.unwrap());
    let (first, second) = tokio::join!(one.found_school("A", "B"), other.found_school("A", "B"));
    assert_eq!(first.unwrap(), second.unwrap());
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn another_school_s_player_is_not_there() {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let school = store.found_school("A", "B").await.unwrap().school_id;
    let store = store.for_school(school);
    let player = player("Wren");
    store.add_player(school, &player).await.unwrap();
    let elsewhere = Uuid::now_v7();
    assert!(matches!(
        store.player(elsewhere, player.id).await,
        Err(StoreError::NotFound("player"))
    ));
    assert_eq!(store.players(elsewhere).await.unwrap(), []);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_core_finds_by_some_words_is_among_those_the_database_gives() {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let school = store.found_school("A", "B").await.unwrap().school_id;
    let store = store.for_school(school);
    for (name, aim) in [
        ("Mira Holm", "a straighter driver"),
        ("DOV STRAIGHT", ""),
        ("Åse Lund", "Speed"),
        ("İnce Kaya", ""),
        ("山田 花子", ""),
        ("Cato O'Neal-Holm", "100_% \\ carry"),
    ] {
        let aim = aim.to_owned();
        let new = Player {
            aim,
            ..player(name)
        };
        store.add_player(school, &new).await.unwrap();
    }
    let everybody = store.roster(school).await.unwrap();
    let names = |rows: &[RosterRow]| -> BTreeSet<String> {
        rows.iter().map(|row| row.name.clone()).collect()
    };
    for asked in [
        "mira",
        "HOLM",
        "straight",
        "ase",
        "ÅSE",
        "ince",
        "花子",
        "o'neal",
        "100_%",
        "holm mira",
        "dov driver",
        "\u{212a}aya",
        "nobody",
        "i",
    ] {
        let words = words(asked);
        for all in [true, false] {
            let most = if all { words.len() } else { 1 };
            let fits = |row: &&RosterRow| has(&format!("{} {}", row.name, row.aim), &words) >= most;
            let found: Vec<RosterRow> = everybody.iter().filter(fits).cloned().collect();
            let given = names(&store.roster_with(school, &words, all).await.unwrap());
            assert!(names(&found).is_subset(&given), "{asked}: {given:?}");
        }
    }
    // Who has English letters alone comes only where the words are.
    let given = store.roster_with(school, &words("mira driver"), true).await;
    let given = names(&given.unwrap());
    assert!(
        given.contains("Mira Holm") && !given.contains("DOV STRAIGHT"),
        "{given:?}"
    );
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn adding_the_same_again_is_harmless_and_another_under_its_name_is_not() {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let school = store.found_school("A", "B").await.unwrap().school_id;
    let store = store.for_school(school);
    let wren = player("Wren");
    store.add_player(school, &wren).await.unwrap();
    store.add_player(school, &wren).await.unwrap();
    let taken = Player {
        name: "Lark".into(),
        ..wren.clone()
    };
    assert!(matches!(
        store.add_player(school, &taken).await,
        Err(StoreError::Conflict(_))
    ));
    assert_eq!(store.players(school).await.unwrap().len(), 1);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_player_has_one_target_window_with_each_club() {
    use tally_core::reach::launch_spin::TargetWindow;
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let school = store.found_school("A", "B").await.unwrap().school_id;
    let store = store.for_school(school);
    let wren = player("Wren");
    store.add_player(school, &wren).await.unwrap();
    let window = |launch: f64| TargetWindow {
        launch_angle_deg: [launch, launch + 4.0],
        spin_rate_rpm: [2000.0, 2600.0],
    };
    for launch in [10.0, 12.0] {
        store
            .save_target_window(school, wren.id, Club::Driver, window(launch))
            .await
            .unwrap();
    }
    let saved = store.target_windows(school, wren.id).await.unwrap();
    assert_eq!(saved, [(Club::Driver, window(12.0))]);
    assert!(matches!(
        store
            .save_target_window(Uuid::now_v7(), wren.id, Club::Driver, window(9.0))
            .await,
        Err(StoreError::NotFound("player"))
    ));
    store
        .forget_target_window(school, wren.id, Club::Driver)
        .await
        .unwrap();
    assert_eq!(store.target_windows(school, wren.id).await.unwrap(), []);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn decisions_stay_with_their_school_and_player_and_wait_to_be_looked_at_again() {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let coach = store.found_school("A", "B").await.unwrap();
    let store = store.for_school(coach.school_id);
    let (school, wren) = (coach.school_id, player("Wren"));
    store.add_player(school, &wren).await.unwrap();
    let new = |words: &str, recheck_on: Option<&str>| NewDecision {
        id: Uuid::now_v7(),
        player_id: wren.id,
        session_id: None,
        words: words.to_owned(),
        verdict: String::new(),
        address: String::new(),
        recheck_on: recheck_on.map(|day| day.parse().unwrap()),
    };
    let later = new("Later", Some("2026-06-01"));
    let soon = new("Soon", Some("2026-05-01"));
    for decision in [&later, &soon, &new("Never", None)] {
        store
            .decide(school, coach.coach_id, decision)
            .await
            .unwrap();
    }
    assert_eq!(store.decisions(school, wren.id).await.unwrap().len(), 3);
    let due = store.decisions_to_recheck(school).await.unwrap();
    let words: Vec<&str> = due.iter().map(|(d, _)| d.words.as_str()).collect();
    assert_eq!(words, ["Soon", "Later"]);
    let elsewhere = Uuid::now_v7();
    assert_eq!(store.decisions(elsewhere, wren.id).await.unwrap(), []);
    assert!(matches!(
        store
            .decision_done(elsewhere, soon.id, Some(chrono::Utc::now()))
            .await,
        Err(StoreError::NotFound("decision"))
    ));
    assert!(matches!(
        store.decide(elsewhere, coach.coach_id, &soon).await,
        Err(StoreError::NotFound("player"))
    ));
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_player_is_to_be_told_of_until_they_are_and_shows_what_can_be_read() {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let school = store.found_school("A", "B").await.unwrap().school_id;
    let store = store.for_school(school);
    let (wren, away, odd, level) = (player("Wren"), player("Away"), player("Odd"), player("Lev"));
    for one in [&wren, &away, &odd, &level] {
        store.add_player(school, one).await.unwrap();
    }
    let mark = 7;
    let untold = store.standings(school, mark).await.unwrap().untold;
    assert_eq!(untold.len(), 4);
    let doubted = json!({"flags": [{
        "kind": "doubted", "said": [], "since": "2026-04-01", "seen": "2026-04-02",
    }]});
    for of in untold {
        let told = match of.player {
            id if id == odd.id => json!({"flags": [{"kind": "of another version"}]}),
            id if id == level.id => json!({"flags": []}),
            _ => doubted.clone(),
        };
        let standing = NewStanding {
            flagged: of.player != level.id,
            told: &told,
            check_ins: 0,
            last_check_in: None,
            usual: &BTreeMap::new(),
        };
        store
            .keep_standing(school, mark, of, &standing)
            .await
            .unwrap();
    }
    let now = Some(chrono::Utc::now());
    store.archive_player(school, away.id, now).await.unwrap();
    let told = store.standings(school, mark).await.unwrap();
    assert_eq!(told.untold, []);
    let [flagged] = &told.flagged[..] else {
        panic!("{told:?}");
    };
    assert_eq!((flagged.player, flagged.name.as_str()), (wren.id, "Wren"));
    let on = |head: &FlagHead| (head.kind, head.seen.to_string());
    let heads: Vec<_> = flagged.flags.iter().map(on).collect();
    assert_eq!(heads, [(FlagKind::Doubted, "2026-04-02".to_owned())]);
    // By other rules nothing is told of anybody.
    let told = store.standings(school, mark + 1).await.unwrap();
    assert_eq!((told.untold.len(), told.flagged), (4, vec![]));
    database.remove().await.unwrap();
}
