//! How long a shot takes from its device to the screen: `bin/measure`.
//!
//! A device sends shots one at a time; the browser notes when each new stroke is in
//! the page. Both clocks are this machine's.

use std::time::{Duration, SystemTime, UNIX_EPOCH};
use tally_e2e::Stage;
use thirtyfour::prelude::*;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;

const SHOTS: u32 = 60;

#[tokio::main]
async fn main() {
    let stage = Stage::set(true).await;
    let measured = measure(&stage).await;
    stage.clear().await;
    let mut waits = measured.expect("every shot came to the screen");
    waits.sort_by(f64::total_cmp);
    let at = |share: f64| waits[((waits.len() - 1) as f64 * share) as usize];
    println!(
        "shot on screen after its device sent it, {SHOTS} shots: median {:.0} ms, 95 % {:.0} ms, worst {:.0} ms",
        at(0.5),
        at(0.95),
        at(1.0)
    );
}

async fn measure(stage: &Stage) -> WebDriverResult<Vec<f64>> {
    stage.go("/players").await?;
    stage.press("Dov Ransley").await?;
    stage.press("18 April 2026").await?;
    stage.find("//*[@role='listbox']").await?;
    stage
        .browser
        .execute(
            "window.seen = []; let n = document.querySelectorAll('[role=option]').length;
             new MutationObserver(() => {
               const now = document.querySelectorAll('[role=option]').length;
               for (; n < now; n++) window.seen.push(performance.timeOrigin + performance.now());
             }).observe(document.body, {childList: true, subtree: true});",
            vec![],
        )
        .await?;
    let (read, mut write) = TcpStream::connect(&stage.intake)
        .await
        .expect("the intake answers")
        .into_split();
    let mut answers = BufReader::new(read).lines();
    let hello = r#"{"type":"hello","version":1,"token":"dev-demo-radar","kind":"radar","run":"1","measures":["club_speed","carry"],"calculates":[]}"#;
    write
        .write_all(format!("{hello}\n").as_bytes())
        .await
        .expect("the line is open");
    answers.next_line().await.expect("the line is open");
    let mut sent = Vec::new();
    for sequence in 1..=SHOTS {
        let shot = format!(
            "{{\"type\":\"shot\",\"sequence\":{sequence},\"time\":\"2026-04-18T14:{:02}:{:02}Z\",\"values\":{{\"club_speed_mph\":{{\"value\":104.5,\"from\":\"measured\"}},\"carry_yd\":{{\"value\":251,\"from\":\"measured\"}}}}}}\n",
            sequence / 60,
            sequence % 60
        );
        let now = SystemTime::now()
            .duration_since(UNIX_EPOCH)
            .expect("it is after 1970");
        sent.push(now.as_secs_f64() * 1e3);
        write
            .write_all(shot.as_bytes())
            .await
            .expect("the line is open");
        answers.next_line().await.expect("the line is open");
        tokio::time::sleep(Duration::from_millis(400)).await;
    }
    let seen: Vec<f64> = stage
        .browser
        .execute("return window.seen", vec![])
        .await?
        .convert()?;
    assert_eq!(seen.len(), sent.len(), "a shot did not come to the screen");
    Ok(seen
        .iter()
        .zip(&sent)
        .map(|(seen, sent)| seen - sent)
        .collect())
}
