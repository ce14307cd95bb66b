//! `metachron zones`: the time zones, each with its offset and next change.

use crate::cli::{At, ZonesArgs};
use crate::json;
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use metachron_core::zone::ZoneFacts;

/// Runs the command.
pub fn run(args: &ZonesArgs) -> anyhow::Result<Outcome> {
    let at = args.at.unwrap_or_else(At::now).0;
    let zones = match &args.text {
        Some(text) => ZoneFacts::find(text, at),
        None => ZoneFacts::all(at).collect(),
    };
    let mut out = Output::stdout();
    if args.json {
        let zones: Vec<json::Zone<'_>> = zones.iter().map(json::Zone::from).collect();
        json::put(&mut out, &zones)?;
    } else {
        view::print(&mut out, &view::zones::list(&zones, at))?;
    }
    out.finish()?;
    if zones.is_empty() {
        view::message::error(
            "no zone has such a name, country, abbreviation or offset; `metachron zones` lists all",
        );
    }
    Ok(Outcome::Done)
}
