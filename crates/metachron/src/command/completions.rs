//! `metachron completions`: shell completions and manual pages.

use crate::cli::values::CompletionsFor;
use crate::cli::{Cli, CompletionsArgs};
use crate::outcome::Outcome;
use crate::output::{Allowed, Output};
use clap::CommandFactory;
use clap_complete::Shell;
use std::path::Path;

/// Runs the command.
pub fn run(args: &CompletionsArgs) -> anyhow::Result<Outcome> {
    let files = match shell(args.what) {
        Some(shell) => vec![completions(shell)],
        None => manual_pages()?,
    };
    match &args.dir {
        Some(dir) => {
            std::fs::create_dir_all(dir)?;
            for (name, bytes) in &files {
                write(&dir.join(name), bytes)?;
            }
        }
        None => {
            let mut out = Output::stdout();
            // Of the manual, the page of the program itself.
            if let Some((_, bytes)) = files.first() {
                out.put(bytes)?;
            }
            out.finish()?;
        }
    }
    Ok(Outcome::Done)
}

fn write(path: &Path, bytes: &[u8]) -> anyhow::Result<()> {
    let mut out = Output::file(path, Allowed::BY_UMASK)?;
    out.put(bytes)?;
    out.finish()
}

fn shell(what: CompletionsFor) -> Option<Shell> {
    match what {
        CompletionsFor::Bash => Some(Shell::Bash),
        CompletionsFor::Elvish => Some(Shell::Elvish),
        CompletionsFor::Fish => Some(Shell::Fish),
        CompletionsFor::Powershell => Some(Shell::PowerShell),
        CompletionsFor::Zsh => Some(Shell::Zsh),
        CompletionsFor::Man => None,
    }
}

fn completions(shell: Shell) -> (String, Vec<u8>) {
    use clap_complete::Generator;
    let mut bytes = Vec::new();
    clap_complete::generate(shell, &mut Cli::command(), "metachron", &mut bytes);
    (shell.file_name("metachron"), bytes)
}

/// A page for the program, and one for each command.
fn manual_pages() -> anyhow::Result<Vec<(String, Vec<u8>)>> {
    let mut program = Cli::command();
    program.build();
    let mut pages = vec![page(program.clone(), "metachron")?];
    for command in program.get_subcommands() {
        if command.get_name() != "help" {
            let name = format!("metachron-{}", command.get_name());
            pages.push(page(command.clone(), &name)?);
        }
    }
    Ok(pages)
}

fn page(command: clap::Command, name: &str) -> anyhow::Result<(String, Vec<u8>)> {
    let mut bytes = Vec::new();
    clap_mangen::Man::new(command.name(name.to_owned())).render(&mut bytes)?;
    Ok((format!("{name}.1"), bytes))
}
