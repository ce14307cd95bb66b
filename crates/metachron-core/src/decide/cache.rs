//! A small cache of raw text → stamp and clean text: date columns repeat themselves.

use crate::decide::Verdict;
use crate::lex::Key;
use crate::stamp::Stamp;

/// Clean texts of up to this many bytes are remembered.
const CLEAN: usize = 30;

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
    raw: Key,
    verdict: Verdict,
    stamp: Option<Stamp>,
    clean_len: u8,
    clean: [u8; CLEAN],
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
    pub(super) fn get(&self, raw: &str) -> Option<(Verdict, Option<Stamp>, &[u8])> {
        if self.slots.is_empty() {
            return None;
        }
        let raw = Key::of(raw.as_bytes())?;
        let slot = self.slots.get(raw.index(self.slots.len()))?;
        let clean = slot.clean.get(..usize::from(slot.clean_len))?;
        (slot.raw == raw).then_some((slot.verdict, slot.stamp, clean))
    }

    pub(super) fn put(
        &mut self,
        raw: &str,
        (verdict, stamp): (Verdict, Option<Stamp>),
        clean: &[u8],
    ) {
        let Some(raw) = Key::of(raw.as_bytes()).filter(|_| clean.len() <= CLEAN) else {
            return;
        };
        if self.slots.is_empty() {
            self.slots = vec![Slot::EMPTY; self.wanted];
        }
        let index = raw.index(self.slots.len());
        let Some(slot) = self.slots.get_mut(index) else {
            return;
        };
        slot.raw = raw;
        slot.verdict = verdict;
        slot.stamp = stamp;
        slot.clean_len = clean.len() as u8;
        slot.clean[..clean.len()].copy_from_slice(clean);
    }
}

impl Slot {
    const EMPTY: Slot = Slot {
        raw: Key::NONE,
        verdict: Verdict::Blank,
        stamp: None,
        clean_len: 0,
        clean: [0; CLEAN],
    };
}
