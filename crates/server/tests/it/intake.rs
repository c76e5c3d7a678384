//! How lines of devices are heard.

use chrono::{DateTime, Duration, Utc};
use tally_formats::device_line::LONGEST_LINE;
use tally_server::intake::device_line::{Heard, next_line};
use tally_server::intake::device_talk::hit_at;
use tokio::io::BufReader;

#[tokio::test]
async fn lines_are_told_apart_and_a_long_one_is_not_kept() {
    let long = "x".repeat(LONGEST_LINE + 1);
    let text = format!("one\n{long}\ntwo\nhalf");
    let mut lines = BufReader::with_capacity(100, text.as_bytes());
    let mut heard = Vec::new();
    for _ in 0..4 {
        heard.push(next_line(&mut lines).await.unwrap());
    }
    assert_eq!(
        heard,
        [
            Heard::Line(b"one".to_vec()),
            Heard::TooLong(LONGEST_LINE + 1),
            Heard::Line(b"two".to_vec()),
            Heard::HalfLine(4),
        ]
    );
    assert_eq!(next_line(&mut lines).await.unwrap(), Heard::End);
}

#[test]
fn a_clock_that_is_off_is_put_right_and_nothing_is_hit_in_the_future() {
    let now: DateTime<Utc> = "2026-04-18T10:00:00Z".parse().unwrap();
    let ahead = now + Duration::minutes(10) - Duration::seconds(3);
    assert_eq!(hit_at(ahead, 600.0, now), now - Duration::seconds(3));
    assert_eq!(hit_at(ahead, 0.0, now), now);
    let behind = now - Duration::minutes(11);
    assert_eq!(hit_at(behind, -600.0, now), now - Duration::minutes(1));
    assert_eq!(hit_at(behind, 0.4, now), behind);
}
