//! Where the numbers of a cell stand, for cells that differ in their digits
//! alone.

use crate::form::{ClockTokens, NumberTokens, four_digits, two_digits};
use crate::lex::Lexed;

/// Where the numbers of a plain form stand in cells that differ in their digits
/// alone.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(in crate::evidence) struct NumberPositions {
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
pub(in crate::evidence) struct Parts {
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
    pub(in crate::evidence) fn in_cell(
        tokens: &NumberTokens,
        cell: &Lexed<'_>,
    ) -> Option<NumberPositions> {
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
    pub(in crate::evidence) fn of(&self, text: &[u8]) -> Option<Parts> {
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
