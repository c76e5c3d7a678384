//! Extractors whose refusals are problem details.

use crate::problem::Problem;
use axum::extract::{FromRequest, FromRequestParts};

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
