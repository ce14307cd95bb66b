//! The names of months, weekdays and parts of the day that a column holds.

use crate::lex::{Class, Lexed};
use crate::locale::{Meaning, Roles, month_of, span_of, weekday_of};
use std::collections::{BTreeMap, BTreeSet};

/// At most so many different names are kept; a column of dates has a few
/// dozen.
const MOST: usize = 256;

/// The names of months and weekdays that a column holds, by which its
/// language is known.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct NameTally {
    /// English names, a bit each: of months, then of weekdays, short and in
    /// full.
    english: u64,
    /// English names that are shortened to other than three letters: `sept`.
    english_more: BTreeSet<String>,
    /// Other names, in lower case, and how many cells hold each.
    foreign: BTreeMap<String, u64>,
    /// Parts of the day that are not English, in lower case.
    parts_of_day: BTreeSet<String>,
    /// Cells with a name that languages do not agree about.
    pub differ: u64,
    /// Cells with a name that is not English.
    cells: u64,
}

impl NameTally {
    /// Whether there is a name that is not English.
    pub fn has_foreign(&self) -> bool {
        !self.foreign.is_empty()
    }

    /// In how many cells there is a name or a part of the day that is not English.
    pub fn cells(&self) -> u64 {
        self.cells
    }

    /// Every name, in lower case.
    pub fn words(&self) -> impl Iterator<Item = String> + '_ {
        let english = (0..64).filter(|bit| self.english >> bit & 1 == 1);
        let english = english.map(|bit| {
            let (name, short) = match bit {
                0..24 => (crate::locale::month_name(bit / 2 + 1), bit % 2 == 1),
                _ => (
                    crate::locale::weekday_name(((bit - 24) / 2 + 1).unsigned_abs()),
                    bit % 2 == 1,
                ),
            };
            let len = if short { 3 } else { name.len() };
            name[..len].to_lowercase()
        });
        let more = self.english_more.iter().cloned();
        english.chain(more).chain(self.foreign.keys().cloned())
    }

    /// How many different names there are that are not English.
    pub fn foreign_words(&self) -> impl Iterator<Item = &str> {
        self.foreign.keys().map(String::as_str)
    }

    /// Whether there is a name or a part of the day whose language has to be known.
    pub fn needs_language(&self) -> bool {
        self.has_foreign() || self.differ > 0
    }

    /// The parts of the day that are not English.
    pub fn parts_of_day(&self) -> impl Iterator<Item = &str> {
        self.parts_of_day.iter().map(String::as_str)
    }

    /// Every name and part of the day, by which the language is known.
    pub fn words_of_language(&self) -> Vec<String> {
        let parts = self.parts_of_day.iter().cloned();
        self.words().chain(parts).collect()
    }

    /// Takes in so many cells that are written as `cell` is.
    pub(crate) fn add(&mut self, cell: &Lexed<'_>, cells: u64) {
        let marks = cell.marks();
        let mut differs = false;
        if marks.foreign != 0 {
            self.cells += cells;
        }
        for (index, token) in cell.tokens().iter().enumerate() {
            let Class::Name(roles) = token.class else {
                continue;
            };
            let month = roles.has(Roles::MONTH);
            let bit = 1 << (index & 31);
            if !month && !roles.has(Roles::WEEKDAY) {
                if roles.has(Roles::DAY_PERIOD) && marks.foreign & bit != 0 {
                    let word = cell.token_text(index).to_lowercase();
                    if self.parts_of_day.len() < MOST {
                        self.parts_of_day.insert(word);
                    }
                    differs |= span_of(token.value).is_none();
                }
                continue;
            }
            let number = if month {
                month_of(token.value)
            } else {
                weekday_of(token.value)
            };
            // A language may have one name for two days.
            if marks.foreign & bit == 0 && number != Meaning::DIFFERS {
                let number = u32::from(number) - 1;
                let first = if month { 2 * number } else { 24 + 2 * number };
                let short = marks.abbreviated & bit != 0;
                let word = cell.token_text(index).trim_end_matches('.');
                if short && word.len() > 3 {
                    self.english_more.insert(word.to_lowercase());
                } else {
                    self.english |= 1 << (first + u32::from(short));
                }
                continue;
            }
            differs |= month && month_of(token.value) == Meaning::DIFFERS;
            let word = cell.token_text(index).trim_end_matches('.').to_lowercase();
            self.count(word, cells);
        }
        if differs {
            self.differ += cells;
        }
    }

    /// Takes in a word, in lower case, that stands where names do, and is none that is
    /// known anywhere.
    pub(crate) fn add_unknown(&mut self, word: &str) {
        self.count(word.to_owned(), 1);
    }

    fn count(&mut self, word: String, cells: u64) {
        *self.foreign.entry(word).or_default() += cells;
        // The same names stay, in whatever order cells are met.
        if self.foreign.len() > MOST {
            self.foreign.pop_last();
        }
    }

    pub(super) fn merge(&mut self, other: NameTally) {
        self.english |= other.english;
        self.english_more.extend(other.english_more);
        self.differ += other.differ;
        self.cells += other.cells;
        self.parts_of_day.extend(other.parts_of_day);
        for (word, cells) in other.foreign {
            self.count(word, cells);
        }
    }
}
