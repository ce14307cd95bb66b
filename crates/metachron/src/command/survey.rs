//! `metachron survey`: what each column holds, what clashes, what is open.

use crate::cli::{SurveyArgs, Verbosity};
use crate::job::Job;
use crate::json;
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use crate::view::survey::Detail;

/// Runs the command.
pub fn run(args: &SurveyArgs, verbosity: Verbosity) -> anyhow::Result<Outcome> {
    let mut job = Job::open(&args.table, &args.read, verbosity)?;
    let settled = job.settle()?;
    let mut out = Output::stdout();
    if args.json {
        json::put(&mut out, &json::Survey::new(&job, &settled))?;
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
