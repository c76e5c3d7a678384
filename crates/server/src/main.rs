//! The `amber-tally` program.

use clap::{Parser, Subcommand};
use std::process::ExitCode;
use tally_formats::{flight_csv, impact_csv};
use tally_server::cli::{demo, openapi, serve, simulate, table, window};
use tracing_subscriber::EnvFilter;

/// Launch-monitor sessions for golf coaches: every shot counted, every figure with its
/// spread and its working.
#[derive(Parser)]
#[command(name = "amber-tally", version)]
struct Program {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serves the application.
    Serve(serve::Serve),
    /// Loads the demo school into the database.
    Demo(demo::Demo),
    /// Plays a virtual golfer in front of a simulated device.
    Simulate(simulate::Simulate),
    /// Adds flights to a CSV table of launches (standard input to standard output).
    Flight,
    /// Adds launches to a CSV table of deliveries (standard input to standard output).
    Impact,
    /// Prints the best launch and spin of a speed as JSON.
    Window(window::Window),
    /// Prints the API's description.
    Openapi,
}

#[tokio::main]
async fn main() -> ExitCode {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("info"));
    tracing_subscriber::fmt()
        .with_env_filter(filter)
        .with_writer(std::io::stderr)
        .init();
    match Program::parse().command {
        Command::Serve(args) => told(serve::run(args).await),
        Command::Demo(args) => told(demo::run(args).await),
        Command::Simulate(args) => told(simulate::run(args).await),
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
