//! A small cache of raw text → clean text: date columns repeat themselves.

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

/// A hash of 32 bits: of the text's first and last eight bytes, which overlap in a
/// short one, and its length.
#[inline]
fn hash(raw: &[u8]) -> u64 {
    let half = |bytes: &[u8]| match bytes.first_chunk::<8>() {
        Some(chunk) => u64::from_le_bytes(*chunk),
        None => bytes
            .iter()
            .fold(0, |value, byte| value << 8 | u64::from(*byte)),
    };
    let first = half(raw);
    let last = half(&raw[raw.len().saturating_sub(8)..]);
    let mixed =
        (first ^ last.rotate_left(29) ^ raw.len() as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15);
    mixed >> 32
}
