//! JSON whose numbers carry no more digits than anything measured has.

use crate::guard::quiet::both_as_quiet_as_here;
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
    Ok(json(written(answer)?))
}

/// The same of two objects, as one that has the fields of both: large ones are written side by
/// side, and let go of there.
///
/// # Errors
/// Ours, when it cannot be written.
pub(crate) fn short_of_both(
    one: impl Serialize + Send,
    other: impl Serialize + Send,
) -> Result<Response, Problem> {
    let (one, other) = both_as_quiet_as_here(move || written(&one), move || written(&other));
    let (mut both, other) = (one?, other?);
    // `{a}` and `{b}` become `{a,b}`.
    both.pop();
    both.push(b',');
    both.extend_from_slice(&other[1..]);
    Ok(json(both))
}

fn json(written: Vec<u8>) -> Response {
    ([(CONTENT_TYPE, "application/json")], written).into_response()
}

fn written(answer: &impl Serialize) -> Result<Vec<u8>, Problem> {
    let mut written = Vec::with_capacity(16 * 1024);
    answer
        .serialize(&mut Serializer::with_formatter(&mut written, Digits))
        .map_err(|error| {
            tracing::error!(%error, "an answer cannot be written");
            Problem::ours()
        })?;
    Ok(written)
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
