//! Cells that were tallied, for the next that are equal to them: columns
//! repeat themselves.

use super::steps::Moments;
use crate::lex::ends_hash as hash;
use jiff::civil::Date;

/// Texts of up to this many bytes are remembered.
const TEXT: usize = 28;

/// At most so many cells are remembered of a column: the days of several
/// years, and the names of any number of partners.
const MOST_SLOTS: usize = 2048;

/// What all columns of a surveyor may take to remember cells, in bytes.
const MEMORY: usize = 4 << 20;

/// Where a cell was tallied.
#[derive(Clone, Copy, Debug)]
pub(super) struct Seen {
    /// In which tally.
    pub at: At,
    /// The moment that it is.
    pub moments: Moments,
    /// The day that the first usual candidate reads, if it is one that may
    /// mark an empty cell.
    pub marker: Option<Date>,
}

/// A tally of a column.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum At {
    /// That of a shape, by their places.
    Shape(u16, u16),
    /// That of the cells of all other shapes.
    Others,
}

/// The last cell for each of some hashes.
#[derive(Debug)]
pub(super) struct SeenCells {
    /// Empty until the first cell, then so many as `wanted`.
    slots: Vec<Slot>,
    wanted: usize,
    /// How many cells were looked for, and how many found, up to [`TRIAL`].
    sought: u32,
    found: u32,
}

/// After so many cells it shows whether a column repeats itself …
const TRIAL: u32 = 1 << 13;

/// … which it does if one in so many is found. Else remembering costs more
/// than it saves.
const FOUND_ONE_IN: u32 = 8;

#[derive(Clone, Debug)]
struct Slot {
    len: u8,
    text: [u8; TEXT],
    seen: Seen,
}

impl SeenCells {
    /// Those of one of so many columns.
    pub(super) fn new(columns: usize) -> SeenCells {
        let share = MEMORY / columns.max(1) / size_of::<Slot>();
        SeenCells {
            slots: Vec::new(),
            wanted: share.min(MOST_SLOTS),
            sought: 0,
            found: 0,
        }
    }

    #[inline]
    pub(super) fn get(&mut self, text: &str) -> Option<Seen> {
        if self.slots.is_empty() {
            return None;
        }
        let slot = self.slots.get(self.place(text))?;
        let known = slot.text.get(..usize::from(slot.len))?;
        let seen = (slot.len > 0 && known == text.as_bytes()).then_some(slot.seen);
        if self.sought < TRIAL {
            self.try_out(seen.is_some());
        }
        seen
    }

    /// Gives up on a column that does not repeat itself.
    fn try_out(&mut self, is_found: bool) {
        self.sought += 1;
        self.found += u32::from(is_found);
        if self.sought == TRIAL && self.found * FOUND_ONE_IN < TRIAL {
            self.slots = Vec::new();
            self.wanted = 0;
        }
    }

    pub(super) fn put(&mut self, text: &str, seen: Seen) {
        if text.is_empty() || text.len() > TEXT || self.wanted == 0 {
            return;
        }
        if self.slots.is_empty() {
            let free = Slot {
                len: 0,
                text: [0; TEXT],
                seen: Seen {
                    at: At::Others,
                    moments: Moments::None,
                    marker: None,
                },
            };
            self.slots = vec![free; self.wanted];
        }
        let place = self.place(text);
        let slot = &mut self.slots[place];
        slot.len = text.len() as u8;
        slot.text[..text.len()].copy_from_slice(text.as_bytes());
        slot.seen = seen;
    }

    /// The slot of a text.
    #[inline]
    fn place(&self, text: &str) -> usize {
        // Takes the hash, which fills 32 bits, to a place below `wanted`.
        ((hash(text.as_bytes()) * self.wanted as u64) >> 32) as usize
    }
}
