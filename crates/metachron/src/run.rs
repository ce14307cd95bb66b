//! From the command line to an exit status.

use crate::cli::{Cli, Command, ConvertArgs, ReadArgs, TableArgs};
use crate::job::{inputs, rulings_folder};
use crate::outcome::{Outcome, Usage};
use crate::{command, view, zone_data};
use clap::Parser;
use std::io;
use std::path::PathBuf;
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
    match dispatch(cli) {
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

fn dispatch(cli: Cli) -> anyhow::Result<Outcome> {
    let verbosity = cli.verbosity();
    match cli.command {
        Command::Survey(mut args) => {
            one_table(&mut args.table, &mut args.read)?;
            command::survey::run(&args, verbosity)
        }
        Command::Settle(mut args) => {
            one_table(&mut args.table, &mut args.read)?;
            command::settle::run(&args, verbosity)
        }
        Command::Convert(mut args) => match folder_of_outputs(&args) {
            Some(folder) => {
                args.table.inputs = inputs::files(&args.table.inputs)?;
                command::convert::each::run(&args, &folder, verbosity)
            }
            None => {
                one_table(&mut args.table, &mut args.read)?;
                command::convert::run(&args, verbosity)
            }
        },
        Command::Explain(args) => command::explain::run(&args),
        Command::Locales(args) => command::locales::run(&args),
        Command::Zones(args) => command::zones::run(&args),
        Command::Demo(args) => command::demo::run(&args),
        Command::Completions(args) => command::completions::run(&args),
    }
}

/// Finds the files of a table and its rulings, where folders are named instead.
fn one_table(table: &mut TableArgs, read: &mut ReadArgs) -> anyhow::Result<()> {
    table.inputs = inputs::files(&table.inputs)?;
    if let Some(folder) = read.rulings.clone().filter(|path| path.is_dir())
        && let Some(first) = table.inputs.first()
    {
        read.rulings = Some(rulings_folder::choose(&folder, first, table)?);
    }
    Ok(())
}

/// The folder that each input is to be converted into, if one is named.
fn folder_of_outputs(args: &ConvertArgs) -> Option<PathBuf> {
    let out = args.output.as_ref()?;
    let ends_so = || out.to_string_lossy().ends_with(std::path::is_separator);
    let is_folder = !inputs::is_address(out) && (out.is_dir() || ends_so());
    is_folder.then(|| out.clone())
}

fn is_closed_pipe(error: &anyhow::Error) -> bool {
    error.chain().any(|cause| {
        let io = cause.downcast_ref::<io::Error>();
        io.is_some_and(|io| io.kind() == io::ErrorKind::BrokenPipe)
    })
}
