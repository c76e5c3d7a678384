//! Practice devices: a virtual golfer hits for a session, so that everything can be
//! tried with no device at all.
//!
//! The golfer waits while the session pauses and when a block's balls are hit, swings
//! as hard as the block's label asks, and stops when the session ends or the coach
//! stops it. They come in by the intake like any other device.

use crate::http::token::Token;
use crate::intake::device_client::{ClientError, DeviceClient, hello};
use chrono::{SubsecRound, Utc};
use std::net::SocketAddr;
use std::time::Duration;
use tally_core::session::acts::{Progress, SessionAct, progress};
use tally_core::session::plan::PlannedBlock;
use tally_core::session::tags::Tags;
use tally_core::vocabulary::keyed::Keyed;
use tally_formats::device_line::ShotLine;
use tally_sim::golfer::GOLFERS;
use tally_sim::monitor::{Monitor, trace_of};
use tally_sim::practice::Practice;
use tally_store::session::blocks::{Block, current};
use tally_store::{Store, StoreError};
use uuid::Uuid;

/// Most swings of one practice.
const MOST_SWINGS: i64 = 500;
/// How often a waiting golfer looks up.
const WAITING: Duration = Duration::from_millis(500);

/// What is to be practised.
pub struct Wanted {
    /// The school's records.
    pub store: Store,
    /// Where devices connect.
    pub intake: SocketAddr,
    /// The school.
    pub school: Uuid,
    /// The session.
    pub session: Uuid,
    /// The coach who asked.
    pub coach: Uuid,
    /// The devices that watch.
    pub devices: Vec<Monitor>,
    /// Time from swing to swing.
    pub pace: Duration,
}

#[derive(Debug, thiserror::Error)]
enum PracticeError {
    #[error(transparent)]
    Store(#[from] StoreError),
    #[error(transparent)]
    Client(#[from] ClientError),
}

/// Practises in the background until it is stopped.
pub fn begin(wanted: Wanted) {
    tokio::spawn(async move {
        if let Err(error) = practise(&wanted).await {
            tracing::warn!(%error, "practice: it stopped");
        }
        let ends = SessionAct::PracticeEnds;
        let id = Uuid::now_v7();
        let (school, session) = (wanted.school, wanted.session);
        if let Err(error) = wanted
            .store
            .record_act(school, session, wanted.coach, id, &ends)
            .await
        {
            tracing::warn!(%error, "practice: its end was not noted");
        }
    });
}

async fn practise(wanted: &Wanted) -> Result<(), PracticeError> {
    let (session, _) = wanted.store.session(wanted.school, wanted.session).await?;
    let own = session.club;
    let mut devices = Vec::new();
    for device in &wanted.devices {
        devices.push(connect(wanted, *device).await?);
    }
    // The same player swings alike from session to session, and no two alike.
    let seed = session.player_id.as_u64_pair().1 ^ session.id.as_u64_pair().1;
    let golfer = GOLFERS[session.player_id.as_u64_pair().1 as usize % GOLFERS.len()];
    let mut practice = Practice::new(golfer, session.conditions(), 0, seed);
    for sequence in 1..=MOST_SWINGS {
        let Some(plan) = next_swing(wanted).await? else {
            return Ok(());
        };
        let time = Utc::now().trunc_subsecs(3);
        let readings = practice.do_as_asked(&plan, own, None, &wanted.devices);
        for (device, reading) in devices.iter_mut().zip(readings) {
            let Some(reading) = reading else {
                continue;
            };
            let shot = ShotLine {
                sequence,
                time,
                tags: Tags::default(),
                reading,
                unread: Default::default(),
            };
            let trace = trace_of(&shot.reading);
            device.send(&shot).await?;
            if let Some(trace) = trace {
                device.send_trace(sequence, &trace).await?;
            }
        }
        tokio::time::sleep(wanted.pace).await;
    }
    Ok(())
}

/// Connects a practice device, with a secret made for this connection.
async fn connect(wanted: &Wanted, device: Monitor) -> Result<DeviceClient, PracticeError> {
    let Wanted { store, school, .. } = wanted;
    let kind = device.kind();
    let name = format!("Practice {}", kind.key().replace('_', " "));
    let devices = store.devices(*school).await?;
    let id = match devices.iter().find(|d| d.practice && d.name == name) {
        Some(there) => there.id,
        None => {
            let id = Uuid::now_v7();
            store
                .add_device(*school, id, &name, kind, None, true)
                .await?;
            id
        }
    };
    let token = Token::random("dev");
    store.renew_token(*school, id, &token.digest()).await?;
    store.send_to(*school, id, wanted.session).await?;
    let hello = hello(device, token.into_text(), Some(wanted.session));
    let mut client = DeviceClient::new(wanted.intake.to_string(), hello);
    client.connect().await?;
    Ok(client)
}

/// What the next swing is of, once there is one to make; none when the practice is over.
async fn next_swing(wanted: &Wanted) -> Result<Option<PlannedBlock>, PracticeError> {
    let Wanted {
        store,
        school,
        session: id,
        ..
    } = wanted;
    let by_protocol = store.run_of(*school, *id).await?.is_some();
    loop {
        let (session, blocks) = store.session(*school, *id).await?;
        let acts = store.session_acts(*school, *id).await?;
        let acts: Vec<_> = acts.into_iter().map(|(_, act)| act).collect();
        let now = progress(&acts);
        if session.ended_at.is_some() || !now.practising {
            return Ok(None);
        }
        if let Some(block) = blocks.get(current(&blocks))
            && !now.paused
        {
            let plan = block.plan();
            let hit = store.shots_counting(*school, block.id).await?;
            let open = plan.balls == 0 || hit < i64::from(plan.balls);
            if now.stops(&plan).is_none() && open && !now.skips(block.id) {
                return Ok(Some(plan));
            }
            // The sets of a protocol follow each other by themselves.
            if by_protocol && let Some(next) = set_after(&blocks, &now) {
                return Ok(Some(next.plan()));
            }
        }
        tokio::time::sleep(WAITING).await;
    }
}

/// The next set that may be swung.
fn set_after<'a>(blocks: &'a [Block], now: &Progress) -> Option<&'a Block> {
    blocks.iter().find(|block| {
        block.begun_at.is_none() && !now.skips(block.id) && now.stops(&block.plan()).is_none()
    })
}
