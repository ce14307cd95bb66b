//! Cells that differ from an earlier one in their digits alone: what was found
//! out about that one holds for them.

use crate::lex::Signature;
use crate::rulings::Blanks;

/// The kinds of cells that a column was found to have, by their signatures.
#[derive(Debug)]
pub(in crate::evidence) struct Signatures {
    kinds: Vec<Kind>,
    /// The kind of the last cell that had one.
    last: usize,
    /// The numbers of kinds, each in the first free slot from that of its hash on.
    slots: Vec<u16>,
    most: usize,
}

/// Cells that differ in their digits alone.
#[derive(Debug)]
struct Kind {
    signature: Signature,
    tallied: Tallied,
}

/// How the cells of a kind are tallied.
#[derive(Clone, Copy, Debug)]
pub(in crate::evidence) enum Tallied {
    /// With the cells of no form.
    AsOthers,
    /// By their digits: which of the column's digit cells they are, or the first of
    /// them, if they differ in digits that belong to no field.
    ByDigits(u16),
    /// Each by itself.
    Alone,
}

/// At most so many kinds are remembered of a column: the days of the week in twelve
/// months, with days of one digit and of two.
pub(in crate::evidence) const MOST_KINDS: usize = 256;

const FREE: u16 = u16::MAX;

impl Signatures {
    /// None yet, and never more than so many.
    pub(in crate::evidence) fn new(most: usize) -> Signatures {
        Signatures {
            kinds: Vec::new(),
            last: 0,
            slots: Vec::new(),
            most,
        }
    }

    /// Whether kinds can be remembered of which `text` is one.
    pub(in crate::evidence) fn have_room_for(&self, text: &str) -> bool {
        // Without a digit, only the same text is like it.
        let has_digit = text.bytes().any(|byte| byte.is_ascii_digit());
        self.kinds.len() < self.most && has_digit && text.trim() == text
    }

    /// How a cell of this text is tallied.
    #[inline]
    pub(in crate::evidence) fn find(&mut self, text: &str) -> Option<Tallied> {
        let text = text.as_bytes();
        match self.kinds.get(self.last) {
            Some(last) if last.signature.fits(text) => Some(last.tallied),
            _ => self.find_other(text),
        }
    }

    #[inline(never)]
    fn find_other(&mut self, text: &[u8]) -> Option<Tallied> {
        let signature = Signature::of(text)?;
        let slot = self.slot(&signature)?;
        let kind = self.kinds.get(usize::from(self.slots[slot]))?;
        self.last = usize::from(self.slots[slot]);
        Some(kind.tallied)
    }

    /// The slot of this signature, or the free one that it would have; `None` where
    /// there are no slots.
    fn slot(&self, signature: &Signature) -> Option<usize> {
        let mask = self.slots.len().checked_sub(1)?;
        let first = signature.hash();
        // More than half of the slots are free.
        let mut slots = (0..=mask).map(|step| (first + step) & mask);
        slots.find(|slot| {
            let kind = self.kinds.get(usize::from(self.slots[*slot]));
            kind.is_none_or(|kind| kind.signature == *signature)
        })
    }

    /// Remembers how the cells are tallied that differ from `text` in their
    /// digits alone, unless one of them is a blank.
    pub(in crate::evidence) fn learn(&mut self, text: &str, tallied: Tallied, blanks: &Blanks) {
        if !self.have_room_for(text) || self.find(text).is_some() {
            return;
        }
        // A cell that no candidate reads is not tallied by its digits where a blank is
        // like it.
        let is_in_the_way = match tallied {
            Tallied::AsOthers => blanks.alike(text).next().is_some(),
            Tallied::ByDigits(_) => blanks.have_day_alike(text),
            Tallied::Alone => false,
        };
        if !is_in_the_way && let Some(signature) = Signature::of(text.as_bytes()) {
            self.kinds.push(Kind { signature, tallied });
            self.put_in_slots();
        }
    }

    /// Gives the last kind a slot.
    fn put_in_slots(&mut self) {
        let is_crowded = 2 * self.kinds.len() >= self.slots.len();
        let from = if is_crowded {
            self.slots = vec![FREE; (4 * self.kinds.len()).next_power_of_two()];
            0
        } else {
            self.kinds.len() - 1
        };
        for number in from..self.kinds.len() {
            if let Some(slot) = self.slot(&self.kinds[number].signature) {
                self.slots[slot] = number as u16;
            }
        }
    }
}
