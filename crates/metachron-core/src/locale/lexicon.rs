//! The names of some locales, found in text by the longest match.

use super::fillers::{filler, fillers};
use super::fold::{is_unspaced, is_word_letter, lower, without_accent};
use super::meaning::{Meaning, Roles};
use super::word_list::WordList;
use super::word_tree::{Node, WordTree};
use smallvec::SmallVec;
use std::collections::BTreeMap;
use std::sync::OnceLock;

/// What a span of text is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LexiconEntry {
    /// A name.
    Name(Meaning),
    /// A word that stands inside dates without being a part of them.
    Filler(u16),
}

/// The names of one or more locales.
#[derive(Clone, Debug)]
pub struct Lexicon {
    names: WordTree,
    /// Halves of the day in one or two letters, which are too short to be one
    /// anywhere: what they are behind the minutes of a time.
    short_halves: BTreeMap<String, Meaning>,
    /// What names with a digit in them have before the first: `m` of `M03`, `tháng `.
    before_digits: Vec<String>,
}

/// Where `text` has this name at its end, in any case.
fn start_of(name: &str, text: &str) -> Option<usize> {
    let mut name = name.chars().rev();
    let Some(last) = name.next() else {
        return Some(text.len());
    };
    let mut wanted = Some(last);
    for (at, letter) in text.char_indices().rev() {
        let lowered: SmallVec<[char; 3]> = lower(letter).collect();
        for letter in lowered.into_iter().rev() {
            if Some(letter) != wanted {
                return None;
            }
            wanted = name.next();
        }
        if wanted.is_none() {
            return Some(at);
        }
    }
    None
}

/// Where some letters lead to, among the names and among the words that stand inside
/// dates.
#[derive(Clone, Copy, Debug)]
struct Reached {
    name: Option<Node>,
    filler: Option<Node>,
}

/// The words that stand inside dates.
fn filler_tree() -> &'static WordTree {
    static TREE: OnceLock<WordTree> = OnceLock::new();
    TREE.get_or_init(|| {
        let lowered = |word: &str| -> String { word.chars().flat_map(lower).collect() };
        let words: Vec<(String, u16)> = fillers()
            .map(|(word, number)| (lowered(word), number))
            .collect();
        let numbered = words
            .iter()
            .map(|(word, number)| (&**word, (*number).into()));
        WordTree::of(numbered)
    })
}

/// The number of the word with just these letters, in lower case, among those that
/// stand inside dates.
pub(super) fn lowered_filler(word: &str) -> Option<u16> {
    let tree = filler_tree();
    let node = word
        .chars()
        .try_fold(tree.root(), |node, letter| tree.step(node, letter))?;
    Some(tree.end(node)? as u16)
}

impl From<WordList> for Lexicon {
    fn from(list: WordList) -> Lexicon {
        let before_digit = |name: &String| {
            let first = name.find(|letter: char| letter.is_ascii_digit())?;
            Some(name[..first].to_owned())
        };
        let mut before_digits: Vec<String> = list.names.keys().filter_map(before_digit).collect();
        before_digits.dedup();
        let names = list.names.iter();
        Lexicon {
            names: WordTree::of(names.map(|(name, meaning)| (&**name, meaning.code()))),
            short_halves: list.short_halves,
            before_digits,
        }
    }
}

impl Lexicon {
    /// The lexicon that the build script made: its tree of names, its short halves of the
    /// day with the numbers that stand for them, and what its names have before a digit.
    pub(super) fn built_in(
        names: &'static [u8],
        short_halves: &[(&str, u64)],
        before_digits: &[&str],
    ) -> Lexicon {
        let halves = short_halves.iter();
        Lexicon {
            names: WordTree::built_in(names),
            short_halves: halves
                .map(|(word, code)| ((*word).to_owned(), Meaning::of_code(*code)))
                .collect(),
            before_digits: before_digits.iter().copied().map(str::to_owned).collect(),
        }
    }

    /// Where no letter leads to.
    fn root(&self) -> Reached {
        Reached {
            name: Some(self.names.root()),
            filler: Some(filler_tree().root()),
        }
    }

    /// Where one letter more leads to, if any word goes on with it.
    fn step(&self, from: Reached, letter: char) -> Option<Reached> {
        let name = from.name.and_then(|node| self.names.step(node, letter));
        let filler = from
            .filler
            .and_then(|node| filler_tree().step(node, letter));
        (name.is_some() || filler.is_some()).then_some(Reached { name, filler })
    }

    /// What the word that ends there is. A name says more than a word that is passed
    /// over.
    fn end(&self, at: Reached) -> Option<LexiconEntry> {
        let name = at.name.and_then(|node| self.names.end(node));
        if let Some(code) = name {
            return Some(LexiconEntry::Name(Meaning::of_code(code)));
        }
        let filler = at.filler.and_then(|node| filler_tree().end(node))?;
        Some(LexiconEntry::Filler(filler as u16))
    }

    /// What a word of one or two letters is behind the minutes of a time: `2:08 م`,
    /// `2:08 CH`; `5 م` may be metres.
    pub fn short_half_day(&self, word: &str) -> Option<Meaning> {
        let word: String = word.chars().flat_map(lower).collect();
        self.short_halves.get(&word).copied()
    }

    /// What `word` is as a whole, whatever its case.
    pub fn get(&self, word: &str) -> Option<LexiconEntry> {
        let (len, found) = self.longest(word)?;
        (len == word.len()).then_some(found)
    }

    /// Whether a name or word begins with these letters.
    #[cfg(test)]
    pub(crate) fn begins_with(&self, letters: &[char]) -> bool {
        let step = |node, letter: &char| self.step(node, *letter);
        letters.iter().try_fold(self.root(), step).is_some()
    }

    /// Whether the letters that `text` starts with are a word that stands
    /// inside dates: Basque writes `urtarrilaren`, the name of January and
    /// the ending of its case.
    fn is_suffix(&self, text: &str) -> bool {
        let len = text.find(|letter| !is_word_letter(letter));
        let word = text[..len.unwrap_or(text.len())].to_lowercase();
        // One Latin letter more makes another word, in some language.
        (word.len() > 1) && filler(&word).is_some()
    }

    /// Where in `text` stands what a name begins with that goes on with a digit:
    /// `tháng 3`. With another digit there, it would be another name.
    pub(crate) fn before_digits(&self, text: &str) -> impl Iterator<Item = usize> {
        let is_digit = |&at: &usize| text.as_bytes()[at].is_ascii_digit();
        let runs = (0..text.len()).filter(is_digit);
        let runs = runs.filter(move |&at| at == 0 || !is_digit(&(at - 1)));
        runs.flat_map(move |digits| {
            let names = self.before_digits.iter();
            names.filter_map(move |name| start_of(name, &text[..digits]))
        })
    }

    /// The longest word that `text` starts with: its length in bytes and what
    /// it is. A word ends where no letter follows, where its script is written
    /// without spaces, or before an ending that is known.
    pub fn longest(&self, text: &str) -> Option<(usize, LexiconEntry)> {
        let mut node = self.root();
        let mut best = None;
        let mut letters = text.char_indices().peekable();
        'text: while let Some((_, letter)) = letters.next() {
            for letter in lower(letter) {
                let step = |letter| self.step(node, letter);
                // Some people leave out one accent of two.
                match step(letter).or_else(|| step(without_accent(letter)?)) {
                    Some(next) => node = next,
                    None => break 'text,
                }
            }
            let Some(found) = self.end(node) else {
                continue;
            };
            let next = letters.peek().copied();
            let ends = match next {
                None => true,
                Some((_, next)) if letter.is_ascii_digit() => !next.is_ascii_digit(),
                Some((at, next)) => {
                    !is_word_letter(next)
                        || is_unspaced(letter)
                        || matches!(found, LexiconEntry::Name(meaning) if meaning.roles != Roles::UNIT)
                            && may_have_ending(&text[..at])
                            && self.is_suffix(&text[at..])
                }
            };
            if ends {
                best = Some((next.map_or(text.len(), |(at, _)| at), found));
            }
        }
        best
    }
}

/// Whether a name may have the ending of a case: not where its last word of several is
/// too short to be told from another word. Cornish has `mis Me` for May, and Welsh
/// writes `mis Medi` for September; Mongolian has `арван хоёрдугаар сар`. Nor has a
/// single letter one: `Nan` is August in Makhuwa.
fn may_have_ending(name: &str) -> bool {
    match name.rsplit_once(' ') {
        Some((_, last)) => last.chars().nth(2).is_some(),
        None => name.chars().nth(1).is_some(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::locale::NameWidth;
    use crate::locale::meaning::month_of;

    fn month(lexicon: &Lexicon, word: &str) -> Option<u8> {
        match lexicon.get(word)? {
            LexiconEntry::Name(meaning) => Some(month_of(meaning.value())),
            LexiconEntry::Filler(_) => None,
        }
    }

    fn lexicon(names: &[(&str, u8)]) -> Lexicon {
        let month = |number| Meaning::month(number, NameWidth::Wide);
        let names = names
            .iter()
            .map(|&(name, number)| (name.to_owned(), month(number)));
        WordList::new(names, []).into()
    }

    #[test]
    fn names_with_a_digit_are_found() {
        let lexicon = lexicon(&[("tháng 3", 3), ("m03", 3), ("mars", 3)]);
        for (text, starts) in [
            ("ngày 5 tháng 3", vec![8]),
            ("THÁNG 12", vec![0]),
            ("M4", vec![0]),
            ("atom 4 m5", vec![7]),
            ("tháng", vec![]),
            ("", vec![]),
        ] {
            let mut found: Vec<usize> = lexicon.before_digits(text).collect();
            found.sort_unstable();
            assert_eq!(found, starts, "{text}");
        }
    }

    #[test]
    fn lesser_names_give_way() {
        let named = |name: &str, number| (name.to_owned(), Meaning::month(number, NameWidth::Wide));
        let words = WordList::new([named("mars", 3)], [named("mars", 4), named("avr.", 4)]);
        let lexicon = Lexicon::from(words);
        assert_eq!(month(&lexicon, "mars"), Some(3));
        assert_eq!(month(&lexicon, "avr"), Some(4));
    }

    /// `jän` is read as `jan` where that is known, and is a name of its own.
    #[test]
    fn names_without_their_accents_hang_on_no_order() {
        let named = |name: &str, number| (name.to_owned(), Meaning::month(number, NameWidth::Wide));
        let names = [named("Jänner", 1), named("März", 3)];
        let mut lesser = vec![
            named("Jän", 1),
            named("Mär", 3),
            named("jan", 1),
            named("mar", 3),
        ];
        let list = WordList::new(names.clone(), lesser.clone()).with_shortened(&names);
        lesser.reverse();
        let other = WordList::new(names.clone(), lesser).with_shortened(&names);
        assert_eq!(list, other);
        assert_eq!(month(&list.into(), "Jän"), Some(1));
    }

    #[test]
    fn names_whatever_their_case_accents_and_dot() {
        let french = lexicon(&[("février", 2), ("Déc.", 12)]);
        for (word, number) in [("FÉVRIER", 2), ("fevrier", 2), ("Février", 2), ("dec", 12)] {
            assert_eq!(month(&french, word), Some(number), "{word}");
        }
        assert_eq!(french.get("févriers"), None);
    }

    #[test]
    fn accents_count_where_they_tell_names_apart() {
        let made_up = lexicon(&[("mār", 3), ("mar", 5)]);
        assert_eq!(month(&made_up, "mār"), Some(3));
        assert_eq!(month(&made_up, "mar"), Some(5));
        let equal = lexicon(&[("mār", 3), ("már", 5)]);
        assert_eq!(month(&equal, "mar"), Some(Meaning::DIFFERS));
    }

    #[test]
    fn the_longest_name_is_found_in_running_text() {
        let names = lexicon(&[("tháng 1", 1), ("tháng 12", 12), ("三月", 3)]);
        let found = |text: &str| names.longest(text).map(|(len, _)| len);
        assert_eq!(found("tháng 12 năm"), Some("tháng 12".len()));
        assert_eq!(found("tháng 1, 2024"), Some("tháng 1".len()));
        assert_eq!(found("三月五日"), Some("三月".len()));
        assert_eq!(found("5 tháng"), None);
    }

    #[test]
    fn endings_behind_names_of_several_words() {
        let names = lexicon(&[("mis me", 5), ("medi", 9), ("арван хоёрдугаар сар", 12)]);
        let len = |text: &str| names.longest(text).map(|(len, _)| len);
        assert_eq!(len("mis Medi 2009"), Some("mis".len()));
        assert_eq!(len("mis Me 2009"), Some("mis Me".len()));
        let december = "арван хоёрдугаар сар";
        assert_eq!(len(&format!("{december}ын 9")), Some(december.len()));
    }

    /// Greek writes a sigma at the end of a word in another way, in lower case.
    #[test]
    fn fillers_whatever_their_case() {
        for word in ["στις", "ΣΤΙΣ", "Uhr"] {
            assert!(
                matches!(lexicon(&[]).get(word), Some(LexiconEntry::Filler(_))),
                "{word}"
            );
        }
    }

    #[test]
    fn fillers_are_no_names() {
        assert!(matches!(
            lexicon(&[]).get("Uhr"),
            Some(LexiconEntry::Filler(_))
        ));
    }
}
