//! `metachron locales`: the locales, each with how it writes a date.

use crate::cli::LocalesArgs;
use crate::json;
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use crate::view::locales::LocaleFacts;
use metachron_core::locale::{Tag, languages_with, locales};

/// Runs the command.
pub fn run(args: &LocalesArgs) -> anyhow::Result<Outcome> {
    let listed = listed(args.text.as_deref());
    let mut out = Output::stdout();
    if args.json {
        json::put(&mut out, &listed)?;
    } else {
        view::print(&mut out, &view::locales::list(&listed))?;
    }
    out.finish()?;
    if listed.is_empty() {
        view::message::error("no locale has such a tag, writes so or has such names");
    }
    Ok(Outcome::Done)
}

/// The locales that `text` asks for.
fn listed(text: Option<&str>) -> Vec<LocaleFacts> {
    let text = text.map(str::to_lowercase);
    let words: Vec<String> = text
        .iter()
        .flat_map(|text| text.split_whitespace())
        .map(str::to_owned)
        .collect();
    // Two letters are a weekday in some language or other.
    let are_names = !words.is_empty() && words.iter().all(|word| word.chars().count() > 2);
    let named: Vec<String> = if are_names {
        languages_with(&words).iter().map(Tag::to_string).collect()
    } else {
        Vec::new()
    };
    locales()
        .filter_map(|name| {
            let tag: Tag = name.parse().ok()?;
            let [short, full] = tag.samples();
            let fits = text.as_ref().is_none_or(|text| {
                name.to_lowercase().starts_with(text)
                    || full.to_lowercase().contains(text)
                    || short.to_lowercase().contains(text)
                    || named.iter().any(|named| named == name)
            });
            fits.then(|| LocaleFacts {
                tag: name.to_owned(),
                calendar: tag.calendar(),
                short,
                full,
            })
        })
        .collect()
}
