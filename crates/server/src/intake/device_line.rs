//! The intake: devices connect here and speak the device line, in plain text or by TLS.
//!
//! A shot is acknowledged after its commit, so a device may resend whatever was not
//! acknowledged. A bad line gets an error line, and the connection lives on.

use crate::guard::doors::{Doors, Pass};
use crate::guard::held::HeldStream;
use crate::intake::device_talk::{Talk, log_may};
use socket2::{SockRef, TcpKeepalive};
use std::net::SocketAddr;
use std::time::Duration;
use tally_formats::device_line::LONGEST_LINE;
use tally_store::Store;
use tokio::io::{AsyncBufRead, AsyncBufReadExt, AsyncRead, AsyncWrite, AsyncWriteExt, BufReader};
use tokio::net::{TcpListener, TcpStream};
use tokio_rustls::TlsAcceptor;

/// How soon a device that is gone without a word is found out: after so long in silence
/// it is asked, so often, so many times.
const ASKED_AFTER: Duration = Duration::from_secs(60);
const ASKED_EVERY: Duration = Duration::from_secs(15);
const ASKED_TIMES: u32 = 4;
/// The first byte of whoever speaks TLS (RFC 8446, 5.1: a handshake); no line begins with it.
const HANDSHAKE: u8 = 22;

/// Accepts devices until the socket fails: in plain text, and by TLS where there is a
/// certificate.
///
/// # Errors
/// When the socket fails.
pub async fn run(
    store: Store,
    listener: TcpListener,
    doors: Doors,
    tls: Option<TlsAcceptor>,
) -> std::io::Result<()> {
    loop {
        let (stream, peer) = match listener.accept().await {
            Ok(accepted) => accepted,
            // Out of file handles, say: those that are connected go on.
            Err(error) => {
                tracing::warn!(%error, "intake: cannot accept a device just now");
                tokio::time::sleep(Duration::from_millis(200)).await;
                continue;
            }
        };
        let store = store.clone();
        let pass = doors.let_in(peer.ip());
        let tls = tls.clone();
        tokio::spawn(async move {
            if let Err(error) = welcome(store, stream, peer, pass, tls).await
                && let Some(left_out) = log_may()
            {
                tracing::info!(%peer, %error, left_out, "intake: a device went away");
            }
        });
    }
}

/// What is read of a connection at once, bytes.
const BUFFER: usize = 65_536;

async fn welcome(
    store: Store,
    stream: TcpStream,
    peer: SocketAddr,
    pass: Pass,
    tls: Option<TlsAcceptor>,
) -> std::io::Result<()> {
    stream.set_nodelay(true)?;
    let asked = TcpKeepalive::new()
        .with_time(ASKED_AFTER)
        .with_interval(ASKED_EVERY)
        .with_retries(ASKED_TIMES);
    SockRef::from(&stream).set_tcp_keepalive(&asked)?;
    let talk = Talk::new(&store, &pass, peer.to_string());
    let mut stream = HeldStream::new(stream, pass);
    match tls {
        Some(tls) if stream.first().await? == Some(HANDSHAKE) => {
            converse(talk, tls.accept(stream).await?, peer).await
        }
        _ => converse(talk, stream, peer).await,
    }
}

async fn converse(
    mut talk: Talk,
    stream: impl AsyncRead + AsyncWrite,
    peer: SocketAddr,
) -> std::io::Result<()> {
    let (read, mut write) = tokio::io::split(stream);
    let mut lines = BufReader::with_capacity(BUFFER, read);
    loop {
        let answer = match next_line(&mut lines).await? {
            Heard::End => return Ok(()),
            Heard::HalfLine(bytes) => {
                if let Some(left_out) = log_may() {
                    tracing::warn!(%peer, bytes, left_out, "intake: a device stopped half way through a line; it was not used");
                }
                return Ok(());
            }
            Heard::TooLong(bytes) => Some(talk.too_long(bytes)),
            Heard::Line(bytes) => talk.hear(&bytes).await,
        };
        if let Some(answer) = answer {
            write.write_all(answer.to_line().as_bytes()).await?;
            write.flush().await?;
        }
        if talk.is_over() {
            return Ok(());
        }
    }
}

/// What came over the wire.
#[derive(Debug, PartialEq)]
pub enum Heard {
    /// A whole line, without its end.
    Line(Vec<u8>),
    /// A line longer than allowed, with its length; none of it was kept.
    TooLong(usize),
    /// The connection ended within a line of so many bytes.
    HalfLine(usize),
    /// Nothing more comes.
    End,
}

/// Reads up to a newline, holding no more than the longest line allowed.
pub async fn next_line(lines: &mut (impl AsyncBufRead + Unpin)) -> std::io::Result<Heard> {
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
