//! Extractors whose refusals are problem details.

use crate::http::problem::Problem;
use crate::state::App;
use axum::extract::{ConnectInfo, FromRequest, FromRequestParts};
use axum::http::request::Parts;
use std::net::SocketAddr;

/// A JSON body.
#[derive(FromRequest)]
#[from_request(via(axum::Json), rejection(Problem))]
pub struct Body<T>(pub T);

/// The identifiers of a path.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Path), rejection(Problem))]
pub struct Path<T>(pub T);

/// What stands behind the question mark of an address.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Query), rejection(Problem))]
pub struct Query<T>(pub T);

/// The address that a request comes from: behind a proxy of ours, the one that it tells.
pub struct Address(pub String);

impl FromRequestParts<App> for Address {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let told = parts
            .headers
            .get("x-forwarded-for")
            .filter(|_| app.behind_proxy)
            .and_then(|value| value.to_str().ok())
            // The nearest proxy adds the last; earlier ones can be made up.
            .and_then(|value| value.rsplit(',').next());
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>();
        let address = match told {
            Some(told) => told.trim().to_owned(),
            None => peer.map(|peer| peer.0.ip().to_string()).unwrap_or_default(),
        };
        Ok(Address(address))
    }
}
