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
    clock: Clock,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Month {
    Number(u8),
    Name(u8),
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Clock {
    None,
    Minutes([u8; 2]),
    Seconds([u8; 3]),
}

/// The numbers of a plain form, whatever its order: which tokens they are.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Numbers {
    year: u8,
    /// Day and month, as they stand in the cell.
    pair: [u8; 2],
    clock: Clock,
}

/// Where those numbers stand in cells that differ in their digits alone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct NumberPositions {
    /// The first of the year's four digits.
    year: u8,
    pair: [Place; 2],
    /// Hour, minute and second.
    clock: Option<[Place; 3]>,
}

/// Where a number of at most two digits stands.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
struct Place {
    start: u8,
    digits: u8,
}

/// The numbers of a cell.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Parts {
    /// The year.
    pub year: i16,
    /// Day and month, as they stand in the cell.
    pub pair: [u8; 2],
    /// Hour, minute and second, if the form has them.
    pub clock: Option<[u8; 3]>,
}

/// What the first number of the pair is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum First {
    Month,
    Day,
}

impl Numbers {
    /// Where the numbers of `cell` stand; `None` where its year has not four
    /// digits.
    pub(crate) fn indexes(&self, cell: &Lexed<'_>) -> Option<NumberPositions> {
        let index = |token: u8| {
            let token = cell.tokens().get(usize::from(token))?;
            let [start, digits] = [token.start, token.len()].map(|part| u8::try_from(part).ok());
            let (start, digits) = (start?, digits?);
            Some(Place { start, digits })
        };
        let number = |token: u8| index(token).filter(|index| index.digits <= 2);
        let [one, other] = self.pair;
        Some(NumberPositions {
            year: index(self.year).filter(|year| year.digits == 4)?.start,
            pair: [number(one)?, number(other)?],
            clock: match self.clock {
                Clock::None => None,
                Clock::Minutes([hour, minute]) => {
                    Some([number(hour)?, number(minute)?, Place::default()])
                }
                Clock::Seconds([hour, minute, second]) => {
                    Some([number(hour)?, number(minute)?, number(second)?])
                }
            },
        })
    }
}

impl NumberPositions {
    /// The numbers of a cell; `None` where it has no such places, or its time
    /// is no usual one.
    #[inline(always)]
    pub(crate) fn of(&self, text: &[u8]) -> Option<Parts> {
        let year = text.get(usize::from(self.year)..)?.first_chunk()?;
        let [one, other] = self.pair;
        let clock = match self.clock {
            None => None,
            Some([hour, minute, second]) => {
                let [hour, minute, second] = [hour.of(text)?, minute.of(text)?, second.of(text)?];
                let is_usual = hour <= 23 && minute <= 59 && second <= 59;
                Some(is_usual.then_some([hour, minute, second])?)
            }
        };
        Some(Parts {
            year: four(*year),
            pair: [one.of(text)?, other.of(text)?],
            clock,
        })
    }
}

impl Place {
    /// The number that stands there; 0 where there is none.
    #[inline(always)]
    fn of(self, text: &[u8]) -> Option<u8> {
        let digits = text.get(usize::from(self.start)..)?;
        Some(match self.digits {
            2 => two(*digits.first_chunk()?),
            1 => digits.first()?.wrapping_sub(b'0'),
            _ => 0,
        })
    }
}

impl Clock {
    /// Hour, minute and second of `cell`; `None` where they are no usual ones.
    #[inline(always)]
    fn numbers(self, cell: &Lexed<'_>) -> Option<(i8, i8, i8)> {
        let number = |index| number(cell, index);
        let (hour, minute, second) = match self {
            Clock::None => (0, 0, 0),
            Clock::Minutes([hour, minute]) => (number(hour)?, number(minute)?, 0),
            Clock::Seconds([hour, minute, second]) => {
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
                None => Clock::None,
                Some([hour, minute, Slot::None]) => {
                    Clock::Minutes([digits(hour)?, digits(minute)?])
                }
                Some([hour, minute, second]) => {
                    Clock::Seconds([digits(hour)?, digits(minute)?, digits(second)?])
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
        if self.clock == Clock::None {
            return Some(Stamp::Date(date));
        }
        let (hour, minute, second) = self.clock.numbers(cell)?;
        Some(Stamp::DateTime(date.at(hour, minute, second, 0)))
    }

    /// The numbers, and what the first of day and month is; `None` where the
    /// month is a name.
    pub(super) fn numbers(&self) -> Option<(Numbers, First)> {
        let Month::Number(month) = self.month else {
            return None;
        };
        let numbers = |pair| Numbers {
            year: self.year,
            pair,
            clock: self.clock,
        };
        Some(if month < self.day {
            (numbers([month, self.day]), First::Month)
        } else {
            (numbers([self.day, month]), First::Day)
        })
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
            [a, b, c, d] => four([*a, *b, *c, *d]),
            [a, b] => century.year(two([*a, *b])),
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
        [a, b] => Some(two([*a, *b])),
        [a] => Some(a.wrapping_sub(b'0')),
        _ => None,
    }
}

#[inline]
fn two([a, b]: [u8; 2]) -> u8 {
    // 48 × 11 is 16 in a byte: one subtraction for both digits.
    a.wrapping_mul(10).wrapping_add(b).wrapping_sub(16)
}

#[inline]
fn four([a, b, c, d]: [u8; 4]) -> i16 {
    i16::from(two([a, b])) * 100 + i16::from(two([c, d]))
}
