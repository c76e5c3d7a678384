//! `amber-tally flight`: launches in, flights out, as CSV.

use std::io::{BufWriter, stdin, stdout};
use std::process::ExitCode;
use tally_formats::flight_csv;

/// Reads standard input, writes standard output; tells bad rows on standard error.
/// The exit code is 1 when any row was refused.
pub fn run() -> ExitCode {
    let out = BufWriter::new(stdout().lock());
    match flight_csv::run(stdin().lock(), out, |refused| eprintln!("{refused}")) {
        Ok(done) if done.bad == 0 => ExitCode::SUCCESS,
        Ok(done) => {
            eprintln!("{} rows written, {} refused", done.good, done.bad);
            ExitCode::FAILURE
        }
        Err(error) => {
            eprintln!("{error}");
            ExitCode::FAILURE
        }
    }
}
