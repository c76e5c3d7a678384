//! What the store promises about devices.

use tally_core::session::purpose::Purpose;
use tally_core::shots::device::DeviceKind;
use tally_core::shots::reading::Offsets;
use tally_store::Store;
use tally_store::base::live::Changed;
use tally_store::session::sessions::Session;
use tally_store::shots::devices::Greeting;
use tally_store::testing::{TestDatabase, player};
use tokio::sync::broadcast::Receiver;
use uuid::Uuid;

/// The sessions that are told of until `last` is; nothing is told of all of them, which is nil.
async fn told_until(heard: &mut Receiver<Changed>, last: Uuid) -> Vec<Uuid> {
    let mut told = Vec::new();
    while told.last() != Some(&last) {
        told.push(heard.recv().await.unwrap().session);
    }
    told
}

#[tokio::test(flavor = "multi_thread")]
async fn where_a_device_goes_is_told_to_the_screens_that_show_it_and_to_no_others() {
    let database = TestDatabase::create().await;
    let store = Store::open(&database.url).await.unwrap();
    let coach = store.found_school("A", "B").await.unwrap();
    let school = coach.school_id;
    let store = store.for_school(school);
    let wren = player("Wren");
    store.add_player(school, &wren).await.unwrap();
    let [first, second] = [Uuid::now_v7(), Uuid::now_v7()];
    for id in [first, second] {
        let start = "2026-04-18T10:00:00Z".parse().unwrap();
        let session = Session::begun(id, wren.id, Purpose::Benchmark, "UTC", start);
        store.add_session(school, &session, &[]).await.unwrap();
    }
    let mut heard = store.listen().subscribe();
    // The first word says that listening has begun.
    heard.recv().await.unwrap();

    let radar = Uuid::now_v7();
    store
        .add_device(school, radar, "Radar", DeviceKind::Radar, None, false)
        .await
        .unwrap();
    store.send_to(school, radar, first).await.unwrap();
    assert_eq!(told_until(&mut heard, first).await, [first]);
    store.send_to(school, radar, second).await.unwrap();
    assert_eq!(told_until(&mut heard, second).await, [first, second]);
    let devices = store.devices_for(school, second).await.unwrap();
    assert_eq!(devices.len(), 1);
    assert!(store.devices_for(school, first).await.unwrap().is_empty());

    // One that is there and chosen for no session stands on every screen.
    let offsets = Offsets::default();
    store
        .save_device(school, radar, "Radar", &offsets, None)
        .await
        .unwrap();
    let said = Greeting {
        kind: DeviceKind::Radar,
        measures: [].into(),
        calculates: [].into(),
        clock_ahead_s: None,
    };
    store
        .greet_device(school, radar, first, &said)
        .await
        .unwrap();
    let everywhere = Uuid::nil();
    assert_eq!(told_until(&mut heard, first).await, [everywhere, first]);
    let both = [first, second].map(|session| store.devices_for(school, session));
    for devices in both {
        assert_eq!(devices.await.unwrap().len(), 1);
    }
    store.send_to(school, radar, second).await.unwrap();
    assert_eq!(told_until(&mut heard, everywhere).await, [everywhere]);
    database.remove().await.unwrap();
}
