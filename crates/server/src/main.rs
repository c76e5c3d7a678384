//! The `amber-tally` program.

use clap::{Parser, Subcommand, ValueEnum};
use std::io::IsTerminal;
use std::process::ExitCode;
use tally_formats::{flight_csv, impact_csv};
use tally_server::cli::{backup, demo, files, openapi, schools, serve, simulate, table, window};
use tally_server::http::watch::VERSION;
use tracing_subscriber::EnvFilter;

/// Launch-monitor sessions for golf coaches: every shot counted, every figure with its
/// spread and its working.
#[derive(Parser)]
#[command(name = "amber-tally", version = VERSION)]
struct Program {
    /// How the log is written to standard error.
    #[arg(long, global = true, value_enum, default_value_t = Log::Text, env = "TALLY_LOG")]
    log: Log,
    #[command(subcommand)]
    command: Command,
}

#[derive(Clone, Copy, ValueEnum)]
enum Log {
    /// For people.
    Text,
    /// One JSON object a line, for programs.
    Json,
}

#[derive(Subcommand)]
enum Command {
    /// Serves the application.
    Serve(serve::Serve),
    /// Writes all schools to a file, while the server runs.
    Backup(backup::Backup),
    /// Fills an empty database from a backup.
    Restore(backup::Restore),
    /// Makes a key for encrypted backups and prints its public half.
    BackupKey(backup::BackupKey),
    /// Founds another school in the same database and prints its owner's code.
    School(schools::NewSchool),
    /// Prints a code for a new password of somebody who is locked out.
    Code(schools::NewCode),
    /// Loads the demo school into the database.
    Demo(demo::Demo),
    /// Plays a virtual golfer in front of a simulated device.
    Simulate(simulate::Simulate),
    /// Brings a file of shots in, as the browser does.
    Import(files::Import),
    /// Writes shots as CSV to standard output.
    Export(files::Export),
    /// Adds flights to a CSV table of launches (standard input to standard output).
    #[command(after_help = flight_csv::COLUMNS.told())]
    Flight,
    /// Adds launches to a CSV table of deliveries (standard input to standard output).
    #[command(after_help = impact_csv::COLUMNS.told())]
    Impact,
    /// Prints the best launch and spin of a speed as JSON.
    Window(window::Window),
    /// Prints the API's description.
    Openapi,
}

/// Everything of the database's driver that writes what a query holds.
const QUIET: [&str; 5] = [
    "tokio_postgres=info",
    "tokio_postgres::query=info",
    "tokio_postgres::prepare=info",
    "tokio_postgres::client=info",
    "tokio_postgres::connection=info",
];

/// Gives memory back that glibc would keep after a flood.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[tokio::main]
async fn main() -> ExitCode {
    // Whatever is asked for, the database's driver does not tell what goes into queries:
    // secrets and people's records among it.
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("info"));
    let filter = QUIET.into_iter().fold(filter, |filter, quiet| {
        filter.add_directive(quiet.parse().expect("the directives of ours are valid"))
    });
    let program = Program::parse();
    let log = tracing_subscriber::fmt()
        .with_env_filter(filter)
        .with_ansi(std::io::stderr().is_terminal())
        .with_writer(std::io::stderr);
    match program.log {
        Log::Text => log.init(),
        Log::Json => log.json().init(),
    }
    // A reader that has enough ends us quietly. The server writes to many and lives on, and a tool
    // that ends before it has all it was to be given says why.
    let writes_to_others = matches!(
        program.command,
        Command::Serve(_) | Command::Backup(_) | Command::Restore(_)
    );
    if !writes_to_others {
        sigpipe::reset();
    }
    match program.command {
        Command::Serve(args) => told(serve::run(args).await),
        Command::Backup(args) => told(backup::run(args).await),
        Command::Restore(args) => told(backup::restore(args).await),
        Command::BackupKey(args) => told(backup::key(&args)),
        Command::School(args) => told(schools::found(args).await),
        Command::Code(args) => told(schools::code(args).await),
        Command::Demo(args) => told(demo::run(args).await),
        Command::Simulate(args) => told(simulate::run(args).await),
        Command::Import(args) => told(files::import(args).await),
        Command::Export(args) => told(files::export(args).await),
        Command::Flight => table::run(flight_csv::run),
        Command::Impact => table::run(impact_csv::run),
        Command::Window(args) => told(window::run(&args)),
        Command::Openapi => {
            println!("{}", openapi::run());
            ExitCode::SUCCESS
        }
    }
}

fn told(done: Result<(), impl std::fmt::Display>) -> ExitCode {
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("amber-tally: {error}");
            ExitCode::FAILURE
        }
    }
}
