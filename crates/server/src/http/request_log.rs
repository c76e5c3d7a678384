//! What the log tells of requests: who asked what from where, and how it ended; never
//! what stands in them.

use crate::guard::sampled::Sampled;
use crate::http::extract::Address;
use axum::extract::Request;
use axum::middleware::Next;
use axum::response::Response;
use std::time::Instant;
use tracing::Instrument;
use uuid::Uuid;

/// Lines a second on requests of people who are signed in, and on others.
const A_SECOND: [u32; 2] = [200, 20];
/// Longest piece of an address that is written, bytes.
const SHOWN: usize = 200;

/// Where addresses end in a secret.
const SECRET: [&str; 2] = ["/api/v1/calendars/", "/api/v1/boards/"];

/// Who was answered; set where they are known.
#[derive(Clone, Copy)]
pub struct Answered(pub Uuid);

/// Writes a line for each request to the API.
pub async fn write(Address(from): Address, request: Request, next: Next) -> Response {
    static SIGNED_IN: Sampled = Sampled::new(A_SECOND[0]);
    static OTHERS: Sampled = Sampled::new(A_SECOND[1]);
    // The path alone: what stands behind the question mark may be private.
    let path = request.uri().path();
    if !path.starts_with("/api/") {
        return next.run(request).await;
    }
    // A calendar program, or a stream of changes, can send its secret in the address only.
    let path = match SECRET.iter().find(|secret| path.starts_with(**secret)) {
        Some(secret) => secret,
        None => &path[..path.floor_char_boundary(SHOWN)],
    };
    let id = request.headers().get("x-request-id");
    let id = id.and_then(|id| id.to_str().ok()).unwrap_or_default();
    let span = tracing::info_span!("request", method = %request.method(), path, id);
    let began = Instant::now();
    let response = next.run(request).instrument(span.clone()).await;
    let who = response.extensions().get::<Answered>().copied();
    let log = if who.is_some() { &SIGNED_IN } else { &OTHERS };
    if let Some(left_out) = log.may() {
        let who = who.map_or_else(|| "nobody".to_owned(), |who| who.0.to_string());
        let (status, ms) = (
            response.status().as_u16(),
            began.elapsed().as_millis() as u64,
        );
        span.in_scope(|| tracing::info!(status, ms, who, from, left_out, "answered"));
    }
    response
}
