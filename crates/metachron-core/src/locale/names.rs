//! Which names are known: English ones, those of chosen locales, or all.

use super::meaning::{HourSpan, Meaning, NameWidth, Roles, month_of, span_of};
use super::tag::{Tag, languages};
use super::{Lexicon, LexiconEntry, cldr};
use crate::calendar::Calendar;
use std::collections::HashMap;
use std::sync::{Arc, OnceLock};

/// The flexible day periods of CLDR: language, hours, words.
const DAY_PERIODS: &str = include_str!("../../data/day-periods.tsv");

/// The names of units in CLDR: language, unit, words.
const UNIT_NAMES: &str = include_str!("../../data/unit-names.tsv");

/// Names that earlier editions of CLDR had: language, part, number, names.
const EARLIER_NAMES: &str = include_str!("../../data/earlier-names.tsv");

/// Names that people and programs write, in the same form.
const EVERYDAY_NAMES: &str = include_str!("../../data/everyday-names.tsv");

/// Names that the GNU C Library writes, and CLDR has not, in the same form.
const C_LIBRARY_NAMES: &str = include_str!("../../data/c-library-names.tsv");

/// The units, by the numbers that stand for them in tokens.
const UNITS: [&str; 8] = [
    "year",
    "month",
    "week",
    "day",
    "hour",
    "minute",
    "second",
    "millisecond",
];

/// Which names a lexer knows.
#[derive(Clone, Debug, Default)]
pub enum Names {
    /// The English ones.
    #[default]
    English,
    /// The English ones and, for a cell that holds another word, those of
    /// every language.
    Anywhere,
    /// Those of chosen locales, and no others.
    Of(Arc<Lexicon>),
}

impl Names {
    /// The names of `tags`, with months and eras of `calendar`.
    pub fn of(tags: &[Tag], calendar: Calendar) -> Names {
        let is_said = |own: &Tag| tags.iter().any(|tag| tag.language() == own.language());
        let names = tags.iter().flat_map(|tag| names_of(tag, calendar));
        // A cell that names an era of another calendar means that.
        let names: Vec<_> = names.chain(eras(is_said)).collect();
        let earlier = tags.iter().flat_map(lesser_names_of);
        let lexicon = Lexicon::new(names.iter().cloned(), earlier);
        let lexicon = lexicon.with_shortened(&names);
        // All the world's programs write these.
        let halves = [("am", HourSpan::AM), ("pm", HourSpan::PM)];
        Names::Of(Arc::new(lexicon.with_short_halves(&halves)))
    }
}

fn names_of(tag: &Tag, calendar: Calendar) -> Vec<(String, Meaning)> {
    let mut names = cldr::names(tag.locale(), calendar);
    names.extend(words_for(tag, day_periods()));
    names.extend(words_for(tag, unit_names()));
    // A word for the evening in CLDR may be all the hours past noon there.
    let halves = words_for(tag, c_library_names());
    names.extend(halves.filter(|named| named.1.roles == Roles::DAY_PERIOD && is_long(&named.0)));
    if tag.language() == "en" && calendar == Calendar::Gregory {
        names.extend(english_eras());
    }
    let dotless: Vec<(String, Meaning)> = names.iter().filter_map(without_dots).collect();
    names.extend(dotless);
    names
}

/// The eras with dots, as English has long written them and CLDR does not.
fn english_eras() -> impl Iterator<Item = (String, Meaning)> {
    let eras = [("A.D.", 1), ("B.C.", 2), ("C.E.", 1), ("B.C.E.", 2)];
    eras.into_iter()
        .map(|(name, era)| (name.to_owned(), Meaning::era(era)))
}

/// `πμ` for `π.μ.`: the letters of a half of the day without their dots.
fn without_dots((name, meaning): &(String, Meaning)) -> Option<(String, Meaning)> {
    let is_dot = |letter: char| letter == '.' || letter.is_whitespace();
    let letters: String = name.chars().filter(|letter| !is_dot(*letter)).collect();
    let has_inner_dot = name.trim_end_matches(is_dot).contains('.');
    (meaning.roles == Roles::DAY_PERIOD && has_inner_dot).then_some((letters, *meaning))
}

/// Names of `tag` that count where no name of CLDR is written so: those that earlier
/// editions had and files still carry, and those that people and programs write.
fn lesser_names_of(tag: &Tag) -> impl Iterator<Item = (String, Meaning)> + use<> {
    let known = words_for(tag, earlier_names()).chain(words_for(tag, everyday_names()));
    known.chain(words_for(tag, c_library_names()))
}

/// Those of them that count where no language is known.
fn lesser_names_anywhere(tag: &Tag) -> impl Iterator<Item = (String, Meaning)> + use<> {
    let known = words_for(tag, earlier_names()).chain(words_for(tag, everyday_names()));
    let of_c_library = words_for(tag, c_library_names());
    known.chain(of_c_library.filter(|(name, _)| is_long(name)))
}

/// Whether a name of the C library is long enough to be one in any language: KOR is
/// Korea more often than July in Albanian.
fn is_long(name: &str) -> bool {
    name.chars().nth(3).is_some()
}

/// Languages that name the era of a calendar of their own, by which a cell
/// says that it is meant.
const ERAS_OF: [(&str, Calendar); 8] = [
    ("en", Calendar::Buddhist),
    ("en", Calendar::Roc),
    ("en", Calendar::IslamicCivil),
    ("ja", Calendar::Japanese),
    ("zh-Hant", Calendar::Roc),
    ("th", Calendar::Buddhist),
    ("fa", Calendar::Persian),
    ("ar", Calendar::IslamicCivil),
];

/// The names of those eras, of the languages that `has_language` says.
fn eras(has_language: impl Fn(&Tag) -> bool) -> impl Iterator<Item = (String, Meaning)> {
    let tags = ERAS_OF.into_iter().filter_map(move |(tag, calendar)| {
        let tag: Tag = tag.parse().ok()?;
        has_language(&tag).then_some((tag, calendar))
    });
    tags.flat_map(|(tag, calendar)| {
        let mut names = names_of(&tag, calendar);
        // A single letter is too little to tell an era by.
        names
            .retain(|(name, meaning)| meaning.roles == Roles::ERA && name.chars().nth(1).is_some());
        names
    })
}

/// The words of a table for `tag`: those of its language in its script, else
/// of its language.
fn words_for(tag: &Tag, table: &'static Table) -> impl Iterator<Item = (String, Meaning)> + use<> {
    let own = table.get(&*tag.language_and_script());
    let words = own.or_else(|| table.get(tag.language()));
    let words = words.into_iter().flatten();
    words.map(|&(word, meaning)| (word.to_owned(), meaning))
}

/// Words by language.
type Table = HashMap<&'static str, Vec<(&'static str, Meaning)>>;

/// A table of lines `language, …, words`; `meaning` makes one of what stands
/// between.
fn table(lines: &'static str, meaning: impl Fn(&str) -> Option<Meaning>) -> Table {
    let mut table = Table::new();
    for line in lines.lines().filter(|line| !line.starts_with('#')) {
        let parts = line.split_once('\t').zip(line.rsplit_once('\t')).and_then(
            |((language, _), (rest, words))| {
                let between = rest.strip_prefix(language)?.trim();
                Some((language, words, meaning(between)?))
            },
        );
        if let Some((language, words, meaning)) = parts {
            let words = words.split('|').map(|word| (word, meaning));
            table.entry(language).or_default().extend(words);
        }
    }
    table
}

/// The words for units of time.
fn unit_names() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| {
        table(UNIT_NAMES, |unit| {
            let number = UNITS.iter().position(|known| *known == unit)?;
            Some(Meaning::unit(number as u8))
        })
    })
}

/// Names that are no longer CLDR's.
fn earlier_names() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| table(EARLIER_NAMES, part_named))
}

/// Names that people and programs write, and CLDR never had.
fn everyday_names() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| table(EVERYDAY_NAMES, part_named))
}

/// Names that the GNU C Library writes.
fn c_library_names() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| table(C_LIBRARY_NAMES, part_named))
}

/// What the columns `part` and `number` of a table of names say.
fn part_named(named: &str) -> Option<Meaning> {
    let (part, number) = named.split_once('\t')?;
    let number = number.parse().ok()?;
    Some(match part {
        "month-wide" => Meaning::month(number, NameWidth::Wide),
        "month-abbreviated" => Meaning::month(number, NameWidth::Abbreviated),
        "weekday-wide" => Meaning::weekday(number, NameWidth::Wide),
        "weekday-abbreviated" => Meaning::weekday(number, NameWidth::Abbreviated),
        "am" => Meaning::day_period(HourSpan::AM),
        "pm" => Meaning::day_period(HourSpan::PM),
        _ => return None,
    })
}

/// The words for parts of the day.
fn day_periods() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| {
        table(DAY_PERIODS, |hours| {
            let (from, before) = hours.split_once('\t')?;
            Some(Meaning::day_period(HourSpan {
                from: from.parse().ok()?,
                before: before.parse().ok()?,
            }))
        })
    })
}

/// The word of `tag` for the part of the day that `hour` falls into, if it has
/// one.
pub(super) fn part_of_day(tag: &Tag, hour: u8) -> Option<String> {
    let holds = |meaning: &Meaning| {
        let span = span_of(meaning.value());
        span.is_some_and(|span| span.from != span.before && span.holds(hour))
    };
    let mut words = words_for(tag, day_periods());
    words
        .find(|(_, meaning)| holds(meaning))
        .map(|(word, _)| word)
}

/// The names of every language. Built when it is first asked for.
pub fn everywhere() -> &'static Lexicon {
    static EVERYWHERE: OnceLock<Lexicon> = OnceLock::new();
    EVERYWHERE.get_or_init(|| {
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
            if place_among_widespread(&tag).is_none() {
                names.retain(|(_, meaning)| meaning.roles != Roles::UNIT);
            }
            names
        });
        Lexicon::of_all(
            names.chain(eras(|_| true)),
            languages().flat_map(|tag| lesser_names_anywhere(&tag)),
        )
    })
}

/// The lexicon of each language, in the order in which one of several that
/// fit is named: the most spoken first, then by tag.
fn by_language() -> &'static [(Tag, Lexicon)] {
    static BY_LANGUAGE: OnceLock<Vec<(Tag, Lexicon)>> = OnceLock::new();
    BY_LANGUAGE.get_or_init(|| {
        let mut tags: Vec<Tag> = languages().collect();
        let rank = |tag: &Tag| {
            let index = place_among_widespread(tag);
            (index.unwrap_or(usize::MAX), tag.to_string())
        };
        tags.sort_by_cached_key(rank);
        tags.into_iter()
            .map(|tag| {
                let earlier = lesser_names_of(&tag);
                let names = Lexicon::new(names_of(&tag, Calendar::Gregory), earlier);
                (tag, names)
            })
            .collect()
    })
}

fn place_among_widespread(tag: &Tag) -> Option<usize> {
    let name = tag.to_string();
    WIDESPREAD.iter().position(|known| *known == name)
}

/// Languages that registers are often kept in, before all others.
const WIDESPREAD: [&str; 32] = [
    "en", "es", "fr", "de", "pt", "it", "nl", "pl", "ru", "uk", "tr", "ar", "fa", "zh", "ja", "ko",
    "sv", "da", "nb", "fi", "cs", "sk", "hu", "ro", "bg", "el", "hr", "sr", "sl", "id", "vi", "th",
];

/// The languages that registers are often kept in.
pub(crate) fn widespread() -> impl Iterator<Item = Tag> {
    WIDESPREAD.iter().filter_map(|name| name.parse().ok())
}

/// The languages that have a name for a month, a weekday or a part of the day in
/// each of `words`.
pub fn languages_with(words: &[String]) -> Vec<Tag> {
    let has_all = |lexicon: &Lexicon| words.iter().all(|word| has_name(lexicon, word));
    let fitting = by_language().iter().filter(|(_, lexicon)| has_all(lexicon));
    fitting.map(|(tag, _)| tag.clone()).collect()
}

/// The months that `word` names, each with the languages that mean it.
pub fn months_meant(word: &str) -> Vec<(u8, Vec<Tag>)> {
    let mut meant: Vec<(u8, Vec<Tag>)> = Vec::new();
    for (tag, lexicon) in by_language() {
        let Some(LexiconEntry::Name(meaning)) = lexicon.get(word) else {
            continue;
        };
        if !meaning.roles.has(Roles::MONTH) {
            continue;
        }
        let month = month_of(meaning.value());
        match meant.iter_mut().find(|(known, _)| *known == month) {
            Some((_, tags)) => tags.push(tag.clone()),
            None => meant.push((month, vec![tag.clone()])),
        }
    }
    meant
}

/// What each of `words` means in the language `tag`, packed as tokens keep it.
pub fn meanings_in(tag: &Tag, words: &[String]) -> Vec<Option<u32>> {
    let lexicon = by_language().iter().find(|(known, _)| known == tag);
    let meaning = |word: &String| match lexicon?.1.get(word)? {
        LexiconEntry::Name(meaning) => Some(meaning.value()),
        LexiconEntry::Filler(_) => None,
    };
    words.iter().map(meaning).collect()
}

/// Whether all of `tags` that name a part of the day by `word` mean the same: no
/// hour is another one by some of them.
pub fn agree_about_part_of_day(word: &str, tags: &[Tag]) -> bool {
    let lexicons = by_language().iter().filter(|(tag, _)| tags.contains(tag));
    let spans = lexicons.filter_map(|(_, lexicon)| match lexicon.get(word) {
        Some(LexiconEntry::Name(meaning)) if meaning.roles.has(Roles::DAY_PERIOD) => Some(meaning),
        _ => None,
    });
    let all = spans.reduce(Meaning::or);
    all.is_none_or(|all| span_of(all.value()).is_some())
}

/// The language that has most of `words`, and the words it does not have.
pub(crate) fn language_with_most(words: &[String]) -> Option<(Tag, Vec<String>)> {
    let lacks = |lexicon: &Lexicon| -> Vec<String> {
        let lacking = words.iter().filter(|word| !has_name(lexicon, word));
        lacking.cloned().collect()
    };
    let languages = by_language().iter();
    let (tag, left) = languages
        .map(|(tag, lexicon)| (tag, lacks(lexicon)))
        .min_by_key(|(_, left)| left.len())?;
    (left.len() < words.len()).then(|| (tag.clone(), left))
}

fn has_name(lexicon: &Lexicon, word: &str) -> bool {
    matches!(
        lexicon.get(word),
        Some(LexiconEntry::Name(meaning))
            if [Roles::MONTH, Roles::WEEKDAY, Roles::DAY_PERIOD]
                .into_iter()
                .any(|role| meaning.roles.has(role))
    )
}
