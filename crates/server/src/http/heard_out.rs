//! Whoever is refused while they still send is heard out first: a browser that cannot send the rest
//! of a file takes that for a lost network, and never shows why it was refused.

use axum::body::{Body, BodyDataStream, HttpBody};
use axum::extract::Request;
use axum::http::{StatusCode, header};
use axum::middleware::Next;
use axum::response::Response;
use futures_util::{StreamExt, stream};
use std::sync::{Arc, Mutex, PoisonError};
use std::task::{Context, Poll};
use std::time::Duration;

/// How much of the rest is heard, bytes, and for how long: enough for a file of a season.
const MOST: usize = 64 << 20;
const WITHIN: Duration = Duration::from_secs(20);

/// What is sent, of which the rest can be heard when the handler has let go of it.
#[derive(Clone)]
struct Sent(Arc<Mutex<BodyDataStream>>);

type Piece = <BodyDataStream as futures_util::Stream>::Item;

impl Sent {
    fn next(&self, cx: &mut Context<'_>) -> Poll<Option<Piece>> {
        let mut sent = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        sent.poll_next_unpin(cx)
    }

    fn lent(&self) -> Body {
        let sent = self.clone();
        Body::from_stream(stream::poll_fn(move |cx| sent.next(cx)))
    }

    async fn rest(&self) {
        let mut heard = 0;
        while heard < MOST {
            match std::future::poll_fn(|cx| self.next(cx)).await {
                Some(Ok(piece)) => heard += piece.len(),
                _ => return,
            }
        }
    }
}

/// Answers when all was heard, where the answer is no.
pub async fn hear_out(request: Request, next: Next) -> Response {
    // Who asks first whether to send, or may not send at all, is not heard out.
    let asks_first = request.headers().contains_key(header::EXPECT);
    if asks_first || request.body().is_end_stream() {
        return next.run(request).await;
    }
    let (head, body) = request.into_parts();
    let sent = Sent(Arc::new(Mutex::new(body.into_data_stream())));
    let response = next.run(Request::from_parts(head, sent.lent())).await;
    let status = response.status();
    if status.is_client_error() && status != StatusCode::UNAUTHORIZED {
        let _ = tokio::time::timeout(WITHIN, sent.rest()).await;
    }
    response
}
