//! The web application, shipped inside the program.

use axum::extract::Request;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use rust_embed::Embed;

#[derive(Embed)]
#[folder = "../../web/dist"]
struct Dist;

/// Serves a file of the web application; any other path is a page of it.
pub async fn serve(request: Request) -> Response {
    let path = request.uri().path().trim_start_matches('/');
    let told = request.headers().get(header::ACCEPT_ENCODING);
    let brotli = told
        .and_then(|told| told.to_str().ok())
        .is_some_and(|told| told.split(',').any(|one| one.trim() == "br"));
    let file = |path: &str, caching| file(path, brotli, caching);
    if path.starts_with("assets/") {
        // Their names carry a hash of their content.
        return file(path, "public, max-age=31536000, immutable")
            .unwrap_or_else(|| StatusCode::NOT_FOUND.into_response());
    }
    file(path, "no-cache")
        .or_else(|| file("index.html", "no-cache"))
        .unwrap_or_else(|| {
            let words = "The web application is not built yet. Run bin/start, which builds it.";
            (StatusCode::NOT_FOUND, words).into_response()
        })
}

/// A file, as it was made small when it was built where the browser takes it so.
fn file(path: &str, brotli: bool, caching: &'static str) -> Option<Response> {
    let whole = Dist::get(path)?;
    let mime = mime_guess::from_path(path).first_or_octet_stream();
    let headers = [
        (header::CONTENT_TYPE, mime.to_string()),
        (header::CACHE_CONTROL, caching.to_owned()),
        (header::VARY, "accept-encoding".to_owned()),
    ];
    let small = Dist::get(&format!("{path}.br")).filter(|_| brotli);
    Some(match small {
        Some(small) => {
            let encoding = [(header::CONTENT_ENCODING, "br")];
            (headers, encoding, small.data.into_owned()).into_response()
        }
        None => (headers, whole.data.into_owned()).into_response(),
    })
}
