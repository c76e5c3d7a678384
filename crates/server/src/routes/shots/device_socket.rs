//! The device line over a WebSocket: for devices that reach the web port alone.

use crate::guard::doors::Pass;
use crate::http::extract::Address;
use crate::http::problem::Problem;
use crate::intake::device_talk::Talk;
use crate::state::App;
use axum::Extension;
use axum::extract::State;
use axum::extract::ws::rejection::WebSocketUpgradeRejection;
use axum::extract::ws::{Message, WebSocket, WebSocketUpgrade};
use axum::http::StatusCode;
use axum::response::Response;
use std::time::Duration;
use tally_formats::device_line::LONGEST_LINE;
use tokio::time::{Instant, interval_at};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// How often a silent device is asked whether it is there.
const ASKED_EVERY: Duration = Duration::from_secs(60);
/// How often it may leave that unanswered.
const UNANSWERED: u32 = 2;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(device_line))
}

/// The device line over a WebSocket: each message is a line, a hello first, and each is answered
/// by one. Whatever is not acknowledged is sent again.
#[utoipa::path(get, path = "/device-line", responses((status = SWITCHING_PROTOCOLS), Problem))]
async fn device_line(
    State(app): State<App>,
    pass: Option<Extension<Pass>>,
    Address(from): Address,
    upgrade: Result<WebSocketUpgrade, WebSocketUpgradeRejection>,
) -> Result<Response, Problem> {
    let upgrade = upgrade.map_err(|_| {
        let how = "open it as a WebSocket (RFC 6455); /api/v1/device-shots takes the same lines without one";
        Problem::new(StatusCode::UPGRADE_REQUIRED, "Not a WebSocket", how)
    })?;
    let Some(Extension(pass)) = pass else {
        return Err(Problem::ours());
    };
    let talk = Talk::new(&app.store, &pass, from);
    let upgrade = upgrade
        .max_message_size(LONGEST_LINE)
        .max_frame_size(LONGEST_LINE);
    Ok(upgrade.on_upgrade(|socket| async {
        // One that went away is no error of ours.
        let _ = converse(talk, socket).await;
    }))
}

async fn converse(mut talk: Talk, mut socket: WebSocket) -> Result<(), axum::Error> {
    let mut asks = interval_at(Instant::now() + ASKED_EVERY, ASKED_EVERY);
    let mut unanswered = 0;
    loop {
        let heard = tokio::select! {
            heard = socket.recv() => heard,
            _ = asks.tick() => {
                if unanswered == UNANSWERED {
                    return Ok(());
                }
                unanswered += 1;
                socket.send(Message::Ping(Default::default())).await?;
                continue;
            }
        };
        let Some(message) = heard.transpose()? else {
            return Ok(());
        };
        unanswered = 0;
        let line = match &message {
            Message::Text(text) => text.as_bytes(),
            Message::Binary(bytes) => bytes,
            Message::Ping(_) | Message::Pong(_) => continue,
            Message::Close(_) => return Ok(()),
        };
        if let Some(answer) = talk.hear(line).await {
            let said = answer.to_line().trim_end().to_owned();
            socket.send(Message::text(said)).await?;
        }
        if talk.is_over() {
            return socket.send(Message::Close(None)).await;
        }
    }
}
