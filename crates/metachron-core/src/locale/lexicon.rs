//! The names of some locales, found in text by the longest match.

use super::fillers::{filler, fillers};
use super::fold::{
    is_unspaced, is_word_letter, lower, spelled_out, without_accent, without_accents,
};
use super::meaning::{HourSpan, Meaning, Roles};
use std::collections::{BTreeMap, HashMap};
use std::hash::{BuildHasherDefault, Hasher};

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

/// What a span of text is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LexiconEntry {
    /// A name.
    Name(Meaning),
    /// A word that stands inside dates without being a part of them.
    Filler(u16),
}

/// The names of one or more locales.
#[derive(Clone, Debug, Default)]
pub struct Lexicon {
    /// A tree of letters: from a node, by a letter, to the next node.
    steps: HashMap<(u32, char), u32, BuildHasherDefault<StepHasher>>,
    /// What the word that ends at a node is.
    ends: Vec<Option<LexiconEntry>>,
    /// Halves of the day in one or two letters, which are too short to be one
    /// anywhere: what they are behind the minutes of a time.
    short_halves: HashMap<String, Meaning>,
}

impl Lexicon {
    /// A lexicon of the words that stand inside dates, and of the `names` of
    /// all languages. What stands inside dates in one language is hardly ever
    /// what another shortens to two letters: `de` is before noon in Hungarian.
    pub(super) fn of_all(
        names: impl IntoIterator<Item = (String, Meaning)>,
        lesser: impl IntoIterator<Item = (String, Meaning)>,
    ) -> Lexicon {
        let is_filler = |name: &str| filler(name.trim_end_matches('.')).is_some();
        let mut short_halves: HashMap<String, Meaning> = HashMap::new();
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
            let is_unit = meaning.roles == Roles::UNIT && name.is_ascii();
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
        Lexicon {
            short_halves,
            ..Lexicon::new(names, lesser.into_iter().filter(is_known))
        }
    }

    /// What a word of one or two letters is behind the minutes of a time: `2:08 م`,
    /// `2:08 CH`; `5 م` may be metres.
    pub fn short_half_day(&self, word: &str) -> Option<Meaning> {
        let word: String = word.chars().flat_map(lower).collect();
        self.short_halves.get(&word).copied()
    }

    /// A lexicon of the words that stand inside dates, of `names`, and of
    /// `lesser` ones, which count only where no other is written so.
    pub(super) fn new(
        names: impl IntoIterator<Item = (String, Meaning)>,
        lesser: impl IntoIterator<Item = (String, Meaning)>,
    ) -> Lexicon {
        let names: Vec<(String, Meaning)> = names.into_iter().collect();
        // A name adds some four letters to those that it shares with others.
        let letters = 4 * names.len();
        let mut lexicon = Lexicon {
            steps: HashMap::with_capacity_and_hasher(letters, BuildHasherDefault::default()),
            ends: Vec::with_capacity(letters),
            short_halves: HashMap::new(),
        };
        lexicon.ends.push(None);
        for word in fillers() {
            if let Some(number) = filler(word) {
                let word: String = word.chars().flat_map(lower).collect();
                lexicon.put(&word, LexiconEntry::Filler(number));
            }
        }
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
            lexicon.put(&name, LexiconEntry::Name(meaning));
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
        together.retain(|name, (_, is_lesser)| match lexicon.written(name) {
            Some(LexiconEntry::Name(_)) => false,
            Some(LexiconEntry::Filler(_)) => *is_lesser,
            None => true,
        });
        for (name, (meaning, _)) in together {
            lexicon.put(&name, LexiconEntry::Name(meaning));
        }
        lexicon
    }

    /// The same with `words` of one or two letters, which are halves of the day behind
    /// the minutes of a time.
    pub(super) fn with_short_halves(mut self, words: &[(&str, HourSpan)]) -> Lexicon {
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
    pub(super) fn with_shortened(mut self, names: &[(String, Meaning)]) -> Lexicon {
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
        shortened.retain(|name, meaning| match self.written(name) {
            None => true,
            Some(LexiconEntry::Name(known)) => !known.roles.has(meaning.roles),
            Some(LexiconEntry::Filler(_)) => false,
        });
        for (name, meaning) in shortened {
            self.put(&name, LexiconEntry::Name(meaning));
        }
        self
    }

    fn put(&mut self, word: &str, found: LexiconEntry) {
        let mut node = 0;
        for letter in word.chars() {
            let next = self.ends.len() as u32;
            node = *self.steps.entry((node, letter)).or_insert(next);
            if node == next {
                self.ends.push(None);
            }
        }
        let end = &mut self.ends[node as usize];
        *end = Some(match (*end, found) {
            (Some(LexiconEntry::Name(known)), LexiconEntry::Name(meaning)) => {
                LexiconEntry::Name(known.or(meaning))
            }
            // A name says more than a word that is passed over.
            (Some(LexiconEntry::Name(known)), LexiconEntry::Filler(_)) => LexiconEntry::Name(known),
            (_, found) => found,
        });
    }

    /// What the word with just these letters is.
    fn written(&self, word: &str) -> Option<LexiconEntry> {
        let step = |node, letter| self.steps.get(&(node, letter)).copied();
        let node = word.chars().try_fold(0, step)?;
        self.ends[node as usize]
    }

    /// What `word` is as a whole, whatever its case.
    pub fn get(&self, word: &str) -> Option<LexiconEntry> {
        let (len, found) = self.longest(word)?;
        (len == word.len()).then_some(found)
    }

    /// Whether a name or word begins with these letters.
    #[cfg(test)]
    pub(crate) fn begins_with(&self, letters: &[char]) -> bool {
        let step = |node, letter: &char| self.steps.get(&(node, *letter)).copied();
        letters.iter().try_fold(0, step).is_some()
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

    /// Whether a name begins as `text` does up to its first digit, and goes on
    /// with some digit: `tháng 3`.
    pub(crate) fn goes_on_with_a_digit(&self, text: &str) -> bool {
        let mut node = 0;
        for letter in text.chars() {
            if letter.is_ascii_digit() {
                return ('0'..='9').any(|digit| self.steps.contains_key(&(node, digit)));
            }
            for letter in lower(letter) {
                match self.steps.get(&(node, letter)) {
                    Some(next) => node = *next,
                    None => return false,
                }
            }
        }
        false
    }

    /// The longest word that `text` starts with: its length in bytes and what
    /// it is. A word ends where no letter follows, where its script is written
    /// without spaces, or before an ending that is known.
    pub fn longest(&self, text: &str) -> Option<(usize, LexiconEntry)> {
        let mut node = 0;
        let mut best = None;
        let mut letters = text.char_indices().peekable();
        'text: while let Some((_, letter)) = letters.next() {
            for letter in lower(letter) {
                let step = |letter| self.steps.get(&(node, letter));
                // Some people leave out one accent of two.
                match step(letter).or_else(|| step(without_accent(letter)?)) {
                    Some(next) => node = *next,
                    None => break 'text,
                }
            }
            let Some(found) = self.ends[node as usize] else {
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

/// Hashes a step of the tree: two small numbers.
#[derive(Clone, Copy, Debug, Default)]
struct StepHasher(u64);

impl Hasher for StepHasher {
    fn finish(&self) -> u64 {
        self.0 ^ self.0 >> 32
    }

    fn write(&mut self, bytes: &[u8]) {
        for byte in bytes {
            self.write_u32((*byte).into());
        }
    }

    fn write_u32(&mut self, number: u32) {
        self.0 = (self.0.rotate_left(5) ^ u64::from(number)).wrapping_mul(0x9e37_79b9_7f4a_7c15);
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
        Lexicon::new(names, [])
    }

    #[test]
    fn lesser_names_give_way() {
        let named = |name: &str, number| (name.to_owned(), Meaning::month(number, NameWidth::Wide));
        let lexicon = Lexicon::new([named("mars", 3)], [named("mars", 4), named("avr.", 4)]);
        assert_eq!(month(&lexicon, "mars"), Some(3));
        assert_eq!(month(&lexicon, "avr"), Some(4));
    }

    /// Every hash table has another order: what a lexicon holds must not hang on it.
    #[test]
    fn a_lexicon_is_the_same_every_time() {
        let named = |name: &str, number| (name.to_owned(), Meaning::month(number, NameWidth::Wide));
        // `jän` is read as `jan` where that is known, and is a name of its own.
        let names = ["Jänner", "Feber", "März", "Mai", "Juni", "Juli", "Oktober"];
        let names: Vec<(String, Meaning)> = (1..)
            .zip(names)
            .map(|(number, name)| named(name, number))
            .collect();
        let lesser = [
            "Jän", "Feb", "Mär", "Mrz", "Jun", "Jul", "Okt", "jan", "mar",
        ];
        let lesser = || (1..).zip(lesser).map(|(number, name)| named(name, number));
        let first = Lexicon::new(names.clone(), lesser()).with_shortened(&names);
        for _ in 0..20 {
            let again = Lexicon::new(names.clone(), lesser()).with_shortened(&names);
            assert_eq!(again.ends, first.ends);
            assert_eq!(again.steps, first.steps);
        }
        assert_eq!(month(&first, "Jän"), Some(1));
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
    fn fillers_are_no_names() {
        assert!(matches!(
            lexicon(&[]).get("Uhr"),
            Some(LexiconEntry::Filler(_))
        ));
    }
}
