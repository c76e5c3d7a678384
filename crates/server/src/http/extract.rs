//! Extractors whose refusals are problem details.

use crate::guard::address::{counted, forwarded};
use crate::http::problem::Problem;
use crate::state::App;
use axum::body::Bytes;
use axum::extract::{ConnectInfo, FromRequest, FromRequestParts, Request};
use axum::http::request::Parts;
use serde::de::DeserializeOwned;
use serde_json::Value;
use std::net::{IpAddr, Ipv4Addr, SocketAddr};
use tally_core::vocabulary::characters::kept;
use tally_core::vocabulary::invalid::Invalid;

/// A JSON body. No text in it may hold a NUL, which no record can keep.
pub struct Body<T>(pub T);

impl<T: DeserializeOwned> FromRequest<App> for Body<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, app: &App) -> Result<Self, Problem> {
        let (parts, body) = request.into_parts();
        let body = Request::from_parts(parts.clone(), body);
        let bytes = Bytes::from_request(body, app).await.map_err(|refused| {
            Problem::new(refused.status(), "Body not understood", refused.body_text())
        })?;
        if bytes.windows(NUL.len()).any(|some| some == NUL)
            && let Ok(json) = serde_json::from_slice(&bytes)
            && let Some(why) = with_nul("", &json)
        {
            return Err(why.into());
        }
        let whole = Request::from_parts(parts, bytes.into());
        Ok(Body(axum::Json::from_request(whole, app).await?.0))
    }
}

/// A NUL as JSON writes it.
const NUL: &[u8] = b"\\u0000";

/// The first text of a document that holds a NUL.
fn with_nul(field: &str, json: &Value) -> Option<Invalid> {
    let within = |name: &str| match field {
        "" => name.to_owned(),
        field => format!("{field}.{name}"),
    };
    match json {
        Value::String(text) if text.contains('\0') => {
            let problem = "has a character that is not kept, \\u{0}";
            Some(Invalid::new(field, text, problem, "type plain text"))
        }
        Value::Array(items) => items
            .iter()
            .enumerate()
            .find_map(|(i, item)| with_nul(&format!("{field}[{i}]"), item)),
        Value::Object(fields) => fields.iter().find_map(|(name, value)| {
            let field = within(&kept(name));
            if name.contains('\0') {
                let problem = "has a character in its name that is not kept, \\u{0}";
                return Some(Invalid::new(field, "", problem, "leave it out"));
            }
            with_nul(&field, value)
        }),
        _ => None,
    }
}

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
