//! `metachron settle`: decide, write it down with its evidence, ask.

mod ask;

use crate::cli::{ReadArgs, SettleArgs, Verbosity};
use crate::input_file;
use crate::job::interrupted::finish_interrupted;
use crate::job::{Job, RowNames};
use crate::json;
use crate::outcome::{Outcome, usage};
use crate::output::{Allowed, Output, refuse_same};
use crate::view;
use crate::view::message::say;
use crate::view::question::{self, Style};
use crate::words::{count, counts, list, range};
use metachron_core::engine::Settled;
use metachron_core::forecast::ColumnForecast;
use metachron_core::rulings::{Baseline, Comments, Rulings, checksum_holds, with_checksum};
use std::path::{Path, PathBuf};

/// Runs the command.
pub fn run(args: &SettleArgs, verbosity: Verbosity) -> anyhow::Result<Outcome> {
    let written = args.output.iter().filter(|path| *path != Path::new("-"));
    for finished in finish_interrupted(written) {
        say(&finished);
    }
    if let Some(path) = &args.output {
        refuse_inputs(path, args)?;
        if !args.replace {
            refuse_edited(path)?;
        }
    }
    let read = read_args(args);
    let mut job = Job::open(&args.table, &read, verbosity)?;
    let settled = job.settle()?;
    let settled = if args.ask && ask::can_ask() {
        let answers = answers_file(args);
        ask::ask(&mut job, settled, &mut ask::AtTheTerminal, answers.as_ref())?
    } else {
        settled
    };
    let row_names = RowNames::of_table(&job, &settled.surveyed);
    let mut out = match &args.output {
        Some(path) if path != Path::new("-") => {
            // It shows cells of the table.
            let inputs = args.table.inputs.iter().map(PathBuf::as_path);
            Output::file(path, Allowed::by_files(inputs))?
        }
        _ => Output::stdout(),
    };
    if args.json {
        json::put(&mut out, &json::Settlement::from(&settled))?;
    } else {
        let comments = comments(&job, &settled, &row_names);
        out.put(with_checksum(&with_baseline(&settled).to_toml(&comments)).as_bytes())?;
    }
    out.finish()?;
    if verbosity != Verbosity::Quiet {
        report(args, &settled, &row_names);
    }
    Ok(if settled.waits() {
        Outcome::Waits
    } else {
        Outcome::Done
    })
}

/// How the source is read, by the answers that are there.
fn read_args(args: &SettleArgs) -> ReadArgs {
    let mut read = args.read.clone();
    if args.ask {
        // Not there yet, the file is made with the first answer.
        read.answers = answers_file(args).filter(|path| path.exists() || path == Path::new("-"));
    }
    read
}

/// Where answers are kept: as is said, else next to the rulings.
fn answers_file(args: &SettleArgs) -> Option<PathBuf> {
    let next_to_rulings = || Some(args.output.as_ref()?.with_extension("answers"));
    args.read.answers.clone().or_else(next_to_rulings)
}

fn refuse_inputs(path: &Path, args: &SettleArgs) -> anyhow::Result<()> {
    let inputs = args.table.inputs.iter().chain(&args.read.rulings);
    refuse_same(path, inputs.chain(&args.read.answers))
}

/// A rulings file that somebody edited is not written over.
fn refuse_edited(path: &Path) -> anyhow::Result<()> {
    match input_file::read(path) {
        Ok(text) if !text.trim().is_empty() && !checksum_holds(&text) => Err(usage(format!(
            "{} was edited since it was written, and is not written over; give --replace to \
             lose the edits, or another name with -o",
            path.display()
        ))),
        _ => Ok(()),
    }
}

/// The rulings with what their columns hold now, which later data are compared
/// with.
fn with_baseline(settled: &Settled) -> Rulings {
    let mut rulings = settled.rulings.clone();
    for column in &settled.columns {
        if let Some(ruling) = rulings.column.get_mut(&column.name) {
            ruling.baseline = Some(Baseline {
                cells: column.cells.all(),
                blank: column.cells.blank,
                waiting: column.cells.waiting(),
                earliest: column.earliest.clone(),
                latest: column.latest.clone(),
            });
        }
    }
    rulings
}

/// The evidence, as comments in the rulings file.
fn comments(job: &Job<'_>, settled: &Settled, row_names: &RowNames) -> Comments {
    let surveyed = &settled.surveyed;
    let names: Vec<&str> = job.table.sources().map(|source| source.name()).collect();
    let mut comments = Comments {
        head: vec![
            format!(
                "How the dates and times of {} are read: {}, {}.",
                list(&names, "and"),
                count(surveyed.evidence.rows, "row"),
                count(job.table.columns().len() as u64, "column")
            ),
            "Edit it as you like; columns that are not named here pass through as they came."
                .to_owned(),
        ],
        ..Comments::default()
    };
    comments
        .head
        .extend(view::survey::remarks(job, &surveyed.ragged));
    let style = Style::for_columns(&settled.columns);
    for column in &settled.columns {
        let mut lines = column_comments(column, row_names, style);
        let said = job
            .request
            .settings
            .iter()
            .filter(|setting| setting.column() == column.name);
        lines.extend(said.map(|setting| format!("declared: {setting}")));
        match column.kind {
            Some(_) => {
                comments.columns.insert(column.name.clone(), lines);
            }
            None => {
                let named = lines.iter().map(|line| {
                    if line.starts_with('?') {
                        line.clone()
                    } else {
                        format!("{}: {line}", column.name)
                    }
                });
                comments.foot.extend(named);
            }
        }
    }
    comments
}

fn column_comments(column: &ColumnForecast, row_names: &RowNames, style: Style) -> Vec<String> {
    let cells = &column.cells;
    let mut lines = Vec::new();
    if column.kind.is_some() {
        lines.push(counts(cells));
    }
    for form in &column.forms {
        lines.push(format!(
            "{}: {}; {}",
            view::basis::patterns(form),
            view::basis::cells(form, row_names),
            view::basis::sentence(form, &column.justifications, row_names)
        ));
    }
    lines.extend(view::basis::rules(&column.justifications));
    if let Some(years) = &column.two_digit_years
        && let (Some(first), Some(last)) = (years.first, years.last)
    {
        lines.push(format!(
            "{}, read as {}",
            count(years.cells, "two-digit year"),
            range(first, last)
        ));
    }
    lines.extend(column.remarks.iter().cloned());
    for asked in &column.questions {
        lines.push(format!(
            "? {}",
            question::sentence(&column.name, asked, row_names)
        ));
        for (answer, consequence) in question::answers(asked, style) {
            lines.push(format!("?   {answer}  {consequence}"));
        }
    }
    lines
}

fn report(args: &SettleArgs, settled: &Settled, row_names: &RowNames) {
    if let Some(path) = &args.output {
        let columns = settled.rulings.column.len() as u64;
        say(&format!(
            "{}: rulings on {}",
            path.display(),
            count(columns, "column")
        ));
    }
    let questions = view::survey::questions(&settled.columns, row_names, view::width());
    if !questions.is_empty() {
        say(questions.trim_matches('\n'));
    }
}
