//! `metachron explain`: every reading of a value, and what would settle it.

use crate::cli::{At, ExplainArgs};
use crate::job::explain::{Explained, Standing, explain};
use crate::json;
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use metachron_core::form::Form;
use metachron_core::rulings::{FormRuling, Locales, ReadRuling};
use metachron_core::settle::default_window;
use std::io::BufRead;

/// Runs the command.
pub fn run(args: &ExplainArgs) -> anyhow::Result<Outcome> {
    let today = args.now.unwrap_or_else(At::now).day();
    let century = args.century.unwrap_or_else(|| default_window(today));
    let declared = ReadRuling {
        forms: args
            .read_form
            .iter()
            .cloned()
            .chain(args.read_count.iter().copied().map(Form::of_count))
            .map(FormRuling::Settled)
            .collect(),
        locale: Locales(args.read_locale.clone()),
        calendar: args.read_calendar,
        century: args.century,
        ..ReadRuling::default()
    };
    let values = values(&args.values)?;
    let explained: Vec<Explained> = values
        .iter()
        .map(|value| explain(value, &declared, century))
        .collect();
    let mut out = Output::stdout();
    if args.json {
        json::put(&mut out, &explained)?;
    } else {
        let texts: Vec<String> = explained.iter().map(view::explain::explained).collect();
        view::print(&mut out, &texts.join("\n"))?;
    }
    out.finish()?;
    let waits = |one: &Explained| matches!(one.standing, Standing::Open | Standing::Unreadable);
    Ok(if explained.iter().any(waits) {
        Outcome::Waits
    } else {
        Outcome::Done
    })
}

fn values(given: &[String]) -> anyhow::Result<Vec<String>> {
    let mut values = Vec::new();
    for value in given {
        match value.as_str() {
            "-" => {
                for line in std::io::stdin().lock().lines() {
                    values.push(line?);
                }
            }
            _ => values.push(value.clone()),
        }
    }
    Ok(values)
}
