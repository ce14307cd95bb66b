//! Everything that can be said of one value.

use crate::words;
use metachron_core::calendar::{Calendar, suggested_by};
use metachron_core::forecast::in_words;
use metachron_core::form::{Century, Conventions, DayMonth, Field, Form, Order};
use metachron_core::lex::{Class, Lexed, Lexer, Words};
use metachron_core::reading::{Candidate, Readings, leftover};
use metachron_core::rulings::{Blanks, ReadRuling};
use metachron_core::settle::cell_in_locales;
use metachron_core::stamp::Kind;
use serde::Serialize;

/// Everything that can be said of one value. See docs/json.md.
#[derive(Debug, Serialize)]
pub struct Explained {
    /// The value.
    pub value: String,
    /// What it is cut into.
    pub tokens: Vec<TokenFacts>,
    /// What it says of itself.
    pub standing: Standing,
    /// The readings that are possible, the usual ones first.
    pub readings: Vec<ReadingFacts>,
    /// The readings that are not, and why.
    pub rejected: Vec<RejectedFacts>,
    /// What is left over besides the date that it holds.
    pub leftover: Option<String>,
    /// Calendars that its year would be one of our time in, if it is not
    /// meant as it stands.
    pub calendars: &'static [Calendar],
    /// Whether its year is far from our time, and of no other calendar's either.
    pub year_is_far: bool,
    /// What would settle it, in sentences.
    pub settled_by: Vec<String>,
}

/// How a value stands by itself.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Standing {
    /// One usual reading.
    Certain,
    /// Several, or a two-digit year.
    Open,
    /// None.
    Unreadable,
    /// It stands for an empty cell.
    Blank,
}

/// A token.
#[derive(Debug, Serialize)]
pub struct TokenFacts {
    /// Its text.
    pub text: String,
    /// What it is.
    pub what: String,
}

/// A possible reading.
#[derive(Debug, Serialize)]
pub struct ReadingFacts {
    /// The pattern.
    pub form: String,
    /// The order of day, month and year.
    pub order: Option<Order>,
    /// The kind of the stamp.
    pub kind: Kind,
    /// The stamp.
    pub stamp: String,
    /// The stamp with its month in words.
    pub in_words: String,
    /// Whether anybody is known to write this way.
    pub usual: bool,
    /// Whether the year has two digits, placed in a window.
    pub two_digit_year: bool,
    /// Whether it reads a number as a count.
    pub count: bool,
}

/// A reading that is not possible.
#[derive(Debug, Serialize)]
pub struct RejectedFacts {
    /// The pattern.
    pub form: String,
    /// Why not.
    pub reason: String,
}

/// Explains `value`: by the forms its look suggests and by those that are
/// `declared`, with two-digit years in the window that is declared, else from
/// `window` on.
pub fn explain(value: &str, declared: &ReadRuling, window: i16) -> Explained {
    let mut explained = Explained {
        value: value.to_owned(),
        tokens: Vec::new(),
        standing: Standing::Unreadable,
        readings: Vec::new(),
        rejected: Vec::new(),
        settled_by: Vec::new(),
        leftover: None,
        calendars: &[],
        year_is_far: false,
    };
    if Blanks::default().find(value).is_some() {
        explained.standing = Standing::Blank;
        return explained;
    }
    let mut lexer = Lexer::new(declared.names(), Words::Keep);
    let Ok(cell) = lexer.lex(value) else {
        return explained;
    };
    explained.tokens = tokens(&cell);
    let conventions = Conventions {
        century: Century::Window(declared.century.unwrap_or(window)),
        ..declared.conventions()
    };
    let locale_forms = declared.locale.forms(conventions.calendar);
    let readings = Readings::new(cell.shape(), &declared.all_forms()).with(&locale_forms);
    let own_order = declared.locale.order();
    let mut awaits_rule = false;
    let declared_count = declared
        .all_forms()
        .iter()
        .any(|form| form.bare_count().is_some());
    // One cell alone does not say what an import has done to its column.
    let is_plain = |candidate: &&Candidate| {
        candidate.usual || candidate.form.day_month() == DayMonth::AsWritten
    };
    let mut far = Vec::new();
    for candidate in readings.candidates().iter().filter(is_plain) {
        match candidate.reader.read(&cell, conventions) {
            Ok(stamp) => {
                // `2024065` is no day of 4065.
                let is_far = candidate.is_far_from_us(stamp);
                explained.year_is_far |= is_far && candidate.usual;
                let is_far = is_far && candidate.form.is_bare();
                let is_of_locale = candidate
                    .order()
                    .is_none_or(|order| own_order.is_none_or(|own| own == order));
                let facts = ReadingFacts {
                    form: candidate.form.to_string(),
                    order: candidate.order(),
                    kind: stamp.kind(),
                    stamp: stamp.to_string(),
                    in_words: in_words(stamp),
                    usual: candidate.usual && !is_far && is_of_locale,
                    two_digit_year: candidate.form.has_two_digit_year(),
                    count: candidate.form.bare_count().is_some() && !declared_count,
                };
                if is_far {
                    far.push(facts);
                } else {
                    explained.readings.push(facts);
                }
            }
            Err(reason) => {
                awaits_rule |= reason.awaits_rule() && candidate.usual;
                explained.rejected.push(RejectedFacts {
                    form: candidate.form.to_string(),
                    reason: reason.to_string(),
                });
            }
        }
    }
    explained.readings.sort_by_key(|reading| !reading.usual);
    awaits_rule |= !far.is_empty() && !explained.readings.iter().any(|reading| reading.usual);
    explained.readings.extend(far);
    explained.leftover = leftover(&cell)
        .filter(|_| readings.is_empty())
        .map(str::to_owned);
    // A number by itself is a number.
    let is_count = |candidate: &Candidate| candidate.form.bare_count().is_some();
    let counted = readings.candidates().iter().any(is_count) && !declared_count;
    awaits_rule |= counted;
    if declared.calendar.is_none() && declared.locale.is_empty() {
        explained.calendars = other_calendars(&readings, &cell, conventions);
    } else {
        explained.year_is_far = false;
    }
    // A form that is declared reads the years that it reads.
    let is_said = counted || !declared.forms.is_empty();
    explained.year_is_far &= explained.calendars.is_empty() && !is_said;
    // Of the years around 1400 there are old registers too.
    awaits_rule |= explained.calendars.len() == 1 || explained.year_is_far;
    explained.standing = match standing(&explained, declared.century) {
        Standing::Unreadable | Standing::Certain if awaits_rule => Standing::Open,
        standing => standing,
    };
    if counted {
        explained.settled_by.push(
            "its column, if its name speaks of dates, or if it holds written dates of the same \
             years"
                .to_owned(),
        );
        explained
            .settled_by
            .push("saying so: --read-count 'UNIT since ORIGIN'".to_owned());
    }
    if explained.year_is_far {
        explained
            .settled_by
            .push("if the year is meant, saying so: --read-calendar gregory".to_owned());
    }
    let calendars = explained.calendars.iter().map(|calendar| {
        format!(
            "if the year is of another calendar, saying so: --read-calendar {}",
            calendar.name()
        )
    });
    explained.settled_by.extend(calendars);
    if explained.standing == Standing::Unreadable && declared.locale.is_empty() {
        explained.settled_by.extend(languages_that_read(value));
    }
    let ways = settled_by(&explained, readings.candidates(), declared.century, window);
    explained.settled_by.extend(ways);
    explained
}

/// The languages whose patterns read what is read in no language, one for each reading.
fn languages_that_read(value: &str) -> Vec<String> {
    let read = cell_in_locales(value).into_iter().take(MOST_LANGUAGES);
    read.map(|read| {
        let (stamp, tag) = (read.stamp, &read.locales[0]);
        format!("its language: --read-locale {tag} reads it as {stamp}")
    })
    .collect()
}

/// At most so many languages are named.
const MOST_LANGUAGES: usize = 3;

/// The calendars that the year of `cell` would be one of our time in.
fn other_calendars(
    readings: &Readings,
    cell: &Lexed<'_>,
    conventions: Conventions,
) -> &'static [Calendar] {
    let has_era = |form: &Form| form.fields().any(|field| matches!(field, Field::Era(_)));
    let usual = readings
        .candidates()
        .iter()
        .filter(|candidate| candidate.usual && !has_era(&candidate.form));
    let mut dates =
        usual.filter_map(|candidate| candidate.reader.read(cell, conventions).ok()?.date());
    dates
        .next()
        .map_or(&[], |date| suggested_by(date.year()..=date.year()))
}

/// The stamps of the usual readings, each once; of all, where none is usual.
fn different(explained: &Explained) -> Vec<&str> {
    let any_usual = explained.readings.iter().any(|reading| reading.usual);
    let counted = explained
        .readings
        .iter()
        .filter(|reading| reading.usual || !any_usual);
    let mut stamps: Vec<&str> = counted.map(|reading| reading.stamp.as_str()).collect();
    stamps.sort_unstable();
    stamps.dedup();
    stamps
}

fn standing(explained: &Explained, declared: Option<i16>) -> Standing {
    let short = explained
        .readings
        .iter()
        .any(|reading| reading.two_digit_year);
    // Clock-like cells are lengths of time only where their column says so.
    let only_lengths = explained
        .readings
        .iter()
        .all(|reading| reading.kind == Kind::Duration && !reading.usual);
    match different(explained).len() {
        0 => Standing::Unreadable,
        _ if only_lengths => Standing::Open,
        1 if !short || declared.is_some() => Standing::Certain,
        _ => Standing::Open,
    }
}

fn settled_by(
    explained: &Explained,
    candidates: &[Candidate],
    declared: Option<i16>,
    window: i16,
) -> Vec<String> {
    let mut ways = Vec::new();
    let any_usual = explained.readings.iter().any(|reading| reading.usual);
    let usual: Vec<&ReadingFacts> = explained
        .readings
        .iter()
        .filter(|reading| reading.usual || !any_usual)
        .collect();
    if different(explained).len() > 1 {
        let mut orders: Vec<String> = usual
            .iter()
            .filter_map(|reading| Some(format!("--read-order {}", reading.order?)))
            .collect();
        orders.dedup();
        // An order chooses among usual forms alone.
        if any_usual && orders.len() > 1 {
            ways.push(
                "another cell of the same form that only one order can read, such as one with a \
                 day over 12"
                    .to_owned(),
            );
        } else {
            let forms = usual.iter().map(|reading| &reading.form);
            orders = forms
                .map(|form| format!("--read-form \"{form}\""))
                .collect();
        }
        ways.push(format!("saying so: {}", words::list(&orders, "or")));
    }
    let short = usual.iter().any(|reading| reading.two_digit_year);
    if short && declared.is_none() {
        ways.push(format!(
            "for the century: the other two-digit years of its column, if they keep clear of \
             the edge of {window}–{}, or --century",
            window + 99
        ));
    }
    if explained.leftover.is_some() {
        ways.push(
            "if what is left over says nothing, a pattern that names it: --read-form PATTERN"
                .to_owned(),
        );
    } else if explained.readings.is_empty() && candidates.is_empty() {
        ways.push("a pattern, if you know how it is written: --read-form PATTERN".to_owned());
    }
    ways
}

fn tokens(cell: &Lexed<'_>) -> Vec<TokenFacts> {
    let tokens = cell.tokens().iter().enumerate();
    tokens
        .map(|(index, token)| TokenFacts {
            text: cell.token_text(index).to_owned(),
            what: match token.class {
                Class::Short => "number".to_owned(),
                Class::Digits(count) => format!("{count} digits"),
                Class::Fraction => "decimals of a second".to_owned(),
                Class::Name(roles) => roles.to_string(),
                Class::Filler(_) => "word within dates".to_owned(),
                Class::H => "hour sign".to_owned(),
                Class::W => "week sign".to_owned(),
                Class::Q => "quarter sign".to_owned(),
                Class::ZoneId => "time zone".to_owned(),
                Class::Period => "duration of ISO 8601".to_owned(),
                Class::T => "date–time sign of ISO 8601".to_owned(),
                Class::Z => "UTC sign of ISO 8601".to_owned(),
                Class::Word => "word".to_owned(),
                Class::Space => "space".to_owned(),
                Class::Symbol(_) => "sign".to_owned(),
                Class::Skipped => "text that is skipped".to_owned(),
                Class::Opening(_) | Class::Closing(_) => "text of a program".to_owned(),
                Class::Typed(kind) => format!("{kind}, as its source types it"),
            },
        })
        .collect()
}
