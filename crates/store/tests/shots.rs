//! What the store promises about shots and marks.

#![allow(clippy::unwrap_used, reason = "a test may fail loudly")]

use chrono::{DateTime, Duration, Utc};
use tally_core::quantity::Quantity;
use tally_core::reading::{Provenance, Reading};
use tally_store::players::Player;
use tally_store::school::SignedIn;
use tally_store::sessions::{Block, Session};
use tally_store::shots::{NewMark, NewShot};
use tally_store::testing::TestDatabase;
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// A school with one session in progress.
struct Scene {
    database: TestDatabase,
    store: Store,
    coach: SignedIn,
    session: Uuid,
    device: Uuid,
    start: DateTime<Utc>,
}

impl Scene {
    async fn set() -> Scene {
        let database = TestDatabase::create().await;
        let store = Store::open(&database.url).await.unwrap();
        let coach = store.found_school("A", "B").await.unwrap();
        let player = Player {
            id: Uuid::now_v7(),
            name: "Wren".into(),
            born: None,
            left_handed: false,
            aim: String::new(),
        };
        store.add_player(coach.school_id, &player).await.unwrap();
        let start = "2026-04-18T10:00:00Z".parse().unwrap();
        let session = Session {
            id: Uuid::now_v7(),
            player_id: player.id,
            purpose: "benchmark".into(),
            club: "driver".into(),
            place: "Deck".into(),
            altitude_m: 1140.0,
            temperature_c: 12.0,
            humidity_pct: 50.0,
            pressure_hpa: None,
            started_at: start,
            zone: "UTC".into(),
            ended_at: None,
        };
        let block = Block {
            id: Uuid::now_v7(),
            session_id: session.id,
            position: 0,
            label: "Stock".into(),
        };
        store
            .add_session(coach.school_id, &session, &block)
            .await
            .unwrap();
        let device = store
            .greet_device(coach.school_id, "Radar", "radar")
            .await
            .unwrap();
        Scene {
            database,
            store,
            coach,
            session: session.id,
            device,
            start,
        }
    }

    fn shot(&self, sequence: i64, speed: f64) -> NewShot {
        let mut reading = Reading::default();
        reading.set(Quantity::ClubSpeed, speed, Provenance::Measured);
        NewShot {
            device_id: self.device,
            run: "a".into(),
            sequence,
            session_id: self.session,
            hit_at: self.start + Duration::seconds(30 * sequence),
            reading,
        }
    }

    async fn speeds(&self) -> Vec<f64> {
        let shots = self
            .store
            .session_shots(self.coach.school_id, self.session)
            .await
            .unwrap();
        shots
            .iter()
            .filter_map(|s| s.reading.get(Quantity::ClubSpeed))
            .collect()
    }

    async fn clear(self) {
        self.database.remove().await.unwrap();
    }
}

fn mark(kind: &'static str, reason: Option<&'static str>) -> NewMark {
    NewMark {
        id: Uuid::now_v7(),
        kind,
        reason,
        note: String::new(),
        strike: None,
        made_at: None,
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn shots_come_back_in_hitting_order_however_they_arrived() {
    let scene = Scene::set().await;
    for (sequence, speed) in [(3, 43.0), (1, 41.0), (2, 42.0)] {
        scene
            .store
            .store_shot(scene.coach.school_id, &scene.shot(sequence, speed))
            .await
            .unwrap();
    }
    assert_eq!(scene.speeds().await, [41.0, 42.0, 43.0]);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_shot_goes_to_the_last_block_and_values_come_back_to_the_last_digit() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let odd = 41.123_456_789_012_34;
    scene
        .store
        .store_shot(school, &scene.shot(1, odd))
        .await
        .unwrap();
    let next = Uuid::now_v7();
    scene
        .store
        .add_block(school, scene.session, next, "Next")
        .await
        .unwrap();
    scene
        .store
        .add_block(school, scene.session, next, "Next")
        .await
        .unwrap();
    scene
        .store
        .store_shot(school, &scene.shot(2, 42.0))
        .await
        .unwrap();
    let shots = scene
        .store
        .session_shots(school, scene.session)
        .await
        .unwrap();
    assert_eq!(shots[1].block_id, next);
    assert_eq!(scene.speeds().await, [odd, 42.0]);
    let (_, blocks) = scene.store.session(school, scene.session).await.unwrap();
    assert_eq!(blocks.len(), 2);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_resent_shot_is_the_same_shot_and_another_under_its_number_is_refused() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let first = scene
        .store
        .store_shot(school, &scene.shot(1, 41.0))
        .await
        .unwrap();
    let again = scene
        .store
        .store_shot(school, &scene.shot(1, 41.0))
        .await
        .unwrap();
    assert_eq!((first.shot, again.again), (again.shot, true));
    let other = scene.store.store_shot(school, &scene.shot(1, 44.0)).await;
    assert!(matches!(other, Err(StoreError::Conflict(_))));
    // A new run may begin at 1 again.
    let new_run = NewShot {
        run: "b".into(),
        ..scene.shot(1, 44.0)
    };
    assert!(
        !scene
            .store
            .store_shot(school, &new_run)
            .await
            .unwrap()
            .again
    );
    assert_eq!(scene.speeds().await.len(), 2);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn an_ended_session_takes_nothing_new_until_it_is_taken_up_again() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    scene
        .store
        .end_session(school, scene.session, Some(Utc::now()))
        .await
        .unwrap();
    let late = scene.store.store_shot(school, &scene.shot(1, 41.0)).await;
    assert!(matches!(late, Err(StoreError::Conflict(_))));
    assert!(
        scene
            .store
            .sessions_in_progress(school)
            .await
            .unwrap()
            .is_empty()
    );
    scene
        .store
        .end_session(school, scene.session, None)
        .await
        .unwrap();
    scene
        .store
        .store_shot(school, &scene.shot(1, 41.0))
        .await
        .unwrap();
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn marks_are_kept_in_order_and_never_overwritten() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let shot = scene
        .store
        .store_shot(school, &scene.shot(1, 41.0))
        .await
        .unwrap()
        .shot;
    for new in [
        mark("set_aside", Some("mishit")),
        mark("withdraw", None),
        mark("keep", None),
    ] {
        scene
            .store
            .mark_shot(school, scene.session, shot, scene.coach.coach_id, &new)
            .await
            .unwrap();
    }
    let shots = scene
        .store
        .session_shots(school, scene.session)
        .await
        .unwrap();
    let kinds: Vec<_> = shots[0].marks.iter().map(|m| m.kind.as_str()).collect();
    assert_eq!(kinds, ["set_aside", "withdraw", "keep"]);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn another_school_can_neither_see_nor_mark_nor_add_a_shot() {
    let scene = Scene::set().await;
    let shot = scene
        .store
        .store_shot(scene.coach.school_id, &scene.shot(1, 41.0))
        .await
        .unwrap()
        .shot;
    let elsewhere = Uuid::now_v7();
    assert!(
        scene
            .store
            .session_shots(elsewhere, scene.session)
            .await
            .unwrap()
            .is_empty()
    );
    let marked = scene
        .store
        .mark_shot(
            elsewhere,
            scene.session,
            shot,
            scene.coach.coach_id,
            &mark("keep", None),
        )
        .await;
    assert!(matches!(marked, Err(StoreError::NotFound("shot"))));
    let added = scene
        .store
        .store_shot(elsewhere, &scene.shot(2, 42.0))
        .await;
    assert!(matches!(added, Err(StoreError::NotFound("session"))));
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_change_is_heard_by_another_copy_of_the_server() {
    let scene = Scene::set().await;
    let there = Store::open(&scene.database.url).await.unwrap();
    let mut heard = there.listen().subscribe();
    // The first word says that listening has begun.
    heard.recv().await.unwrap();
    let school = scene.coach.school_id;
    scene
        .store
        .store_shot(school, &scene.shot(1, 41.0))
        .await
        .unwrap();
    assert!(heard.recv().await.unwrap().concerns(school, scene.session));
    scene.clear().await;
}
