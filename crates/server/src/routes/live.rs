//! Live events: a browser hears that its session changed, and reads it again.

use crate::app::App;
use crate::coach::Coach;
use crate::extract::Path;
use crate::problem::Problem;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::{Stream, StreamExt};
use std::convert::Infallible;
use tally_store::live::Changed;
use tokio_stream::wrappers::BroadcastStream;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(live))
}

/// Changes of a session as server-sent events named `changed`. Their data says only
/// what changed: browsers drop an event without data.
#[utoipa::path(get, path = "/sessions/{session}/live", params(("session" = Uuid, Path)), responses((status = OK, body = String, content_type = "text/event-stream"), Problem))]
async fn live(
    coach: Coach,
    Path(id): Path<Uuid>,
    State(app): State<App>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let changes = BroadcastStream::new(app.live.subscribe());
    let school = coach.school();
    coach.store().session(school, id).await?;
    let events = changes.filter_map(move |change| {
        // A listener that fell behind may have missed its own session's change.
        let change = change.unwrap_or(Changed::ANYTHING);
        let event = change
            .concerns(school, id)
            .then(|| Event::default().event("changed").data("session"));
        std::future::ready(event.map(Ok))
    });
    Ok(Sse::new(events).keep_alive(KeepAlive::default()))
}
