//! `amber-tally import` and `amber-tally export`: tables of shots without a browser, read and
//! asked about as there.

use crate::intake::import::{HEAD, Wanted, run, whole_rows};
use crate::routes::shots::exports::shots_table;
use axum::body::Body;
use chrono::{NaiveDate, Utc};
use clap::Args;
use futures_util::TryStreamExt;
use std::io::{IsTerminal, Read, Write};
use std::path::PathBuf;
use std::time::Duration;
use tally_core::physics::club::Club;
use tally_core::session::purpose::Purpose;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::Units;
use tally_core::vocabulary::zone;
use tally_formats::shot_table::{
    ColumnUse, HELD_WHOLE, Layout, Question, guess, is_held_whole, look,
};
use tally_store::school::players::Player;
use tally_store::session::sessions::SessionFilter;
use tally_store::shots::import_writer::NewImport;
use tally_store::{Store, StoreError};
use tokio_util::io::ReaderStream;
use uuid::Uuid;

/// Whose records.
#[derive(Debug, Args)]
pub struct Who {
    /// Address of the PostgreSQL database.
    #[arg(long, env = "DATABASE_URL", hide_env_values = true)]
    database_url: String,
    /// Sign-in name of the person for whom it is done: it goes to their school.
    #[arg(long = "as")]
    sign_in_name: String,
}

/// A file to bring in.
#[derive(Debug, Args)]
pub struct Import {
    #[command(flatten)]
    who: Who,
    /// The file: CSV, a workbook, or JSON.
    file: PathBuf,
    /// The player's name, as it stands in the school.
    #[arg(long)]
    player: String,
    /// Of a file of several players, what it calls this one.
    #[arg(long)]
    rows_of: Option<String>,
    /// The answer to something that the file leaves open, as KEY=ANSWER; as often as needed.
    #[arg(long = "answer")]
    answers: Vec<String>,
    /// Day of shots that name none.
    #[arg(long)]
    day: Option<NaiveDate>,
    /// Key of the club of shots that name none, such as driver or iron7.
    #[arg(long, value_parser = club)]
    club: Option<Club>,
    /// Key of what they were hit for.
    #[arg(long, default_value = "benchmark", value_parser = purpose)]
    purpose: Purpose,
    /// Where they were hit.
    #[arg(long, default_value = "From a file")]
    place: String,
    /// Zone of times that name none.
    #[arg(long, default_value = "UTC")]
    zone: String,
    /// Bring in nothing if one row is bad.
    #[arg(long)]
    all_or_nothing: bool,
}

/// Shots to write to standard output.
#[derive(Debug, Args)]
pub struct Export {
    #[command(flatten)]
    who: Who,
    /// A player's name; everyone's shots when left out.
    #[arg(long)]
    player: Option<String>,
    /// Units: mph_yd, kmh_m or mps_m.
    #[arg(long, default_value = "mph_yd", value_parser = units)]
    units: Units,
}

/// Why it could not be done.
#[derive(Debug, thiserror::Error)]
pub enum FilesError {
    /// Something that was given cannot be used.
    #[error(transparent)]
    Invalid(#[from] Invalid),
    /// The database.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// The file, or standard output.
    #[error("{0}")]
    Io(#[from] std::io::Error),
    /// The file leaves something open.
    #[error("the file leaves something open; answer each with --answer:\n{0}")]
    Open(String),
    /// It did not go in.
    #[error("{0}")]
    NotIn(String),
}

fn club(key: &str) -> Result<Club, String> {
    Club::from_key("club", key).map_err(|why| why.to_string())
}

fn purpose(key: &str) -> Result<Purpose, String> {
    Purpose::from_key("purpose", key).map_err(|why| why.to_string())
}

fn units(key: &str) -> Result<Units, String> {
    Units::from_key("units", key).map_err(|why| why.to_string())
}

impl Who {
    /// The school's records, the school, and the person.
    async fn find(&self) -> Result<(Store, Uuid, Uuid), FilesError> {
        let all = Store::open(&self.database_url).await?;
        let known = all.credential(&self.sign_in_name).await?.ok_or_else(|| {
            let remedy = "give the name as it is typed to sign in";
            Invalid::new("as", &self.sign_in_name, "signs in nowhere", remedy)
        })?;
        Ok((
            all.for_school(known.school_id),
            known.school_id,
            known.coach_id,
        ))
    }
}

async fn player_called(store: &Store, school: Uuid, name: &str) -> Result<Player, FilesError> {
    let all: Vec<Player> = store
        .players(school)
        .await?
        .into_iter()
        .map(|listed| listed.player)
        .collect();
    let names: Vec<&str> = all
        .iter()
        .map(|player| player.name.as_str())
        .take(20)
        .collect();
    let remedy = format!("choose from {}", names.join(", "));
    let found = all.iter().find(|player| player.name == name).cloned();
    Ok(found.ok_or_else(|| Invalid::new("player", name, "is no player of the school", remedy))?)
}

/// Brings a file in, and says what became of it.
///
/// # Errors
/// [`FilesError`].
pub async fn import(wanted: Import) -> Result<(), FilesError> {
    let (store, school, coach) = wanted.who.find().await?;
    let player = player_called(&store, school, &wanted.player).await?;
    let layout = layout_of(&wanted)?;
    let holds = |is: ColumnUse| layout.columns.contains(&is);
    let club = match wanted.club {
        Some(club) => club,
        None if holds(ColumnUse::Club) => Club::Driver,
        None => return Err(Invalid::missing("club", "give --club; the file names none").into()),
    };
    let day = match wanted.day {
        Some(day) => day,
        None if holds(ColumnUse::Date) => Utc::now().date_naive(),
        None => return Err(Invalid::missing("day", "give --day; the file names none").into()),
    };
    zone::zone("zone", &wanted.zone)?;
    let name = wanted
        .file
        .file_name()
        .unwrap_or_default()
        .to_string_lossy()
        .into_owned();
    let id = Uuid::now_v7();
    let into = Wanted {
        store: store.for_long(),
        school,
        new: NewImport {
            id,
            player_id: player.id,
            coach_id: coach,
            file_name: name,
            bytes: std::fs::metadata(&wanted.file)?.len().try_into().ok(),
            layout: serde_json::to_value(&layout).expect("a layout is plain data"),
        },
        layout,
        all_or_nothing: wanted.all_or_nothing,
        purpose: wanted.purpose,
        place: wanted.place,
        altitude_m: 0.0,
        temperature_c: 20.0,
        zone: wanted.zone,
        day,
        club,
    };
    let file = tokio::fs::File::open(&wanted.file).await?;
    let running = run(into, Body::from_stream(ReaderStream::new(file)));
    with_progress(running, &store, school, id).await?;
    let done = store.import(school, id).await?;
    let remarks: Vec<String> = serde_json::from_value(done.remarks).unwrap_or_default();
    for remark in remarks {
        println!("{remark}");
    }
    if done.rows_bad > 0 {
        let (_, bad) = store.bad_rows(school, id, 20).await?;
        for row in bad {
            eprintln!("row {}: {}", row.row, row.troubles);
        }
    }
    if done.state == "known" {
        println!("{}", done.message);
        return Ok(());
    }
    if done.state == "done" {
        let (good, known, bad) = (done.rows_good, done.rows_known, done.rows_bad);
        println!("shots now in: {good}; in already: {known}; rows not used: {bad}");
        return Ok(());
    }
    Err(FilesError::NotIn(done.message))
}

/// Tells on a terminal how far an import is while it runs.
async fn with_progress(
    running: impl Future<Output = Result<(), StoreError>>,
    store: &Store,
    school: Uuid,
    id: Uuid,
) -> Result<(), StoreError> {
    let mut running = std::pin::pin!(running);
    loop {
        tokio::select! {
            done = &mut running => return done,
            () = tokio::time::sleep(Duration::from_secs(1)) => {}
        }
        if std::io::stderr().is_terminal()
            && let Ok(import) = store.import(school, id).await
        {
            eprint!("\r{} rows", import.rows_good);
        }
    }
}

/// How the file is read, with the answers that were given.
fn layout_of(wanted: &Import) -> Result<Layout, FilesError> {
    let mut head = Vec::new();
    let mut file = std::fs::File::open(&wanted.file)?;
    Read::by_ref(&mut file)
        .take(HEAD as u64)
        .read_to_end(&mut head)?;
    if is_held_whole(&head) {
        file.take(HELD_WHOLE as u64).read_to_end(&mut head)?;
    }
    let today = Utc::now().date_naive();
    let mut layout = guess(whole_rows(&head), today)?;
    layout.only = wanted.rows_of.clone();
    for answer in &wanted.answers {
        let questions = look(whole_rows(&head), &layout, today)?.questions;
        layout = answered(layout, &questions, answer)?;
    }
    let open = look(whole_rows(&head), &layout, today)?.questions;
    let open: Vec<String> = open.iter().filter(|q| q.open).map(asked).collect();
    if !open.is_empty() {
        return Err(FilesError::Open(open.join("\n")));
    }
    layout.check()?;
    Ok(layout)
}

/// A question with what may be answered.
fn asked(question: &Question) -> String {
    let choices: Vec<String> = match (&question.of_club, question.key.as_str()) {
        (Some(_), _) => vec![format!("{}=iron7 (or another club's key)", question.key)],
        (None, "players") => vec!["--rows-of NAME".to_owned()],
        _ => Vec::new(),
    };
    let labels = question.choices.iter();
    let labels = labels.map(|c| format!("{}={}", question.key, c.label));
    let choices: Vec<String> = choices.into_iter().chain(labels).collect();
    let cells = question.cells.join(", ");
    format!(
        "  {} [{cells}]\n    {}",
        question.asks,
        choices.join("\n    ")
    )
}

/// The layout with one answer, KEY=ANSWER.
fn answered(layout: Layout, questions: &[Question], answer: &str) -> Result<Layout, Invalid> {
    let refused = |problem: &str, remedy: String| Invalid::new("answer", answer, problem, remedy);
    let of = |question: &&Question| {
        answer
            .strip_prefix(question.key.as_str())
            .is_some_and(|rest| rest.starts_with('='))
    };
    let Some(question) = questions.iter().find(of) else {
        let keys: Vec<&str> = questions.iter().map(|q| q.key.as_str()).collect();
        return Err(refused(
            "answers nothing that the file leaves open",
            format!("open are {}", keys.join(", ")),
        ));
    };
    let label = &answer[question.key.len() + 1..];
    let mut layout = layout;
    let choice = question.choices.iter().find(|choice| choice.label == label);
    if let (Some(name), None) = (&question.of_club, choice) {
        layout
            .clubs
            .insert(name.clone(), Club::from_key("answer", label)?);
    } else {
        let choice = choice.ok_or_else(|| refused("is none of the answers", asked(question)))?;
        let mut fields = serde_json::to_value(&layout).expect("a layout is plain data");
        for (field, value) in &choice.change {
            fields[field] = value.clone();
        }
        layout = serde_json::from_value(fields).expect("choices change layouts to layouts");
    }
    layout.settled.insert(question.key.clone());
    Ok(layout)
}

/// Writes shots as CSV to standard output.
///
/// # Errors
/// [`FilesError`].
pub async fn export(wanted: Export) -> Result<(), FilesError> {
    let (store, school, _) = wanted.who.find().await?;
    let player = match &wanted.player {
        Some(name) => Some(player_called(&store, school, name).await?.id),
        None => None,
    };
    let filter = SessionFilter {
        session: None,
        player,
        purpose: None,
        from: None,
        to: None,
    };
    let sessions = store.sessions_filtered(school, &filter).await?;
    let names = store.player_names(school).await?;
    let table = shots_table(&store, school, sessions, names, wanted.units);
    let mut parts = table
        .await
        .map_err(|problem| FilesError::NotIn(problem.detail))?
        .into_body()
        .into_data_stream();
    let mut out = std::io::stdout().lock();
    while let Some(part) = parts.try_next().await.map_err(std::io::Error::other)? {
        out.write_all(&part)?;
    }
    out.flush()?;
    Ok(())
}
