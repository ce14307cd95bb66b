//! `metachron survey`: what each column holds, what clashes, what is open.

use crate::cli::{SurveyArgs, Verbosity};
use crate::job::{Job, TableFacts};
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use crate::view::survey::Detail;
use metachron_core::engine::Settled;
use metachron_core::forecast::ColumnForecast;
use serde::Serialize;

/// Runs the command.
pub fn run(args: &SurveyArgs, verbosity: Verbosity) -> anyhow::Result<Outcome> {
    let mut job = Job::open(&args.table, &args.read, verbosity)?;
    let settled = job.settle()?;
    let mut out = Output::stdout();
    if args.json {
        let facts = Facts::new(&job, &settled);
        out.put(serde_json::to_string_pretty(&facts)?.as_bytes())?;
        out.put(b"\n")?;
    } else {
        let text = view::survey::survey(&job, &settled, detail(args), verbosity);
        view::print(&mut out, &text)?;
    }
    out.finish()?;
    Ok(if settled.waits() {
        Outcome::Waits
    } else {
        Outcome::Done
    })
}

fn detail(args: &SurveyArgs) -> Detail {
    if args.why { Detail::Why } else { Detail::Forms }
}

/// The facts of a survey, as `--json` prints them. See docs/json.md.
#[derive(Serialize)]
struct Facts<'f> {
    metachron: u32,
    table: TableFacts,
    columns: &'f [ColumnForecast],
    waits: bool,
}

impl<'f> Facts<'f> {
    fn new(job: &Job<'_>, settled: &'f Settled) -> Facts<'f> {
        let surveyed = &settled.surveyed;
        Facts {
            metachron: metachron_core::rulings::VERSION,
            table: TableFacts::new(job, &surveyed.rows_by_file, surveyed.ragged.clone()),
            columns: &settled.columns,
            waits: settled.waits(),
        }
    }
}
