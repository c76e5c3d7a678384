//! What the store promises about who signs in, and who may do what.

use chrono::{Duration, Utc};
use tally_core::school::access::Role;
use tally_store::school::accounts::Entry;
use tally_store::school::people::Founder;
use tally_store::school::tries::Try;
use tally_store::testing::{TestDatabase, founded};
use tally_store::{Store, StoreError};
use uuid::Uuid;

async fn opened() -> (TestDatabase, Store) {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    (database, store)
}

#[tokio::test(flavor = "multi_thread")]
async fn however_many_come_at_once_one_school_is_set_up() {
    let (database, store) = opened().await;
    assert!(store.needs_set_up().await.unwrap());
    let come = ["orla", "runa", "ines", "maren"].map(|name| {
        let store = store.clone();
        tokio::spawn(async move {
            let founder = Founder {
                school: "North Bay",
                name,
                sign_in_name: name,
                password_hash: Some("a hash"),
            };
            store.set_up(founder).await
        })
    });
    let mut founders = Vec::new();
    for one in come {
        match one.await.unwrap() {
            Ok(founder) => founders.push(founder),
            Err(StoreError::Conflict(why)) => assert!(why.contains("set up already"), "{why}"),
            Err(other) => panic!("{other}"),
        }
    }
    let [founder] = &founders[..] else {
        panic!("{} founded it", founders.len());
    };
    assert_eq!(founder.role, Role::Owner);
    assert!(!store.needs_set_up().await.unwrap());
    assert_eq!(store.people(founder.school_id).await.unwrap().len(), 1);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_name_signs_one_person_in_whatever_their_school() {
    let (database, store) = opened().await;
    let (north, south) = (
        founded(&store, "north").await,
        founded(&store, "south").await,
    );
    let runa = Uuid::now_v7();
    let add = async |school: Uuid, id: Uuid, sign_in_name: &str| {
        let added = store.add_person(school, id, Role::Coach, "Runa Holt", sign_in_name);
        added.await
    };
    add(north.school_id, runa, "runa").await.unwrap();
    // A repeated request is harmless; another person under the identifier is not.
    add(north.school_id, runa, "runa").await.unwrap();
    for (school, id, name) in [
        (north.school_id, runa, "other"),
        (north.school_id, Uuid::now_v7(), "runa"),
        (south.school_id, Uuid::now_v7(), "runa"),
        (south.school_id, Uuid::now_v7(), "north"),
    ] {
        let refused = add(school, id, name).await;
        assert!(matches!(refused, Err(StoreError::Conflict(_))), "{name}");
    }
    let people = store.people(north.school_id).await.unwrap();
    let names: Vec<_> = people
        .iter()
        .map(|p| (p.name.as_str(), p.has_password))
        .collect();
    assert_eq!(names, [("Runa Holt", false), ("north", false)]);
    assert_eq!(store.people(south.school_id).await.unwrap().len(), 1);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn two_owners_who_demote_each_other_leave_one() {
    let (database, store) = opened().await;
    let orla = founded(&store, "orla").await;
    let (school, runa) = (orla.school_id, Uuid::now_v7());
    for round in 0..5 {
        let added = store.add_person(school, runa, Role::Owner, "runa", "runa");
        added.await.unwrap();
        for id in [orla.coach_id, runa] {
            let _ = store
                .save_person(school, id, "name", Role::Owner, false)
                .await;
        }
        let (one, other) = tokio::join!(
            store.save_person(school, orla.coach_id, "orla", Role::Coach, false),
            store.save_person(school, runa, "runa", Role::Coach, round % 2 == 0),
        );
        assert_eq!(
            [one.is_ok(), other.is_ok()]
                .iter()
                .filter(|done| **done)
                .count(),
            1,
            "round {round}"
        );
        let people = store.people(school).await.unwrap();
        let owners = people
            .iter()
            .filter(|p| p.role == Role::Owner && p.left_at.is_none());
        assert_eq!(owners.count(), 1);
    }
    let nobody = store.save_person(school, Uuid::now_v7(), "x", Role::Coach, false);
    assert!(matches!(nobody.await, Err(StoreError::NotFound("person"))));
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_browser_is_signed_in_until_it_idles_is_too_old_or_its_person_leaves() {
    let (database, store) = opened().await;
    let orla = founded(&store, "orla").await;
    let (school, runa) = (orla.school_id, Uuid::now_v7());
    store
        .add_person(school, runa, Role::Coach, "Runa Holt", "runa")
        .await
        .unwrap();
    let open = async |token: &[u8]| {
        store.open_web_session(school, runa, token).await.unwrap();
        store.signed_in(token).await.unwrap().unwrap()
    };
    let gone = async |token: &[u8]| store.signed_in(token).await.unwrap().is_none();
    let seen = open(b"one").await;
    assert_eq!(
        (seen.coach_id, seen.role, seen.coach.as_str()),
        (runa, Role::Coach, "Runa Holt")
    );
    assert!(gone(b"on").await && gone(b"").await);
    // Looking whether it is signed in does not keep it so; using it does.
    let browser = seen.web_session.unwrap();
    database
        .run("UPDATE web_session SET used_at = now() - interval '11 hours'")
        .await
        .unwrap();
    let still = async || store.still_signed_in(school, browser).await.unwrap();
    assert_eq!(still().await, Some(Role::Coach));
    let used = "SELECT (now() - used_at > interval '1 hour')::text FROM web_session";
    assert_eq!(database.ask(used).await.unwrap(), ["true"]);
    assert!(!gone(b"one").await);
    assert_eq!(database.ask(used).await.unwrap(), ["false"]);
    database
        .run("UPDATE web_session SET used_at = now() - interval '13 hours'")
        .await
        .unwrap();
    assert_eq!(still().await, None);
    assert!(gone(b"one").await);
    open(b"two").await;
    database
        .run("UPDATE web_session SET opened_at = now() - interval '15 days'")
        .await
        .unwrap();
    assert!(gone(b"two").await);
    // Old ones are cleared away when somebody signs in.
    let three = open(b"three").await;
    assert_eq!(
        database
            .ask("SELECT count(*)::text FROM web_session")
            .await
            .unwrap(),
        ["1"]
    );
    store
        .close_web_session(school, three.web_session.unwrap())
        .await
        .unwrap();
    assert!(gone(b"three").await);
    open(b"four").await;
    store
        .save_person(school, runa, "Runa Holt", Role::Coach, true)
        .await
        .unwrap();
    assert!(gone(b"four").await);
    assert!(store.credential("runa").await.unwrap().is_none());
    // Who comes back signs in anew.
    store
        .save_person(school, runa, "Runa Holt", Role::Assistant, false)
        .await
        .unwrap();
    assert!(gone(b"four").await);
    assert_eq!(open(b"five").await.role, Role::Assistant);
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_password_spends_the_code_and_signs_out_every_browser_but_its_own() {
    let (database, store) = opened().await;
    let orla = founded(&store, "orla").await;
    let (school, id) = (orla.school_id, orla.coach_id);
    store
        .save_password(school, id, "an old hash")
        .await
        .unwrap();
    for token in [b"here", b"near", b"away"] {
        store.open_web_session(school, id, token).await.unwrap();
    }
    let until = Utc::now() + Duration::days(3);
    store.save_code(school, id, b"digest", until).await.unwrap();
    let here = store.signed_in(b"here").await.unwrap().unwrap().web_session;
    let known = store.credential_of(school, id).await.unwrap();
    let other = store.change_password(&known, "a new hash", here);
    assert!(other.await.unwrap());
    // What was looked at before does not hold any longer.
    let late = store.change_password(&known, "another hash", here);
    assert!(!late.await.unwrap());
    assert!(
        !store
            .spend_code(&known, b"digest", "another hash")
            .await
            .unwrap()
    );
    let entry = store.sign_in(&known, None, b"late").await.unwrap();
    assert_eq!(entry, Entry::Changed);
    assert!(store.signed_in(b"late").await.unwrap().is_none());
    let kept = store.credential_of(school, id).await.unwrap();
    assert_eq!(kept.password_hash.as_deref(), Some("a new hash"));
    assert_eq!((kept.code_sha256, kept.code_until), (None, None));
    assert!(store.signed_in(b"here").await.unwrap().is_some());
    for token in [b"near", b"away"] {
        assert!(store.signed_in(token).await.unwrap().is_none());
    }
    store.close_web_sessions(school, id).await.unwrap();
    assert!(store.signed_in(b"here").await.unwrap().is_none());
    let nobody = store
        .save_code(school, Uuid::now_v7(), b"digest", until)
        .await;
    assert!(matches!(nobody, Err(StoreError::NotFound("person"))));
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn of_several_who_bring_one_code_at_once_one_sets_a_password() {
    let (database, store) = opened().await;
    let orla = founded(&store, "orla").await;
    let (school, id) = (orla.school_id, orla.coach_id);
    let until = Utc::now() + Duration::days(3);
    store.save_code(school, id, b"digest", until).await.unwrap();
    let known = store.credential_of(school, id).await.unwrap();
    let spend = async |hash: &'static str| store.spend_code(&known, b"digest", hash).await.unwrap();
    let (a, b, c, d) = tokio::join!(spend("a"), spend("b"), spend("c"), spend("d"));
    let spent = [a, b, c, d];
    assert_eq!(spent.iter().filter(|spent| **spent).count(), 1, "{spent:?}");
    let kept = store.credential_of(school, id).await.unwrap().password_hash;
    let winner = spent.iter().position(|spent| *spent).unwrap();
    assert_eq!(kept.as_deref(), Some(["a", "b", "c", "d"][winner]));
    let past = Utc::now() - Duration::seconds(1);
    store.save_code(school, id, b"late", past).await.unwrap();
    assert!(!store.spend_code(&known, b"late", "e").await.unwrap());
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_factor_s_step_is_used_once_even_by_two_at_once() {
    let (database, store) = opened().await;
    let orla = founded(&store, "orla").await;
    let (school, id) = (orla.school_id, orla.coach_id);
    let known = async || store.credential_of(school, id).await.unwrap();
    store
        .begin_second_factor(school, id, b"secret")
        .await
        .unwrap();
    assert!(
        known().await.totp_secret.is_none(),
        "it is not asked for yet"
    );
    let confirm = async |secret: &'static [u8], step| {
        store
            .confirm_second_factor(school, id, secret, step)
            .await
            .unwrap()
    };
    assert!(!confirm(b"another", 90).await);
    assert!(confirm(b"secret", 90).await);
    assert!(!confirm(b"secret", 91).await);
    let now = known().await;
    let enter = async |step: i64| store.sign_in(&now, Some(step), b"token").await.unwrap();
    assert_eq!(enter(90).await, Entry::CodeSpent, "it was shown to confirm");
    assert_eq!(
        store.sign_in(&now, None, b"token").await.unwrap(),
        Entry::CodeSpent
    );
    for step in 100..110 {
        let (one, other) = tokio::join!(enter(step), enter(step));
        assert!([one, other].contains(&Entry::CodeSpent), "step {step}");
        assert!([one, other].contains(&Entry::Open), "step {step}");
        // Nor one before it.
        assert_eq!(enter(step - 1).await, Entry::CodeSpent);
    }
    // Another that is begun leaves this one as it is until it is confirmed.
    store
        .begin_second_factor(school, id, b"newer")
        .await
        .unwrap();
    assert_eq!(known().await.totp_secret.as_deref(), Some(&b"secret"[..]));
    assert!(confirm(b"newer", 120).await);
    assert_eq!(known().await.totp_secret.as_deref(), Some(&b"newer"[..]));
    assert_eq!(enter(130).await, Entry::Changed);
    store.end_second_factor(school, id).await.unwrap();
    assert!(known().await.totp_secret.is_none());
    database.remove().await.unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn wrong_tries_count_by_name_and_by_address_for_a_while() {
    let (database, store) = opened().await;
    // How many more are looked at, by trying.
    let left = async |name: &str, from: &str| {
        let (mut counted, mut late) = (Vec::new(), 0);
        while let Try::Counted { id, after_s } = store.begin_try(name, from).await.unwrap() {
            counted.push(id);
            late += u32::from(after_s > 0.0);
        }
        for id in &counted {
            store.take_back_try(*id).await.unwrap();
        }
        (counted.len(), late)
    };
    let wrong = async |name: &str, from: &str| {
        let begun = store.begin_try(name, from).await.unwrap();
        assert!(matches!(begun, Try::Counted { .. }), "{begun:?}");
    };
    assert_eq!(left("orla", "10.0.0.1").await, (5, 0));
    wrong("orla", "10.0.0.1").await;
    wrong("orla", "10.0.0.2").await;
    // For whatever address, and for no other name.
    assert_eq!(left("orla", "10.0.0.3").await, (3, 0));
    assert_eq!(left("runa", "10.0.0.2").await, (5, 0));
    for name in 0..39 {
        wrong(&format!("name{name}"), "10.0.0.1").await;
    }
    // Who guesses from there makes others there wait for their turn, and shuts none out.
    assert_eq!(left("runa", "10.0.0.1").await, (5, 5));
    assert_eq!(left("runa", "10.0.0.2").await, (5, 0));
    // Who came in has no wrong tries; others from there have.
    store.forget_wrong_tries("orla").await.unwrap();
    assert_eq!(left("orla", "10.0.0.2").await, (5, 0));
    for _ in 0..5 {
        wrong("orla", "10.0.0.3").await;
    }
    let Try::TooSoon { wait_s, .. } = store.begin_try("orla", "10.0.0.2").await.unwrap() else {
        panic!("a try too many is looked at");
    };
    assert!((0.0..=15.0).contains(&wait_s), "{wait_s}");
    database
        .run("UPDATE wrong_try SET tried_at = now() - interval '16 minutes'")
        .await
        .unwrap();
    assert_eq!(left("orla", "10.0.0.1").await, (5, 0));
    // Those of yesterday are not even kept.
    database
        .run("UPDATE wrong_try SET tried_at = now() - interval '25 hours'")
        .await
        .unwrap();
    wrong("orla", "10.0.0.1").await;
    let kept = "SELECT count(*)::text FROM wrong_try";
    assert_eq!(database.ask(kept).await.unwrap(), ["1"]);
    database.remove().await.unwrap();
}
