//! Which names are known: English ones, those of chosen locales, or all.

use super::meaning::{HourSpan, Meaning, NameWidth, Roles, span_of};
use super::patterns::lines_of;
use super::tag::Tag;
use super::word_list::WordList;
use super::{Lexicon, cldr};
use crate::calendar::Calendar;
use std::collections::HashSet;
use std::sync::Arc;

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
        let words = WordList::new(names.iter().cloned(), earlier).with_shortened(&names);
        // All the world's programs write these.
        let halves = [("am", HourSpan::AM), ("pm", HourSpan::PM)];
        let words = words.with_short_halves(&halves);
        Names::Of(Arc::new(Lexicon::from(words)))
    }
}

pub(super) fn names_of(tag: &Tag, calendar: Calendar) -> Vec<(String, Meaning)> {
    let mut names = cldr::names(tag.locale(), calendar);
    names.extend(DAY_PERIODS.words_for(tag));
    names.extend(UNIT_WORDS.words_for(tag));
    // A word for the evening in CLDR may be all the hours past noon there.
    let halves = C_LIBRARY_NAMES.words_for(tag).into_iter();
    names.extend(halves.filter(|named| named.1.roles == Roles::DAY_PERIOD && is_long(&named.0)));
    if tag.language() == "en" && calendar == Calendar::Gregory {
        names.extend(english_eras());
    }
    let dotless: Vec<(String, Meaning)> = names.iter().filter_map(without_dots).collect();
    names.extend(dotless);
    names
}

/// The eras with dots, as English has long written them and CLDR does not.
pub(super) fn english_eras() -> impl Iterator<Item = (String, Meaning)> {
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

/// Names of `tag` that count where no name in ICU4X's data is written so: those that it
/// lacks, those that earlier editions of CLDR had and files still carry, and those that
/// people and programs write.
pub(super) fn lesser_names_of(tag: &Tag) -> Vec<(String, Meaning)> {
    let tables = [OTHER_NAMES, EARLIER_NAMES, EVERYDAY_NAMES, C_LIBRARY_NAMES];
    tables
        .iter()
        .flat_map(|table| table.words_for(tag))
        .collect()
}

/// Whether a name of the C library, or of a language that few write, is long enough to be
/// one in any language: KOR is Korea more often than July in Albanian.
pub(super) fn is_long(name: &str) -> bool {
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
pub(super) fn eras(has_language: impl Fn(&Tag) -> bool) -> impl Iterator<Item = (String, Meaning)> {
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

/// A table of lines `language, …, words`, and what makes a meaning of what stands
/// between.
pub(super) struct Table {
    lines: &'static str,
    meaning: fn(&str) -> Option<Meaning>,
}

impl Table {
    /// The words for `tag`: those of its language in its script, else of its language.
    /// Its lines are looked for, and no others read.
    pub(super) fn words_for(&self, tag: &Tag) -> Vec<(String, Meaning)> {
        let own = self.words(&tag.language_and_script());
        if own.is_empty() {
            self.words(tag.language())
        } else {
            own
        }
    }

    /// The languages that it has words of.
    pub(super) fn languages(&self) -> HashSet<&'static str> {
        let lines = self.lines.lines().filter_map(|line| line.split_once('\t'));
        lines.map(|(language, _)| language).collect()
    }

    fn words(&self, language: &str) -> Vec<(String, Meaning)> {
        let mut found = Vec::new();
        for line in lines_of(self.lines, language) {
            let parts = line.rsplit_once('\t');
            let parts = parts.and_then(|(named, words)| Some(((self.meaning)(named)?, words)));
            if let Some((meaning, words)) = parts {
                found.extend(words.split('|').map(|word| (word.to_owned(), meaning)));
            }
        }
        found
    }
}

/// The words for units of time.
const UNIT_WORDS: Table = Table {
    lines: include_str!("../../data/unit-names.tsv"),
    meaning: |unit| {
        let number = UNITS.iter().position(|known| *known == unit)?;
        Some(Meaning::unit(number as u8))
    },
};

/// The flexible day periods of CLDR, with their hours.
const DAY_PERIODS: Table = Table {
    lines: include_str!("../../data/day-periods.tsv"),
    meaning: |hours| {
        let (from, before) = hours.split_once('\t')?;
        Some(Meaning::day_period(HourSpan {
            from: from.parse().ok()?,
            before: before.parse().ok()?,
        }))
    },
};

/// Names that earlier editions of CLDR had.
pub(super) const EARLIER_NAMES: Table = Table {
    lines: include_str!("../../data/earlier-names.tsv"),
    meaning: part_named,
};

/// Names of languages that ICU4X has no data of.
pub(super) const OTHER_NAMES: Table = Table {
    lines: include_str!("../../data/other-names.tsv"),
    meaning: part_named,
};

/// Names that people and programs write, and CLDR never had.
pub(super) const EVERYDAY_NAMES: Table = Table {
    lines: include_str!("../../data/everyday-names.tsv"),
    meaning: part_named,
};

/// Names that the GNU C Library writes, and CLDR has not.
pub(super) const C_LIBRARY_NAMES: Table = Table {
    lines: include_str!("../../data/c-library-names.tsv"),
    meaning: part_named,
};

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

/// The words of `tag` for the part of the day that each hour falls into, where it has
/// one.
pub(super) fn parts_of_day(tag: &Tag) -> impl Iterator<Item = Option<String>> {
    let words = DAY_PERIODS.words_for(tag);
    (0..24).map(move |hour| {
        let holds = |meaning: &Meaning| {
            let span = span_of(meaning.value());
            span.is_some_and(|span| span.from != span.before && span.holds(hour))
        };
        let word = words.iter().find(|(_, meaning)| holds(meaning))?;
        Some(word.0.clone())
    })
}
