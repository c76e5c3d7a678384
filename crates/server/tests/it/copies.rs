//! Two copies of the server on one database, behind a balancer, one of which dies.

use crate::program::serve;
use crate::stage::{Device, SESSION, Stage, hello, shot};
use serde_json::json;
use tokio::net::{TcpListener, TcpStream};

/// A balancer: each connection goes to the first of these servers that takes it, and
/// breaks with it.
async fn balance(servers: Vec<String>) -> String {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap().to_string();
    tokio::spawn(async move {
        while let Ok((mut from, _)) = listener.accept().await {
            let servers = servers.clone();
            tokio::spawn(async move {
                for server in servers {
                    if let Ok(mut to) = TcpStream::connect(server).await {
                        let _ = tokio::io::copy_bidirectional(&mut from, &mut to).await;
                        return;
                    }
                }
            });
        }
    });
    address
}

#[tokio::test(flavor = "multi_thread")]
async fn when_one_of_two_copies_dies_the_other_goes_on_with_all_that_was_acknowledged() {
    let stage = Stage::with_session().await;
    let (mut first, second) = (serve(&stage.url).await, serve(&stage.url).await);
    let host = |web: &str| web.trim_start_matches("http://").to_owned();
    let web = balance(vec![host(&first.web), host(&second.web)]).await;
    let intake = balance(vec![first.intake.clone(), second.intake.clone()]).await;
    // The cookie was set by a third copy: no copy knows anything of its own.
    let coach = stage.at(&format!("http://{web}"));
    let live = format!("http://{web}/api/v1/live?sessions={SESSION}");
    let mut stream = coach.http.get(&live).send().await.unwrap();
    let mut device = Device::connect(&intake).await;
    assert_eq!(device.say(&hello()).await["type"], "welcome");
    for sequence in 1..=5 {
        device.say_until_stored(&shot(sequence, 90.0)).await;
    }
    assert!(stream.chunk().await.unwrap().is_some());
    first.child.kill().await.unwrap();
    assert!(device.try_say(&shot(6, 90.0)).await.is_none());
    while let Ok(Some(_)) = stream.chunk().await {}
    // Both come back by the same address: what was acknowledged is there, and the shot
    // that was not is sent again.
    let mut stream = coach.http.get(&live).send().await.unwrap();
    assert_eq!(stream.status(), 200);
    let mut device = Device::connect(&intake).await;
    assert_eq!(device.say(&hello()).await["type"], "welcome");
    let again = device.say(&shot(5, 90.0)).await;
    assert_eq!(again["again"], true, "{again}");
    device.say_until_stored(&shot(6, 90.0)).await;
    // Heard of through the other copy, though the shot might have come by any.
    assert!(stream.chunk().await.unwrap().is_some());
    let (_, read) = coach.get(&format!("/sessions/{SESSION}/read")).await;
    assert_eq!(read["shots"].as_array().unwrap().len(), 6);
    assert_eq!(stage.count("true").await, 6);
    // A shot that comes in by one copy is told by another.
    let mut elsewhere = stage.device().await;
    let mut greeting = hello();
    greeting["run"] = json!("b");
    assert_eq!(elsewhere.say(&greeting).await["type"], "welcome");
    elsewhere.say_until_stored(&shot(1, 90.0)).await;
    assert!(stream.chunk().await.unwrap().is_some());
    drop(second);
    stage.clear().await;
}
