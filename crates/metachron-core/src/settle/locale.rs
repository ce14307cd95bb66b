//! Whose names a column holds.

use super::Declared;
use super::unknown_words::NamePlaces;
use crate::calendar::Calendar;
use crate::evidence::{ColumnEvidence, Example, NameTally, ShapeEvidence, Span};
use crate::lex::{Lexer, Words};
use crate::locale::{
    Names, Tag, agree_about_part_of_day, language_with_most, languages_with, months_meant,
};
use crate::reading::Readings;
use crate::rulings::Locales;
use crate::stamp::Stamp;

/// The languages that have every name of a column.
///
/// English is not among them where there is no other name: it is what names
/// are read as unless a cell says otherwise.
pub fn fitting_locales(names: &NameTally) -> Vec<Tag> {
    if !names.needs_language() {
        return Vec::new();
    }
    let with_all = languages_with(&names.words_of_language());
    if !with_all.is_empty() || !names.has_foreign() {
        return with_all;
    }
    // Halves of the day are abbreviated in more ways than CLDR knows.
    languages_with(&names.words().collect::<Vec<String>>())
}

/// The first of the languages that have every name of a column, provided that
/// all of them mean the same by each name.
pub fn agreed_locale(names: &NameTally) -> Option<Tag> {
    let fitting = fitting_locales(names);
    let agree = names.differ == 0
        || names
            .foreign_words()
            .chain(names.parts_of_day())
            .all(|word| {
                meanings_among(word, &fitting) <= 1 && agree_about_part_of_day(word, &fitting)
            });
    fitting.into_iter().next().filter(|_| agree)
}

/// The locale of the names in cells that were not read, where they are at least half of
/// a column, and the patterns of their language, or its shorter names, read most of them.
pub fn locale_of_unread(evidence: &ColumnEvidence) -> Option<Tag> {
    let unread = evidence.filled() - evidence.readable();
    // Of names that languages do not agree about, English ones in other cells say nothing.
    if 2 * unread < evidence.filled() || unread == 0 || evidence.names.differ > 0 {
        return None;
    }
    let shapes = evidence.shapes.iter().flat_map(ShapeEvidence::texts);
    let others = evidence.others.worded.iter().map(|kept| kept.text.as_str());
    let texts: Vec<&str> = others.chain(shapes).take(MOST_EXAMPLES).collect();
    let mut names = NameTally::default();
    let mut lexer = Lexer::new(Names::Anywhere, Words::Keep);
    for text in &texts {
        if let Ok(cell) = lexer.lex(text) {
            names.add(&cell, 1);
        }
    }
    let places = NamePlaces::in_texts(&texts);
    let alike: Vec<&str> = texts
        .iter()
        .copied()
        .filter(|text| places.fit(text))
        .collect();
    if 2 * alike.len() < texts.len() || !names.has_foreign() {
        return None;
    }
    // Short names of some languages are known only where the language is.
    let mut with_unknown = names.clone();
    let unknown = places.unknown_words(alike.iter().copied());
    (unknown.iter()).for_each(|word| with_unknown.add_unknown(word));
    if !fitting_locales(&with_unknown).is_empty() {
        names = with_unknown;
    }
    let first = agreed_locale(&names)?;
    // No form reads what is cut off.
    if texts.iter().all(|text| Example::is_cut(text)) {
        return Some(first);
    }
    let read_by = |tag: &Tag| {
        let locale = Locales(vec![tag.clone()]);
        let mut lexer = Lexer::new(locale.names(Calendar::Gregory), Words::Keep);
        let forms = locale.forms(Calendar::Gregory);
        let is_read = |text: &&&str| {
            let cell = lexer.lex(text);
            cell.is_ok_and(|cell| !Readings::new(cell.shape(), &forms).is_empty())
        };
        alike.iter().filter(is_read).count()
    };
    let fitting = fitting_locales(&names).into_iter().take(MOST_LOCALES);
    // The first of those that read most.
    let fitting = fitting.map(|tag| (read_by(&tag), tag)).rev();
    let (read, tag) = fitting.max_by_key(|(read, _)| *read)?;
    // A language that knows one of two words that stand in one place is another:
    // `3:25 SN` is in the morning in Somali, but not where others say `3:25 LB`.
    (2 * read > alike.len()).then_some(tag)
}

/// Whose names a column holds that has unknown words where its other cells have names.
#[derive(Debug)]
pub enum NamesAlike {
    /// Those of this language, which has all or most of the words.
    Of(Tag),
    /// Those of no language that is known: what are names elsewhere are none here.
    Unknown,
}

/// What the unknown words say that stand where the names of other cells do. `Gun 29` is
/// in June in some language, but in September in Shona, whose short names count only
/// where the language is known: `Zvi 1` and `Kuk 5` say that it is.
pub fn names_alike(evidence: &ColumnEvidence) -> Option<NamesAlike> {
    let unread = evidence.others.count;
    let worded = evidence.others.worded.iter().map(|kept| kept.text.as_str());
    let read = evidence.shapes.iter().map(|shape| shape.readings.shape());
    let texts = evidence.shapes.iter().flat_map(ShapeEvidence::texts);
    let unknown = NamePlaces::in_shapes(read).unknown_words(worded.chain(texts));
    // `Di 5.3.2024` is a date behind an Italian word, and a Tuesday where others have `Mi`.
    let with_fillers = || {
        let mut names = evidence.names.clone();
        let words = unknown.names.iter().chain(&unknown.fillers);
        words.for_each(|word| names.add_unknown(word));
        agreed_locale(&names)
    };
    if let Some(tag) = (!unknown.fillers.is_empty()).then(with_fillers).flatten() {
        return Some(NamesAlike::Of(tag));
    }
    // One name, or a few cells, may be mistakes. Of the day there are two parts.
    let are_several = unknown.names.len() >= LEAST_UNKNOWN || !unknown.parts_of_day.is_empty();
    if !are_several || LEAST_UNREAD * unread < evidence.filled() {
        return None;
    }
    let mut names = evidence.names.clone();
    unknown.iter().for_each(|word| names.add_unknown(word));
    let fitting = fitting_locales(&names);
    let words: Vec<String> = names.words().collect();
    if !fitting.is_empty() {
        let agree = words.iter().all(|word| meanings_among(word, &fitting) <= 1);
        let first = fitting.into_iter().next().filter(|_| agree);
        return first.map(NamesAlike::Of);
    }
    // One that has most of them, and half of those that are known nowhere else.
    let most = language_with_most(&words);
    let most = most.filter(|(_, lacking)| 2 * lacking.len() <= unknown.iter().count());
    // English names among words that are known nowhere may be English all the same.
    let is_foreign = evidence.names.has_foreign() || evidence.names.parts_of_day().next().is_some();
    let is_unknown = is_foreign || 2 * unread >= evidence.filled();
    most.map(|(tag, _)| NamesAlike::Of(tag))
        .or(is_unknown.then_some(NamesAlike::Unknown))
}

/// So many unknown words are no mistake …
const LEAST_UNKNOWN: usize = 2;

/// … where one cell in so many has one.
const LEAST_UNREAD: u64 = 5;

/// At most so many languages that have all names are tried.
const MOST_LOCALES: usize = 8;

/// At most so many cells are looked at for the names in them.
const MOST_EXAMPLES: usize = 16;

/// How many months `word` names in `languages`.
fn meanings_among(word: &str, languages: &[Tag]) -> usize {
    let meant = months_meant(word).into_iter();
    meant
        .filter(|(_, tags)| tags.iter().any(|tag| languages.contains(tag)))
        .count()
}

/// The locale that is declared; else the first of those that fit; else, where
/// a column is in several languages, as few as have all its names.
pub(super) fn settle(evidence: &ColumnEvidence, declared: &Declared) -> Locales {
    let names = &evidence.names;
    if !declared.locale.is_empty() || !names.needs_language() {
        return declared.locale.clone();
    }
    if let Some(tag) = agreed_locale(names) {
        return Locales(vec![tag]);
    }
    if names.differ > 0 {
        return Locales::default();
    }
    let mut left: Vec<String> = names.words().collect();
    let mut chosen = Vec::new();
    while !left.is_empty() && chosen.len() < MOST {
        let Some((tag, rest)) = crate::locale::language_with_most(&left) else {
            break;
        };
        chosen.push(tag);
        left = rest;
    }
    if left.is_empty() {
        Locales(chosen)
    } else {
        // Names that no language has: every language stays in play.
        Locales::default()
    }
}

/// Years that are those of the Gregorian calendar in any table but one about
/// antiquity or the far future.
const GREGORIAN_YEARS: std::ops::RangeInclusive<i16> = 1600..=2300;

/// Whether the years of a column, read as Gregorian ones, can be nothing else:
/// a Thai register that writes 2024 does not count Buddhist years.
pub fn has_gregorian_years(evidence: &ColumnEvidence) -> bool {
    let mut whole = Span::default();
    for shape in &evidence.shapes {
        let candidates = shape.readings.candidates().iter().zip(&shape.spans);
        for (_, span) in candidates.filter(|(candidate, _)| candidate.usual) {
            whole.merge(span);
        }
    }
    let year = |stamp: Option<Stamp>| stamp?.year();
    match (year(whole.earliest), year(whole.latest)) {
        (Some(first), Some(last)) => {
            GREGORIAN_YEARS.contains(&first) && GREGORIAN_YEARS.contains(&last)
        }
        _ => false,
    }
}

/// The calendar, where the locale was recognised and uses another than its
/// years are of. A declared locale's calendar holds unless it is declared too.
pub(super) fn calendar(
    locale: &Locales,
    evidence: &ColumnEvidence,
    declared: &Declared,
) -> Option<Calendar> {
    let foreign = locale.calendar() != Calendar::Gregory && declared.locale.is_empty();
    (foreign && has_gregorian_years(evidence)).then_some(Calendar::Gregory)
}

/// A column in more languages than this is nobody's.
const MOST: usize = 6;
