//! What a locale's patterns write is read back with that locale: those of CLDR's
//! editions, of the GNU C Library and of every day.
//!
//! The program itself writes here: what is tested is that every pattern of the tables
//! is read, whatever else the locale has.

#[path = "locale/reading.rs"]
mod reading;
#[path = "locale/writing.rs"]
mod writing;

use metachron_core::calendar::Calendar;
use metachron_core::form::{Field, Form};
use metachron_core::locale::{Tag, locales, patterns, short_dates};
use metachron_core::stamp::Kind;

/// Twelve instants: every month, days on both sides of the twelfth, most hours.
fn instants() -> Vec<String> {
    let instant = |n: u32| {
        let (day, hour) = (n * 7 % 28 + 1, (n * 5 + 1) % 24);
        format!(
            "{}-{:02}-{day:02}T{hour:02}:{:02}:{:02}",
            2001 + 2 * n,
            n + 1,
            n + 13,
            n * 3 + 2
        )
    };
    (0..12).map(instant).collect()
}

/// What of an instant a form of this kind holds, as it comes back.
fn held(instant: &str, form: &Form) -> Option<String> {
    let has = |wanted: fn(&Field) -> bool| form.fields().any(|field| wanted(&field));
    let (date, time) = instant.split_once('T')?;
    let has_seconds = has(|field| matches!(field, Field::Second(_)));
    let has_minutes = has(|field| matches!(field, Field::Minute(_)));
    let time = match (has_seconds, has_minutes) {
        (true, _) => time.to_owned(),
        (false, true) => format!("{}:00", &time[..5]),
        (false, false) => format!("{}:00:00", &time[..2]),
    };
    let has_year = has(|field| matches!(field, Field::Year | Field::YearFree | Field::YearOfTwo));
    match form.kind() {
        // Another column has to say the year.
        Kind::Date | Kind::DateTime if !has_year => None,
        Kind::Date => Some(date.to_owned()),
        Kind::DateTime => Some(format!("{date}T{time}")),
        Kind::Time => Some(time),
        Kind::Month => Some(date[..7].to_owned()),
        _ => None,
    }
}

/// How many patterns of `tag` were tried, and what does not come back of the others.
fn lost(tag: &str, instants: &[String]) -> (usize, Vec<String>) {
    let tag: Tag = tag.parse().expect("a tag");
    if tag.calendar() != Calendar::Gregory {
        return (0, Vec::new());
    }
    let (mut tried, mut lost) = (0, Vec::new());
    for pattern in patterns(&tag, Calendar::Gregory) {
        let form: Form = match pattern.parse() {
            Ok(form) => form,
            Err(why) => {
                tried += 1;
                lost.push(format!("{tag} {pattern}: {why}"));
                continue;
            }
        };
        let Some(cells) = writing::written(&tag, &pattern, instants) else {
            continue;
        };
        // Which order it is, other cells have to say.
        if form.has_two_digit_year() && !short_dates(&tag).is_empty() {
            continue;
        }
        tried += 1;
        let found = reading::read(&tag, &cells);
        let rows = cells.iter().zip(&found).zip(instants);
        let wrong = rows.into_iter().find_map(|((cell, found), instant)| {
            let expected = held(instant, &form)?;
            (*found != expected)
                .then(|| format!("{tag} {pattern}: {cell:?} is {expected}, not {found}"))
        });
        lost.extend(wrong);
    }
    (tried, lost)
}

/// Languages of which some patterns do not come back, and why: docs/forms.md says it too.
const KNOWN: [(&str, &str); 7] = [
    ("dz", "its words stand behind numbers without a space"),
    ("hu", "`V` is Sunday, and five"),
    ("ki", "its patterns hold the letters YYYY for the year"),
    ("ko", "the sign for Monday is that for months"),
    ("ku", "names with their ending are names too"),
    ("mn", "its patterns have the month twice"),
    ("yo", "a word in its patterns is a part of the month's name"),
];

/// Whether what is lost is not known to be.
fn is_new(lost: &str) -> bool {
    let language = lost.split([' ', '-']).next();
    KNOWN.iter().all(|(known, _)| Some(*known) != language)
}

fn lost_of_all<'t>(tags: impl Iterator<Item = &'t str>) {
    let instants = instants();
    let (mut tried, mut lost_patterns) = (0, Vec::new());
    for tag in tags {
        let (own, lost) = lost(tag, &instants);
        tried += own;
        lost_patterns.extend(lost);
    }
    println!(
        "{} of {tried} patterns do not come back",
        lost_patterns.len()
    );
    lost_patterns.retain(|lost| is_new(lost));
    assert!(lost_patterns.is_empty(), "{}", lost_patterns.join("\n"));
}

/// All of them take minutes: `cargo test --release -p metachron-core --test patterns --
/// --ignored`.
#[test]
#[ignore = "takes minutes"]
fn every_pattern_of_every_locale_comes_back() {
    lost_of_all(locales());
}

#[test]
fn patterns_of_some_locales_come_back() {
    lost_of_all(locales().step_by(23));
}
