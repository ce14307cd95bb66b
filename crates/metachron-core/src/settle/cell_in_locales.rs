//! What one cell is, in each of the languages that it may be written in.

use super::fitting_locales;
use crate::calendar::Calendar;
use crate::evidence::NameTally;
use crate::form::{Conventions, Form};
use crate::lex::{Lexer, Words};
use crate::locale::{Names, Tag, widespread};
use crate::reading::Readings;
use crate::rulings::Locales;
use crate::stamp::Stamp;
use std::ops::RangeInclusive;

/// What a cell is in some locales, which it does not tell apart.
#[derive(Clone, Debug, PartialEq)]
pub struct InLocales {
    /// The value.
    pub stamp: Stamp,
    /// How it is written.
    pub form: Form,
    /// The languages in which it is that.
    pub locales: Vec<Tag>,
}

/// What the cell `text` is in the languages that have all of its names; a cell without
/// names, in the languages that registers are often kept in. Days and months in
/// numbers are read in the order that is usual there.
///
/// ```
/// use metachron_core::settle::cell_in_locales;
///
/// let read = cell_in_locales("31. siječnja 2014.");
/// assert_eq!(read[0].stamp.to_string(), "2014-01-31");
/// assert_eq!(read[0].locales[0].to_string(), "hr");
/// // October in Croatia, November in Poland.
/// assert_eq!(cell_in_locales("5. listopad 2024").len(), 2);
/// assert!(cell_in_locales("crate 17").is_empty());
/// ```
pub fn cell_in_locales(text: &str) -> Vec<InLocales> {
    let mut found: Vec<InLocales> = Vec::new();
    for tag in languages_of(text) {
        for (form, stamp) in read_in(text, &tag) {
            let is_it = |known: &&mut InLocales| {
                known.stamp == stamp && known.form.of_any_width() == form.of_any_width()
            };
            match found.iter_mut().find(is_it) {
                Some(known) => known.locales.push(tag.clone()),
                None => found.push(InLocales {
                    stamp,
                    form,
                    locales: vec![tag.clone()],
                }),
            }
        }
    }
    found
}

/// The languages that `text` may be in, those of its names.
fn languages_of(text: &str) -> Vec<Tag> {
    let mut names = NameTally::default();
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    if let Ok(cell) = lexer.lex(text) {
        names.add(&cell, 1);
    }
    match fitting_locales(&names) {
        fitting if fitting.is_empty() => widespread().collect(),
        fitting => fitting,
    }
}

/// Years of a calendar that come out elsewhere are written in the Gregorian one.
const OUR_TIME: RangeInclusive<i16> = 1500..=2500;

/// What `text` is in one language: each usual form that reads it, and its value.
fn read_in(text: &str, tag: &Tag) -> Vec<(Form, Stamp)> {
    let locale = Locales(vec![tag.clone()]);
    let calendar = locale.calendar();
    let mut lexer = Lexer::new(locale.names(calendar), Words::Refuse);
    let Ok(cell) = lexer.lex(text) else {
        return Vec::new();
    };
    let readings = Readings::new(cell.shape(), &[]).with(&locale.forms(calendar));
    let read = |calendar: Calendar| {
        let conventions = Conventions {
            calendar,
            ..Conventions::default()
        };
        let (_, stamps) = readings.of(&cell, conventions);
        let usual = readings.candidates().iter().zip(stamps);
        let usual = usual.filter(|(own, _)| own.usual && own.form.bare_count().is_none());
        let read = usual.filter_map(|(own, stamp)| Some((own.form.clone(), stamp.ok()?)));
        read.collect::<Vec<(Form, Stamp)>>()
    };
    let is_of_our_time = |(_, stamp): &(Form, Stamp)| {
        let year = stamp.year();
        year.is_none_or(|year| OUR_TIME.contains(&year))
    };
    let mut read = match read(calendar) {
        own if own.iter().all(is_of_our_time) => own,
        _ => read(Calendar::Gregory),
    };
    // Of several orders, the one that is usual there.
    let order = locale.order().filter(|_| read.len() > 1);
    if let Some(order) = order
        && read.iter().any(|(form, _)| form.order() == Some(order))
    {
        read.retain(|(form, _)| form.order() == Some(order) || form.has_month_name());
    }
    read
}
