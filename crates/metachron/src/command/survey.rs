//! `metachron survey`: what each column holds, what clashes, what is open.

use crate::cli::{SurveyArgs, Talk};
use crate::job::{Job, Ruled, Surveyed, TableFacts};
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use crate::view::survey::Detail;
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
        let text = view::survey::survey(&job, &surveyed, &ruled, detail(args), talk);
        view::print(&mut out, &text)?;
    }
    out.finish()?;
    Ok(match ruled.waits() {
        true => Outcome::Waits,
        false => Outcome::Done,
    })
}

fn detail(args: &SurveyArgs) -> Detail {
    match args.why {
        true => Detail::Why,
        false => Detail::Forms,
    }
}

/// The facts of a survey, as `--json` prints them. See docs/json.md.
#[derive(Serialize)]
struct Facts<'f> {
    metachron: u32,
    table: TableFacts,
    columns: &'f [ColumnOutlook],
    waits: bool,
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
