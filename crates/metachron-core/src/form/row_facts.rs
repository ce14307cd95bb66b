//! What other cells of its row say about a cell.

use super::Impossible;
use crate::lex::{Lexer, Words};
use crate::locale::{HourSpan, Names, Roles, span_of};

/// What other cells of its row say about a cell.
///
/// ```
/// use metachron_core::form::{HalfOfDay, RowFactsReader};
///
/// let mut reader = RowFactsReader::default();
/// assert_eq!(reader.read(Some(" 2024 "), None).year, Some(2024));
/// assert_eq!(reader.read(Some("n/a"), None).year, None);
/// assert_eq!(reader.read(None, Some("n/a")).half_of_day, HalfOfDay::Unsaid);
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct RowFacts {
    /// The year of a date without one.
    pub year: Option<i16>,
    /// Which half of the day an hour without one is in.
    pub half_of_day: HalfOfDay,
}

/// Which half of the day an hour is in that the cell itself does not put into one.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum HalfOfDay {
    /// The clock has 24 hours.
    #[default]
    AsWritten,
    /// The clock may have 12 hours, and the row does not say the half.
    Unsaid,
    /// The row says it.
    Said(HourSpan),
}

impl HalfOfDay {
    /// The hour of the day, 0–24, that a cell means by `hour`. Those past 12 are in
    /// the second half by themselves, and 0 in the first.
    pub(super) fn hour(self, hour: u8) -> Result<u8, Impossible> {
        match self {
            HalfOfDay::Said(half) if hour <= 12 => {
                half.hour(hour).ok_or(Impossible::NotThen { hour })
            }
            HalfOfDay::Said(half) if hour < 24 && half.hour(hour - 12) != Some(hour) => {
                Err(Impossible::NotThen { hour })
            }
            HalfOfDay::Unsaid if (1..=12).contains(&hour) => Err(Impossible::NoHalfOfDay),
            _ => Ok(hour),
        }
    }
}

/// Reads the cells that say something about others.
#[derive(Clone, Debug)]
pub struct RowFactsReader {
    /// The other column may be in another language than the one it speaks of.
    lexer: Lexer,
}

impl Default for RowFactsReader {
    fn default() -> RowFactsReader {
        RowFactsReader {
            lexer: Lexer::new(Names::Anywhere, Words::Keep),
        }
    }
}

impl RowFactsReader {
    /// What the cell with the year and that with the half of the day say, of those
    /// that there are.
    pub fn read(&mut self, year: Option<&str>, half_of_day: Option<&str>) -> RowFacts {
        RowFacts {
            year: year.and_then(year_of),
            half_of_day: half_of_day.map_or(HalfOfDay::AsWritten, |text| {
                (self.half_of(text)).map_or(HalfOfDay::Unsaid, HalfOfDay::Said)
            }),
        }
    }

    /// The half of the day that a cell holds, and nothing else: a word for a part of
    /// the day in any language, or the first letter of a.m. or p.m.
    pub fn half_of(&mut self, text: &str) -> Option<HourSpan> {
        // `a. m.` is two words for a lexer, where no time stands before it.
        let letters = text
            .trim()
            .chars()
            .filter(|letter| !". \u{a0}".contains(*letter));
        match letters.collect::<String>().to_ascii_lowercase().as_str() {
            "a" | "am" => return Some(HourSpan::AM),
            "p" | "pm" => return Some(HourSpan::PM),
            _ => {}
        }
        let cell = self.lexer.lex(text).ok()?;
        let [token] = cell.tokens() else {
            return None;
        };
        let is_named = token.class.may_be(Roles::DAY_PERIOD);
        let is_moment = |span: &HourSpan| span.from == span.before;
        span_of(token.value).filter(|span| is_named && !is_moment(span))
    }
}

/// A year in three or four digits.
fn year_of(text: &str) -> Option<i16> {
    let text = text.trim();
    let is_year = matches!(text.len(), 3 | 4) && text.bytes().all(|b| b.is_ascii_digit());
    text.parse().ok().filter(|_| is_year)
}
