//! What the store promises about files of shots and archives.

use chrono::{DateTime, Utc};
use tally_core::physics::club::Club;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use tally_core::shots::mark::MarkKind;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::vocabulary::quantity::Quantity;
use tally_store::base::signed_in::SignedIn;
use tally_store::school::players::Player;
use tally_store::shots::import_writer::{
    Finished, ImportWriter, ImportedBlock, ImportedSession, NewImport, PlacedShot, ReadFile,
};
use tally_store::shots::imports::BadRow;
use tally_store::testing::TestDatabase;
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// A school with one player.
struct Scene {
    database: TestDatabase,
    store: Store,
    coach: SignedIn,
    player: Uuid,
}

impl Scene {
    async fn set() -> Scene {
        let database = TestDatabase::create().await;
        let store = Store::open(&database.url).await.unwrap();
        let coach = store.found_school("A", "B").await.unwrap();
        let store = store.for_school(coach.school_id);
        let store = store.for_school(coach.school_id);
        let player = Player {
            id: Uuid::now_v7(),
            name: "Wren".into(),
            born: None,
            left_handed: false,
            aim: String::new(),
            height_m: None,
            mass_kg: None,
            level: None,
        };
        store.add_player(coach.school_id, &player).await.unwrap();
        Scene {
            database,
            store,
            coach,
            player: player.id,
        }
    }

    fn new_import(&self) -> NewImport {
        NewImport {
            id: Uuid::now_v7(),
            player_id: self.player,
            coach_id: self.coach.coach_id,
            file_name: "april.csv".into(),
            bytes: Some(1000),
            layout: serde_json::json!({"columns": []}),
        }
    }

    /// An import with one session of these club speeds.
    async fn filled(&self, new: &NewImport, speeds: &[f64]) -> (ImportWriter, Uuid) {
        let school = self.coach.school_id;
        let writer = self.store.begin_import(school, new).await.unwrap();
        let started_at: DateTime<Utc> = "2026-04-18T10:00:00Z".parse().unwrap();
        let (session, block) = (Uuid::now_v7(), Uuid::now_v7());
        let sessions = [ImportedSession {
            id: session,
            purpose: Purpose::Benchmark,
            club: Club::Driver,
            place: "Deck".into(),
            altitude_m: 0.0,
            temperature_c: 20.0,
            started_at,
            zone: "UTC".into(),
        }];
        let blocks = [ImportedBlock {
            id: block,
            session_id: session,
            position: 0,
            label: "Imported".into(),
            plan: serde_json::to_value(PlannedBlock::new("Imported", 0)).unwrap(),
            begun_at: started_at,
        }];
        writer.add_places(&sessions, &blocks).await.unwrap();
        let shots: Vec<PlacedShot> = speeds
            .iter()
            .zip(1..)
            .map(|(speed, row)| {
                let mut reading = Reading::default();
                reading.set(Quantity::ClubSpeed, *speed, Provenance::Measured);
                PlacedShot {
                    id: Uuid::now_v7(),
                    session_id: session,
                    block_id: block,
                    hit_at: started_at + chrono::Duration::seconds(row),
                    row,
                    of_row: 0,
                    set_aside: row == 1,
                    reason: None,
                    reading,
                }
            })
            .collect();
        writer.add_shots(&shots).await.unwrap();
        (writer, session)
    }

    async fn sessions(&self) -> usize {
        let school = self.coach.school_id;
        let sessions = self.store.player_sessions(school, self.player).await;
        sessions.unwrap().len()
    }

    async fn state(&self, id: Uuid) -> String {
        let school = self.coach.school_id;
        self.store.import(school, id).await.unwrap().state
    }

    async fn clear(self) {
        self.database.remove().await.unwrap();
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_of_a_file_is_seen_until_it_is_in_and_then_all_of_it() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let new = scene.new_import();
    let (writer, session) = scene.filled(&new, &[41.0, 42.0, 43.0]).await;
    assert_eq!(scene.sessions().await, 0);
    assert_eq!(scene.state(new.id).await, "running");
    let finished = writer
        .finish(b"digest", [3, 0], 900, &ReadFile::default())
        .await
        .unwrap();
    assert_eq!(finished, Finished::Done);
    let shots = scene.store.session_shots(school, session).await.unwrap();
    let speeds: Vec<_> = shots
        .iter()
        .filter_map(|s| s.reading.get(Quantity::ClubSpeed))
        .collect();
    assert_eq!(speeds, [41.0, 42.0, 43.0]);
    assert_eq!(shots[0].marks[0].kind, MarkKind::SetAside);
    assert_eq!(&*shots[0].sources[0].device, "Imported files");
    let told = scene.store.import(school, new.id).await.unwrap();
    assert_eq!((told.rows_good, told.bytes_done), (3, 900));
    // The session is over: no device may add to it.
    assert!(
        scene
            .store
            .sessions_in_progress(school)
            .await
            .unwrap()
            .is_empty()
    );
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_import_that_is_dropped_or_abandoned_leaves_nothing() {
    let scene = Scene::set().await;
    let (one, other) = (scene.new_import(), scene.new_import());
    let (writer, _) = scene.filled(&one, &[41.0]).await;
    drop(writer);
    let (writer, _) = scene.filled(&other, &[41.0]).await;
    writer.abandon().await.unwrap();
    assert_eq!(scene.sessions().await, 0);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn the_same_file_is_taken_once_for_a_player_until_it_is_undone() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let mut ended = Vec::new();
    let first = scene.new_import();
    for new in [&first, &scene.new_import()] {
        let (writer, _) = scene.filled(new, &[41.0]).await;
        ended.push(
            writer
                .finish(b"same", [1, 0], 9, &ReadFile::default())
                .await
                .unwrap(),
        );
    }
    assert_eq!(ended, [Finished::Done, Finished::Known]);
    assert_eq!(scene.sessions().await, 1);
    scene.store.undo_import(school, first.id).await.unwrap();
    assert_eq!(scene.sessions().await, 0);
    assert!(matches!(
        scene.store.undo_import(school, first.id).await,
        Err(StoreError::Conflict(_))
    ));
    let (writer, _) = scene.filled(&scene.new_import(), &[41.0]).await;
    let again = writer
        .finish(b"same", [1, 0], 9, &ReadFile::default())
        .await
        .unwrap();
    assert_eq!(again, Finished::Done);

    let sessions = scene.store.player_sessions(school, scene.player).await;
    let last = sessions.unwrap()[0].0.id;
    assert_eq!(scene.store.remove_session(school, last).await.unwrap(), 1);
    let new = scene.new_import();
    let (writer, _) = scene.filled(&new, &[41.0]).await;
    let once_more = writer
        .finish(b"same", [1, 0], 9, &ReadFile::default())
        .await
        .unwrap();
    assert_eq!(once_more, Finished::Done);
    assert_eq!(scene.state(new.id).await, "done");
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_running_import_is_told_to_stop_and_one_that_ended_is_not() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let new = scene.new_import();
    let (writer, _) = scene.filled(&new, &[41.0]).await;
    let goes_on = async || {
        let told = scene.store.import_goes_on(school, new.id, 10, [1, 0]).await;
        told.unwrap()
    };
    assert!(!goes_on().await);
    scene.store.cancel_import(school, new.id).await.unwrap();
    assert!(goes_on().await);
    writer.abandon().await.unwrap();
    scene
        .store
        .import_ends(
            school,
            new.id,
            "cancelled",
            "cancelled",
            &ReadFile::default(),
        )
        .await
        .unwrap();
    scene.store.cancel_import(school, new.id).await.unwrap();
    assert_eq!(scene.state(new.id).await, "cancelled");
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn bad_rows_are_kept_with_their_cells_in_their_order() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let new = scene.new_import();
    let (writer, _) = scene.filled(&new, &[41.0]).await;
    let bad = |row: i64| BadRow {
        row,
        cells: serde_json::json!(["fast", row.to_string()]),
        troubles: serde_json::json!([]),
    };
    scene
        .store
        .keep_bad_rows(school, new.id, &[bad(7), bad(3)])
        .await
        .unwrap();
    let names = ["speed".to_owned(), "row".to_owned()];
    let read = ReadFile {
        header: names.to_vec(),
        ..ReadFile::default()
    };
    writer.finish(b"d", [1, 2], 9, &read).await.unwrap();
    // The next file with these columns may be read as this one was.
    let like = scene
        .store
        .layout_of(school, &names)
        .await
        .unwrap()
        .unwrap();
    assert_eq!(like.0, "april.csv");
    assert_eq!(
        scene.store.layout_of(school, &names[..1]).await.unwrap(),
        None
    );
    let (header, rows) = scene.store.bad_rows(school, new.id, 10).await.unwrap();
    assert_eq!(header, names);
    let order: Vec<_> = rows.iter().map(|bad| bad.row).collect();
    assert_eq!(order, [3, 7]);
    assert_eq!(rows[0].cells[0], "fast");
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_school_can_neither_see_nor_stop_nor_undo_an_import() {
    let scene = Scene::set().await;
    let new = scene.new_import();
    let (writer, _) = scene.filled(&new, &[41.0]).await;
    writer
        .finish(b"d", [1, 0], 9, &ReadFile::default())
        .await
        .unwrap();
    let elsewhere = Uuid::now_v7();
    assert!(scene.store.imports(elsewhere).await.unwrap().is_empty());
    for refused in [
        scene.store.cancel_import(elsewhere, new.id).await,
        scene.store.undo_import(elsewhere, new.id).await,
        scene
            .store
            .begin_import(elsewhere, &scene.new_import())
            .await
            .map(drop),
    ] {
        assert!(matches!(refused, Err(StoreError::NotFound(_))));
    }
    assert_eq!(scene.sessions().await, 1);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_school_that_holds_something_takes_no_archive() {
    let scene = Scene::set().await;
    let refused = scene.store.restore_school(scene.coach.school_id).await;
    assert!(matches!(refused, Err(StoreError::Conflict(_))));
    scene.clear().await;
}
