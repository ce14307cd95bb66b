//! Values by the day that they are made from: columns of dates repeat
//! themselves, and to find a value again costs a fifth of reckoning it.

use crate::phrase::Value;
use jiff::civil::Date;

/// Days that share a place have the same number modulo this: five and a half
/// years of days have each a place of their own.
const PLACES: usize = 2048;

/// Longer texts are not remembered.
const LONGEST: usize = 22;

/// What a phrase gave for days, one at each place.
#[derive(Clone, Debug, Default)]
pub(super) struct Memo {
    known: Vec<Option<Known>>,
}

#[derive(Clone, Debug)]
struct Known {
    day: Date,
    len: u8,
    text: [u8; LONGEST],
    value: Value,
}

impl Memo {
    /// The value for a day; its clean text is appended to `out`.
    #[inline]
    pub(super) fn get(&self, day: Date, out: &mut Vec<u8>) -> Option<&Value> {
        let known = self.known.get(place(day))?.as_ref()?;
        if known.day != day {
            return None;
        }
        // To copy always so many bytes is faster than to copy as many as there are.
        let length = out.len() + usize::from(known.len);
        out.extend_from_slice(&known.text);
        out.truncate(length);
        Some(&known.value)
    }

    /// Remembers a value, unless its text is long.
    pub(super) fn put(&mut self, day: Date, value: &Value, clean: &[u8]) {
        if clean.len() > LONGEST {
            return;
        }
        if self.known.is_empty() {
            self.known.resize(PLACES, None);
        }
        let mut text = [0; LONGEST];
        text[..clean.len()].copy_from_slice(clean);
        self.known[place(day)] = Some(Known {
            day,
            len: clean.len() as u8,
            text,
            value: value.clone(),
        });
    }
}

fn place(day: Date) -> usize {
    let months = i32::from(day.year()) * 12 + i32::from(day.month());
    (months * 31 + i32::from(day.day())).rem_euclid(PLACES as i32) as usize
}
