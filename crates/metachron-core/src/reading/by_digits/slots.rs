//! The digits of a cell, two by two.

use crate::form::Place;
use crate::lex::Signature;

/// The bytes of a cell as digits, 0 where there is no cell.
pub(super) struct Digits([u8; 2 * Signature::LONGEST]);

/// Where the tens and the ones of a number of two digits stand.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Slot {
    tens: u8,
    ones: u8,
}

/// The slots of all numbers of a layout.
#[derive(Clone, Debug)]
pub(super) struct Slots {
    slots: [Slot; Slots::MOST],
    count: usize,
}

/// The numbers that stand in the slots of a cell.
#[derive(Clone, Copy)]
pub(super) struct Numbers<'c> {
    slots: &'c Slots,
    digits: &'c Digits,
}

/// The index of the slot that a number stands in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Index(u8);

/// The place of no digit: behind the longest cell.
const NOWHERE: u8 = 2 * Signature::LONGEST as u8 - 1;

/// `0` in each byte.
const ZEROS: u64 = u64::from_le_bytes([b'0'; 8]);

impl Digits {
    #[inline(always)]
    pub(super) fn of(text: &[u8]) -> Digits {
        let mut digits = Digits([0; 2 * Signature::LONGEST]);
        let Some(last) = text.last_chunk::<8>() else {
            for (digit, byte) in digits.0.iter_mut().zip(text) {
                *digit = byte ^ b'0';
            }
            return digits;
        };
        let mut put = |from: usize, bytes: &[u8; 8]| {
            let word = u64::from_le_bytes(*bytes) ^ ZEROS;
            if let Some(to) = digits.0.get_mut(from..from + 8) {
                to.copy_from_slice(&word.to_le_bytes());
            }
        };
        for (number, chunk) in text.chunks_exact(8).enumerate() {
            if let Some(chunk) = chunk.first_chunk() {
                put(8 * number, chunk);
            }
        }
        // The last eight bytes, some of them for the second time.
        put(text.len() - 8, last);
        digits
    }

    #[inline(always)]
    fn get(&self, at: u8) -> u8 {
        self.0[usize::from(at & NOWHERE)]
    }

    /// The number that the digits in `place` make.
    #[inline]
    fn number(&self, place: Place) -> u64 {
        let digits = self.0.get(place.bytes()).unwrap_or_default();
        digits
            .iter()
            .fold(0, |all, digit| all * 10 + u64::from(*digit))
    }
}

impl Default for Slots {
    fn default() -> Slots {
        let nowhere = Slot {
            tens: NOWHERE,
            ones: NOWHERE,
        };
        Slots {
            slots: [nowhere; Slots::MOST],
            count: 0,
        }
    }
}

impl Slots {
    /// A power of two.
    const MOST: usize = 16;

    /// The slot of the up to two digits in `place`; `None` where there is no room.
    pub(super) fn add(&mut self, place: Place) -> Option<Index> {
        let ones = u8::try_from(place.bytes().end - 1).ok()?;
        let slot = Slot {
            tens: match place.len() {
                1 => NOWHERE,
                2 => ones - 1,
                _ => return None,
            },
            ones,
        };
        let index = self.slots.iter().position(|known| *known == slot);
        let index = index.unwrap_or(self.count);
        *self.slots.get_mut(index)? = slot;
        self.count = self.count.max(index + 1);
        Some(Index(index as u8))
    }

    /// The number that stands in one of the slots of `text`.
    #[inline]
    pub(super) fn number(&self, index: Index, text: &[u8]) -> Option<u8> {
        let Slot { tens, ones } = self.slots.get(usize::from(index.0))?;
        let digit = |at: u8| text.get(usize::from(at)).map_or(0, |byte| byte ^ b'0');
        Some(digit(*tens).wrapping_mul(10).wrapping_add(digit(*ones)))
    }

    /// The numbers of a cell.
    #[inline(always)]
    pub(super) fn of<'c>(&'c self, digits: &'c Digits) -> Numbers<'c> {
        Numbers {
            slots: self,
            digits,
        }
    }
}

impl Numbers<'_> {
    #[inline(always)]
    pub(super) fn get(self, index: Index) -> u8 {
        let Slot { tens, ones } = self.slots.slots[usize::from(index.0) & (Slots::MOST - 1)];
        let tens = self.digits.get(tens).wrapping_mul(10);
        tens.wrapping_add(self.digits.get(ones))
    }

    /// The number that the digits in `place` make.
    #[inline]
    pub(super) fn long(self, place: Place) -> u64 {
        self.digits.number(place)
    }
}
