//! Bringing in a file of shots: read on one thread, stored on another, told and
//! cancelled meanwhile, and seen whole or not at all.

use axum::body::Body;
use chrono::NaiveDate;
use futures_util::TryStreamExt;
use sha2::{Digest, Sha256};
use std::io::Read;
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use std::time::{Duration, Instant};
use tally_core::physics::club::Club;
use tally_core::session::label::asks_full_effort;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use tally_core::training::protocol::FULL_PCT;
use tally_formats::shot_csv::{Layout, Places, ReadRow, Rows};
use tally_store::shots::import_writer::NewImport;
use tally_store::shots::import_writer::{
    Finished, ImportWriter, ImportedBlock, ImportedSession, PlacedShot,
};
use tally_store::shots::imports::{BadRow, MOST_BAD_ROWS};
use tally_store::{Store, StoreError};
use tokio::sync::mpsc;
use tokio_util::io::{StreamReader, SyncIoBridge};
use uuid::Uuid;

/// Rows that go together from the reader to the store.
const CHUNK: usize = 4000;
/// Chunks that may wait between them.
const WAITING: usize = 3;
/// How often progress is told.
const TOLD_EVERY: Duration = Duration::from_millis(250);

/// What to bring in, and how.
pub struct Wanted {
    /// The school's records.
    pub store: Store,
    /// The school.
    pub school: Uuid,
    /// The file.
    pub new: NewImport,
    /// How it is read.
    pub layout: Layout,
    /// Whether one bad row lets nothing in.
    pub all_or_nothing: bool,
    /// Why they were hit.
    pub purpose: Purpose,
    /// Where the shots were hit.
    pub place: String,
    /// Height above the sea, m.
    pub altitude_m: f64,
    /// Temperature, °C.
    pub temperature_c: f64,
    /// The zone of times without one.
    pub zone: String,
    /// The day of shots without one.
    pub day: NaiveDate,
    /// The club of shots without one.
    pub club: Club,
}

/// What the reader hands over.
enum Heard {
    Rows(Vec<ReadRow>),
    /// The file cannot be read further.
    Broken(String),
    /// All of it was read.
    End {
        sha256: Vec<u8>,
    },
}

/// Counts and digests what passes.
struct Measured<R> {
    inner: R,
    bytes: Arc<AtomicI64>,
    digest: Sha256,
}

impl<R: Read> Read for Measured<R> {
    fn read(&mut self, buffer: &mut [u8]) -> std::io::Result<usize> {
        let n = self.inner.read(buffer)?;
        self.digest.update(&buffer[..n]);
        self.bytes.fetch_add(n as i64, Ordering::Relaxed);
        Ok(n)
    }
}

/// How far an import is.
#[derive(Default)]
struct Counts {
    good: i64,
    bad: i64,
}

/// Brings in a file. However it ends, its record tells.
///
/// # Errors
/// [`StoreError`] when it could not be begun.
pub async fn run(wanted: Wanted, body: Body) -> Result<(), StoreError> {
    let writer = wanted
        .store
        .begin_import(wanted.school, &wanted.new)
        .await?;
    let names = Arc::new(std::sync::Mutex::new(Vec::new()));
    let bytes = Arc::new(AtomicI64::new(0));
    let (out, heard) = mpsc::channel(WAITING);
    let stream = body.into_data_stream().map_err(std::io::Error::other);
    let input = Measured {
        inner: SyncIoBridge::new(StreamReader::new(stream)),
        bytes: Arc::clone(&bytes),
        digest: Sha256::new(),
    };
    let (layout, told) = (wanted.layout.clone(), Arc::clone(&names));
    let reading = tokio::task::spawn_blocking(move || read_all(input, layout, &out, &told));
    let mut counts = Counts::default();
    let ended = store_all(&wanted, writer, heard, &bytes, &names, &mut counts).await;
    // Ends by itself once nobody hears it.
    reading.abort();
    let header = names.lock().map(|names| names.clone()).unwrap_or_default();
    let (state, message) = match ended {
        Ok(None) => return Ok(()),
        Ok(Some((state, message))) => (state, message),
        Err(error) => {
            tracing::error!(%error, "import");
            let why = match error {
                StoreError::Busy => {
                    "too many files were being read; nothing was added, send it again"
                }
                StoreError::Full(_) => {
                    "the server's disk is full; nothing was added, send it again when there is room"
                }
                StoreError::Unreachable(_) => {
                    "the database went away; nothing was added, send it again"
                }
                _ => "the database could not store it; nothing was added, try again",
            };
            ("failed", why.to_owned())
        }
    };
    let Wanted {
        store, school, new, ..
    } = &wanted;
    let read = bytes.load(Ordering::Relaxed);
    store
        .import_goes_on(*school, new.id, read, [counts.good, counts.bad])
        .await?;
    store
        .import_ends(*school, new.id, state, &message, &header)
        .await
}

/// Reads the file row by row and hands rows over in chunks.
fn read_all(
    mut input: Measured<impl Read>,
    layout: Layout,
    out: &mpsc::Sender<Heard>,
    names: &std::sync::Mutex<Vec<String>>,
) {
    let mut rows = Rows::new(&mut input, layout);
    let mut chunk = Vec::with_capacity(CHUNK);
    let broken = loop {
        match rows.next_row() {
            Some(Ok(row)) => chunk.push(row),
            Some(Err(error)) => break Some(error.to_string()),
            None => break None,
        }
        if chunk.len() == CHUNK
            && out
                .blocking_send(Heard::Rows(std::mem::take(&mut chunk)))
                .is_err()
        {
            return;
        }
    };
    if let Ok(mut told) = names.lock() {
        *told = rows.names().to_vec();
    }
    drop(rows);
    let last = match broken {
        Some(why) => Heard::Broken(why),
        None => Heard::End {
            sha256: input.digest.finalize().to_vec(),
        },
    };
    // Nobody hears it once the import was cancelled.
    let _ = out
        .blocking_send(Heard::Rows(chunk))
        .and_then(|()| out.blocking_send(last));
}

/// Stores what is heard. Returns how the import ended when it added nothing.
async fn store_all(
    wanted: &Wanted,
    writer: ImportWriter,
    mut heard: mpsc::Receiver<Heard>,
    bytes: &AtomicI64,
    names: &std::sync::Mutex<Vec<String>>,
    counts: &mut Counts,
) -> Result<Option<(&'static str, String)>, StoreError> {
    let Wanted {
        store, school, new, ..
    } = wanted;
    let mut places = match Places::new(&wanted.zone, wanted.day, wanted.club) {
        Ok(places) => places,
        Err(why) => return Ok(Some(("failed", why.to_string()))),
    };
    let mut told = Instant::now();
    while let Some(next) = heard.recv().await {
        match next {
            Heard::Rows(rows) => {
                let (shots, bad) = sort(rows, &mut places);
                counts.good += shots.len() as i64;
                let room = (MOST_BAD_ROWS - counts.bad).max(0) as usize;
                counts.bad += bad.len() as i64;
                for some in bad[..bad.len().min(room)].chunks(500) {
                    store.keep_bad_rows(*school, new.id, some).await?;
                }
                let (sessions, blocks) = opened(wanted, &mut places);
                writer.add_places(&sessions, &blocks).await?;
                writer.add_shots(&shots).await?;
            }
            Heard::Broken(why) => {
                writer.abandon().await?;
                return Ok(Some(("failed", why)));
            }
            Heard::End { sha256 } => {
                return end(wanted, writer, counts, bytes, names, &sha256).await;
            }
        }
        if told.elapsed() > TOLD_EVERY {
            told = Instant::now();
            let read = bytes.load(Ordering::Relaxed);
            let progress = [counts.good, counts.bad];
            if store
                .import_goes_on(*school, new.id, read, progress)
                .await?
            {
                writer.abandon().await?;
                return Ok(Some((
                    "cancelled",
                    "cancelled; nothing was added".to_owned(),
                )));
            }
        }
    }
    writer.abandon().await?;
    Ok(Some((
        "failed",
        "the file broke off; nothing was added, send it again".to_owned(),
    )))
}

async fn end(
    wanted: &Wanted,
    writer: ImportWriter,
    counts: &Counts,
    bytes: &AtomicI64,
    names: &std::sync::Mutex<Vec<String>>,
    sha256: &[u8],
) -> Result<Option<(&'static str, String)>, StoreError> {
    let Wanted {
        store, school, new, ..
    } = wanted;
    let read = bytes.load(Ordering::Relaxed);
    let progress = [counts.good, counts.bad];
    let cancelled = store
        .import_goes_on(*school, new.id, read, progress)
        .await?;
    let nothing = match counts {
        _ if cancelled => Some(("cancelled", "cancelled; nothing was added".to_owned())),
        Counts { good: 0, .. } => Some((
            "failed",
            "no row could be used; nothing was added".to_owned(),
        )),
        Counts { bad, .. } if *bad > 0 && wanted.all_or_nothing => Some((
            "refused",
            format!("{bad} rows could not be used, so nothing was added, as you chose"),
        )),
        _ => None,
    };
    if nothing.is_some() {
        writer.abandon().await?;
        return Ok(nothing);
    }
    let header = names.lock().map(|names| names.clone()).unwrap_or_default();
    match writer.finish(sha256, progress, read, &header).await? {
        Finished::Done => Ok(None),
        Finished::Known => Ok(Some((
            "known",
            "this file is in already; nothing was added twice".to_owned(),
        ))),
    }
}

/// Tells good rows from bad ones and finds the places of the good ones.
fn sort(rows: Vec<ReadRow>, places: &mut Places) -> (Vec<PlacedShot>, Vec<BadRow>) {
    let (mut shots, mut bad) = (Vec::with_capacity(rows.len()), Vec::new());
    for row in rows {
        match row.shot {
            Ok(shot) => {
                let placed = places.place(&shot);
                shots.push(PlacedShot {
                    session_id: placed.session,
                    block_id: placed.block,
                    hit_at: placed.hit_at,
                    row: row.row as i64,
                    set_aside: shot.set_aside,
                    reading: shot.reading,
                });
            }
            Err(refused) => bad.push(BadRow {
                row: row.row as i64,
                cells: refused.cells.into(),
                troubles: serde_json::to_value(&refused.troubles).expect("troubles are plain data"),
            }),
        }
    }
    (shots, bad)
}

/// The sessions and blocks that were opened since the last chunk.
fn opened(wanted: &Wanted, places: &mut Places) -> (Vec<ImportedSession>, Vec<ImportedBlock>) {
    let sessions = std::mem::take(&mut places.new_sessions).into_iter();
    let sessions = sessions.map(|session| ImportedSession {
        id: session.id,
        purpose: wanted.purpose,
        club: session.club,
        place: wanted.place.clone(),
        altitude_m: wanted.altitude_m,
        temperature_c: wanted.temperature_c,
        started_at: session.started_at,
        zone: wanted.zone.clone(),
    });
    let blocks = std::mem::take(&mut places.new_blocks).into_iter();
    let blocks = blocks.map(|block| {
        let plan = PlannedBlock {
            club: block.club,
            full_effort: block
                .effort_pct
                .map_or_else(|| asks_full_effort(&block.label), |pct| pct >= FULL_PCT),
            effort_pct: block.effort_pct,
            swung: block.swung,
            ..PlannedBlock::new(&block.label, 0)
        };
        ImportedBlock {
            id: block.id,
            session_id: block.session,
            position: block.position,
            label: block.label,
            plan: serde_json::to_value(&plan).expect("a plan is plain data"),
            begun_at: block.begun_at,
        }
    });
    (sessions.collect(), blocks.collect())
}
