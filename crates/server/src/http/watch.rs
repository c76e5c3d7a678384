//! How the server is watched: whether it lives, whether it is ready, and its figures.

use crate::http::problem::Problem;
use crate::state::App;
use axum::Router;
use axum::extract::{MatchedPath, Request, State};
use axum::http::{StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use metrics_exporter_prometheus::{Matcher, PrometheusBuilder, PrometheusHandle};
use std::sync::OnceLock;
use std::time::{Duration, Instant};

/// How long the database may take to answer before the server is not ready.
const READY_WITHIN: Duration = Duration::from_secs(2);
/// What this program is: with the changes that it holds, where it was made for others.
pub const VERSION: &str = match option_env!("TALLY_VERSION") {
    Some(made) => made,
    None => concat!(env!("CARGO_PKG_VERSION"), "+checkout"),
};
/// Bounds of the times that are counted, s.
const BOUNDS: [f64; 10] = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 10.0];

/// The figures of this process, which all its servers share.
fn figures() -> &'static PrometheusHandle {
    static FIGURES: OnceLock<PrometheusHandle> = OnceLock::new();
    FIGURES.get_or_init(|| {
        let times = Matcher::Suffix("_seconds".to_owned());
        PrometheusBuilder::new()
            .set_buckets_for_metric(times, &BOUNDS)
            .and_then(PrometheusBuilder::install_recorder)
            .expect("nothing else in this process keeps figures")
    })
}

/// Whether the server lives, and whether it can serve.
pub fn routes() -> Router<App> {
    figures();
    Router::new()
        .route("/healthz", get(async || format!("lives {VERSION}\n")))
        .route("/readyz", get(ready))
}

async fn ready(State(app): State<App>) -> Response {
    match tokio::time::timeout(READY_WITHIN, app.store.answers()).await {
        Ok(Ok(())) => "ready\n".into_response(),
        Ok(Err(error)) => Problem::from(error).into_response(),
        Err(_) => Problem::database_away().into_response(),
    }
}

/// The figures, for a port of their own that only the operator reaches.
pub fn figures_router() -> Router {
    Router::new().route(
        "/metrics",
        get(async || {
            let kind = [(header::CONTENT_TYPE, "text/plain; version=0.0.4")];
            (kind, figures().render())
        }),
    )
}

/// Counts requests and their times by route, never by address: addresses hold names.
pub async fn count(matched: Option<MatchedPath>, request: Request, next: Next) -> Response {
    let began = Instant::now();
    let method = request.method().to_string();
    let response = next.run(request).await;
    let route = matched.map_or_else(|| "other".to_owned(), |m| m.as_str().to_owned());
    let status = response.status();
    metrics::counter!(
        "tally_requests_total",
        "method" => method.clone(), "route" => route.clone(), "status" => status.as_str().to_owned()
    )
    .increment(1);
    if status != StatusCode::SWITCHING_PROTOCOLS {
        let taken = began.elapsed().as_secs_f64();
        metrics::histogram!("tally_request_seconds", "method" => method, "route" => route)
            .record(taken);
    }
    response
}

/// Counts a shot that was stored, or came again.
pub fn shot(again: bool) {
    let how = if again { "again" } else { "new" };
    metrics::counter!("tally_shots_total", "how" => how).increment(1);
}
