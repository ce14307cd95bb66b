//! The table of all languages' names, made from ICU4X and the other tables: what
//! `scripts/names` writes, and a test compares.

use super::cldr;
use super::fillers::{Sign, filler, is_sign};
use super::fold::lower;
use super::meaning::{HourSpan, Meaning, Roles};
use super::names::{
    C_LIBRARY_NAMES, EARLIER_NAMES, EVERYDAY_NAMES, OTHER_NAMES, Table, english_eras, eras,
    is_long, lesser_names_of, names_of,
};
use super::tag::{Tag, locales};
use super::widespread;
use super::word_list::WordList;
use crate::calendar::Calendar;
use std::collections::{BTreeMap, HashSet};
use std::fmt::Write;

/// The locales that are languages, perhaps in a script, and the regions that
/// have names of their own.
fn languages() -> impl Iterator<Item = Tag> {
    locales()
        .filter(|tag| !is_region(tag) || REGIONS.contains(tag))
        .filter_map(|tag| tag.parse().ok())
}

fn is_region(tag: &str) -> bool {
    let mut parts = tag.split('-').skip(1);
    parts.any(|part| part.len() == 2 || part.len() == 3)
}

/// Regions that have months or weekdays of their own, one for all that have the
/// same: a test keeps that true.
const REGIONS: [&str; 22] = [
    "ar-DZ",
    "ar-IQ",
    "ar-MA",
    "ar-MR",
    "bn-IN",
    "de-AT",
    "en-001",
    "es-419",
    "es-CL",
    "es-CO",
    "es-PE",
    "fa-AF",
    "fr-CA",
    "pt-AO",
    "ro-MD",
    "sr-Cyrl-BA",
    "sr-Cyrl-ME",
    "sr-Cyrl-XK",
    "sr-Latn-BA",
    "sr-Latn-ME",
    "sr-Latn-XK",
    "yo-BJ",
];

/// The words of a language in the Gregorian calendar.
fn words_of(tag: &Tag) -> WordList {
    WordList::new(names_of(tag, Calendar::Gregory), lesser_names_of(tag))
}

/// The words of all languages.
fn words_of_all() -> WordList {
    let names = languages().flat_map(|tag| {
        let mut names = names_of(&tag, Calendar::Gregory);
        // Quechua writes `a.d.` for the years before Christ, and the world for
        // those since.
        names.retain(|(name, meaning)| {
            let mut english = english_eras();
            let contradicts = |(own, era): (String, Meaning)| {
                own.eq_ignore_ascii_case(name) && era.value() != meaning.value()
            };
            meaning.roles != Roles::ERA || !english.any(contradicts)
        });
        // Breton writes `eur` for hours, and a whole continent for money.
        if widespread().all(|known| known != tag) {
            names.retain(|(_, meaning)| meaning.roles != Roles::UNIT);
        }
        names
    });
    list_of_all(
        names.chain(eras(|_| true)),
        languages().flat_map(|tag| lesser_names_anywhere(&tag)),
    )
}

/// Those of them that count where no language is known.
fn lesser_names_anywhere(tag: &Tag) -> Vec<(String, Meaning)> {
    let all = |tables: [Table; 2]| tables.into_iter().flat_map(|table| table.words_for(tag));
    let long = all([OTHER_NAMES, C_LIBRARY_NAMES]).filter(|(name, _)| is_long(name));
    all([EARLIER_NAMES, EVERYDAY_NAMES]).chain(long).collect()
}

/// A list of the `names` of all languages. What stands inside dates in one language is hardly ever
/// what another shortens to two letters: `de` is before noon in Hungarian.
fn list_of_all(
    names: impl IntoIterator<Item = (String, Meaning)>,
    lesser: impl IntoIterator<Item = (String, Meaning)>,
) -> WordList {
    let is_filler = |name: &str| filler(name.trim_end_matches('.')).is_some();
    let mut short_halves: BTreeMap<String, Meaning> = BTreeMap::new();
    let is_known = |(name, meaning): &(String, Meaning)| {
        let name = name.to_lowercase();
        // One letter names too many things in too many languages; those that
        // English shortens units to are known everywhere.
        if name.len() == 1 {
            return meaning.roles == Roles::UNIT && "ydhmsw".contains(&name);
        }
        // So may two, but for those that all the world knows.
        let is_half_day = ["am", "pm"].contains(&&*name);
        if name.len() == 2 && meaning.roles == Roles::DAY_PERIOD && !is_half_day {
            return false;
        }
        let says_more = |number| {
            let mut signs = [Sign::Clock, Sign::ClockComes, Sign::YearBefore].into_iter();
            signs.any(|sign| is_sign(number, sign))
        };
        let is_said = || filler(name.trim_end_matches('.')).is_some_and(says_more);
        let is_unit = meaning.roles == Roles::UNIT && (name.is_ascii() || is_said());
        is_unit || name == "am" || !is_filler(&name)
    };
    let names: Vec<(String, Meaning)> = names.into_iter().collect();
    for (name, meaning) in &names {
        let name: String = name.chars().flat_map(lower).collect();
        let is_half = [HourSpan::AM, HourSpan::PM].map(Meaning::day_period);
        if is_half.contains(meaning) && name.len() <= 2 {
            let known = short_halves.entry(name).or_insert(*meaning);
            *known = known.or(*meaning);
        }
    }
    let names = names.into_iter().filter(is_known);
    WordList {
        short_halves,
        ..WordList::new(names, lesser.into_iter().filter(is_known))
    }
}

const PATH: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/data/names.tsv");

/// Lines of `language`, one for each meaning of its names.
fn lines(language: &str, names: impl Iterator<Item = (String, u64)>) -> String {
    let mut by_code: BTreeMap<u64, Vec<String>> = BTreeMap::new();
    for (word, code) in names {
        assert!(!word.contains(['|', '\t', '\n']), "{word}");
        by_code.entry(code).or_default().push(word);
    }
    by_code
        .into_iter()
        .fold(String::new(), |mut lines, (code, words)| {
            writeln!(lines, "{language}\t{code}\t{}", words.join("|")).unwrap();
            lines
        })
}

fn lines_of(language: &str, list: WordList) -> String {
    let names = list.names.into_iter();
    lines(
        language,
        names.map(|(name, meaning)| (name, meaning.code())),
    )
}

/// The table, made again from what it is made from.
fn table() -> String {
    let mut table = "# The names of every language, `*` for all at once: language, number of the\n\
        # meaning, words. Made from ICU4X and the other tables by scripts/names.\n"
        .to_owned();
    let all = words_of_all();
    let halves = all.short_halves.clone().into_iter();
    let halves = halves.map(|(word, half)| (word, half.code()));
    table += &lines("*half", halves);
    table += &lines_of("*", all);
    for tag in languages() {
        table += &lines_of(&tag.to_string(), words_of(&tag));
    }
    table
}

/// `scripts/names` writes it.
#[test]
fn the_table_is_what_it_is_made_from() {
    let table = table();
    if std::env::var_os("WRITE_NAMES").is_some() {
        std::fs::write(PATH, &table).unwrap();
    }
    let written = std::fs::read_to_string(PATH).unwrap();
    let differs = written
        .lines()
        .zip(table.lines())
        .find(|(one, other)| one != other);
    assert_eq!(differs, None, "run scripts/names");
    assert!(written == table, "run scripts/names");
}

/// The months and weekdays of `tag`, in lower case.
fn names(tag: &str) -> HashSet<(String, Meaning)> {
    let tag: Tag = tag.parse().unwrap();
    let names = cldr::names(tag.locale(), Calendar::Gregory).into_iter();
    let is_day =
        |meaning: &Meaning| meaning.roles == Roles::MONTH || meaning.roles == Roles::WEEKDAY;
    let plain = |name: String| name.to_lowercase().trim_end_matches('.').to_owned();
    names
        .filter(|(_, meaning)| is_day(meaning))
        .map(|(name, meaning)| (plain(name), meaning))
        .collect()
}

#[test]
fn regions_with_names_of_their_own_are_known() {
    let mut known: Vec<HashSet<(String, Meaning)>> = Vec::new();
    let mut regions = Vec::new();
    for tag in locales().filter(|tag| is_region(tag)) {
        let language = tag.split('-').next().unwrap();
        let mut parents = locales()
            .filter(|other| !is_region(other) && other.split('-').next() == Some(language));
        let own = names(tag);
        let of_parents: HashSet<_> = parents.by_ref().flat_map(names).collect();
        // `jui` is June there, and elsewhere June or July cut off.
        if tag == "fr-MA"
            || own.is_subset(&of_parents)
            || known.iter().any(|known| own.is_subset(known))
        {
            continue;
        }
        known.push(own);
        regions.push(tag);
    }
    assert_eq!(regions, REGIONS);
}
