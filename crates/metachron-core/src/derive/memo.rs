//! Texts by the day that they are made from: columns of dates repeat
//! themselves, and to find a text again costs a fifth of making it.

use crate::phrase::append;
use jiff::civil::Date;

/// Days that share a place have the same number modulo this: five and a half
/// years of days have each a place of their own.
const PLACES: usize = 2048;

/// Longer texts are not remembered: what is remembered has to stay near the
/// processor, or is found no faster than made.
const LONGEST: usize = 11;

/// The texts that were made for days, one at each place.
#[derive(Clone, Debug, Default)]
pub(super) struct Memo {
    known: Vec<Known>,
}

#[derive(Clone, Copy, Debug)]
struct Known {
    day: Date,
    len: u8,
    text: [u8; LONGEST],
}

/// What is longer than any text.
const NOTHING: Known = Known {
    day: Date::ZERO,
    len: u8::MAX,
    text: [0; LONGEST],
};

impl Memo {
    /// Appends the text for a day to `out`; its length, if it is known.
    #[inline]
    pub(super) fn get(&self, day: Date, out: &mut Vec<u8>) -> Option<usize> {
        let known = self.known.get(place(day))?;
        let len = usize::from(known.len);
        if known.day != day || len > LONGEST {
            return None;
        }
        append(&known.text, len, out);
        Some(len)
    }

    /// Remembers a text, unless it is long.
    pub(super) fn put(&mut self, day: Date, clean: &[u8]) {
        if clean.len() > LONGEST {
            return;
        }
        if self.known.is_empty() {
            self.known.resize(PLACES, NOTHING);
        }
        let known = &mut self.known[place(day)];
        (known.day, known.len) = (day, clean.len() as u8);
        known.text[..clean.len()].copy_from_slice(clean);
    }
}

fn place(day: Date) -> usize {
    let months = i32::from(day.year()) * 12 + i32::from(day.month());
    (months * 31 + i32::from(day.day())).rem_euclid(PLACES as i32) as usize
}
