//! The device's side of the device line: says hello, sends shots, waits for each
//! acknowledgement, and sends again over a new connection what was not acknowledged.

use chrono::{SubsecRound, Utc};
use std::time::Duration;
use tally_core::shots::trace::Trace;
use tally_formats::device_line::{
    Answer, Hello, NOT_NOW, ShotLine, write_hello, write_shot, write_trace,
};
use tally_sim::monitor::Monitor;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader, Lines};
use tokio::net::TcpStream;
use tokio::net::tcp::{OwnedReadHalf, OwnedWriteHalf};
use uuid::Uuid;

/// Connections tried for one shot before giving up.
const TRIES: u32 = 20;

/// Why a shot was not stored.
#[derive(Debug, thiserror::Error)]
pub enum ClientError {
    /// Nobody answers.
    #[error("cannot reach the intake at {server}: {source}; is the server running?")]
    Unreachable {
        /// The address.
        server: String,
        /// Why.
        source: std::io::Error,
    },
    /// The server answers, and cannot store it.
    #[error(
        "the server at {server} could not store it, however often it was sent; its log says why"
    )]
    NotStored {
        /// The address.
        server: String,
    },
    /// The server refused a line.
    #[error("the server refused it: {field} {problem}; {remedy}")]
    Refused {
        /// Field at fault.
        field: String,
        /// What is wrong.
        problem: String,
        /// What to do.
        remedy: String,
    },
}

/// What a simulated device says first.
pub fn hello(monitor: Monitor, token: String, session: Option<Uuid>) -> Hello {
    Hello {
        token,
        time: Some(Utc::now().trunc_subsecs(3)),
        kind: monitor.kind(),
        run: Uuid::now_v7().to_string(),
        session,
        measures: monitor.measures().iter().copied().collect(),
        calculates: monitor.calculates().iter().copied().collect(),
        unread: Vec::new(),
    }
}

/// What came of a shot.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Acknowledged {
    /// The shot it was stored as.
    pub shot: Uuid,
    /// Whether it had been stored before.
    pub again: bool,
}

/// A device that speaks the device line.
pub struct DeviceClient {
    server: String,
    hello: Hello,
    line: Option<Conversation>,
    /// Whether it was ever welcomed: before that, a silent server is not waited for.
    welcomed: bool,
}

/// A connection that has been welcomed.
struct Conversation {
    answers: Lines<BufReader<OwnedReadHalf>>,
    out: OwnedWriteHalf,
}

enum Trouble {
    Line(std::io::Error),
    /// The server could not store it just then: the database is away, say.
    NotNow,
    Refused(ClientError),
}

impl DeviceClient {
    /// A device that will connect to `server` when it has something to send.
    pub fn new(server: impl Into<String>, hello: Hello) -> Self {
        Self {
            server: server.into(),
            hello,
            line: None,
            welcomed: false,
        }
    }

    /// Connects and says hello, unless that is done.
    ///
    /// # Errors
    /// [`ClientError`].
    pub async fn connect(&mut self) -> Result<(), ClientError> {
        match self.greeted().await {
            Ok(()) => Ok(()),
            Err(trouble) => Err(self.gives_up(trouble)),
        }
    }

    /// Sends a shot until it is acknowledged.
    ///
    /// # Errors
    /// [`ClientError`]; a line that breaks is taken up again, twenty times.
    pub async fn send(&mut self, shot: &ShotLine) -> Result<Acknowledged, ClientError> {
        self.send_line(&write_shot(shot)).await
    }

    /// Sends the trace of a shot that was sent, likewise.
    ///
    /// # Errors
    /// [`ClientError`].
    pub async fn send_trace(
        &mut self,
        sequence: i64,
        trace: &Trace,
    ) -> Result<Acknowledged, ClientError> {
        self.send_line(&write_trace(sequence, trace)).await
    }

    async fn send_line(&mut self, line: &str) -> Result<Acknowledged, ClientError> {
        let mut tries = 0;
        loop {
            let said = async {
                self.greeted().await?;
                match self.line.as_mut() {
                    Some(open) => say(open, line).await,
                    None => Err(Trouble::Line(std::io::ErrorKind::NotConnected.into())),
                }
            };
            match said.await {
                Ok(Answer::Ack { shot, again, .. }) => return Ok(Acknowledged { shot, again }),
                Ok(_) => {
                    return Err(ClientError::Refused {
                        field: "line".to_owned(),
                        problem: "was answered by something else than an acknowledgement"
                            .to_owned(),
                        remedy: "check that the server speaks this version".to_owned(),
                    });
                }
                Err(trouble) => {
                    self.line = None;
                    tries += 1;
                    let refused = matches!(trouble, Trouble::Refused(_));
                    if tries >= TRIES || refused || !self.welcomed {
                        return Err(self.gives_up(trouble));
                    }
                    match trouble {
                        Trouble::Line(source) => {
                            tracing::warn!(%source, "the line broke; connecting again");
                        }
                        _ => tracing::warn!("it could not be stored just now; sending it again"),
                    }
                    tokio::time::sleep(Duration::from_secs(1)).await;
                }
            }
        }
    }

    fn gives_up(&self, trouble: Trouble) -> ClientError {
        let server = self.server.clone();
        match trouble {
            Trouble::Line(source) => ClientError::Unreachable { server, source },
            Trouble::NotNow => ClientError::NotStored { server },
            Trouble::Refused(refused) => refused,
        }
    }

    async fn greeted(&mut self) -> Result<(), Trouble> {
        if self.line.is_some() {
            return Ok(());
        }
        let stream = TcpStream::connect(&self.server)
            .await
            .map_err(Trouble::Line)?;
        stream.set_nodelay(true).map_err(Trouble::Line)?;
        let (read, out) = stream.into_split();
        let mut open = Conversation {
            answers: BufReader::new(read).lines(),
            out,
        };
        say(&mut open, &write_hello(&self.hello)).await?;
        self.line = Some(open);
        self.welcomed = true;
        Ok(())
    }
}

/// Says a line and hears its answer.
async fn say(conversation: &mut Conversation, line: &str) -> Result<Answer, Trouble> {
    conversation
        .out
        .write_all(line.as_bytes())
        .await
        .map_err(Trouble::Line)?;
    let heard = conversation
        .answers
        .next_line()
        .await
        .map_err(Trouble::Line)?;
    let heard = heard.ok_or_else(|| Trouble::Line(std::io::ErrorKind::UnexpectedEof.into()))?;
    match serde_json::from_str(&heard) {
        Ok(Answer::Error { problem, .. }) if problem == NOT_NOW => Err(Trouble::NotNow),
        Ok(Answer::Error {
            field,
            problem,
            remedy,
            ..
        }) => Err(Trouble::Refused(ClientError::Refused {
            field,
            problem,
            remedy,
        })),
        Ok(answer) => Ok(answer),
        Err(error) => Err(Trouble::Line(error.into())),
    }
}
