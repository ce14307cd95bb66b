//! Every input by itself, into a folder: a run over many tables.

use super::convert;
use crate::cli::{ConvertArgs, Verbosity};
use crate::job::rulings_folder;
use crate::json;
use crate::outcome::{Outcome, usage};
use crate::output::{Allowed, Output};
use crate::view::message::{error, say};
use crate::words::count;
use anyhow::Context;
use metachron_table::{OutFormat, SourceFormat, Table, columns_difference};
use serde_json::value::{RawValue, to_raw_value};
use std::path::{Path, PathBuf};

/// What became of all inputs.
#[derive(Default)]
struct Tally {
    done: u64,
    waiting: u64,
    failed: u64,
    files: Vec<json::ConvertedFile>,
    /// The first input that was converted, and how it was read.
    first: Option<(PathBuf, Layout)>,
}

/// How a table was read.
#[derive(Clone, Debug, PartialEq, Eq)]
struct Layout {
    columns: Vec<String>,
    written: String,
}

impl Layout {
    fn of(table: &Table) -> Layout {
        let written = match table.format() {
            SourceFormat::Text => {
                let delimiter = table.dialect().delimiter_name();
                format!("{} with {delimiter} between cells", table.encoding().name())
            }
            other => other.name().to_owned(),
        };
        Layout {
            columns: table.columns().to_vec(),
            written,
        }
    }

    /// What is otherwise than in the first, in words.
    fn difference(&self, first: &Layout) -> Option<String> {
        if self.columns != first.columns {
            return Some(columns_difference(&first.columns, &self.columns));
        }
        let is_same = self.written == first.written;
        (!is_same).then(|| format!("it is {}, not {}", self.written, first.written))
    }
}

/// Converts each input into `folder`. One that fails does not stop the others.
pub fn run(args: &ConvertArgs, folder: &Path, verbosity: Verbosity) -> anyhow::Result<Outcome> {
    for (option, is_given) in [
        ("--review", args.review.is_some()),
        ("--resolved", args.resolved.is_some()),
    ] {
        if is_given {
            return Err(usage(format!(
                "{option} is for one table; in a folder, each has a review list of its own, next \
                 to it"
            )));
        }
    }
    let outputs = outputs(args, folder)?;
    std::fs::create_dir_all(folder)
        .with_context(|| format!("cannot make the folder {}", folder.display()))?;
    let mut tally = Tally::default();
    for (input, output) in args.table.inputs.iter().zip(&outputs) {
        let converted = one(args, input, output, verbosity);
        let mut file = json::ConvertedFile {
            input: input.display().to_string(),
            error: None,
            counts: None,
        };
        match converted {
            Ok((outcome, layout, counts)) => {
                file.counts = Some(counts);
                tally.compare(input, layout, verbosity);
                match outcome {
                    Outcome::Done => tally.done += 1,
                    Outcome::Waits => tally.waiting += 1,
                }
            }
            Err(why) => {
                error(&format!("{why:#}"));
                file.error = Some(format!("{why:#}"));
                tally.failed += 1;
            }
        }
        tally.files.push(file);
    }
    tally.tell(args, folder, verbosity)
}

/// Converts one input.
fn one(
    args: &ConvertArgs,
    input: &Path,
    output: &Path,
    verbosity: Verbosity,
) -> anyhow::Result<(Outcome, Layout, Box<RawValue>)> {
    let mut args = args.clone();
    args.table.inputs = vec![input.to_owned()];
    args.output = Some(output.to_owned());
    args.summary = None;
    if let Some(folder) = args.read.rulings.clone().filter(|path| path.is_dir()) {
        args.read.rulings = Some(rulings_folder::choose(&folder, input, &args.table)?);
    }
    let mut told = None;
    let outcome = convert(&args, verbosity, |table, counts| {
        told = Some((Layout::of(table), to_raw_value(counts)?));
        Ok(())
    })?;
    let (layout, counts) = told.context("a conversion tells what it did")?;
    Ok((outcome, layout, counts))
}

/// Where each input goes, no two to one place.
fn outputs(args: &ConvertArgs, folder: &Path) -> anyhow::Result<Vec<PathBuf>> {
    let mut outputs: Vec<PathBuf> = Vec::new();
    for (index, input) in args.table.inputs.iter().enumerate() {
        let name = name_of(input, args.to.map(|to| to.0))?;
        let output = folder.join(name);
        if let Some(first) = outputs.iter().position(|known| *known == output) {
            return Err(usage(format!(
                "{} and {} would both be written to {}; convert them into two folders",
                args.table.inputs[first].display(),
                args.table.inputs[index].display(),
                output.display()
            )));
        }
        outputs.push(output);
    }
    Ok(outputs)
}

/// The name of what an input becomes: its own, with another extension where another format
/// is asked for, or where its own is none that is written.
fn name_of(input: &Path, format: Option<OutFormat>) -> anyhow::Result<PathBuf> {
    let name = input.file_name().filter(|_| input != Path::new("-"));
    let Some(name) = name.map(PathBuf::from) else {
        return Err(usage(
            "standard input has no name for a file in a folder; name a file with -o",
        ));
    };
    let extension = |path: &Path| {
        let end = path.extension()?;
        Some(end.to_string_lossy().to_lowercase())
    };
    let packed = ["gz", "zst", "bz2"];
    let is_packed = extension(&name).is_some_and(|end| packed.contains(&end.as_str()));
    let name = if is_packed {
        name.with_extension("")
    } else {
        name
    };
    let own = extension(&name).and_then(|end| OutFormat::by_extension(&end));
    Ok(match (format, own) {
        (Some(format), own) if own != Some(format) => name.with_extension(format.names()[0]),
        (None, None) => name.with_extension(OutFormat::Csv.names()[0]),
        _ => name,
    })
}

impl Tally {
    /// Says what of an input is otherwise than of the first: rulings for one may be none for
    /// the other.
    fn compare(&mut self, input: &Path, layout: Layout, verbosity: Verbosity) {
        let Some((first, known)) = &self.first else {
            self.first = Some((input.to_owned(), layout));
            return;
        };
        if let Some(difference) = layout.difference(known)
            && verbosity != Verbosity::Quiet
        {
            say(&format!("  other than {}: {difference}", first.display()));
        }
    }

    /// Says what became of the run.
    fn tell(
        self,
        args: &ConvertArgs,
        folder: &Path,
        verbosity: Verbosity,
    ) -> anyhow::Result<Outcome> {
        let all = count(args.table.inputs.len() as u64, "file");
        if verbosity != Verbosity::Quiet {
            let wait = if self.waiting == 1 { "waits" } else { "wait" };
            say(&format!(
                "{all} into {}: {} done, {} {wait} for a person, {} failed",
                folder.display(),
                self.done,
                self.waiting,
                self.failed
            ));
        }
        let failed = self.failed;
        let waits = self.waiting > 0;
        let run = json::Conversions {
            metachron: metachron_core::rulings::VERSION,
            files: self.files,
        };
        if let Some(path) = &args.summary {
            let inputs = args.table.inputs.iter().map(PathBuf::as_path);
            let allowed = Allowed::by_files(inputs).of_lists(None);
            let mut summary = Output::file(path, allowed)?;
            json::put(&mut summary, &run)?;
            summary.finish()?;
        }
        if args.json {
            let mut out = Output::stdout();
            json::put(&mut out, &run)?;
            out.finish()?;
        }
        if failed > 0 {
            anyhow::bail!("{failed} of {all} could not be converted");
        }
        Ok(if waits { Outcome::Waits } else { Outcome::Done })
    }
}
