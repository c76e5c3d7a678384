//! Traces as rows hold them: packed, then deflated.

use flate2::Compression;
use flate2::read::DeflateDecoder;
use flate2::write::DeflateEncoder;
use std::io::{Read, Write};
use tally_core::shots::trace::{Marks, Trace};
use tally_core::vocabulary::invalid::Invalid;

/// What a trace unfolds to at most, bytes: no row fills the memory.
const MOST_UNFOLDED: u64 = 512 * 1024;

/// The bytes of a trace as they are kept: packed, then deflated.
pub fn kept(told: &Trace) -> Vec<u8> {
    let mut deflate = DeflateEncoder::new(Vec::new(), Compression::best());
    let written = deflate.write_all(&told.packed());
    written
        .and_then(|()| deflate.finish())
        .expect("memory can be written to")
}

/// Reads them back; nothing of what is no trace.
pub fn read(bytes: &[u8]) -> Option<Trace> {
    let mut packed = Vec::new();
    let inflate = DeflateDecoder::new(bytes);
    inflate.take(MOST_UNFOLDED).read_to_end(&mut packed).ok()?;
    Trace::unpacked(&packed)
}

/// Whether two traces have the same samples, as far as they are kept: what is marked in one may
/// be the coach's.
pub fn alike(a: &Trace, b: &Trace) -> bool {
    let bare = |trace: &Trace| {
        let marks = Marks::default();
        Trace {
            marks,
            ..trace.clone()
        }
        .packed()
    };
    bare(a) == bare(b)
}

/// A trace as the database writes bytes: `\x` and two digits for each.
pub fn written_trace(field: &str, text: &str) -> Result<(), Invalid> {
    let digits = text.strip_prefix("\\x").unwrap_or_default();
    let byte = |pair: &[u8]| u8::from_str_radix(std::str::from_utf8(pair).ok()?, 16).ok();
    let bytes: Option<Vec<u8>> = digits.as_bytes().chunks(2).map(byte).collect();
    match bytes.and_then(|bytes| read(&bytes)) {
        Some(_) => Ok(()),
        None => Err(Invalid::new(
            field,
            text,
            "is no trace",
            "leave it as it was exported",
        )),
    }
}
