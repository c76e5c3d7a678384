//! JSON whose numbers carry no more digits than anything measured has.

use crate::http::problem::Problem;
use axum::http::header::CONTENT_TYPE;
use axum::response::{IntoResponse, Response};
use serde::Serialize;
use serde_json::ser::{CompactFormatter, Formatter, Serializer};
use std::io::{self, Write};

/// Writes an answer about many balls: each number to the digits that single precision tells
/// apart, seven or so instead of seventeen, so that there is less to write, pack and read.
///
/// # Errors
/// Ours, when it cannot be written.
pub(crate) fn short(answer: &impl Serialize) -> Result<Response, Problem> {
    let mut written = Vec::with_capacity(16 * 1024);
    answer
        .serialize(&mut Serializer::with_formatter(&mut written, Digits))
        .map_err(|error| {
            tracing::error!(%error, "an answer cannot be written");
            Problem::ours()
        })?;
    Ok(([(CONTENT_TYPE, "application/json")], written).into_response())
}

struct Digits;

impl Formatter for Digits {
    fn write_f64<W: ?Sized + Write>(&mut self, to: &mut W, value: f64) -> io::Result<()> {
        let short = value as f32;
        // What single precision cannot hold is written whole.
        if short.is_finite() && (short != 0.0 || value == 0.0) {
            CompactFormatter.write_f32(to, short)
        } else {
            CompactFormatter.write_f64(to, value)
        }
    }
}
