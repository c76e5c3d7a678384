//! What is said with a device, whatever the lines come by: over a connection of their own, a
//! WebSocket or a request.

use crate::guard::doors::Pass;
use crate::guard::sampled::Sampled;
use crate::http::token::Token;
use crate::http::watch;
use chrono::{DateTime, Datelike, Duration, Utc};
use std::time::Instant;
use tally_core::shots::trace::{Trace, of_body_weight};
use tally_core::verdicts::house_rules::HouseRules;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_formats::device_line::{self, Answer, Hello, LONGEST_LINE, Line, ShotLine, TraceLine};
use tally_store::shots::devices::Greeting;
use tally_store::shots::shot_intake::NewShot;
use tally_store::{Store, StoreError};
use tokio::task::JoinHandle;
use uuid::Uuid;

/// How often a connected device is noted to be there still.
const BEAT: std::time::Duration = std::time::Duration::from_secs(20);
/// How long a wrong secret waits for its refusal.
const WRONG_TOKEN_PAUSE: std::time::Duration = std::time::Duration::from_millis(300);
/// How long the house's rules are used before they are read again.
const RULES_HOLD: std::time::Duration = std::time::Duration::from_secs(5);
/// How many refused lines end a connection that has not said who it is.
const LINES_OF_STRANGERS: u32 = 5;
/// Refused lines that the log holds a second.
const LOGGED: u32 = 5;
/// Times before this year, or so many days ahead, are those of a clock that was never set.
const EARLIEST_YEAR: i32 = 2000;
const FARTHEST_AHEAD_D: i64 = 366;
/// A clock this close to ours is not put right: the way takes time too. Seconds.
const CLOCK_SLACK_S: f64 = 1.0;

/// Whether the log takes a line on what a device sent; then, how many were left out.
pub(crate) fn log_may() -> Option<u64> {
    static LOG: Sampled = Sampled::new(LOGGED);
    LOG.may()
}

/// A device that has said hello.
struct Known {
    store: Store,
    hello: Hello,
    device_id: Uuid,
    school: Uuid,
    /// The session that its shots go to.
    session: Uuid,
    /// The house's rules, and when they were read.
    rules: (HouseRules, Instant),
    since: DateTime<Utc>,
    /// How far its clock is ahead of ours, s.
    clock_ahead_s: f64,
    /// Tells every so often that it is still there.
    beat: JoinHandle<()>,
}

impl Drop for Known {
    fn drop(&mut self) {
        self.beat.abort();
        let store = self.store.clone();
        let (school, id, session, since) = (self.school, self.device_id, self.session, self.since);
        tokio::spawn(async move {
            if let Err(error) = store.device_left(school, id, session, since).await {
                tracing::warn!(%error, "intake: a device's leaving was not noted");
            }
        });
    }
}

/// A conversation with a device.
pub(crate) struct Talk {
    store: Store,
    pass: Pass,
    /// The address it speaks from, for the log.
    from: String,
    known: Option<Known>,
    /// Whether it has shown a secret that is known: it may wait for its session to begin.
    has_secret: bool,
    /// Lines that were refused before that.
    refused: u32,
}

impl Talk {
    /// With one that came in by this pass.
    pub(crate) fn new(store: &Store, pass: &Pass, from: String) -> Talk {
        Talk {
            store: store.clone(),
            pass: pass.clone(),
            from,
            known: None,
            has_secret: false,
            refused: 0,
        }
    }

    /// Answers what came as a line; nothing where it is blank.
    pub(crate) async fn hear(&mut self, bytes: &[u8]) -> Option<Answer> {
        if bytes.len() > LONGEST_LINE {
            return Some(self.too_long(bytes.len()));
        }
        let said = match std::str::from_utf8(bytes) {
            Ok(line) if line.trim().is_empty() => return None,
            Ok(line) => self.answer(line.trim()).await,
            Err(_) => {
                let shown = String::from_utf8_lossy(bytes).into_owned();
                let why = Invalid::new("line", shown, "is not UTF-8", "send UTF-8");
                Answer::refuse(None, why)
            }
        };
        Some(self.noted(said))
    }

    /// Refuses a line that was longer than is heard.
    pub(crate) fn too_long(&mut self, bytes: usize) -> Answer {
        let why = Invalid::new(
            "line",
            format!("{bytes} bytes"),
            "is too long",
            format!("send lines of up to {LONGEST_LINE} bytes"),
        );
        self.noted(Answer::refuse(None, why))
    }

    /// Whether a stranger has been heard for long enough.
    pub(crate) fn is_over(&self) -> bool {
        self.refused >= LINES_OF_STRANGERS
    }

    async fn answer(&mut self, line: &str) -> Answer {
        let (store, pass, known) = (&self.store, &self.pass, &mut self.known);
        match device_line::parse(line, known.as_ref().map(|k| &k.hello)) {
            Err((sequence, why)) => Answer::refuse(sequence, why),
            Ok(Line::Ping) => Answer::Pong,
            Ok(Line::Hello(hello)) => match greet(store, hello, || {
                pass.known();
                self.has_secret = true;
            })
            .await
            {
                Ok(device) => {
                    let session = device.session;
                    let unread = device.hello.unread.clone();
                    *known = Some(device);
                    Answer::Welcome {
                        version: device_line::VERSION,
                        session,
                        unread,
                    }
                }
                Err(why) => Answer::refuse(None, why),
            },
            Ok(Line::Trace(trace)) => {
                let sequence = trace.sequence;
                match known {
                    None => Answer::refuse(
                        Some(sequence),
                        Invalid::new("type", "trace", "came before any hello", "say hello first"),
                    ),
                    Some(device) => keep_trace(device, trace)
                        .await
                        .unwrap_or_else(|why| Answer::refuse(Some(sequence), why)),
                }
            }
            Ok(Line::Shot(shot)) => {
                let sequence = shot.sequence;
                match known {
                    None => Answer::refuse(
                        Some(sequence),
                        Invalid::new("type", "shot", "came before any hello", "say hello first"),
                    ),
                    Some(device) => keep(device, shot)
                        .await
                        .unwrap_or_else(|why| Answer::refuse(Some(sequence), why)),
                }
            }
        }
    }

    fn noted(&mut self, said: Answer) -> Answer {
        if let Answer::Error { field, problem, .. } = &said {
            if let Some(left_out) = log_may() {
                let from = &self.from;
                tracing::info!(from, field, problem, left_out, "intake: a line was refused");
            }
            self.refused += u32::from(!self.has_secret);
        }
        said
    }
}

async fn greet(store: &Store, hello: Hello, has_secret: impl FnOnce()) -> Result<Known, Invalid> {
    let digest = Token::sent(&hello.token).digest();
    let (school, device) = match store.device_of_token(&digest).await {
        Ok(found) => found,
        Err(StoreError::NotFound(_)) => {
            // Guessing is slow work.
            tokio::time::sleep(WRONG_TOKEN_PAUSE).await;
            return Err(Invalid::new(
                "token",
                "(not shown)",
                "is not the secret of any device",
                "copy it from the device's page under School, or make a new one there",
            ));
        }
        Err(other) => return Err(store_says(other)),
    };
    if device.kind != hello.kind {
        let made_for = device.kind.key();
        let remedy = format!("say {made_for}, or add a device of this kind under School");
        let problem = format!("is not what this secret was made for, which is {made_for}");
        return Err(Invalid::new("kind", hello.kind.key(), problem, remedy));
    }
    if let Some(told) = hello.time {
        possible("time", told)?;
    }
    has_secret();
    let store = &store.for_school(school);
    let session = session_for(store, school, device.id, &hello).await?;
    let clock_ahead_s = hello
        .time
        .map(|told| (told - Utc::now()).num_milliseconds() as f64 / 1000.0);
    let said = Greeting {
        kind: hello.kind,
        measures: hello.measures.iter().copied().collect(),
        calculates: hello.calculates.iter().copied().collect(),
        clock_ahead_s,
    };
    let since = store
        .greet_device(school, device.id, session, &said)
        .await
        .map_err(store_says)?;
    let (beating, id) = (store.clone(), device.id);
    let beat = tokio::spawn(async move {
        loop {
            tokio::time::sleep(BEAT).await;
            if let Err(error) = beating.device_heard(school, id).await {
                tracing::warn!(%error, "intake: a device's being there was not noted");
            }
        }
    });
    let rules = store.house_rules(school).await.map_err(store_says)?;
    Ok(Known {
        store: store.clone(),
        hello,
        device_id: device.id,
        school,
        session,
        rules: (rules, Instant::now()),
        since,
        clock_ahead_s: clock_ahead_s.unwrap_or_default(),
        beat,
    })
}

/// Refuses a time that no clock shows that was ever set.
fn possible(field: &str, told: DateTime<Utc>) -> Result<(), Invalid> {
    if told.year() >= EARLIEST_YEAR && told < Utc::now() + Duration::days(FARTHEST_AHEAD_D) {
        return Ok(());
    }
    let remedy = "set the device's clock, or let it tell its own time in the hello";
    Err(Invalid::new(field, told, "is no time of a shot", remedy))
}

/// When a shot was hit by our clock. A device whose clock is off is put right by what
/// it told at its hello; nothing was hit in the future.
pub fn hit_at(told: DateTime<Utc>, clock_ahead_s: f64, now: DateTime<Utc>) -> DateTime<Utc> {
    let off = if clock_ahead_s.abs() > CLOCK_SLACK_S {
        Duration::milliseconds((clock_ahead_s * 1000.0) as i64)
    } else {
        Duration::zero()
    };
    (told - off).min(now)
}

async fn keep(device: &mut Known, shot: ShotLine) -> Result<Answer, Invalid> {
    possible("time", shot.time)?;
    let mut unread: Vec<String> = shot.unread.keys().cloned().collect();
    let store = &device.store.for_now();
    let (sequence, school) = (shot.sequence, device.school);
    if device.rules.1.elapsed() > RULES_HOLD {
        let rules = store.house_rules(school).await.map_err(store_says)?;
        device.rules = (rules, Instant::now());
    }
    // Another session may have been chosen for the device meanwhile.
    if device.hello.session.is_none() {
        let now = store
            .device(school, device.device_id)
            .await
            .map_err(store_says)?;
        if let Some(chosen) = now.session_id
            && chosen != device.session
        {
            device.session = session_for(store, school, device.device_id, &device.hello).await?;
        }
    }
    let mut new = NewShot {
        device_id: device.device_id,
        run: device.hello.run.clone(),
        sequence,
        session_id: device.session,
        hit_at: hit_at(shot.time, device.clock_ahead_s, Utc::now()),
        tags: shot.tags,
        reading: shot.reading,
        unread: shot.unread,
        pair_window_s: device.rules.0.pair_window_s,
    };
    let mut stored = store.store_shot(school, &new).await;
    if let Err(StoreError::Conflict(_)) = stored {
        // The session may have ended and another begun.
        let session = session_for(store, school, device.device_id, &device.hello).await?;
        if session != device.session {
            device.session = session;
            new.session_id = session;
            stored = store.store_shot(school, &new).await;
        }
    }
    let stored = stored.map_err(|error| match error {
        StoreError::Conflict(why) => Invalid::new(
            "sequence",
            sequence,
            why,
            "begin a new run, or open a session",
        ),
        other => store_says(other),
    })?;
    watch::shot(stored.again);
    let astray = [("club", stored.astray.club), ("block", stored.astray.block)];
    let astray = astray.iter().filter(|(_, astray)| *astray);
    unread.extend(astray.map(|(field, _)| (*field).to_owned()));
    Ok(Answer::Ack {
        sequence,
        shot: stored.shot,
        again: stored.again,
        unread,
    })
}

/// Keeps a trace beside the shot that it is of.
async fn keep_trace(device: &mut Known, line: TraceLine) -> Result<Answer, Invalid> {
    let store = &device.store.for_now();
    let school = device.school;
    let mut channels = line.channels;
    if line.newtons {
        let session = store.session(school, device.session).await;
        let player = match session {
            Ok((session, _)) => store.player(school, session.player_id).await,
            Err(error) => Err(error),
        };
        let mass = player.map_err(store_says)?.mass_kg.ok_or_else(|| {
            let remedy = "note it on the player's page, or send forces in % of body weight";
            Invalid::new("mass", "", "of the player is not known", remedy)
        })?;
        of_body_weight(&mut channels, mass);
    }
    let trace = Trace::taken(line.rate_hz, line.marks, channels)?;
    let of = (device.device_id, device.hello.run.as_str(), line.sequence);
    let kept = store.store_trace(school, of, &trace).await;
    let (shot, again) = kept.map_err(|error| match error {
        StoreError::NotFound(_) => {
            let remedy = "send the shot first, and its trace after that";
            Invalid::new(
                "sequence",
                line.sequence,
                "is of no shot told of before",
                remedy,
            )
        }
        StoreError::Conflict(why) => {
            Invalid::new("sequence", line.sequence, why, "leave the first one")
        }
        other => store_says(other),
    })?;
    Ok(Answer::Ack {
        sequence: line.sequence,
        shot,
        again,
        unread: Vec::new(),
    })
}

/// The session a device's shots belong to: the one it named, the one that was chosen
/// for it, or the only one in progress. Two in progress are not guessed between.
async fn session_for(
    store: &Store,
    school: Uuid,
    device: Uuid,
    hello: &Hello,
) -> Result<Uuid, Invalid> {
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
    let chosen = store.device(school, device).await.map_err(store_says)?;
    if let Some(chosen) = chosen.session_id
        && open.iter().any(|session| session.id == chosen)
    {
        return Ok(chosen);
    }
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
            "choose this device in the session under Prepare, name one in the hello, or end the others",
        )),
    }
}

/// A refusal that is the store's, not the line's: the device should send it again.
fn store_says(error: StoreError) -> Invalid {
    tracing::error!(%error, "intake: store");
    Invalid::new("line", "", device_line::NOT_NOW, "send it again")
}
