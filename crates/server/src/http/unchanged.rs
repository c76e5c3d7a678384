//! Answers that are as they were: told in a line, so that whoever asks again and again is
//! not sent the same once more.

use axum::body::{Body, HttpBody, to_bytes};
use axum::extract::Request;
use axum::http::{HeaderMap, HeaderValue, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use sha2::{Digest, Sha256};
use std::fmt::Write;

/// Largest answer that is looked at, bytes: browsers keep those that they were sent.
const LARGEST: u64 = 1 << 20;
/// Bytes of the digest that tell one answer from another.
const DIGITS: usize = 16;

/// Marks an answer in JSON by what is in it (`ETag`), and says 304 where the one who asks has
/// the same already (`If-None-Match`). The route has done its work by then, and refused who
/// may not see it.
pub async fn told(request: Request, next: Next) -> Response {
    if request.method() != Method::GET {
        return next.run(request).await;
    }
    let has = request.headers().get(header::IF_NONE_MATCH).cloned();
    let answer = next.run(request).await;
    let size = answer.body().size_hint().exact();
    let known = size.is_some_and(|size| size <= LARGEST);
    if answer.status() != StatusCode::OK || !is_json(answer.headers()) || !known {
        return answer;
    }
    let (mut head, body) = answer.into_parts();
    let Ok(body) = to_bytes(body, LARGEST as usize).await else {
        return StatusCode::INTERNAL_SERVER_ERROR.into_response();
    };
    let tag = tag(&body);
    let same = has.is_some_and(|has| has_it(&has, &tag));
    head.headers.insert(
        header::ETAG,
        HeaderValue::from_str(&tag).expect("digits are a header"),
    );
    if !same {
        return Response::from_parts(head, Body::from(body));
    }
    head.status = StatusCode::NOT_MODIFIED;
    head.headers.remove(header::CONTENT_LENGTH);
    head.headers.remove(header::CONTENT_TYPE);
    Response::from_parts(head, Body::empty())
}

fn is_json(headers: &HeaderMap) -> bool {
    let kind = headers.get(header::CONTENT_TYPE);
    kind.is_some_and(|kind| kind.as_bytes().starts_with(b"application/json"))
}

/// A weak tag: the answer goes out packed in several ways.
fn tag(body: &[u8]) -> String {
    let mut tag = String::from("W/\"");
    for byte in &Sha256::digest(body)[..DIGITS] {
        write!(tag, "{byte:02x}").expect("a text takes what is written to it");
    }
    tag.push('"');
    tag
}

/// Whether one of the tags that were sent is this one, weak or not (RFC 9110, 13.1.2).
fn has_it(sent: &HeaderValue, tag: &str) -> bool {
    let plain = |tag: &str| tag.trim().trim_start_matches("W/").to_owned();
    sent.to_str().is_ok_and(|sent| {
        sent.split(',')
            .any(|one| one.trim() == "*" || plain(one) == plain(tag))
    })
}
