//! Answers that are files to save.

use axum::body::Body;
use axum::http::header;
use axum::response::IntoResponse;

/// A file to save.
pub fn download(body: Body, kind: &'static str, name: &str) -> impl IntoResponse {
    let disposition = format!("attachment; filename=\"{name}\"");
    (
        [
            (header::CONTENT_TYPE, kind.to_owned()),
            (header::CONTENT_DISPOSITION, disposition),
        ],
        body,
    )
}
