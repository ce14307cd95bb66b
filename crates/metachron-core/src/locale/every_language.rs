//! The names of every language: which mean what, and in which language.
//!
//! They are in `data/names.tsv`, made from ICU4X and the other tables by
//! `scripts/names`; the build script makes trees of them, so that a process that meets
//! a word need not make them first.

use super::meaning::{Meaning, Roles, month_of, span_of};
use super::names::OTHER_NAMES;
use super::tag::Tag;
use super::{Lexicon, LexiconEntry};
use std::sync::OnceLock;

/// The trees of all languages' names, one behind the other.
const TREES: &[u8] = include_bytes!(concat!(env!("OUT_DIR"), "/name-trees.fst"));

include!(concat!(env!("OUT_DIR"), "/name_trees.rs"));

/// The names of all languages at once.
pub fn everywhere() -> &'static Lexicon {
    static EVERYWHERE: OnceLock<Lexicon> = OnceLock::new();
    EVERYWHERE.get_or_init(|| Lexicon::built_in(&TREES[ALL], SHORT_HALVES, BEFORE_DIGITS))
}

/// The lexicon of each language, in the order in which one of several that
/// fit is named: the most spoken first, those that ICU4X has no data of last, then by tag.
fn by_language() -> &'static [(Tag, Lexicon)] {
    static BY_LANGUAGE: OnceLock<Vec<(Tag, Lexicon)>> = OnceLock::new();
    BY_LANGUAGE.get_or_init(|| {
        let lexicons = LANGUAGES.iter().map(|(tag, tree)| {
            let tag = tag.parse().expect("the table has tags of languages");
            // No text is cut by one of them: what tells cut texts apart is not needed.
            (tag, Lexicon::built_in(&TREES[tree.clone()], &[], &[]))
        });
        let mut lexicons: Vec<(Tag, Lexicon)> = lexicons.collect();
        let lesser = OTHER_NAMES.languages();
        let rank = |(tag, _): &(Tag, Lexicon)| {
            let index = place_among_widespread(tag);
            let name = tag.to_string();
            (index.unwrap_or(usize::MAX), lesser.contains(&*name), name)
        };
        lexicons.sort_by_cached_key(rank);
        lexicons
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
