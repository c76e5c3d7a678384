//! Live events: a browser hears that its session changed, and reads it again.

use crate::guard::looks::Looks;
use crate::http::coach::Coach;
use crate::http::extract::Query;
use crate::http::problem::Problem;
use crate::state::App;
use axum::extract::State;
use axum::response::sse::{Event, KeepAlive, KeepAliveStream, Sse};
use futures_util::{Stream, StreamExt};
use serde::Deserialize;
use std::convert::Infallible;
use std::pin::Pin;
use tally_core::vocabulary::invalid::Invalid;
use tally_store::base::live::Changed;
use tally_store::{Store, StoreError};
use tokio_stream::wrappers::BroadcastStream;
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(live))
}

/// Sessions that one stream tells of, at most: more tabs than a browser has.
const MOST_HEARD: usize = 50;

/// The sessions that a stream tells of.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Heard {
    /// Identifiers, parted by commas.
    sessions: String,
}

/// Changes of sessions, until their listener may hear no more.
pub type Changes = Pin<Box<dyn Stream<Item = Result<Event, Infallible>> + Send>>;

/// Tells the changes of sessions until something is over: events named `changed` with the
/// session, or `all`, as data; where pages are read from copies of the database, `id` is what to
/// send as `tally-position` to see them.
pub fn changes_of(
    app: &App,
    school: Uuid,
    sessions: Vec<Uuid>,
    over: impl Future<Output = ()> + Send + 'static,
) -> Sse<KeepAliveStream<Changes>> {
    let changes = BroadcastStream::new(app.live.subscribe());
    let events = changes.filter_map(move |change| {
        // A listener that fell behind may have missed its own session's change.
        let change = change.unwrap_or(Changed::ANYTHING);
        let concerned = sessions.iter().any(|id| change.concerns(school, *id));
        let event = concerned.then(|| {
            let which = sessions.contains(&change.session);
            let data = which.then(|| change.session.to_string());
            let data = data.unwrap_or_else(|| "all".to_owned());
            let event = Event::default().event("changed").data(data);
            match change.seen_from {
                Some(seen_from) => event.id(seen_from.to_string()),
                None => event,
            }
        });
        std::future::ready(event.map(Ok))
    });
    let events: Changes = Box::pin(events.take_until(over));
    Sse::new(events).keep_alive(KeepAlive::default())
}

/// Changes of sessions as server-sent events named `changed`, whose data says which session
/// changed, or `all`. Sessions that may not be seen are left out. The stream ends when its
/// browser is signed out, its person's role changes (it sees other players then), or one of
/// the sessions may be seen no longer.
#[utoipa::path(get, path = "/live", params(Heard), responses((status = OK, body = String, content_type = "text/event-stream"), Problem))]
async fn live(
    coach: Coach,
    Query(heard): Query<Heard>,
    State(app): State<App>,
) -> Result<Sse<KeepAliveStream<Changes>>, Problem> {
    let school = coach.school();
    let mut seen = Vec::new();
    for id in heard_of(&heard.sessions)? {
        match coach.store().session(school, id).await {
            Ok(_) => seen.push(id),
            Err(StoreError::NotFound(_)) => {}
            Err(error) => return Err(error.into()),
        }
    }
    if seen.is_empty() {
        return Err(StoreError::NotFound("session").into());
    }
    let over = over(coach, seen.clone(), app.store.clone(), app.looks.clone());
    Ok(changes_of(&app, school, seen, over))
}

fn heard_of(sessions: &str) -> Result<Vec<Uuid>, Invalid> {
    let ids: Result<Vec<Uuid>, _> = sessions.split(',').map(str::parse).collect();
    let ids = ids.map_err(|_| {
        let remedy = "give identifiers, parted by commas";
        Invalid::new("sessions", sessions, "are no sessions", remedy)
    })?;
    if ids.len() > MOST_HEARD {
        let remedy = "hear of fewer, or open another stream";
        let what = format!("are more than {MOST_HEARD}");
        return Err(Invalid::new("sessions", ids.len(), what, remedy));
    }
    Ok(ids)
}

/// Waits until somebody may hear of one of the sessions no longer. A database that is away
/// ends nothing.
async fn over(coach: Coach, sessions: Vec<Uuid>, all: Store, looks: Looks) {
    let (school, role) = (coach.school(), coach.role());
    let (browser, script) = (coach.web_session(), coach.script());
    let store = coach.store().for_long();
    drop(coach);
    loop {
        let _look = looks.due().await;
        let now = match (browser, script) {
            (Some(browser), _) => all.still_signed_in(school, browser).await,
            (_, Some(script)) => all.script_still_speaks(school, script.id).await,
            (None, None) => Ok(Some(role)),
        };
        if now.is_ok_and(|now| now != Some(role)) {
            return;
        }
        for id in &sessions {
            if let Err(StoreError::NotFound(_)) = store.session(school, *id).await {
                return;
            }
        }
    }
}
