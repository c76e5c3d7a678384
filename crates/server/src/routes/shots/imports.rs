//! Files of shots: looked at, brought in, watched, cancelled, undone.

use crate::guard::compute::compute;
use crate::guard::quiet;
use crate::http::coach::Coach;
use crate::http::consent::with_consent;
use crate::http::extract::{Path, Query};
use crate::http::problem::Problem;
use crate::intake::import::{Wanted, run, whole_rows};
use crate::state::App;
use axum::Json;
use axum::body::Body;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Response};
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use tally_core::physics::club::Club;
use tally_core::physics::conditions::Conditions;
use tally_core::session::purpose::{Hint, Purpose};
use tally_core::shots::reading::Reading;
use tally_core::vocabulary::invalid::Invalid;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::moment::day;
use tally_core::vocabulary::text::text_within;
use tally_formats::shot_table::{
    CellTrouble, ColumnUse, HELD_WHOLE, ImportedShot, Layout, Looked, ReadRow, When, as_text,
    guess, look, looked_at, remembered,
};
use tally_store::shots::import_writer::NewImport;
use tally_store::shots::imports::{Import, MOST_BAD_ROWS};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Rows shown before an import.
const PREVIEWED: usize = 12;
/// Bad rows listed on screen; all of them can be downloaded.
const LISTED: i64 = 50;

/// How the head of a file is looked at.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct LayoutGiven {
    /// A layout as JSON; guessed when absent.
    layout: Option<String>,
}

/// The head of a file, as it will be stored.
#[derive(Serialize, ToSchema)]
struct Preview {
    looked: Looked,
    /// The earlier file with the same columns whose layout this one takes.
    like: Option<String>,
    rows: Vec<PreviewRow>,
    /// What its shots seem to have been hit for; for the coach to put right.
    purpose: Purpose,
    /// What keeps this layout from being used.
    refused: Option<Invalid>,
}

/// A row as it will be stored, or why not.
#[derive(Serialize, ToSchema)]
struct PreviewRow {
    row: u64,
    /// When it was hit, as the file tells it.
    when: Option<String>,
    club: Option<Club>,
    block: Option<String>,
    /// Whether it comes in set aside.
    set_aside: bool,
    reading: Option<Reading>,
    troubles: Vec<CellTrouble>,
}

/// How a file is brought in.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct How {
    /// Made by the sender.
    id: Uuid,
    /// Whose shots.
    player: Uuid,
    file_name: String,
    /// How it is read, as JSON.
    layout: String,
    /// Whether one bad row lets nothing in.
    #[serde(default)]
    all_or_nothing: bool,
    /// Key of the purpose of its sessions; a benchmark when it is not given.
    purpose: Option<String>,
    /// Where the shots were hit.
    place: String,
    /// Height above the sea, m.
    #[serde(default)]
    altitude_m: f64,
    /// Temperature, °C; 20 when it is not given.
    temperature_c: Option<f64>,
    /// Zone of times that name none.
    zone: String,
    /// Day of shots that name none.
    day: NaiveDate,
    /// Key of the club of shots that name none.
    club: String,
}

/// An import.
#[derive(Serialize, ToSchema)]
struct ImportView {
    id: Uuid,
    player: Uuid,
    file_name: String,
    /// Its size, when it was told.
    bytes: Option<i64>,
    /// How much of it was read.
    bytes_done: i64,
    rows_good: i64,
    rows_bad: i64,
    /// Rows whose shots were in already.
    rows_known: i64,
    /// `running`, `cancelling`, `done`, `cancelled`, `refused` (for its bad rows),
    /// `known` (it was imported before), `failed` or `undone`.
    state: String,
    /// What to say of it.
    message: String,
    started_at: DateTime<Utc>,
    /// What there is to say of its rows.
    remarks: Vec<String>,
    /// What its columns became.
    columns: Vec<ColumnBecame>,
    /// The first rows that could not be used.
    troubles: Vec<CellTrouble>,
}

/// A column of a file that was read.
#[derive(Serialize, ToSchema)]
struct ColumnBecame {
    /// What the file calls it.
    name: String,
    became: ColumnUse,
}

/// What the columns of an import became, as far as that is known of it.
fn columns_of(import: &Import) -> Vec<ColumnBecame> {
    let names: Vec<String> = serde_json::from_value(import.header.clone()).unwrap_or_default();
    let layout = import.layout.clone();
    let layout = layout.and_then(|layout| serde_json::from_value::<Layout>(layout).ok());
    let uses = layout.map(|layout| layout.columns).unwrap_or_default();
    let each = names.into_iter().zip(uses);
    each.map(|(name, became)| ColumnBecame { name, became })
        .collect()
}

impl ImportView {
    fn new(import: Import, troubles: Vec<CellTrouble>) -> Self {
        let columns = columns_of(&import);
        let remarks = serde_json::from_value(import.remarks).unwrap_or_default();
        // A server that was stopped half way has added nothing.
        let silent = Utc::now() - import.touched_at > chrono::TimeDelta::seconds(60);
        let broken = silent && matches!(import.state.as_str(), "running" | "cancelling");
        let (state, message) = if broken {
            let message = "it broke off; nothing was added, send it again";
            ("failed".to_owned(), message.to_owned())
        } else {
            (import.state, import.message)
        };
        Self {
            id: import.id,
            player: import.player_id,
            file_name: import.file_name,
            bytes: import.bytes,
            bytes_done: import.bytes_done,
            rows_good: import.rows_good,
            rows_bad: import.rows_bad,
            rows_known: import.rows_known,
            remarks,
            columns,
            state,
            message,
            started_at: import.started_at,
            troubles,
        }
    }
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(preview))
        .routes(routes!(imports, import_shots))
        .routes(routes!(import, undo_import))
        .routes(routes!(cancel_import))
        .routes(routes!(bad_rows))
}

/// Looks at the head of a file: what it seems to be, and its first rows as they will
/// be stored.
#[utoipa::path(post, path = "/import-previews", params(LayoutGiven), request_body(content = String, content_type = "application/octet-stream"), responses((status = OK, body = Preview), Problem))]
async fn preview(
    coach: Coach,
    Query(given): Query<LayoutGiven>,
    head: Body,
) -> Result<Json<Preview>, Problem> {
    let head = axum::body::to_bytes(head, HELD_WHOLE).await.map_err(|_| {
        let most = HELD_WHOLE >> 20;
        let problem = format!("is larger than {most} MB, the most that is looked at");
        Invalid::new(
            "file",
            "",
            problem,
            "send its first 256 kB, or save it as CSV",
        )
    })?;
    let (store, school) = (coach.store(), coach.school());
    let today = Utc::now().date_naive();
    let given = given.layout.as_deref().map(layout_of).transpose()?;
    let (layout, like) = match given {
        Some(layout) => (layout, None),
        None => {
            let head = head.clone();
            let (layout, names) = compute(school, move || {
                let layout = guess(whole_rows(&head), today)?;
                let names = look(whole_rows(&head), &layout, today)?.names;
                Ok::<_, Invalid>((layout, names))
            })
            .await??;
            // A file with the columns of an earlier one is read as that one was.
            let earlier = store.layout_of(school, &names).await?;
            let earlier = earlier.and_then(|(name, before)| {
                let before = serde_json::from_value(before).ok()?;
                Some((remembered(&layout, before)?, Some(name)))
            });
            earlier.unwrap_or((layout, None))
        }
    };
    let mut preview = compute(school, move || previewed(whole_rows(&head), &layout)).await??;
    preview.like = like;
    Ok(Json(preview))
}

/// What a layout makes of the head of a file.
fn previewed(head: &[u8], layout: &Layout) -> Result<Preview, Invalid> {
    let (looked, read) = looked_at(head, layout, Utc::now().date_naive())?;
    let refused = looked.layout.check().err();
    let purpose = purpose_of(read.iter().filter_map(|row| row.shot.as_ref().ok()));
    // The first rows, and the first that cannot be read: they tell most.
    let (good, bad): (Vec<ReadRow>, Vec<ReadRow>) =
        read.into_iter().partition(|row| row.shot.is_ok());
    let mut shown: Vec<ReadRow> = good
        .into_iter()
        .take(PREVIEWED)
        .chain(bad.into_iter().take(PREVIEWED))
        .collect();
    shown.sort_by_key(|row| row.row);
    Ok(Preview {
        looked,
        like: None,
        rows: shown
            .into_iter()
            .map(|row| PreviewRow::new(row.row, row.shot.map_err(|bad| bad.troubles)))
            .collect(),
        purpose,
        refused,
    })
}

/// What the shots of a table seem to have been hit for.
fn purpose_of<'a>(shots: impl Iterator<Item = &'a ImportedShot>) -> Purpose {
    let mut told = Hint::default();
    for shot in shots {
        told.swung |= shot.swung.is_some();
        if let Some(label) = shot.block.as_deref()
            && !told.labels.contains(&label)
        {
            told.labels.push(label);
        }
        if let Some(club) = shot.club
            && !told.clubs.contains(&club)
        {
            told.clubs.push(club);
        }
        for quantity in shot.reading.0.keys() {
            if !told.quantities.contains(quantity) {
                told.quantities.push(*quantity);
            }
        }
    }
    Purpose::likely(&told)
}

impl PreviewRow {
    fn new(row: u64, shot: Result<ImportedShot, Vec<CellTrouble>>) -> Self {
        let empty = Self {
            row,
            when: None,
            club: None,
            block: None,
            set_aside: false,
            reading: None,
            troubles: vec![],
        };
        match shot {
            Err(troubles) => Self { troubles, ..empty },
            Ok(shot) => Self {
                set_aside: shot.set_aside,
                when: match shot.when {
                    When::At(moment) => Some(moment.format("%Y-%m-%d %H:%M UTC").to_string()),
                    When::Local(local) => Some(local.format("%Y-%m-%d %H:%M").to_string()),
                    When::Day(day) => Some(day.to_string()),
                    When::Clock(time) => Some(time.format("%H:%M").to_string()),
                    When::Unknown => None,
                },
                club: shot.club,
                block: shot.block,
                reading: Some(shot.reading),
                ..empty
            },
        }
    }
}

fn layout_of(json: &str) -> Result<Layout, Invalid> {
    serde_json::from_str(json).map_err(|error| {
        Invalid::new(
            "layout",
            error,
            "is not a layout",
            "send one as import-previews gives it",
        )
    })
}

/// Brings in a file, read as it arrives. Answers when it is in, or why it is not;
/// meanwhile `GET /imports/{import}` tells how far it is.
#[utoipa::path(post, path = "/imports", params(How), request_body(content = String, content_type = "application/octet-stream"), responses((status = OK, body = ImportView), Problem))]
async fn import_shots(
    coach: Coach,
    State(app): State<App>,
    Query(how): Query<How>,
    headers: HeaderMap,
    body: Body,
) -> Result<Json<ImportView>, Problem> {
    let school = coach.school();
    let layout = layout_of(&how.layout)?;
    layout.check()?;
    let conditions = Conditions {
        altitude_m: how.altitude_m,
        temperature_c: how.temperature_c.unwrap_or(20.0),
        ..Conditions::REFERENCE
    };
    conditions.air()?;
    with_consent(coach.store(), school, how.player).await?;
    let told = headers.get(header::CONTENT_LENGTH);
    let wanted = Wanted {
        store: coach.store().for_long(),
        school,
        new: NewImport {
            id: how.id,
            player_id: how.player,
            coach_id: coach.id(),
            file_name: text_within("file_name", &how.file_name, 300)?,
            bytes: told.and_then(|n| n.to_str().ok()?.parse().ok()),
            layout: serde_json::to_value(&layout).expect("a layout is plain data"),
        },
        layout,
        all_or_nothing: how.all_or_nothing,
        purpose: match &how.purpose {
            Some(key) => Purpose::from_key("purpose", key)?,
            None => Purpose::Benchmark,
        },
        place: text_within("place", &how.place, 200)?,
        altitude_m: conditions.altitude_m,
        temperature_c: conditions.temperature_c,
        zone: text_within("zone", &how.zone, 100)?,
        day: day("day", how.day)?,
        club: Club::from_key("club", &how.club)?,
    };
    let under_way = app
        .begin_file(coach.id(), coach.school())
        .ok_or_else(Problem::files_under_way)?;
    coach.store().let_go();
    // On its own, so that its record is closed even when the browser goes away.
    let running = quiet::begin(async move {
        let _under_way = under_way;
        run(wanted, body).await
    });
    running.await.map_err(|error| {
        tracing::error!(%error, "import");
        Problem::new(
            StatusCode::INTERNAL_SERVER_ERROR,
            "Server error",
            "the import broke off; nothing was added",
        )
    })??;
    shown(&coach, how.id).await.map(Json)
}

async fn shown(coach: &Coach, id: Uuid) -> Result<ImportView, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let import = store.import(school, id).await?;
    coach.has_seen(&[import.player_id]).await?;
    let (_, rows) = store.bad_rows(school, id, LISTED).await?;
    let troubles = rows
        .into_iter()
        .filter_map(|bad| serde_json::from_value::<Vec<CellTrouble>>(bad.troubles).ok())
        .flatten();
    Ok(ImportView::new(import, troubles.collect()))
}

/// The school's imports, latest first.
#[utoipa::path(get, path = "/imports", responses((status = OK, body = Vec<ImportView>), Problem))]
async fn imports(coach: Coach) -> Result<Json<Vec<ImportView>>, Problem> {
    let imports = coach.store().imports(coach.school()).await?;
    let views = imports.into_iter().map(|i| ImportView::new(i, vec![]));
    Ok(Json(views.collect()))
}

/// One import, with the first of its rows that could not be used.
#[utoipa::path(get, path = "/imports/{import}", params(("import" = Uuid, Path)), responses((status = OK, body = ImportView), Problem))]
async fn import(coach: Coach, Path(id): Path<Uuid>) -> Result<Json<ImportView>, Problem> {
    shown(&coach, id).await.map(Json)
}

/// Asks a running import to stop; nothing of it is kept.
#[utoipa::path(post, path = "/imports/{import}/cancel", params(("import" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn cancel_import(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().cancel_import(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Takes out all that an import brought.
#[utoipa::path(delete, path = "/imports/{import}", params(("import" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn undo_import(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().undo_import(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The rows that could not be used, as CSV: as they were, with what is wrong behind.
#[utoipa::path(get, path = "/imports/{import}/bad-rows.csv", params(("import" = Uuid, Path)), responses((status = OK, body = String, content_type = "text/csv"), Problem))]
async fn bad_rows(coach: Coach, Path(id): Path<Uuid>) -> Result<Response, Problem> {
    let player = coach.store().import(coach.school(), id).await?.player_id;
    coach.has_seen(&[player]).await?;
    let (mut names, rows) = coach
        .store()
        .bad_rows(coach.school(), id, MOST_BAD_ROWS)
        .await?;
    let mut writer = csv::WriterBuilder::new()
        .flexible(true)
        .from_writer(Vec::new());
    names.extend(["row".to_owned(), "what is wrong".to_owned()]);
    let broken = |error: csv::Error| {
        tracing::error!(%error, "bad rows");
        Problem::new(
            StatusCode::INTERNAL_SERVER_ERROR,
            "Server error",
            "the rows could not be written",
        )
    };
    writer
        .write_record(names.iter().map(|name| as_text(name).into_owned()))
        .map_err(broken)?;
    for bad in rows {
        let mut cells: Vec<String> = serde_json::from_value(bad.cells).unwrap_or_default();
        let troubles: Vec<CellTrouble> = serde_json::from_value(bad.troubles).unwrap_or_default();
        let wrong: Vec<_> = troubles
            .iter()
            .map(|t| format!("{} “{}” {}: {}", t.name, t.value, t.problem, t.remedy))
            .collect();
        cells.extend([bad.row.to_string(), wrong.join("; ")]);
        writer
            .write_record(cells.iter().map(|cell| as_text(cell).into_owned()))
            .map_err(broken)?;
    }
    let text = writer.into_inner().unwrap_or_default();
    Ok(
        crate::http::download::download(
            text.into(),
            "text/csv; charset=utf-8",
            "rows-not-used.csv",
        )
        .into_response(),
    )
}
