//! Cells by the day that they are made from: columns of dates repeat
//! themselves, and to find a cell again costs a fifth of making it.

use super::Given;
use crate::cache::{Cache, CacheKey};
use crate::phrase::append;
use crate::row::{OutCell, push_text};
use crate::stamp::Stamp;
use jiff::civil::Date;

/// Days in a row have a slot each: five and a half years of them.
const SLOTS: usize = 1024;

/// Longer texts are not remembered: what is remembered has to stay near the
/// processor, or is found no faster than made.
const LONGEST: usize = 11;

/// The cells that were made for days, one in each slot.
#[derive(Clone, Debug)]
pub(super) struct Memo {
    known: Cache<Date, Cell>,
}

impl Default for Memo {
    fn default() -> Memo {
        Memo {
            known: Cache::new(SLOTS, usize::MAX),
        }
    }
}

impl CacheKey for Date {
    #[inline]
    fn hash(&self) -> u32 {
        let months = i32::from(self.year()) * 12 + i32::from(self.month());
        let day = months * 31 + i32::from(self.day());
        // Days that follow each other lie far apart (Knuth, The Art of Computer
        // Programming, volume 3, section 6.4, on Fibonacci hashing).
        day.cast_unsigned().wrapping_mul(0x9e37_79b1)
    }
}

/// A cell that is small enough to be remembered.
#[derive(Clone, Copy, Debug)]
enum Cell {
    Blank,
    Day(Date),
    Text(Short),
    Number(Short),
}

/// A short text.
#[derive(Clone, Copy, Debug)]
struct Short {
    len: u8,
    text: [u8; LONGEST],
}

impl Short {
    fn of(text: &[u8]) -> Option<Short> {
        let mut short = Short {
            len: text.len() as u8,
            text: [0; LONGEST],
        };
        short.text.get_mut(..text.len())?.copy_from_slice(text);
        Some(short)
    }

    #[inline]
    fn append(&self, out: &mut Vec<u8>) {
        append(&self.text, usize::from(self.len), out);
    }
}

impl Memo {
    /// What was given for a day, if it is known; its text is appended to
    /// `text`.
    #[inline]
    pub(super) fn get(&mut self, day: Date, text: &mut Vec<u8>) -> Option<Given> {
        Some(Given::Value(match self.known.get(&day)? {
            Cell::Blank => return Some(Given::Blank),
            Cell::Day(day) => OutCell::Stamp(Stamp::Date(*day)),
            Cell::Text(short) => OutCell::Text(push_text(text, |out| short.append(out))),
            Cell::Number(short) => OutCell::Number(push_text(text, |out| short.append(out))),
        }))
    }

    /// Remembers what was given, unless it is large.
    pub(super) fn put(&mut self, day: Date, given: &Given, text: &[u8]) {
        let short = |range: &std::ops::Range<u32>| {
            Short::of(&text[range.start as usize..range.end as usize])
        };
        let cell = match given {
            Given::Blank => Some(Cell::Blank),
            Given::Value(OutCell::Stamp(Stamp::Date(day))) => Some(Cell::Day(*day)),
            Given::Value(OutCell::Text(range)) => short(range).map(Cell::Text),
            Given::Value(OutCell::Number(range)) => short(range).map(Cell::Number),
            _ => None,
        };
        if let Some(cell) = cell {
            self.known.put(day, cell);
        }
    }
}
