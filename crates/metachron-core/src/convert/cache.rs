//! A small cache of raw text → clean text: date columns repeat themselves.

use crate::lex::ends_hash as hash;
use crate::verdict::Verdict;

/// Cells and clean texts of up to this many bytes are remembered.
const TEXT: usize = 30;

/// At most so many cells are remembered: days of a year and a half.
const MOST_SLOTS: usize = 512;

/// Remembers the last cell for each of some hashes.
#[derive(Clone, Debug)]
pub(super) struct Cache {
    /// Empty until the first cell, then so many as `wanted`.
    slots: Vec<Slot>,
    wanted: usize,
}

impl Default for Cache {
    fn default() -> Self {
        Cache::new(usize::MAX)
    }
}

#[derive(Clone, Debug)]
struct Slot {
    verdict: Verdict,
    raw_len: u8,
    clean_len: u8,
    raw: [u8; TEXT],
    clean: [u8; TEXT],
}

impl Cache {
    /// A cache that takes at most so many bytes.
    pub(super) fn new(bytes: usize) -> Cache {
        Cache {
            slots: Vec::new(),
            wanted: (bytes / size_of::<Slot>()).min(MOST_SLOTS),
        }
    }

    #[inline]
    pub(super) fn get(&self, raw: &str) -> Option<(Verdict, &[u8])> {
        let slot = self.slots.get(self.place(raw))?;
        let known = slot.raw.get(..usize::from(slot.raw_len))?;
        (slot.raw_len > 0 && known == raw.as_bytes())
            .then(|| (slot.verdict, &slot.clean[..usize::from(slot.clean_len)]))
    }

    pub(super) fn put(&mut self, raw: &str, verdict: Verdict, clean: &[u8]) {
        if raw.is_empty() || raw.len() > TEXT || clean.len() > TEXT {
            return;
        }
        if self.slots.is_empty() {
            self.slots = vec![Slot::EMPTY; self.wanted];
        }
        let place = self.place(raw);
        let Some(slot) = self.slots.get_mut(place) else {
            return;
        };
        slot.verdict = verdict;
        slot.raw_len = raw.len() as u8;
        slot.clean_len = clean.len() as u8;
        slot.raw[..raw.len()].copy_from_slice(raw.as_bytes());
        slot.clean[..clean.len()].copy_from_slice(clean);
    }

    #[inline]
    fn place(&self, raw: &str) -> usize {
        // Takes the hash, which fills 32 bits, to a place below `wanted`.
        ((hash(raw.as_bytes()) * self.wanted as u64) >> 32) as usize
    }
}

impl Slot {
    const EMPTY: Slot = Slot {
        verdict: Verdict::Blank,
        raw_len: 0,
        clean_len: 0,
        raw: [0; TEXT],
        clean: [0; TEXT],
    };
}
