//! Extractors whose refusals are problem details.

use crate::guard::address::{counted, forwarded};
use crate::http::problem::Problem;
use crate::state::App;
use axum::extract::{ConnectInfo, FromRequest, FromRequestParts};
use axum::http::request::Parts;
use std::net::{IpAddr, Ipv4Addr, SocketAddr};

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

/// The address that a request comes from, as visitors are counted by it: behind proxies of
/// ours, the one that they tell.
pub struct Address(pub String);

impl FromRequestParts<App> for Address {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>();
        let peer = peer.map_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED), |peer| peer.0.ip());
        let from = if app.behind_proxy {
            let told = parts.headers.get_all("x-forwarded-for").iter();
            let told: Vec<_> = told
                .map(|value| value.to_str().unwrap_or_default())
                .collect();
            forwarded(told.into_iter(), peer, &app.proxies)
        } else {
            peer
        };
        Ok(Address(counted(from).to_string()))
    }
}
