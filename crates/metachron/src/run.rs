//! From the command line to an exit status.

use crate::cli::{Cli, Command};
use crate::outcome::{Outcome, Usage};
use crate::{command, view, zone_data};
use clap::Parser;
use std::io;
use std::process::ExitCode;

/// Runs the program.
pub fn run() -> ExitCode {
    if let Some(folder) = Cli::zone_data_among(std::env::args_os())
        && let Err(why) = zone_data::use_folder(&folder)
    {
        view::message::error(&format!("--zone-data {}: {why:#}", folder.display()));
        return ExitCode::from(2);
    }
    let cli = Cli::parse();
    cli.color.apply();
    match dispatch(&cli) {
        Ok(Outcome::Done) => ExitCode::SUCCESS,
        Ok(Outcome::Waits) => ExitCode::from(3),
        // Whoever reads the output has seen enough.
        Err(error) if is_closed_pipe(&error) => ExitCode::SUCCESS,
        Err(error) => {
            view::message::error(&format!("{error:#}"));
            ExitCode::from(if error.is::<Usage>() { 2 } else { 1 })
        }
    }
}

fn dispatch(cli: &Cli) -> anyhow::Result<Outcome> {
    match &cli.command {
        Command::Survey(args) => command::survey::run(args, cli.verbosity()),
        Command::Settle(args) => command::settle::run(args, cli.verbosity()),
        Command::Convert(args) => command::convert::run(args, cli.verbosity()),
        Command::Explain(args) => command::explain::run(args),
        Command::Locales(args) => command::locales::run(args),
        Command::Zones(args) => command::zones::run(args),
        Command::Demo(args) => command::demo::run(args),
        Command::Completions(args) => command::completions::run(args),
    }
}

fn is_closed_pipe(error: &anyhow::Error) -> bool {
    error.chain().any(|cause| {
        let io = cause.downcast_ref::<io::Error>();
        io.is_some_and(|io| io.kind() == io::ErrorKind::BrokenPipe)
    })
}
