//! `metachron survey`: what each column holds, what clashes, what is open.

use crate::cli::{SurveyArgs, Talk};
use crate::job::{Job, Ruled, Surveyed};
use crate::output::Output;
use crate::run::Outcome;
use crate::view;
use crate::view::place::Places;
use metachron_core::outlook::ColumnOutlook;
use serde::Serialize;

/// Runs the command.
pub fn run(args: &SurveyArgs, talk: Talk) -> anyhow::Result<Outcome> {
    let mut job = Job::open(&args.table, &args.read, talk)?;
    let surveyed = job.survey()?;
    let ruled = job.rule(&surveyed)?;
    let mut out = Output::stdout();
    if args.json {
        let facts = Facts::new(&job, &surveyed, &ruled);
        out.put(serde_json::to_string_pretty(&facts)?.as_bytes())?;
        out.put(b"\n")?;
    } else {
        let text = view::survey::survey(&job, &surveyed, &ruled, talk);
        view::print(&mut out, &text)?;
    }
    out.finish()?;
    Ok(match ruled.waits() {
        true => Outcome::Waits,
        false => Outcome::Done,
    })
}

/// The facts of a survey, as `--json` prints them. See docs/json.md.
#[derive(Serialize)]
pub struct Facts<'f> {
    metachron: u32,
    table: TableFacts,
    columns: &'f [ColumnOutlook],
    waits: bool,
}

/// How the table was read.
#[derive(Serialize)]
pub struct TableFacts {
    files: Vec<FileFacts>,
    rows: u64,
    encoding: &'static str,
    delimiter: String,
    header_line: Option<u64>,
    notes: Vec<String>,
    remarks: Vec<String>,
    ragged: crate::job::Ragged,
}

#[derive(Serialize)]
struct FileFacts {
    file: String,
    rows: u64,
}

impl<'f> Facts<'f> {
    fn new(job: &Job<'_>, surveyed: &Surveyed, ruled: &'f Ruled) -> Facts<'f> {
        Facts {
            metachron: metachron_core::rulings::VERSION,
            table: TableFacts::new(job, &surveyed.rows_by_file, surveyed.ragged.clone()),
            columns: &ruled.columns,
            waits: ruled.waits(),
        }
    }
}

impl TableFacts {
    /// The facts of the job's table, of which each file has so many rows.
    pub fn new(job: &Job<'_>, rows_by_file: &[u64], ragged: crate::job::Ragged) -> TableFacts {
        let header = job.table.header();
        let files = job.table.sources().zip(rows_by_file);
        TableFacts {
            files: files
                .map(|(source, &rows)| FileFacts {
                    file: source.name().to_owned(),
                    rows,
                })
                .collect(),
            rows: rows_by_file.iter().sum(),
            encoding: job.table.encoding().name(),
            delimiter: char::from(job.table.dialect().delimiter).to_string(),
            header_line: header.line,
            notes: header.notes.clone(),
            remarks: header.remarks.clone(),
            ragged,
        }
    }
}

/// Where the rows of the job's files begin.
pub fn places(job: &Job<'_>, surveyed: &Surveyed) -> Places {
    let names = job.table.sources().map(|source| source.name());
    Places::new(names.zip(surveyed.rows_by_file.iter().copied()))
}
