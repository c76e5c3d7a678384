//! `amber-tally flight` and `amber-tally impact`: CSV in, CSV with results out.

use std::io::{BufWriter, Stdin, StdoutLock, stdin, stdout};
use std::process::ExitCode;
use tally_formats::table::{Done, TableError};

type Input = Stdin;
type Output = BufWriter<StdoutLock<'static>>;

/// Reads standard input, writes standard output; tells bad rows on standard error.
/// The exit code is 1 when any row was refused.
pub fn run(
    table: impl FnOnce(Input, Output, fn(&TableError)) -> Result<Done, TableError>,
) -> ExitCode {
    let out = BufWriter::new(stdout().lock());
    match table(stdin(), out, |refused| eprintln!("{refused}")) {
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
