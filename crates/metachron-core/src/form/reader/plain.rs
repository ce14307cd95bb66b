//! The way most cells of most tables are written: a day of the Gregorian
//! calendar in whole tokens, perhaps with a time of day, and nothing else.
//!
//! What a reader does for any form is done here for these
//! alone, in a third of the time (docs/speed.md).

use super::date::no_month;
use super::slot::Slot;
use crate::form::{Century, Impossible};
use crate::lex::Lexed;
use crate::locale::month_of;
use crate::stamp::Stamp;
use jiff::civil::Date;

/// The tokens of a day, and of a time of day.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Plain {
    year: u8,
    month: Month,
    day: u8,
    clock: ClockTokens,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Month {
    Number(u8),
    Name(u8),
}

/// The tokens of hour and minute, and perhaps second.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum ClockTokens {
    None,
    Minutes([u8; 2]),
    Seconds([u8; 3]),
}

impl ClockTokens {
    /// Hour, minute and second of `cell`; `None` where they are no usual ones.
    #[inline(always)]
    fn numbers(self, cell: &Lexed<'_>) -> Option<(i8, i8, i8)> {
        let number = |index| number(cell, index);
        let (hour, minute, second) = match self {
            ClockTokens::None => (0, 0, 0),
            ClockTokens::Minutes([hour, minute]) => (number(hour)?, number(minute)?, 0),
            ClockTokens::Seconds([hour, minute, second]) => {
                (number(hour)?, number(minute)?, number(second)?)
            }
        };
        let is_usual = hour <= 23 && minute <= 59 && second <= 59;
        is_usual.then_some((hour as i8, minute as i8, second as i8))
    }
}

impl Plain {
    /// Of a form with these slots; `None` where one of them is no whole token,
    /// or is missing.
    pub(super) fn new(date: [Slot; 3], clock: Option<[Slot; 3]>) -> Option<Plain> {
        let digits = |slot: Slot| match slot {
            Slot::Digits(token) => Some(token),
            _ => None,
        };
        let [year, month, day] = date;
        Some(Plain {
            year: digits(year)?,
            month: match month {
                Slot::Name(token) => Month::Name(token),
                number => Month::Number(digits(number)?),
            },
            day: digits(day)?,
            clock: match clock {
                None => ClockTokens::None,
                Some([hour, minute, Slot::None]) => {
                    ClockTokens::Minutes([digits(hour)?, digits(minute)?])
                }
                Some([hour, minute, second]) => {
                    ClockTokens::Seconds([digits(hour)?, digits(minute)?, digits(second)?])
                }
            },
        })
    }

    /// What `cell` reads as; `None` where that is nothing, or nothing usual.
    ///
    /// Nothing else is handed back: a result that may be an error as well is
    /// put together in memory, at a third of the price of reading.
    #[inline(always)]
    pub(super) fn read(&self, cell: &Lexed<'_>, century: Century) -> Option<Stamp> {
        let (year, month, day) = self.day(cell, century)?;
        let date = Date::new(year, month as i8, day as i8).ok()?;
        if self.clock == ClockTokens::None {
            return Some(Stamp::Date(date));
        }
        let (hour, minute, second) = self.clock.numbers(cell)?;
        Some(Stamp::DateTime(date.at(hour, minute, second, 0)))
    }

    /// Why `cell` is no day: of two orders, one hardly ever fits. `None` where
    /// something else is the matter.
    #[inline(never)]
    pub(super) fn no_day(&self, cell: &Lexed<'_>, century: Century) -> Option<Impossible> {
        let (year, month, day) = self.day(cell, century)?;
        if !(1..=12).contains(&month) {
            let slot = match self.month {
                Month::Number(token) => Slot::Digits(token),
                Month::Name(token) => Slot::Name(token),
            };
            return Some(no_month(month, slot));
        }
        let date = Date::new(year, month as i8, day as i8);
        date.is_err()
            .then_some(Impossible::Day { day, month, year })
    }

    #[inline(always)]
    fn day(&self, cell: &Lexed<'_>, century: Century) -> Option<(i16, u8, u8)> {
        let year = cell.tokens().get(usize::from(self.year))?;
        let text = cell.text().as_bytes();
        let year = match text.get(year.start as usize..year.end as usize)? {
            [a, b, c, d] => four_digits([*a, *b, *c, *d]),
            [a, b] => century.year(two_digits([*a, *b])),
            _ => return None,
        };
        let month = match self.month {
            Month::Number(index) => number(cell, index)?,
            Month::Name(index) => month_of(cell.tokens().get(usize::from(index))?.value),
        };
        Some((year, month, number(cell, self.day)?))
    }
}

/// The number of one or two digits that token `place` is.
#[inline(always)]
fn number(cell: &Lexed<'_>, index: u8) -> Option<u8> {
    let token = cell.tokens().get(usize::from(index))?;
    let text = cell.text().as_bytes();
    match text.get(token.start as usize..token.end as usize)? {
        [a, b] => Some(two_digits([*a, *b])),
        [a] => Some(a.wrapping_sub(b'0')),
        _ => None,
    }
}

/// The number that two digits make.
#[inline(always)]
pub(super) fn two_digits([a, b]: [u8; 2]) -> u8 {
    // 48 × 11 is 16 in a byte: one subtraction for both digits.
    a.wrapping_mul(10).wrapping_add(b).wrapping_sub(16)
}

/// The number that four digits make.
#[inline(always)]
pub(super) fn four_digits([a, b, c, d]: [u8; 4]) -> i16 {
    i16::from(two_digits([a, b])) * 100 + i16::from(two_digits([c, d]))
}

#[cfg(test)]
mod tests {
    use crate::form::{Conventions, Form};
    use crate::lex::Lexer;
    use proptest::prelude::*;

    proptest! {
        /// The fast way of a plain form reads what the way of any form reads.
        #[test]
        fn the_fast_way_is_the_slow_way(
            pattern in prop::sample::select(vec![
                ("d/M/yyyy", "{d}/{m}/{y}"),
                ("MM/dd/yyyy HH:mm", "{m}/{d}/{y} {h}:{n}"),
                ("yyyy-MM-dd HH:mm:ss", "{y}-{m}-{d} {h}:{n}:{n}"),
                ("d MMM yyyy", "{d} Mar {y}"),
                ("dd.MM.yy", "{d}.{m}.{n}"),
            ]),
            (d, m, y) in (0..40_u8, 0..20_u8, 0..10_000_u16),
            (h, n) in (0..30_u8, 0..70_u8),
        ) {
            let (pattern, cell) = pattern;
            let numbers = [("{d}", d), ("{m}", m), ("{h}", h), ("{n}", n)];
            let mut text = cell.replace("{y}", &format!("{y:04}"));
            for (name, number) in numbers {
                text = text.replace(name, &format!("{number:02}"));
            }
            let form: Form = pattern.parse().unwrap();
            let mut lexer = Lexer::default();
            let cell = lexer.lex(&text).unwrap();
            let reader = form.fit(&cell.shape()).unwrap();
            prop_assert!(reader.plain.is_some());
            let conventions = Conventions::default();
            prop_assert_eq!(reader.read(&cell, conventions), reader.special(&cell, conventions));
        }
    }
}
