//! What the store promises to those whose records it keeps.

use chrono::{Duration, Utc};
use tally_store::base::signed_in::SignedIn;
use tally_store::school::links::PlayerLink;
use tally_store::school::players::Player;
use tally_store::school::privacy::{AuditFilter, Consent};
use tally_store::testing::{TestDatabase, founded, player};
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// The first year of birth of those who count as children, less one.
const BORN_AFTER: i32 = 2007;

struct Scene {
    database: TestDatabase,
    all: Store,
    owner: SignedIn,
    store: Store,
    players: Vec<Player>,
}

impl Scene {
    /// A school with players born in these years.
    async fn set(born: &[(&str, Option<i32>)]) -> Scene {
        let database = TestDatabase::create().await;
        let all = Store::open(&database.url).await.unwrap();
        let owner = founded(&all, "north").await;
        let store = all.for_person(&owner);
        let mut players = Vec::new();
        for (name, born) in born {
            let player = Player {
                born: *born,
                ..player(name)
            };
            store.add_player(owner.school_id, &player).await.unwrap();
            players.push(player);
        }
        Scene {
            database,
            all,
            owner,
            store,
            players,
        }
    }

    fn school(&self) -> Uuid {
        self.owner.school_id
    }

    async fn read(&self, players: &[Uuid]) {
        let (school, person) = (self.school(), self.owner.coach_id);
        let noted = self
            .store
            .note_children_read(school, person, players, BORN_AFTER);
        noted.await.unwrap();
    }

    /// Whose records the record says were read, the latest first.
    async fn noted(&self) -> Vec<String> {
        let rows = self
            .store
            .audit(self.school(), AuditFilter::default(), 100)
            .await;
        rows.unwrap()
            .into_iter()
            .filter_map(|row| row.player)
            .collect()
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_child_s_reading_is_noted_once_an_hour_and_nobody_else_s() {
    let scene = Scene::set(&[
        ("Wren", Some(2014)),
        ("Lark", Some(2007)),
        ("Finch", None),
        ("Robin", Some(2008)),
    ])
    .await;
    let ids: Vec<Uuid> = scene.players.iter().map(|p| p.id).collect();
    scene.read(&[]).await;
    scene.read(&[ids[1], ids[2]]).await;
    assert!(scene.noted().await.is_empty());
    scene.read(&ids[..1]).await;
    scene.read(&ids).await;
    scene.read(&ids).await;
    assert_eq!(scene.noted().await, ["Robin", "Wren"]);
    let earlier = "UPDATE audit SET at = at - interval '61 minutes'";
    scene.database.run(earlier).await.unwrap();
    scene.read(&ids[..1]).await;
    assert_eq!(scene.noted().await, ["Wren", "Robin", "Wren"]);
    // Another reader is another reading.
    let runa = Uuid::now_v7();
    let role = tally_core::school::access::Role::Coach;
    let added = scene
        .all
        .add_person(scene.school(), runa, role, "Runa", "runa");
    added.await.unwrap();
    let read = scene
        .store
        .note_children_read(scene.school(), runa, &ids[..1], BORN_AFTER);
    read.await.unwrap();
    assert_eq!(scene.noted().await.len(), 4);
    scene.database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_consent_stands_until_it_is_withdrawn() {
    let scene = Scene::set(&[("Wren", Some(2014))]).await;
    let (school, wren) = (scene.school(), scene.players[0].id);
    let none = Consent {
        guardian: String::new(),
        given_on: None,
    };
    assert_eq!(scene.store.consent(school, wren).await.unwrap(), none);
    let given = Consent {
        guardian: "Ada Aldous".to_owned(),
        given_on: Some("2026-04-01".parse().unwrap()),
    };
    scene
        .store
        .save_consent(school, wren, &given)
        .await
        .unwrap();
    assert_eq!(scene.store.consent(school, wren).await.unwrap(), given);
    scene.store.save_consent(school, wren, &none).await.unwrap();
    assert_eq!(scene.store.consent(school, wren).await.unwrap(), none);
    // A day without a name is no consent: the database refuses it as well.
    let nameless = Consent {
        guardian: String::new(),
        ..given.clone()
    };
    assert!(
        scene
            .store
            .save_consent(school, wren, &nameless)
            .await
            .is_err()
    );
    let south = founded(&scene.all, "south").await;
    let elsewhere = scene.all.for_person(&south);
    for there in [school, south.school_id] {
        let refused = elsewhere.save_consent(there, wren, &given).await;
        assert!(matches!(refused, Err(StoreError::NotFound("player"))));
    }
    scene.database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_link_opens_to_its_secret_alone_until_it_is_revoked_or_over() {
    let scene = Scene::set(&[("Wren", None), ("Lark", None)]).await;
    let (school, wren, lark) = (scene.school(), scene.players[0].id, scene.players[1].id);
    let link = |until: Duration| PlayerLink {
        id: Uuid::now_v7(),
        player_id: wren,
        coach_id: scene.owner.coach_id,
        decisions: true,
        sessions: false,
        page_id: None,
        // The database keeps microseconds.
        until: chrono::DateTime::from_timestamp_micros((Utc::now() + until).timestamp_micros())
            .unwrap(),
    };
    let (open, over) = (link(Duration::days(3)), link(Duration::days(-1)));
    scene.store.add_link(school, &open, b"open").await.unwrap();
    scene.store.add_link(school, &over, b"over").await.unwrap();
    // Whoever asks has no school: the secret is all.
    let opened = async |token: &[u8]| scene.all.link_of_token(token).await;
    assert_eq!(opened(b"open").await.unwrap(), (school, open.clone()));
    for wrong in [&b"over"[..], b"ope", b""] {
        assert!(matches!(
            opened(wrong).await,
            Err(StoreError::NotFound("link"))
        ));
    }
    assert_eq!(
        scene.store.links(school, wren).await.unwrap(),
        std::slice::from_ref(&open)
    );
    assert_eq!(scene.store.links(school, lark).await.unwrap(), []);
    // Not by way of another player, nor by another school.
    let refused = scene.store.revoke_link(school, lark, open.id).await;
    assert!(matches!(refused, Err(StoreError::NotFound("link"))));
    let south = founded(&scene.all, "south").await;
    let elsewhere = scene.all.for_person(&south);
    assert!(elsewhere.revoke_link(school, wren, open.id).await.is_err());
    assert!(elsewhere.links(school, wren).await.is_err());
    assert!(opened(b"open").await.is_ok());
    scene
        .store
        .revoke_link(school, wren, open.id)
        .await
        .unwrap();
    assert!(opened(b"open").await.is_err());
    scene.database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn an_erased_player_s_name_leaves_the_record_and_their_links_open_nothing() {
    let scene = Scene::set(&[("Wren", Some(2014)), ("Lark", Some(2014))]).await;
    let (school, wren, lark) = (scene.school(), scene.players[0].id, scene.players[1].id);
    scene.read(&[wren, lark]).await;
    let link = PlayerLink {
        id: Uuid::now_v7(),
        player_id: wren,
        coach_id: scene.owner.coach_id,
        decisions: true,
        sessions: true,
        page_id: None,
        until: Utc::now() + Duration::days(3),
    };
    scene.store.add_link(school, &link, b"open").await.unwrap();
    let south = founded(&scene.all, "south").await;
    let elsewhere = scene
        .all
        .for_person(&south)
        .erase_player(school, wren)
        .await;
    assert!(matches!(elsewhere, Err(StoreError::NotFound("player"))));
    let erased = scene.store.erase_player(school, wren).await.unwrap();
    let went: Vec<_> = erased.into_iter().filter(|(_, rows)| *rows > 0).collect();
    assert_eq!(went, [("player_link", 1), ("player", 1)]);
    assert!(scene.all.link_of_token(b"open").await.is_err());
    assert_eq!(scene.noted().await, ["Lark"]);
    let all = AuditFilter::default();
    assert_eq!(scene.store.audit(school, all, 100).await.unwrap().len(), 2);
    let again = scene.store.erase_player(school, wren).await;
    assert!(matches!(again, Err(StoreError::NotFound("player"))));
    scene.database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn players_are_past_their_time_by_their_last_session_or_their_coming() {
    let scene = Scene::set(&[("Finch", None), ("Lark", None), ("Wren", None)]).await;
    let (school, ids) = (scene.school(), [0, 1, 2].map(|i| scene.players[i].id));
    let session = |player: Uuid, years: u32| {
        format!(
            "INSERT INTO session (school_id, id, player_id, purpose, club, place,
                 altitude_m, temperature_c, humidity_pct, started_at, zone)
             VALUES ('{school}', gen_random_uuid(), '{player}', 'benchmark', 'driver',
                 'Deck', 0, 20, 50, now() - interval '{years} years', 'UTC')"
        )
    };
    let past = async |years: i64| -> Vec<String> {
        let before = Utc::now() - Duration::days(365 * years + years / 4);
        let found = scene.store.players_unseen_since(school, before).await;
        found
            .unwrap()
            .into_iter()
            .map(|(_, name, _)| name)
            .collect()
    };
    assert!(past(1).await.is_empty());
    // Finch came long ago and never hit; Lark hit long ago and again of late.
    let long_ago = "UPDATE player SET created_at = now() - interval '9 years'";
    scene.database.run(long_ago).await.unwrap();
    for (player, years) in [(ids[1], 8), (ids[1], 1), (ids[2], 4)] {
        scene.database.run(&session(player, years)).await.unwrap();
    }
    assert_eq!(past(5).await, ["Finch"]);
    assert_eq!(past(3).await, ["Finch", "Wren"]);
    assert_eq!(past(0).await, ["Finch", "Lark", "Wren"]);
    scene.database.remove().await.unwrap();
}
