//! The names that dates are written with.
//!
//! [`meaning`] says what a word means inside a date. English is the language
//! in place; others join behind the same function.

mod english;

/// What a word means inside a date or time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Meaning {
    /// A month, 1–12, and how much of its name was written.
    Month(u8, NameWidth),
    /// A weekday, 1 (Monday) – 7 (Sunday), numbered as ISO 8601 does.
    Weekday(u8, NameWidth),
    /// `am` or `pm`.
    DayPeriod(DayPeriod),
    /// The suffix of an ordinal number: `st`, `nd`, `rd`, `th`.
    Ordinal,
    /// `UTC` or `GMT`: the offset zero, spelled out.
    Utc,
    /// `of`, as in `5th of March`.
    Of,
}

/// Half of the twelve-hour clock.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DayPeriod {
    /// Midnight to noon.
    Am,
    /// Noon to midnight.
    Pm,
}

/// How much of a month's or weekday's name is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum NameWidth {
    /// `Mar`, `Tue`.
    Abbreviated,
    /// `March`, `Tuesday`.
    Wide,
    /// `May` is both.
    Either,
}

/// What `word` means, whatever its case; `None` where it means nothing in a
/// date.
///
/// ```
/// use metachron_core::locale::{Meaning, NameWidth, meaning};
///
/// assert_eq!(meaning("SEPT"), Some(Meaning::Month(9, NameWidth::Abbreviated)));
/// assert_eq!(meaning("Rotterdam"), None);
/// ```
pub fn meaning(word: &str) -> Option<Meaning> {
    english::meaning(word)
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
