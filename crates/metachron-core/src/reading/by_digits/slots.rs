//! The digits of a cell, two by two.

use crate::form::Place;

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
    text: &'c [u8],
}

/// The index of the slot that a number stands in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Index(u8);

/// The place of no digit: behind the longest cell.
const NOWHERE: u8 = u8::MAX;

/// The digit at a byte of `text`; 0 where that has no such byte.
#[inline(always)]
fn digit(text: &[u8], at: u8) -> u8 {
    text.get(usize::from(at)).map_or(0, |byte| byte ^ b'0')
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

    /// The numbers of a cell.
    #[inline(always)]
    pub(super) fn of<'c>(&'c self, text: &'c [u8]) -> Numbers<'c> {
        Numbers { slots: self, text }
    }
}

impl Numbers<'_> {
    #[inline(always)]
    pub(super) fn get(self, index: Index) -> u8 {
        let Slot { tens, ones } = self.slots.slots[usize::from(index.0) & (Slots::MOST - 1)];
        let tens = digit(self.text, tens).wrapping_mul(10);
        tens.wrapping_add(digit(self.text, ones))
    }

    /// The number that the digits in `place` make.
    #[inline]
    pub(super) fn long(self, place: Place) -> u64 {
        let digits = self.text.get(place.bytes()).unwrap_or_default();
        let digits = digits.iter().map(|byte| u64::from(byte ^ b'0'));
        digits.fold(0, |all, digit| all * 10 + digit)
    }
}
