//! Boards: a second screen at the mat, opened by a code, that shows the numbers of one
//! session to whoever stands there, and nothing else.

use crate::guard::compute::compute_at_the_mat;
use crate::http::coach::Coach;
use crate::http::extract::{Address, Body, Path};
use crate::http::problem::Problem;
use crate::http::token::{short_code, typed_code};
use crate::http::tries::try_in_turn;
use crate::routes::session::live::{Changes, changes_of};
use crate::routes::session::under_way::UnderWay;
use crate::state::App;
use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::sse::{KeepAliveStream, Sse};
use chrono::{DateTime, Duration, Utc};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use tally_core::session::hit::HitReport;
use tally_core::shots::reading::Reported;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Units;
use tally_store::StoreError;
use tally_store::session::boards::Board;
use tally_store::shots::session_shots::Shot;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

/// How long a board opens: a day at the mat.
const OPEN_FOR: Duration = Duration::hours(12);

/// A board to open.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewBoard {
    /// In which units it shows.
    units: Units,
}

/// A board that is open.
#[derive(Serialize, ToSchema)]
struct OpenBoard {
    /// What is typed to open it.
    code: String,
    /// Until when it opens; it ends with the session.
    until: DateTime<Utc>,
    units: Units,
}

/// Whether a session has a board.
#[derive(Serialize, ToSchema)]
struct BoardOfSession {
    /// The board that is open.
    open: Option<OpenBoard>,
}

/// A code as somebody typed it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct BoardCode {
    /// The code; capitals, spaces and dashes do not matter.
    code: String,
}

/// What a code opened.
#[derive(Serialize, ToSchema)]
struct BoardOpened {
    /// What the board is read by.
    board: Uuid,
}

/// What a board shows: the session's shown numbers, and nothing else of it.
#[derive(Serialize, ToSchema)]
struct BoardView {
    units: Units,
    blocks: Vec<BoardBlock>,
    /// In hitting order; `report.shots` stands in the same order.
    shots: Vec<BoardShot>,
    report: HitReport,
    /// Whether the coach paused the session.
    paused: bool,
    /// The server's clock, for the rest.
    now: DateTime<Utc>,
}

/// A block of the session.
#[derive(Serialize, ToSchema)]
struct BoardBlock {
    id: Uuid,
    label: String,
    /// What it is called where blocks of the same label stand side by side.
    known_as: String,
    /// Balls that it asks for; 0 when it was not planned.
    balls: u32,
}

/// A shot with its shown values.
#[derive(Serialize, ToSchema)]
struct BoardShot {
    id: Uuid,
    block: Uuid,
    hit_at: DateTime<Utc>,
    #[schema(value_type = BTreeMap<String, Reported>)]
    values: BTreeMap<Quantity, Reported>,
}

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(board_of_session, open_board, close_board))
        .routes(routes!(open_by_code))
        .routes(routes!(board))
        .routes(routes!(board_live))
}

/// The board of a session, where one is open.
#[utoipa::path(get, path = "/sessions/{session}/board", params(("session" = Uuid, Path)), responses((status = OK, body = BoardOfSession), Problem))]
async fn board_of_session(
    coach: Coach,
    Path(id): Path<Uuid>,
) -> Result<Json<BoardOfSession>, Problem> {
    let board = coach.store().board_of_session(coach.school(), id).await?;
    let open = board.map(OpenBoard::from);
    Ok(Json(BoardOfSession { open }))
}

/// Opens a board of a session under way; the code of one opened before holds no more.
#[utoipa::path(put, path = "/sessions/{session}/board", params(("session" = Uuid, Path)), request_body = NewBoard, responses((status = OK, body = OpenBoard), Problem))]
async fn open_board(
    coach: Coach,
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewBoard>,
) -> Result<Json<OpenBoard>, Problem> {
    let (store, school) = (coach.store(), coach.school());
    if store.session(school, id).await?.0.ended_at.is_some() {
        let detail = "the session is over, so a board would show nothing; resume the session first";
        return Err(Problem::new(StatusCode::CONFLICT, "Conflict", detail));
    }
    let mut code = short_code();
    // Another school's, perhaps.
    while app.store.board_of_code(&code).await.is_ok() {
        code = short_code();
    }
    let board = Board {
        id: Uuid::new_v4(),
        code,
        units: new.units,
        until: Utc::now() + OPEN_FOR,
    };
    store.open_board(school, coach.id(), id, &board).await?;
    Ok(Json(board.into()))
}

/// Closes the board of a session; every screen that shows it goes dark.
#[utoipa::path(delete, path = "/sessions/{session}/board", params(("session" = Uuid, Path)), responses((status = NO_CONTENT), Problem))]
async fn close_board(coach: Coach, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    coach.store().close_board(coach.school(), id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Opens a board by its code, without signing in. Wrong codes from one address are slowed.
#[utoipa::path(post, path = "/boards", request_body = BoardCode, responses((status = OK, body = BoardOpened), Problem))]
async fn open_by_code(
    State(app): State<App>,
    Address(from): Address,
    Body(asked): Body<BoardCode>,
) -> Result<Json<BoardOpened>, Problem> {
    let code = typed_code("code", &asked.code)?;
    // By address: whoever guesses elsewhere keeps nobody from a board here.
    let by = format!("board from {from}");
    let or_else = "scan the square on the coach's screen";
    let this_try = try_in_turn(&app, (&by, &by), or_else).await?;
    let board = app.store.board_of_code(&code).await.map_err(|error| {
        let detail = "this code opens no board: look at the coach's screen, it may be a new one, or the session is over";
        dark(error, detail)
    })?;
    app.store.take_back_try(this_try).await?;
    Ok(Json(BoardOpened { board: board.id }))
}

/// What a board shows.
#[utoipa::path(get, path = "/boards/{board}", params(("board" = Uuid, Path)), responses((status = OK, body = BoardView), Problem))]
async fn board(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<BoardView>, Problem> {
    let (school, session, board) = opened(&app, id).await?;
    let store = app.store.for_school(school);
    let stored = store.hit_session(school, session).await?;
    let progress = store.progress(school, session).await?;
    let blocks = stored.blocks.iter().map(|block| BoardBlock {
        id: block.id,
        label: block.label.clone(),
        known_as: block.plan().known_as(),
        balls: block.plan().balls,
    });
    let blocks = blocks.collect();
    let session = UnderWay::of(&store, school, stored, &progress).await?;
    let (shots, report) = compute_at_the_mat(school, move || {
        let report = session.told(|question, report| report.for_board(question));
        (session.shots, report)
    })
    .await?;
    Ok(Json(BoardView {
        units: board.units,
        blocks,
        shots: shots.iter().map(|s| shown(s, &report.shown)).collect(),
        report,
        paused: progress.paused,
        now: Utc::now(),
    }))
}

/// Changes of a board, as those of a session are told.
#[utoipa::path(get, path = "/boards/{board}/live", params(("board" = Uuid, Path)), responses((status = OK, body = String, content_type = "text/event-stream"), Problem))]
async fn board_live(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Sse<KeepAliveStream<Changes>>, Problem> {
    let (school, session, _) = opened(&app, id).await?;
    let (all, looks) = (app.store.for_long(), app.looks.clone());
    let over = async move {
        loop {
            let _look = looks.due().await;
            if matches!(all.board(id).await, Err(StoreError::NotFound(_))) {
                return;
            }
        }
    };
    Ok(changes_of(&app, school, vec![session], over))
}

async fn opened(app: &App, id: Uuid) -> Result<(Uuid, Uuid, Board), Problem> {
    let found = app.store.board(id).await;
    found.map_err(|error| {
        dark(
            error,
            "this board is over: its session ended, or the coach closed it",
        )
    })
}

/// What there is not, in words for who stands before the screen.
fn dark(error: StoreError, detail: &str) -> Problem {
    match error {
        StoreError::NotFound(_) => Problem::new(StatusCode::NOT_FOUND, "Not found", detail),
        other => other.into(),
    }
}

fn shown(shot: &Shot, numbers: &[Quantity]) -> BoardShot {
    let value = |&q: &Quantity| Some((q, shot.reading.value(q)?));
    BoardShot {
        id: shot.id,
        block: shot.block_id,
        hit_at: shot.hit_at,
        values: numbers.iter().filter_map(value).collect(),
    }
}

impl From<Board> for OpenBoard {
    fn from(board: Board) -> Self {
        let Board {
            code, until, units, ..
        } = board;
        OpenBoard { code, until, units }
    }
}
