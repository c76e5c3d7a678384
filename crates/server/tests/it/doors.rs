//! Many who connect and say nothing.

use crate::stage::{Device, Stage, Visitor, hello, shot};
use std::time::Duration;
use tally_server::guard::doors::Limits;
use tally_server::server::{Config, Server};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio::task::JoinHandle;

/// A server beside the stage's with little room and little patience.
struct Small {
    intake: String,
    address: String,
    coach: Visitor,
    run: JoinHandle<()>,
}

impl Small {
    async fn beside(stage: &Stage) -> Small {
        let short = |limits: Limits| Limits {
            first_within: Duration::from_millis(300),
            ..limits
        };
        let web = Limits {
            idle: Duration::from_millis(900),
            ..short(Limits::web(80))
        };
        let devices = Limits {
            known_within: Some(Duration::from_millis(600)),
            ..short(Limits::devices(80))
        };
        let config = Config {
            doors: Some([web, devices]),
            ..Config::local(&stage.url)
        };
        let server = Server::start(&config).await.unwrap();
        let address = server.web_address().unwrap().to_string();
        Small {
            intake: server.intake_address().to_string(),
            coach: stage.at(&format!("http://{address}")),
            address,
            run: tokio::spawn(async move { server.run().await.unwrap() }),
        }
    }
}

/// Reads until the other side ends the connection.
async fn ended(connection: &mut TcpStream) {
    let mut heard = Vec::new();
    // However it ends: some systems reset it.
    let _ = connection.read_to_end(&mut heard).await;
}

#[tokio::test(flavor = "multi_thread")]
async fn connections_that_say_nothing_are_ended() {
    let stage = Stage::set().await;
    let small = Small::beside(&stage).await;
    let preface = "PRI * HTTP/2.0\r\n\r\nSM\r\n\r\n";
    for (address, said) in [
        (&small.address, ""),
        // HTTP/2 begun, and then silence.
        (&small.address, preface),
        (&small.address, &preface[..7]),
        (&small.intake, ""),
        // Half a hello.
        (&small.intake, "{\"type\":"),
        (&small.intake, "not even JSON\nnor this\n"),
    ] {
        let mut silent = TcpStream::connect(address).await.unwrap();
        silent.write_all(said.as_bytes()).await.unwrap();
        ended(&mut silent).await;
    }
    small.run.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn hundreds_of_silent_connections_keep_neither_coach_nor_device_out() {
    let stage = Stage::with_session().await;
    let small = Small::beside(&stage).await;
    let mut device = Device::connect(&small.intake).await;
    assert_eq!(device.say(&hello()).await["type"], "welcome");
    assert_eq!(small.coach.get("/today").await.0, 200);
    let mut silent = Vec::new();
    for sequence in 1..=20 {
        for _ in 0..20 {
            for address in [&small.address, &small.intake] {
                silent.push(TcpStream::connect(address).await.unwrap());
            }
        }
        let answer = device.say(&shot(sequence, 90.0)).await;
        assert_eq!(answer["type"], "ack", "{answer}");
        assert_eq!(small.coach.get("/today").await.0, 200);
    }
    // One more of each comes in while they are there.
    let late = stage
        .signed_in(crate::stage::OWNER, crate::stage::PASSWORD)
        .await;
    let late = Visitor {
        http: late,
        ..stage.at(&small.coach.web)
    };
    assert_eq!(late.get("/today").await.0, 200);
    let mut other = Device::connect(&small.intake).await;
    assert_eq!(other.say(&hello()).await["type"], "welcome");
    drop(silent);
    small.run.abort();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_device_that_is_known_may_wait_and_a_stranger_may_not_guess_on() {
    let stage = Stage::set().await;
    let small = Small::beside(&stage).await;
    // No session is in progress yet: it waits, and tries again on the same connection.
    let mut early = Device::connect(&small.intake).await;
    for _ in 0..8 {
        assert_eq!(early.say(&hello()).await["field"], "session");
    }
    tokio::time::sleep(Duration::from_millis(900)).await;
    assert_eq!(early.say(&hello()).await["field"], "session");
    let mut stranger = TcpStream::connect(&small.intake).await.unwrap();
    stranger
        .write_all("?\n".repeat(50).as_bytes())
        .await
        .unwrap();
    let mut heard = Vec::new();
    let _ = stranger.read_to_end(&mut heard).await;
    let lines = heard.iter().filter(|byte| **byte == b'\n').count();
    assert!(lines <= 5, "{lines}");
    small.run.abort();
    stage.clear().await;
}
