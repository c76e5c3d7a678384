//! A whole school as one JSON archive: out of this one, into an empty one.

use crate::guard::quiet;
use crate::http::coach::Coach;
use crate::http::download::download;
use crate::http::extract::Path;
use crate::http::problem::Problem;
use crate::state::App;
use axum::body::Body;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use futures_util::TryStreamExt;
use serde_json::{Map, Value};
use tally_core::school::audited::Audited;
use tally_formats::archive::{self, ArchiveError};
use tally_store::StoreError;
use tally_store::school::archive::Export;
use tokio::sync::mpsc;
use tokio_stream::StreamExt;
use tokio_stream::wrappers::ReceiverStream;
use tokio_util::io::{StreamReader, SyncIoBridge};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// Pieces that may wait between reading and writing.
const WAITING: usize = 4;
/// Size of the pieces in which an archive is sent and read, bytes.
const PIECE: usize = 64 << 10;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(export_archive, import_archive))
        .routes(routes!(export_player))
}

/// The whole school as it is at this moment, without secrets.
#[utoipa::path(get, path = "/school/archive", responses((status = OK, body = Object, content_type = "application/json"), Problem))]
async fn export_archive(coach: Coach) -> Result<Response, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let export = store.export_school(school).await?;
    store
        .note(school, coach.id(), Audited::Archive, None, "out")
        .await?;
    Ok(sent(export, "school.json"))
}

/// One player with all that is kept of them, in the same form, without secrets.
#[utoipa::path(get, path = "/players/{player}/archive", params(("player" = Uuid, Path)), responses((status = OK, body = Object, content_type = "application/json"), Problem))]
async fn export_player(coach: Coach, Path(player): Path<Uuid>) -> Result<Response, Problem> {
    let (store, school) = (coach.store(), coach.school());
    let export = store.export_player(school, player).await?;
    store
        .note(
            school,
            coach.id(),
            Audited::Export,
            Some(player),
            "the player's archive",
        )
        .await?;
    Ok(sent(export, "player.json"))
}

fn sent(export: Export, name: &str) -> Response {
    let (out, pieces) = mpsc::channel::<Result<String, std::io::Error>>(8);
    quiet::begin(async move {
        if let Err(error) = write(&export, &out).await {
            tracing::error!(%error, "archive: it broke off");
            // A document without its end cannot be taken for whole.
            let _ = out.send(Err(std::io::Error::other(error))).await;
        }
    });
    let body = Body::from_stream(ReceiverStream::new(pieces));
    download(body, "application/json", name).into_response()
}

async fn write(
    export: &Export,
    out: &mpsc::Sender<Result<String, std::io::Error>>,
) -> Result<(), StoreError> {
    let mut piece = archive::head();
    for (i, table) in Export::tables().enumerate() {
        piece.push_str(if i == 0 { "\n" } else { ",\n" });
        piece.push_str(&format!("\"{table}\":["));
        let mut rows = export.rows(table).await?;
        let mut first = true;
        while let Some(row) = rows.next().await {
            piece.push_str(if first { "\n" } else { ",\n" });
            first = false;
            piece.push_str(&row?);
            if piece.len() > PIECE && out.send(Ok(std::mem::take(&mut piece))).await.is_err() {
                return Ok(());
            }
        }
        piece.push(']');
    }
    piece.push_str(archive::TAIL);
    // Whoever stopped listening has their reasons.
    let _ = out.send(Ok(piece)).await;
    Ok(())
}

/// Rows on their way from the file to the database.
#[derive(Default)]
struct Together {
    rows: Vec<(String, Map<String, Value>, u64)>,
    bytes: u64,
}

/// Fills an empty school from an archive: all of it or nothing.
#[utoipa::path(put, path = "/school/archive", request_body(content = Object, content_type = "application/json"), responses((status = NO_CONTENT), Problem))]
async fn import_archive(
    coach: Coach,
    State(app): State<App>,
    body: Body,
) -> Result<StatusCode, Problem> {
    let _under_way = app
        .begin_file(coach.id(), coach.school())
        .ok_or_else(Problem::files_under_way)?;
    let mut restore = coach.store().restore_school(coach.school()).await?;
    let stream = body.into_data_stream().map_err(std::io::Error::other);
    let input = SyncIoBridge::new(StreamReader::new(stream));
    let (out, mut rows) = mpsc::channel(WAITING);
    let reading = tokio::task::spawn_blocking(move || {
        let mut together = Together::default();
        let read = archive::read(input, &mut |table, row, bytes| {
            together.rows.push((table.to_owned(), row, bytes));
            together.bytes += bytes;
            if together.bytes > PIECE as u64 {
                let rows = std::mem::take(&mut together).rows;
                out.blocking_send(rows)
                    .map_err(|_| "a row before did not fit".to_owned())?;
            }
            Ok(())
        });
        // Nobody hears it once a row was refused.
        let _ = out.blocking_send(together.rows);
        read
    });
    let mut refused = None;
    'rows: while let Some(some) = rows.recv().await {
        for (table, row, bytes) in some {
            if let Err(error) = restore.add(&table, row, bytes).await {
                refused = Some(error);
                break 'rows;
            }
        }
    }
    drop(rows);
    let read = reading.await.map_err(|error| {
        tracing::error!(%error, "archive");
        Problem::new(
            StatusCode::INTERNAL_SERVER_ERROR,
            "Server error",
            "the archive could not be read",
        )
    })?;
    if let Some(error) = refused {
        return Err(error.into());
    }
    read.map_err(|error: ArchiveError| {
        Problem::new(
            StatusCode::UNPROCESSABLE_ENTITY,
            "Not valid",
            error.to_string(),
        )
    })?;
    let owner = restore.finish().await?;
    let school = coach.school();
    coach
        .store()
        .note(school, owner, Audited::Archive, None, "in")
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
