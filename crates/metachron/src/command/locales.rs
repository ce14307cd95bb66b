//! `metachron locales`: the locales, each with how it writes a date; one with all of
//! its patterns; or what a cell is in them.

use crate::cli::LocalesArgs;
use crate::json;
use crate::outcome::Outcome;
use crate::output::Output;
use crate::view;
use crate::view::locales::{CellFacts, LocaleFacts};
use metachron_core::locale::{Tag, languages_with, locales};
use metachron_core::rulings::Locales;
use metachron_core::settle::cell_in_locales;

/// Runs the command.
pub fn run(args: &LocalesArgs) -> anyhow::Result<Outcome> {
    let mut out = Output::stdout();
    let text = args.text.as_deref().unwrap_or_default();
    let read = if is_a_tag(text) || !text.contains(char::is_numeric) {
        Vec::new()
    } else {
        read(text)
    };
    let is_cell = !read.is_empty();
    let listed = if is_cell {
        Vec::new()
    } else {
        listed(args.text.as_deref())
    };
    match (is_cell, args.json) {
        (true, true) => json::put(&mut out, &read)?,
        (true, false) => view::print(&mut out, &view::locales::cell(&read))?,
        (false, true) => json::put(&mut out, &listed)?,
        (false, false) => view::print(&mut out, &view::locales::list(&listed))?,
    }
    out.finish()?;
    if !is_cell && listed.is_empty() {
        view::message::error("no locale has such a tag, writes so or has such names");
    }
    Ok(Outcome::Done)
}

/// Whether the tag of a locale starts with `text`: `es-419` has digits.
fn is_a_tag(text: &str) -> bool {
    let text = text.to_lowercase();
    locales().any(|name| name.to_lowercase().starts_with(&text))
}

/// The locales that `text` asks for; all patterns of the one whose tag it is.
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
            let own = name.to_lowercase();
            let fits = text.as_ref().is_none_or(|text| {
                own.starts_with(text)
                    || full.to_lowercase().contains(text)
                    || short.to_lowercase().contains(text)
                    || named.iter().any(|named| named == name)
            });
            let patterns = match &text {
                Some(text) if *text == own => {
                    let forms = Locales(vec![tag.clone()]).forms(tag.calendar());
                    forms.iter().map(ToString::to_string).collect()
                }
                _ => Vec::new(),
            };
            fits.then(|| LocaleFacts {
                tag: name.to_owned(),
                calendar: tag.calendar(),
                short,
                full,
                patterns,
            })
        })
        .collect()
}

/// What the cell `text` is, by locale.
fn read(text: &str) -> Vec<CellFacts> {
    let read = cell_in_locales(text).into_iter();
    read.map(|read| CellFacts {
        stamp: read.stamp.to_string(),
        form: read.form.to_string(),
        locales: read.locales.iter().map(Tag::to_string).collect(),
    })
    .collect()
}
