//! Cells of plain numbers (`31/12/2024`, `2024-12-31 14:30`): what becomes of them
//! follows from the pair of day and month, whatever the year and the time. So what was
//! found out about one of them holds for the others of its pair.

use crate::calendar::{Calendar, is_far};
use crate::form::{
    ClockTokens, Conventions, First, HalfOfDay, NumberTokens, four_digits, two_digits,
};
use crate::lex::Lexed;
use crate::reading::Readings;

/// Day and month are below this.
const PAIR: usize = 32;

/// The numbers of a shape whose candidates are all plain, and differ in the order of
/// day and month alone.
#[derive(Clone, Debug)]
pub(crate) struct PlainNumbers {
    tokens: NumberTokens,
    /// What the first number is, by candidate.
    firsts: Vec<First>,
    /// Tokens that some candidate wants to have two digits.
    pairs: u32,
}

/// What is known of cells of plain numbers, by their pair of day and month.
#[derive(Clone, Debug)]
pub(crate) struct PairTable<T>(Vec<Option<T>>);

impl PlainNumbers {
    /// Those of a shape, if its candidates and the conventions leave it at that.
    pub(crate) fn of(readings: &Readings, conventions: Conventions) -> Option<PlainNumbers> {
        let is_as_written = conventions.calendar == Calendar::Gregory
            && conventions.half_of_day == HalfOfDay::AsWritten;
        let mut candidates = readings.candidates().iter().filter(|_| is_as_written);
        let (tokens, first, pairs) = candidates.next()?.reader.numbers()?;
        let mut numbers = PlainNumbers {
            tokens,
            firsts: vec![first],
            pairs,
        };
        for candidate in candidates {
            let (tokens, first, pairs) = candidate.reader.numbers()?;
            if tokens != numbers.tokens {
                return None;
            }
            numbers.firsts.push(first);
            numbers.pairs |= pairs;
        }
        Some(numbers)
    }

    /// What the first number is, by candidate.
    pub(crate) fn firsts(&self) -> &[First] {
        &self.firsts
    }

    /// Where the numbers of `cell` stand; `None` where it has no such numbers.
    pub(crate) fn positions(&self, cell: &Lexed<'_>) -> Option<NumberPositions> {
        NumberPositions::in_cell(&self.tokens, cell)
    }

    /// The same, if the cells of its layout can be told by their pairs.
    pub(crate) fn positions_in_layout(&self, cell: &Lexed<'_>) -> Option<NumberPositions> {
        // The texts of a layout are cut alike; other texts have none.
        let has_width = self.pairs & !cell.marks().pairs == 0;
        cell.layout().filter(|_| has_width)?;
        self.positions(cell)
    }
}

impl<T> Default for PairTable<T> {
    fn default() -> PairTable<T> {
        PairTable(Vec::new())
    }
}

impl<T: Copy> PairTable<T> {
    /// What a table takes, in bytes.
    pub(crate) const BYTES: usize = PAIR * PAIR * size_of::<Option<T>>();

    /// What is known of cells of these numbers.
    #[inline(always)]
    pub(crate) fn get(&self, parts: Parts) -> Option<T> {
        *self.0.get(index_of(parts)?)?
    }

    /// Remembers what was found out about a cell of these numbers, where that holds
    /// for all others of the pair.
    pub(crate) fn put(&mut self, parts: Parts, known: T) {
        // 29 February is not in every year.
        let may_be_leap = matches!(parts.pair, [2, 29] | [29, 2]);
        if let Some(index) = index_of(parts).filter(|_| !may_be_leap) {
            if self.0.is_empty() {
                self.0 = vec![None; PAIR * PAIR];
            }
            self.0[index] = Some(known);
        }
    }
}

/// The index of the pair of a cell; `None` where there is more to it. Midnight says
/// more than other times, and so does a year far from ours.
#[inline(always)]
fn index_of(parts: Parts) -> Option<usize> {
    let [one, other] = parts.pair.map(usize::from);
    let is_usual = one < PAIR && other < PAIR && parts.clock != Some([0; 3]) && !is_far(parts.year);
    is_usual.then_some(one * PAIR + other)
}

/// Where the numbers of a plain form stand in cells that differ in their digits
/// alone.
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

impl NumberPositions {
    /// Where the numbers of `cell` stand, which are these tokens; `None` where its year has not four
    /// digits.
    pub(crate) fn in_cell(tokens: &NumberTokens, cell: &Lexed<'_>) -> Option<NumberPositions> {
        let place = |token: u8| {
            let token = cell.tokens().get(usize::from(token))?;
            let [start, digits] = [token.start, token.len()].map(|part| u8::try_from(part).ok());
            let (start, digits) = (start?, digits?);
            Some(Place { start, digits })
        };
        let number = |token: u8| place(token).filter(|place| place.digits <= 2);
        let [one, other] = tokens.pair;
        Some(NumberPositions {
            year: place(tokens.year).filter(|year| year.digits == 4)?.start,
            pair: [number(one)?, number(other)?],
            clock: match tokens.clock {
                ClockTokens::None => None,
                ClockTokens::Minutes([hour, minute]) => {
                    Some([number(hour)?, number(minute)?, Place::default()])
                }
                ClockTokens::Seconds([hour, minute, second]) => {
                    Some([number(hour)?, number(minute)?, number(second)?])
                }
            },
        })
    }

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
            year: four_digits(*year),
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
            2 => two_digits(*digits.first_chunk()?),
            1 => digits.first()?.wrapping_sub(b'0'),
            _ => 0,
        })
    }
}
