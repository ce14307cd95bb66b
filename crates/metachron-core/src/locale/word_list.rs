//! The names of a lexicon, put together.

use super::fillers::filler;
use super::fold::{is_word_letter, lower, spelled_out, without_accents};
use super::lexicon::{LexiconEntry, lowered_filler};
use super::meaning::{HourSpan, Meaning, Roles};
use std::collections::BTreeMap;

/// The names of one or more locales.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct WordList {
    /// What each name means, in lower case.
    pub names: BTreeMap<String, Meaning>,
    /// Halves of the day in one or two letters, which are too short to be one
    /// anywhere: what they are behind the minutes of a time.
    pub short_halves: BTreeMap<String, Meaning>,
}

/// The word, with the space behind it, that all weekdays of a language begin with,
/// and which may be left off: `dydd` in Welsh, `יום` in Hebrew.
fn word_for_weekdays(names: &[(String, Meaning)]) -> Option<String> {
    let weekdays = names
        .iter()
        .filter(|(_, meaning)| meaning.roles == Roles::WEEKDAY);
    let mut by_word: BTreeMap<&str, Vec<u32>> = BTreeMap::new();
    for (name, meaning) in weekdays {
        let Some((word, _)) = name.split_once(' ') else {
            continue;
        };
        let days = by_word.entry(word).or_default();
        if !days.contains(&meaning.value()) {
            days.push(meaning.value());
        }
    }
    let (word, _) = by_word
        .into_iter()
        .find(|(_, days)| days.len() == WEEKDAYS)?;
    Some(format!("{word} "))
}

/// How many days a week has.
const WEEKDAYS: usize = 7;

/// A name that is cut off has at least so many letters.
const LEAST_LETTERS: usize = 3;

impl WordList {
    /// A list of `names`, and of `lesser` ones, which count only where no other name
    /// and no word that stands inside dates is written so.
    pub(super) fn new(
        names: impl IntoIterator<Item = (String, Meaning)>,
        lesser: impl IntoIterator<Item = (String, Meaning)>,
    ) -> WordList {
        let mut list = WordList::default();
        let lesser = lesser.into_iter();
        let lesser: Vec<(String, Meaning)> = lesser
            .filter_map(|(name, meaning)| Some((key(&name)?, meaning)))
            .collect();
        let mut bare = Vec::new();
        for (name, meaning) in names {
            let Some(name) = key(&name) else {
                continue;
            };
            let plain = [Some(without_accents(&name)), spelled_out(&name)];
            let plain = plain.into_iter().flatten();
            // Two letters without their accents are a word of any language.
            let plain = plain.filter(|plain| *plain != name && plain.chars().nth(2).is_some());
            bare.extend(plain.map(|plain| (plain, meaning)));
            list.put(name, meaning);
        }
        // They count only where no name is written so; without accents, only where no
        // word is.
        let mut together: BTreeMap<String, (Meaning, bool)> = BTreeMap::new();
        let lesser = lesser.into_iter().map(|named| (named, true));
        for ((name, meaning), is_lesser) in lesser.chain(bare.into_iter().map(|own| (own, false))) {
            let known = together.entry(name).or_insert((meaning, is_lesser));
            *known = (known.0.or(meaning), known.1 || is_lesser);
        }
        // None of them hangs on another, whatever their order.
        together.retain(|name, (_, is_lesser)| match list.get(name) {
            Some(LexiconEntry::Name(_)) => false,
            Some(LexiconEntry::Filler(_)) => *is_lesser,
            None => true,
        });
        for (name, (meaning, _)) in together {
            list.put(name, meaning);
        }
        list
    }

    /// The same with `words` of one or two letters, which are halves of the day behind
    /// the minutes of a time.
    pub(super) fn with_short_halves(mut self, words: &[(&str, HourSpan)]) -> WordList {
        for (word, span) in words {
            let half = Meaning::day_period(*span);
            self.short_halves.insert((*word).to_owned(), half);
        }
        self
    }

    /// The same with the months and weekdays among `names` cut off behind three letters
    /// or more, as programs shorten them that know no abbreviations: only for languages
    /// that are said, since in all of them together such letters are too many words.
    ///
    /// A name that is written so stays what it is; where it may name something else as
    /// well, as *mar* a month and a weekday, it names both.
    pub(super) fn with_shortened(mut self, names: &[(String, Meaning)]) -> WordList {
        let is_day = |meaning: &Meaning| [Roles::MONTH, Roles::WEEKDAY].contains(&meaning.roles);
        let names = names.iter().filter(|(_, meaning)| is_day(meaning));
        let mut names: Vec<(String, Meaning)> = names
            .filter_map(|(name, meaning)| Some((key(name)?, *meaning)))
            .collect();
        let mut shortened: BTreeMap<String, Meaning> = BTreeMap::new();
        if let Some(word) = word_for_weekdays(&names) {
            for (name, meaning) in names.clone() {
                if let Some(rest) = name.strip_prefix(&word) {
                    shortened.insert(rest.to_owned(), meaning);
                    names.push((rest.to_owned(), meaning));
                }
            }
        }
        for (name, meaning) in &names {
            let ends = name.char_indices().skip(LEAST_LETTERS).map(|(at, _)| at);
            for end in ends.filter(|&end| !name[..end].contains(' ')) {
                let cut = &name[..end];
                let plain = without_accents(cut);
                let other = (plain != cut).then_some(plain);
                for cut in other.into_iter().chain([cut.to_owned()]) {
                    let known = shortened.entry(cut).or_insert(*meaning);
                    *known = known.or(*meaning);
                }
            }
        }
        shortened.retain(|name, meaning| match self.get(name) {
            None => true,
            Some(LexiconEntry::Name(known)) => !known.roles.has(meaning.roles),
            Some(LexiconEntry::Filler(_)) => false,
        });
        for (name, meaning) in shortened {
            self.put(name, meaning);
        }
        self
    }

    fn put(&mut self, name: String, meaning: Meaning) {
        let known = self.names.entry(name).or_insert(meaning);
        *known = known.or(meaning);
    }

    /// What the word with just these letters is.
    fn get(&self, word: &str) -> Option<LexiconEntry> {
        let name = self.names.get(word).copied().map(LexiconEntry::Name);
        name.or_else(|| lowered_filler(word).map(LexiconEntry::Filler))
    }
}

/// The key of `name`: plain text in lower case, without the dot that ends an
/// abbreviation. `None` for what a lexer could not take for a name: digits
/// first, nothing at all, or a single letter that stands inside dates (日 is
/// Sunday, and the sign behind every day).
fn key(name: &str) -> Option<String> {
    let mut plain = String::new();
    let name = if super::fold::plain_text(name, &mut plain) {
        &plain
    } else {
        name
    };
    let lower: String = name.trim().chars().flat_map(lower).collect();
    let key = lower.strip_suffix('.').unwrap_or(&lower);
    let is_filler = key.chars().nth(1).is_none() && filler(key).is_some() && !key.is_ascii();
    (key.starts_with(is_word_letter) && !is_filler).then(|| key.to_owned())
}
