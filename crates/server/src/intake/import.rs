//! Bringing in a file of shots: read on one thread, stored on another, told and
//! cancelled meanwhile, and seen whole or not at all.

use crate::guard::compute::write_rows;
use axum::body::Body;
use chrono::{NaiveDate, NaiveTime, TimeDelta};
use futures_util::TryStreamExt;
use sha2::{Digest, Sha256};
use std::collections::{HashMap, HashSet};
use std::io::Read;
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};
use std::time::{Duration, Instant};
use tally_core::physics::club::Club;
use tally_core::session::label::asks_full_effort;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use tally_core::shots::again::{Seen, again};
use tally_core::training::protocol::FULL_PCT;
use tally_formats::shot_table::{
    HELD_WHOLE, ImportedShot, Layout, Places, ReadRow, Rows, RowsError, is_held_whole, still_open,
};
use tally_store::shots::import_writer::{
    Finished, ImportWriter, ImportedBlock, ImportedSession, NewImport, PlacedShot, ReadFile,
};
use tally_store::shots::imports::{BadRow, KnownShot, MOST_BAD_ROWS};
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

/// How much of a file is looked at before it is read, bytes.
pub const HEAD: usize = 256 << 10;

/// The first bytes of a file without the row that they end within; all of one that is held
/// whole.
pub fn whole_rows(head: &[u8]) -> &[u8] {
    if head.len() < HEAD || is_held_whole(head) {
        return head;
    }
    let end = head.iter().rposition(|byte| *byte == b'\n');
    // The other half of a line's end, where characters have two bytes.
    end.map_or(head, |end| {
        &head[..end + 1 + usize::from(head.get(end + 1) == Some(&0))]
    })
}

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
    /// All of it was read; what was passed over, in sentences.
    End {
        sha256: Vec<u8>,
        remarks: Vec<String>,
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
    /// Shots that were in already.
    known: i64,
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
    let reading = tokio::task::spawn_blocking(move || {
        let read = read_all(input, layout, &out, &told);
        // Nobody hears it once the import was cancelled.
        let _ = out.blocking_send(read.unwrap_or_else(|why| Heard::Broken(why.to_string())));
    });
    let mut counts = Counts::default();
    let ended = store_all(&wanted, writer, heard, &bytes, &names, &mut counts).await;
    // Ends by itself once nobody hears it.
    reading.abort();
    let file = ReadFile {
        header: names.lock().map(|names| names.clone()).unwrap_or_default(),
        remarks: Vec::new(),
        known: counts.known,
        unordered: false,
    };
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
        .import_ends(*school, new.id, state, &message, &file)
        .await
}

/// Reads the file row by row and hands rows over in chunks; answers with how it ended.
fn read_all(
    mut input: Measured<impl Read>,
    layout: Layout,
    out: &mpsc::Sender<Heard>,
    names: &std::sync::Mutex<Vec<String>>,
) -> Result<Heard, RowsError> {
    let broken = |source| RowsError::Broken { row: 1, source };
    let mut head = Vec::with_capacity(HEAD);
    let first = |input: &mut Measured<_>, most: usize, head: &mut Vec<u8>| {
        input.take(most as u64).read_to_end(head).map_err(broken)
    };
    first(&mut input, HEAD, &mut head)?;
    if is_held_whole(&head) {
        first(&mut input, HELD_WHOLE + 1 - HEAD, &mut head)?;
    }
    // Nothing of a file goes in before all that it leaves open is answered.
    let today = chrono::Utc::now().date_naive();
    let open = still_open(whole_rows(&head), &layout, today).map_err(RowsError::Unreadable)?;
    if let Some(asked) = open.first() {
        let more = match open.len() {
            1 => String::new(),
            more => format!(" And {} more.", more - 1),
        };
        let why =
            format!("the file leaves something open; answer it and send it again: {asked}{more}");
        return Ok(Heard::Broken(why));
    }
    // A file for one of its players is not the same file for another.
    if let Some(only) = &layout.only {
        input.digest.update(only.as_bytes());
    }
    let mut rows = Rows::open(head.as_slice().chain(&mut input), layout)?;
    let mut chunk = Vec::with_capacity(CHUNK);
    let ended = loop {
        match rows.next_row() {
            Some(Ok(row)) => chunk.push(row),
            Some(Err(error)) => break Err(error),
            None => break Ok(()),
        }
        if chunk.len() == CHUNK {
            let full = std::mem::replace(&mut chunk, Vec::with_capacity(CHUNK));
            if out.blocking_send(Heard::Rows(full)).is_err() {
                break Ok(());
            }
        }
    };
    if let Ok(mut told) = names.lock() {
        *told = rows.names().to_vec();
    }
    let remarks = rows.skipped().told();
    drop(rows);
    let _ = out.blocking_send(Heard::Rows(chunk));
    ended.map(|()| Heard::End {
        sha256: input.digest.finalize().to_vec(),
        remarks,
    })
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
    let newest_first = wanted.layout.newest_first;
    let mut places = match Places::new(&wanted.zone, wanted.day, wanted.club, newest_first) {
        Ok(places) => places,
        Err(why) => return Ok(Some(("failed", why.to_string()))),
    };
    let mut known = Known::default();
    let mut told = Instant::now();
    while let Some(next) = heard.recv().await {
        match next {
            Heard::Rows(rows) => {
                let rows = known.leave_out(wanted, &places, rows).await?;
                counts.known = known.left_out;
                let (shots, bad) = sort(rows, &mut places);
                counts.good += shots.len() as i64;
                let room = (MOST_BAD_ROWS - counts.bad).max(0) as usize;
                counts.bad += bad.len() as i64;
                for some in bad[..bad.len().min(room)].chunks(500) {
                    store.keep_bad_rows(*school, new.id, some).await?;
                }
                let (sessions, blocks) = opened(wanted, &mut places);
                writer.add_places(&sessions, &blocks).await?;
                // Only what no other file can hold up: a turn is not kept waiting.
                let turn = write_rows(*school).await;
                writer.add_shots(&shots).await?;
                drop(turn);
            }
            Heard::Broken(why) => {
                writer.abandon().await?;
                return Ok(Some(("failed", why)));
            }
            Heard::End { sha256, remarks } => {
                let read = ReadFile {
                    header: names.lock().map(|names| names.clone()).unwrap_or_default(),
                    remarks,
                    known: counts.known,
                    unordered: places.unordered,
                };
                return end(wanted, writer, counts, bytes, (&read, &sha256)).await;
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
    (file, sha256): (&ReadFile, &[u8]),
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
        Counts { good: 0, known, .. } if *known > 0 => {
            let why = match known {
                1 => "its one shot that can be read is in already".to_owned(),
                _ => format!("all {known} shots that can be read are in already"),
            };
            Some(("known", format!("{why}; nothing was added twice")))
        }
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
    match writer.finish(sha256, progress, read, file).await? {
        Finished::Done => Ok(None),
        Finished::Known => Ok(Some((
            "known",
            "this file is in already; nothing was added twice".to_owned(),
        ))),
    }
}

/// Shots of the player that are in already, so that none goes in twice.
#[derive(Default)]
struct Known {
    /// Those that a row was found to be: each stands for one row.
    met: HashSet<Uuid>,
    /// Rows that were left out.
    left_out: i64,
}

impl Known {
    /// The rows without those whose shots are in already.
    async fn leave_out(
        &mut self,
        wanted: &Wanted,
        places: &Places,
        rows: Vec<ReadRow>,
    ) -> Result<Vec<ReadRow>, StoreError> {
        let Wanted {
            store, school, new, ..
        } = wanted;
        let shots = || rows.iter().filter_map(|row| row.shot.as_ref().ok());
        let ours: Vec<Uuid> = shots().filter_map(|shot| shot.ours).collect();
        let ours: HashSet<Uuid> = match ours.is_empty() {
            true => HashSet::new(),
            false => store
                .shots_there(*school, &ours)
                .await?
                .into_iter()
                .collect(),
        };
        let days = || shots().filter_map(|shot| places.told(shot).0);
        let near = |day: NaiveDate| day.and_time(NaiveTime::MIN).and_utc();
        let there = match (days().min(), days().max()) {
            (Some(first), Some(last)) => {
                let between = [
                    near(first) - TimeDelta::days(1),
                    near(last) + TimeDelta::days(2),
                ];
                store.shots_between(*school, new.player_id, between).await?
            }
            _ => Vec::new(),
        };
        if ours.is_empty() && there.is_empty() {
            return Ok(rows);
        }
        let mut by_day: HashMap<NaiveDate, Vec<&KnownShot>> = HashMap::new();
        for shot in &there {
            by_day
                .entry(places.day_of(shot.hit_at))
                .or_default()
                .push(shot);
        }
        let mut is_known = |shot: &ImportedShot| {
            if shot.ours.is_some_and(|id| ours.contains(&id)) {
                return true;
            }
            let (Some(day), at) = places.told(shot) else {
                return false;
            };
            let seen = Seen {
                day,
                at,
                club: places.club_of(shot),
                reading: &shot.reading,
            };
            let same = |known: &&&KnownShot| {
                let there = Seen {
                    day,
                    at: Some(known.hit_at),
                    club: known.club,
                    reading: &known.reading,
                };
                !self.met.contains(&known.id) && again(&seen, &there)
            };
            let found = by_day.get(&day).and_then(|shots| shots.iter().find(same));
            found.is_some_and(|known| self.met.insert(known.id))
        };
        let (again, rows): (Vec<ReadRow>, Vec<ReadRow>) = rows
            .into_iter()
            .partition(|row| row.shot.as_ref().is_ok_and(&mut is_known));
        self.left_out += again.len() as i64;
        Ok(rows)
    }
}

/// Tells good rows from bad ones and finds the places of the good ones.
fn sort(rows: Vec<ReadRow>, places: &mut Places) -> (Vec<PlacedShot>, Vec<BadRow>) {
    let (mut shots, mut bad) = (Vec::<PlacedShot>::with_capacity(rows.len()), Vec::new());
    for row in rows {
        let number = row.row as i64;
        match row.shot {
            Ok(shot) => {
                let placed = places.place(&shot);
                let before = shots.last().filter(|before| before.row == number);
                shots.push(PlacedShot {
                    id: placed.shot,
                    session_id: placed.session,
                    block_id: placed.block,
                    hit_at: placed.hit_at,
                    row: number,
                    of_row: before.map_or(0, |before| before.of_row + 1),
                    set_aside: shot.set_aside,
                    reason: shot.reason,
                    reading: shot.reading,
                });
            }
            Err(refused) => bad.push(BadRow {
                row: number,
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
