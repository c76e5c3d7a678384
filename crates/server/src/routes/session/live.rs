//! Live events: a browser hears that its session changed, and reads it again.

use crate::http::coach::Coach;
use crate::http::extract::Path;
use crate::http::problem::Problem;
use crate::state::App;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::{Stream, StreamExt};
use std::convert::Infallible;
use std::time::Duration;
use tally_store::base::live::Changed;
use tally_store::{Store, StoreError};
use tokio_stream::wrappers::BroadcastStream;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(live))
}

/// Changes of a session as server-sent events named `changed`. Their data says only
/// what changed: browsers drop an event without data. The stream ends when its browser
/// is signed out, its person's role changes (it sees other players then), or the session
/// may be seen no longer.
#[utoipa::path(get, path = "/sessions/{session}/live", params(("session" = Uuid, Path)), responses((status = OK, body = String, content_type = "text/event-stream"), Problem))]
async fn live(
    coach: Coach,
    Path(id): Path<Uuid>,
    State(app): State<App>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let changes = BroadcastStream::new(app.live.subscribe());
    let school = coach.school();
    coach.store().session(school, id).await?;
    let over = over(coach, id, app.store.clone(), app.look_again);
    let events = changes.filter_map(move |change| {
        // A listener that fell behind may have missed its own session's change.
        let change = change.unwrap_or(Changed::ANYTHING);
        let event = change
            .concerns(school, id)
            .then(|| Event::default().event("changed").data("session"));
        std::future::ready(event.map(Ok))
    });
    Ok(Sse::new(events.take_until(over)).keep_alive(KeepAlive::default()))
}

/// Waits until somebody may hear of a session no longer. A database that is away ends
/// nothing.
async fn over(coach: Coach, session: Uuid, all: Store, every: Duration) {
    let (school, role, browser) = (coach.school(), coach.role(), coach.web_session());
    let store = coach.store().for_long();
    drop(coach);
    loop {
        tokio::time::sleep(every).await;
        let now = match browser {
            Some(browser) => all.still_signed_in(school, browser).await,
            None => Ok(Some(role)),
        };
        let seen = store.session(school, session).await;
        if now.is_ok_and(|now| now != Some(role)) || matches!(seen, Err(StoreError::NotFound(_))) {
            return;
        }
    }
}
