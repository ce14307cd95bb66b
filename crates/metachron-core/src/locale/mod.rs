//! The names that dates are written with, in every locale of CLDR.
//!
//! [`meaning`] says what an English word means inside a date. A `Lexicon`
//! holds the names of other locales, which a [`Tag`] chooses; [`everywhere`]
//! is the one of all languages at once.
//!
//! ```
//! use metachron_core::locale::{LexiconEntry, Tag, everywhere, month_of};
//!
//! let Some(LexiconEntry::Name(meaning)) = everywhere().get("März") else {
//!     unreachable!("it is a German name");
//! };
//! assert_eq!(month_of(meaning.value()), 3);
//! ```

mod cldr;
mod english;
mod every_language;
mod fillers;
mod fold;
mod han_numbers;
mod lexicon;
mod meaning;
mod names;
#[cfg(test)]
mod names_table;
mod patterns;
mod tag;
mod word_list;
mod word_tree;
mod wording;
mod zone_names;

pub(crate) use every_language::{
    agree_about_part_of_day, language_with_most, meanings_in, months_meant, widespread,
};
pub use every_language::{everywhere, languages_with};
pub(crate) use fillers::{Sign, is_sign};
pub use fillers::{filler, filler_text};
pub(crate) use fold::{is_unspaced, is_word_letter, plain_text, without_accents};
pub(crate) use lexicon::Lexicon;
pub use lexicon::LexiconEntry;
pub use meaning::{HourSpan, Meaning, NameWidth, Roles, month_of};
pub(crate) use meaning::{era_of, span_of, unit_of, weekday_of};
pub use names::Names;
pub use patterns::{patterns, short_dates, usual_patterns};
pub use tag::{ParseTagError, Tag, locales};
pub use wording::Wording;
pub(crate) use zone_names::{ZoneName, zones_meant};

/// What the English `word` means, whatever its case; `None` where it means
/// nothing in a date.
///
/// ```
/// use metachron_core::locale::{Meaning, NameWidth, meaning};
///
/// assert_eq!(meaning("SEPT"), Some(Meaning::month(9, NameWidth::Abbreviated)));
/// assert_eq!(meaning("Rotterdam"), None);
/// ```
pub fn meaning(word: &str) -> Option<Meaning> {
    english::meaning(word)
}

/// What the English `word` is, whatever its case.
pub(crate) fn english_word(word: &str) -> Option<LexiconEntry> {
    english::found(word)
}

/// The pattern in which `tag` usually writes stamps of `kind`, of middle
/// length, in the Gregorian calendar; `None` for spans longer than a day
/// and for lengths of time.
///
/// ```
/// use metachron_core::locale::usual_pattern;
/// use metachron_core::stamp::Kind;
///
/// let pattern = usual_pattern(&"de".parse()?, Kind::Date);
/// assert_eq!(pattern.as_deref(), Some("dd.MM.y"));
/// # Ok::<(), metachron_core::locale::ParseTagError>(())
/// ```
pub fn usual_pattern(tag: &Tag, kind: crate::stamp::Kind) -> Option<String> {
    cldr::usual_pattern(tag.locale(), kind)
}

/// The English name of month `1..=12`, in full.
///
/// # Panics
///
/// Where `month` is not in `1..=12`.
pub fn month_name(month: i8) -> &'static str {
    english::MONTHS[usize::from(month.unsigned_abs()) - 1]
}

/// The English name of weekday `1..=7` (Monday is 1), in full.
///
/// # Panics
///
/// Where `weekday` is not in `1..=7`.
pub fn weekday_name(weekday: u8) -> &'static str {
    english::WEEKDAYS[usize::from(weekday) - 1]
}
