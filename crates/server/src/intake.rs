//! The intake: devices connect here and speak the device line.
//!
//! A shot is acknowledged after its commit, so a device may resend whatever was not
//! acknowledged. A bad line gets an error line, and the connection lives on.

use std::net::SocketAddr;
use tally_core::invalid::Invalid;
use tally_formats::device_line::{self, Answer, Hello, LONGEST_LINE, Line, ShotLine};
use tally_store::shots::NewShot;
use tally_store::{Store, StoreError};
use tokio::io::{AsyncBufRead, AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};
use uuid::Uuid;

/// Accepts devices until the socket fails.
///
/// # Errors
/// When the socket fails.
pub async fn run(store: Store, listener: TcpListener) -> std::io::Result<()> {
    loop {
        let (stream, peer) = match listener.accept().await {
            Ok(accepted) => accepted,
            // Out of file handles, say: those that are connected go on.
            Err(error) => {
                tracing::warn!(%error, "intake: cannot accept a device just now");
                tokio::time::sleep(std::time::Duration::from_millis(200)).await;
                continue;
            }
        };
        let store = store.clone();
        tokio::spawn(async move {
            if let Err(error) = converse(store, stream, peer).await {
                tracing::info!(%peer, %error, "intake: a device went away");
            }
        });
    }
}

/// A device that has said hello.
struct Known {
    hello: Hello,
    device_id: Uuid,
    school: Uuid,
}

async fn converse(store: Store, stream: TcpStream, peer: SocketAddr) -> std::io::Result<()> {
    stream.set_nodelay(true)?;
    let (read, mut write) = stream.into_split();
    let mut lines = BufReader::with_capacity(LONGEST_LINE, read);
    let mut known: Option<Known> = None;
    loop {
        let answer = match next_line(&mut lines).await? {
            Heard::End => return Ok(()),
            Heard::HalfLine(bytes) => {
                tracing::warn!(%peer, bytes, "intake: a device stopped half way through a line; it was not used");
                return Ok(());
            }
            Heard::TooLong(bytes) => Answer::refuse(None, too_long(bytes)),
            Heard::Line(bytes) => match String::from_utf8(bytes) {
                Ok(line) if line.trim().is_empty() => continue,
                Ok(line) => answer(&store, &mut known, line.trim()).await,
                Err(bad) => {
                    let shown = String::from_utf8_lossy(bad.as_bytes()).into_owned();
                    let why = Invalid::new("line", shown, "is not UTF-8", "send UTF-8");
                    Answer::refuse(None, why)
                }
            },
        };
        if let Answer::Error { field, problem, .. } = &answer {
            tracing::info!(%peer, field, problem, "intake: a line was refused");
        }
        write.write_all(answer.to_line().as_bytes()).await?;
    }
}

async fn answer(store: &Store, known: &mut Option<Known>, line: &str) -> Answer {
    match device_line::parse(line, known.as_ref().map(|k| &k.hello)) {
        Err((sequence, why)) => Answer::refuse(sequence, why),
        Ok(Line::Hello(hello)) => match greet(store, hello).await {
            Ok((device, session)) => {
                *known = Some(device);
                Answer::Welcome {
                    version: device_line::VERSION,
                    session,
                }
            }
            Err(why) => Answer::refuse(None, why),
        },
        Ok(Line::Shot(shot)) => {
            let sequence = shot.sequence;
            match known {
                None => Answer::refuse(
                    Some(sequence),
                    Invalid::new("type", "shot", "came before any hello", "say hello first"),
                ),
                Some(device) => keep(store, device, shot)
                    .await
                    .unwrap_or_else(|why| Answer::refuse(Some(sequence), why)),
            }
        }
    }
}

async fn greet(store: &Store, hello: Hello) -> Result<(Known, Uuid), Invalid> {
    let school = store.only_coach().await.map_err(store_says)?.school_id;
    let session = session_for(store, school, &hello).await?;
    let device_id = store
        .greet_device(school, &hello.device, hello.kind.key())
        .await
        .map_err(store_says)?;
    let known = Known {
        hello,
        device_id,
        school,
    };
    Ok((known, session))
}

async fn keep(store: &Store, device: &Known, shot: ShotLine) -> Result<Answer, Invalid> {
    let sequence = shot.sequence;
    let new = NewShot {
        device_id: device.device_id,
        run: device.hello.run.clone(),
        sequence,
        session_id: session_for(store, device.school, &device.hello).await?,
        hit_at: shot.time,
        reading: shot.reading,
    };
    let stored = store
        .store_shot(device.school, &new)
        .await
        .map_err(|error| match error {
            StoreError::Conflict(why) => Invalid::new(
                "sequence",
                sequence,
                why,
                "begin a new run, or open a session",
            ),
            other => store_says(other),
        })?;
    Ok(Answer::Ack {
        sequence,
        shot: stored.shot,
        again: stored.again,
    })
}

/// The session a device's shots belong to: the one it named, or the only one in
/// progress. Two in progress are not guessed between.
async fn session_for(store: &Store, school: Uuid, hello: &Hello) -> Result<Uuid, Invalid> {
    if let Some(named) = hello.session {
        return match store.session(school, named).await {
            Ok((session, _)) => Ok(session.id),
            Err(StoreError::NotFound(_)) => Err(Invalid::new(
                "session",
                named,
                "is not a session of this school",
                "copy it from the session's address, or leave it out",
            )),
            Err(other) => Err(store_says(other)),
        };
    }
    let open = store
        .sessions_in_progress(school)
        .await
        .map_err(store_says)?;
    match open.as_slice() {
        [only] => Ok(only.id),
        [] => Err(Invalid::new(
            "session",
            "",
            "is not named and none is in progress",
            "begin one in the application, then send this again",
        )),
        several => Err(Invalid::new(
            "session",
            "",
            format!("is not named and {} are in progress", several.len()),
            "name one in the hello, or end the others",
        )),
    }
}

/// A refusal that is the store's, not the line's: the device should send it again.
fn store_says(error: StoreError) -> Invalid {
    tracing::error!(%error, "intake: store");
    Invalid::new("line", "", "could not be stored just now", "send it again")
}

fn too_long(bytes: usize) -> Invalid {
    Invalid::new(
        "line",
        format!("{bytes} bytes"),
        "is too long",
        format!("send lines of up to {LONGEST_LINE} bytes"),
    )
}

/// What came over the wire.
#[derive(Debug, PartialEq)]
enum Heard {
    Line(Vec<u8>),
    /// A line longer than allowed, with its length; none of it was kept.
    TooLong(usize),
    /// The connection ended within a line of so many bytes.
    HalfLine(usize),
    End,
}

/// Reads up to a newline, holding no more than the longest line allowed.
async fn next_line(lines: &mut (impl AsyncBufRead + Unpin)) -> std::io::Result<Heard> {
    let mut line = Vec::new();
    let mut length = 0;
    loop {
        let heard = lines.fill_buf().await?;
        if heard.is_empty() {
            return Ok(if length == 0 {
                Heard::End
            } else {
                Heard::HalfLine(length)
            });
        }
        let end = heard.iter().position(|b| *b == b'\n');
        let piece = &heard[..end.unwrap_or(heard.len())];
        length += piece.len();
        if length <= LONGEST_LINE {
            line.extend_from_slice(piece);
        } else {
            line = Vec::new();
        }
        let used = piece.len() + usize::from(end.is_some());
        lines.consume(used);
        if end.is_some() {
            return Ok(if length > LONGEST_LINE {
                Heard::TooLong(length)
            } else {
                Heard::Line(line)
            });
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

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
}
