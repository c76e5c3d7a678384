//! What the store promises about shots and marks.

use chrono::{DateTime, Duration, Utc};
use tally_core::physics::club::Club;
use tally_core::session::acts::SessionAct;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use tally_core::session::tags::Tags;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::mark::MarkKind;
use tally_core::shots::mark::Reason;
use tally_core::shots::reading::{Provenance, Reading};
use tally_core::shots::swung::Swung;
use tally_core::vocabulary::quantity::Quantity;
use tally_store::base::keys::Key;
use tally_store::base::signed_in::SignedIn;
use tally_store::session::blocks::Block;
use tally_store::session::sessions::Session;
use tally_store::shots::session_shots::Shot;
use tally_store::shots::shot_edits::{NewEntry, NewMark};
use tally_store::shots::shot_intake::NewShot;
use tally_store::testing::{TestDatabase, player};
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// A school with one session in progress.
struct Scene {
    database: TestDatabase,
    store: Store,
    coach: SignedIn,
    session: Uuid,
    device: Uuid,
    camera: Uuid,
    start: DateTime<Utc>,
}

impl Scene {
    async fn set() -> Scene {
        let database = TestDatabase::create().await;
        let store = Store::open(&database.url).await.unwrap();
        let coach = store.found_school("A", "B").await.unwrap();
        let store = store.for_school(coach.school_id);
        let player = player("Wren");
        store.add_player(coach.school_id, &player).await.unwrap();
        let start = "2026-04-18T10:00:00Z".parse().unwrap();
        let session = Session {
            place: "Deck".into(),
            altitude_m: 1140.0,
            temperature_c: 12.0,
            ..Session::begun(Uuid::now_v7(), player.id, Purpose::Benchmark, "UTC", start)
        };
        let plan = PlannedBlock::new("Stock", 12);
        let block = Block::planned(Uuid::now_v7(), session.id, 0, &plan);
        store
            .add_session(coach.school_id, &session, &[block])
            .await
            .unwrap();
        let (device, camera) = (Uuid::now_v7(), Uuid::now_v7());
        for (id, name, kind) in [
            (device, "Radar", DeviceKind::Radar),
            (camera, "Camera", DeviceKind::Camera),
        ] {
            store
                .add_device(coach.school_id, id, name, kind, None, false)
                .await
                .unwrap();
        }
        Scene {
            database,
            store,
            coach,
            session: session.id,
            device,
            camera,
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
            tags: Tags::default(),
            reading,
            unread: Default::default(),
            pair_window_s: 2.5,
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

    async fn shots(&self) -> Vec<Shot> {
        let school = self.coach.school_id;
        self.store
            .session_shots(school, self.session)
            .await
            .unwrap()
    }

    /// What the camera says of the same moment, `late` seconds after.
    fn camera_shot(&self, sequence: i64, speed: f64, late: i64) -> NewShot {
        let shot = self.shot(sequence, speed);
        NewShot {
            device_id: self.camera,
            hit_at: shot.hit_at + Duration::seconds(late),
            ..shot
        }
    }

    async fn store_all(&self, shots: &[NewShot]) {
        let stored = self.store.store_shots(self.coach.school_id, shots);
        stored.await.unwrap();
    }

    async fn clear(self) {
        self.database.remove().await.unwrap();
    }
}

fn mark(kind: MarkKind, reason: Option<Reason>) -> NewMark {
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
async fn of_several_at_once_all_or_none_are_stored() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let some = [1, 2].map(|n| scene.shot(n, 41.0));
    let stored = scene.store.store_shots(school, &some).await.unwrap();
    let more = [2, 3].map(|n| scene.shot(n, 41.0));
    let again = scene.store.store_shots(school, &more).await.unwrap();
    assert_eq!(again[0].shot, stored[1].shot);
    assert_eq!([again[0].again, again[1].again], [true, false]);
    let odd = [scene.shot(4, 41.0), scene.shot(1, 44.0)];
    let refused = scene.store.store_shots(school, &odd).await;
    assert!(matches!(refused, Err(StoreError::Conflict(_))));
    assert_eq!(scene.speeds().await, [41.0; 3]);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_swing_goes_to_the_block_of_what_the_device_says_was_swung() {
    let scene = Scene::set().await;
    let (school, session) = (scene.coach.school_id, scene.session);
    let swing = |sequence, implement: &str| NewShot {
        tags: Tags::swung(Swung {
            implement: implement.into(),
            side: None,
            position: None,
        }),
        ..scene.shot(sequence, 50.0)
    };
    let planned = PlannedBlock {
        swung: swing(0, "Light").tags.swung,
        ..PlannedBlock::new("Light stick", 3)
    };
    let plan = [(Uuid::now_v7(), planned)];
    scene.store.save_plan(school, session, &plan).await.unwrap();
    let told = [
        scene.shot(1, 41.0),
        // Nobody planned it: it gets a block of its own, and the balls stay where they were.
        swing(2, "heavy"),
        scene.shot(3, 41.5),
        swing(4, "HEAVY "),
        // The planned one begins, and is what is under way from then on.
        swing(5, "light"),
        scene.shot(6, 51.0),
        swing(7, "heavy"),
    ];
    scene.store_all(&told).await;
    let (_, blocks) = scene.store.session(school, session).await.unwrap();
    let label = |shot: &Shot| {
        let block = blocks.iter().find(|block| block.id == shot.block_id);
        block.unwrap().label.clone()
    };
    let labels: Vec<_> = scene.shots().await.iter().map(label).collect();
    assert_eq!(
        labels,
        [
            "Stock",
            "heavy",
            "Stock",
            "heavy",
            "Light stick",
            "Light stick",
            "heavy"
        ]
    );
    assert_eq!(blocks.len(), 3);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_shot_goes_to_the_block_or_the_club_that_the_device_says() {
    let scene = Scene::set().await;
    let (school, session) = (scene.coach.school_id, scene.session);
    let told = |sequence, club, block: Option<&str>| NewShot {
        tags: Tags {
            club,
            block: block.map(str::to_owned),
            ..Tags::default()
        },
        ..scene.shot(sequence, 40.0 + sequence as f64 / 10.0)
    };
    let planned = PlannedBlock {
        club: Some(Club::WedgeLob),
        ..PlannedBlock::new("Pitches", 3)
    };
    let plan = [(Uuid::now_v7(), planned)];
    scene.store.save_plan(school, session, &plan).await.unwrap();
    let mut astray = Vec::new();
    for shot in [
        told(1, None, None),
        told(2, Some(Club::WedgeLob), None),
        told(3, Some(Club::Driver), None),
        // The device's setting is often stale: a club that nothing is hit with moves nothing.
        told(4, Some(Club::WedgeSand), None),
        told(5, None, Some("Far side")),
        told(6, None, Some("stock ")),
        told(7, Some(Club::WedgeSand), Some("Pitches")),
    ] {
        let stored = scene.store.store_shot(school, &shot).await.unwrap();
        astray.push(stored.astray.club);
    }
    let (_, blocks) = scene.store.session(school, session).await.unwrap();
    let of = |shot: &Shot| {
        let block = blocks.iter().find(|block| block.id == shot.block_id);
        let plan = block.unwrap().plan();
        (plan.label, plan.club)
    };
    let went: Vec<_> = scene.shots().await.iter().map(of).collect();
    let stock = ("Stock".to_owned(), None);
    let pitches = |club| ("Pitches".to_owned(), Some(club));
    assert_eq!(
        went,
        [
            stock.clone(),
            pitches(Club::WedgeLob),
            stock.clone(),
            pitches(Club::WedgeLob),
            ("Far side".to_owned(), None),
            stock,
            pitches(Club::WedgeSand),
        ]
    );
    assert_eq!(astray, [false, false, false, true, false, false, false]);

    // A device that numbers its blocks without end loses no shot by it.
    let mut full = None;
    for more in 8.. {
        let shot = told(more, None, Some(&format!("Set {more}")));
        let stored = scene.store.store_shot(school, &shot).await.unwrap();
        if stored.astray.block {
            full = Some(stored.shot);
            break;
        }
    }
    let (_, blocks) = scene.store.session(school, session).await.unwrap();
    assert_eq!(blocks.len(), 200);
    let shots = scene.shots().await;
    let last = shots.iter().find(|shot| Some(shot.id) == full);
    let under_way = blocks.iter().max_by_key(|block| block.begun_at).unwrap();
    assert_eq!(last.unwrap().block_id, under_way.id);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_ball_that_another_device_knows_as_a_swing_is_put_right() {
    let scene = Scene::set().await;
    let (school, session) = (scene.coach.school_id, scene.session);
    let told = NewShot {
        tags: Tags::swung(Swung {
            implement: "light".into(),
            side: None,
            position: None,
        }),
        ..scene.camera_shot(1, 50.2, 1)
    };
    scene.store_all(&[scene.shot(1, 50.0), told]).await;
    let shots = scene.shots().await;
    let (_, blocks) = scene.store.session(school, session).await.unwrap();
    let block = blocks.iter().find(|block| block.id == shots[0].block_id);
    assert_eq!((shots.len(), block.unwrap().label.as_str()), (1, "light"));
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
        mark(MarkKind::SetAside, Some(Reason::Mishit)),
        mark(MarkKind::Withdraw, None),
        mark(MarkKind::Keep, None),
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
    let kinds: Vec<_> = shots[0].marks.iter().map(|m| m.kind).collect();
    assert_eq!(
        kinds,
        [MarkKind::SetAside, MarkKind::Withdraw, MarkKind::Keep]
    );
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
            &mark(MarkKind::Keep, None),
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

#[tokio::test(flavor = "multi_thread")]
async fn two_devices_on_the_same_swing_make_one_shot_in_whatever_order_they_tell() {
    let scene = Scene::set().await;
    scene
        .store_all(&[
            scene.shot(1, 41.0),
            scene.camera_shot(1, 41.6, 1),
            scene.camera_shot(2, 42.6, 1),
            scene.shot(2, 42.0),
            // Too late to be of the same swing.
            scene.camera_shot(3, 43.0, 9),
            scene.shot(3, 43.9),
        ])
        .await;
    let shots = scene.shots().await;
    let devices: Vec<_> = shots.iter().map(|s| s.sources.len()).collect();
    assert_eq!(devices, [2, 2, 1, 1]);
    // Both measured it: the first device's value stands.
    assert_eq!(scene.speeds().await[..2], [41.0, 42.6]);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_wrong_pair_is_parted_and_put_together_by_hand() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    scene
        .store_all(&[
            scene.shot(1, 41.0),
            scene.camera_shot(1, 47.0, 1),
            scene.shot(2, 42.0),
        ])
        .await;
    let first = scene.shots().await.remove(0);
    let camera = first.sources[1].id;
    let alone = Uuid::now_v7();
    let pair = async |to: Option<Uuid>| {
        scene
            .store
            .pair_reading(school, scene.session, camera, to, alone)
            .await
    };
    pair(None).await.unwrap();
    let parted = scene.shots().await;
    let devices: Vec<_> = parted.iter().map(|s| s.sources.len()).collect();
    assert_eq!(devices, [1, 1, 1]);
    // To the shot it truly belongs to; the one of its own goes.
    let second = parted
        .iter()
        .find(|s| s.reading.get(Quantity::ClubSpeed) == Some(42.0))
        .unwrap();
    pair(Some(second.id)).await.unwrap();
    let paired = scene.shots().await;
    let devices: Vec<_> = paired.iter().map(|s| s.sources.len()).collect();
    assert_eq!(devices, [1, 2]);
    // A device has told of a shot once.
    let radar = paired[0].sources[0].id;
    let doubled = scene
        .store
        .pair_reading(
            school,
            scene.session,
            radar,
            Some(paired[1].id),
            Uuid::now_v7(),
        )
        .await;
    assert!(matches!(doubled, Err(StoreError::Conflict(_))));
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn typed_values_stand_before_a_device_s_and_the_old_ones_stay_in_the_record() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    scene.store_all(&[scene.shot(1, 41.0)]).await;
    let shot = scene.shots().await[0].id;
    let entry = |id: Uuid, si: Option<f64>| NewEntry {
        id,
        quantity: Quantity::ClubSpeed,
        si,
    };
    let enter = async |shot: Uuid, entries: &[NewEntry]| {
        let coach = scene.coach.coach_id;
        scene
            .store
            .enter_values(school, scene.session, coach, shot, scene.start, entries)
            .await
            .unwrap();
    };
    let (first, second) = (Uuid::now_v7(), Uuid::now_v7());
    enter(shot, &[entry(first, Some(44.0))]).await;
    enter(shot, &[entry(first, Some(44.0))]).await;
    assert_eq!(scene.speeds().await, [44.0]);
    enter(shot, &[entry(second, None)]).await;
    let read = scene.shots().await;
    assert_eq!(read[0].reading.get(Quantity::ClubSpeed), Some(41.0));
    let record: Vec<_> = read[0].entries.iter().map(|e| e.si).collect();
    assert_eq!(record, [Some(44.0), None]);
    // A shot that no device saw.
    enter(Uuid::now_v7(), &[entry(Uuid::now_v7(), Some(39.0))]).await;
    assert_eq!(scene.shots().await.len(), 2);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_shot_hit_during_a_pause_is_set_aside_at_once() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let act = async |act: SessionAct| {
        let coach = scene.coach.coach_id;
        scene
            .store
            .record_act(school, scene.session, coach, Uuid::now_v7(), &act)
            .await
            .unwrap();
    };
    act(SessionAct::Pause).await;
    scene.store_all(&[scene.shot(1, 41.0)]).await;
    act(SessionAct::Resume).await;
    scene.store_all(&[scene.shot(2, 42.0)]).await;
    let shots = scene.shots().await;
    assert_eq!(shots[0].marks[0].reason, Some(Key(Reason::Paused)));
    assert!(shots[1].marks.is_empty());
    let block = shots[0].block_id;
    assert_eq!(scene.store.shots_counting(school, block).await.unwrap(), 1);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn blocks_to_come_are_replaced_and_those_begun_are_not() {
    let scene = Scene::set().await;
    let school = scene.coach.school_id;
    let (full, easy) = (Uuid::now_v7(), Uuid::now_v7());
    let plan = |id: Uuid, label: &str| (id, PlannedBlock::new(label, 3));
    let save = async |plan: &[(Uuid, PlannedBlock)]| {
        scene.store.save_plan(school, scene.session, plan).await
    };
    save(&[plan(full, "Full"), plan(easy, "Easy")])
        .await
        .unwrap();
    save(&[plan(easy, "Easy"), plan(full, "Full")])
        .await
        .unwrap();
    let labels = async || {
        let (_, blocks) = scene.store.session(school, scene.session).await.unwrap();
        blocks.into_iter().map(|b| b.label).collect::<Vec<_>>()
    };
    assert_eq!(labels().await, ["Stock", "Easy", "Full"]);
    scene
        .store
        .begin_block(school, scene.session, full)
        .await
        .unwrap();
    scene.store_all(&[scene.shot(1, 41.0)]).await;
    assert_eq!(scene.shots().await[0].block_id, full);
    let begun = save(&[plan(full, "Full again")]).await;
    assert!(matches!(begun, Err(StoreError::Conflict(_))));
    save(&[]).await.unwrap();
    assert_eq!(labels().await, ["Stock", "Full"]);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn rules_are_read_as_they_stood_at_any_time() {
    let scene = Scene::set().await;
    let (school, coach) = (scene.coach.school_id, scene.coach.coach_id);
    let change = async |value| {
        scene
            .store
            .change_rule(school, coach, Uuid::now_v7(), "interval_level", value)
            .await
            .unwrap();
    };
    let level = async |at| {
        let rules = scene.store.house_rules_at(school, at).await.unwrap();
        rules.interval_level
    };
    change(Some(0.95)).await;
    let then = scene.store.rule_changes(school).await.unwrap()[0].changed_at;
    change(Some(0.8)).await;
    let now = scene.store.house_rules(school).await.unwrap();
    assert_eq!((level(then).await, now.interval_level), (0.95, 0.8));
    change(None).await;
    let ours = scene.store.house_rules(school).await.unwrap();
    assert_eq!(ours.interval_level, 0.9);
    assert_eq!(scene.store.rule_changes(school).await.unwrap().len(), 3);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_shot_is_given_to_a_begun_block_of_its_own_session_and_nowhere_else() {
    let scene = Scene::set().await;
    let (school, coach) = (scene.coach.school_id, scene.coach.coach_id);
    scene.store_all(&[scene.shot(1, 41.0)]).await;
    let shot = scene.shots().await[0].clone();
    let to_come = Uuid::now_v7();
    let plan = [(to_come, PlannedBlock::new("Sixty", 3))];
    scene
        .store
        .save_plan(school, scene.session, &plan)
        .await
        .unwrap();
    let give = async |school, session, block| {
        let id = Uuid::now_v7();
        let moved = scene
            .store
            .move_shot(school, session, shot.id, coach, id, block);
        moved.await
    };
    let refused = give(school, scene.session, to_come).await.unwrap_err();
    assert!(refused.to_string().contains("“Sixty” is not begun yet"));
    let missing = give(school, scene.session, Uuid::now_v7()).await;
    assert!(matches!(missing, Err(StoreError::NotFound("block"))));
    let elsewhere = give(school, Uuid::now_v7(), shot.block_id).await;
    assert!(matches!(elsewhere, Err(StoreError::NotFound("session"))));
    let foreign = give(Uuid::now_v7(), scene.session, shot.block_id).await;
    assert!(matches!(foreign, Err(StoreError::NotFound("session"))));
    // Where it is already: nothing to mark.
    give(school, scene.session, shot.block_id).await.unwrap();
    let now = scene.shots().await[0].clone();
    assert_eq!((now.block_id, now.marks.len()), (shot.block_id, 0));
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_block_taken_back_keeps_the_marks_of_its_balls_and_may_be_begun_again() {
    let scene = Scene::set().await;
    let (school, coach) = (scene.coach.school_id, scene.coach.coach_id);
    let stock = {
        let (_, blocks) = scene.store.session(school, scene.session).await.unwrap();
        blocks[0].id
    };
    let sixty = Uuid::now_v7();
    let plan = [(sixty, PlannedBlock::new("Sixty", 3))];
    let store = &scene.store;
    store.save_plan(school, scene.session, &plan).await.unwrap();
    store
        .begin_block(school, scene.session, sixty)
        .await
        .unwrap();
    scene
        .store_all(&[scene.shot(1, 41.0), scene.shot(2, 30.0)])
        .await;
    let aside = mark(MarkKind::SetAside, Some(Reason::Mishit));
    let second = scene.shots().await[1].id;
    store
        .mark_shot(school, scene.session, second, coach, &aside)
        .await
        .unwrap();
    let foreign = store
        .take_back_block(Uuid::now_v7(), scene.session, sixty)
        .await;
    assert!(matches!(foreign, Err(StoreError::NotFound("session"))));
    store
        .take_back_block(school, scene.session, sixty)
        .await
        .unwrap();
    let shots = scene.shots().await;
    assert!(shots.iter().all(|shot| shot.block_id == stock));
    assert_eq!(shots[1].marks[0].id, aside.id);
    let first = store.take_back_block(school, scene.session, stock).await;
    assert!(matches!(first, Err(StoreError::Conflict(_))));
    store
        .begin_block(school, scene.session, sixty)
        .await
        .unwrap();
    scene.store_all(&[scene.shot(3, 41.0)]).await;
    assert_eq!(scene.shots().await[2].block_id, sixty);
    scene.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn of_too_many_shots_some_are_read_evenly_from_first_to_last() {
    let scene = Scene::set().await;
    let shots: Vec<_> = (1..=100)
        .map(|n| scene.shot(n, 40.0 + n as f64 / 10.0))
        .collect();
    scene.store_all(&shots).await;
    let school = scene.coach.school_id;
    let read = async |most: usize| {
        let (session, _) = scene.store.session(school, scene.session).await.unwrap();
        let read = scene.store.hit_sessions_up_to(school, vec![session], most);
        let (hit, all) = read.await.unwrap();
        assert_eq!(all, 100);
        let shots = hit[0].shots.iter();
        let speeds: Vec<f64> = shots
            .filter_map(|shot| shot.reading.get(Quantity::ClubSpeed))
            .collect();
        assert!(speeds.is_sorted());
        speeds
    };
    assert_eq!(read(100).await.len(), 100);
    let some = read(10).await;
    assert!((10..=11).contains(&some.len()), "{some:?}");
    let widest = some
        .windows(2)
        .map(|two| two[1] - two[0])
        .fold(0.0, f64::max);
    assert!(widest < 1.5, "a gap of {widest}");
    assert!(some[0] < 41.2 && some[some.len() - 1] > 48.9, "{some:?}");
    scene.clear().await;
}
