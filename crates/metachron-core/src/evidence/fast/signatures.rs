//! Cells that differ from an earlier one in their digits alone: what was found
//! out about that one holds for them.

use crate::lex::Signature;
use crate::reading::NumberPositions;
use crate::rulings::Blanks;

/// How many kinds are remembered of a column: numbers with and without leading
/// zeros, of several lengths.
const MOST: usize = 16;

/// The kinds of cells that a column was found to have.
#[derive(Debug, Default)]
pub(in crate::evidence) struct Signatures {
    kinds: Vec<Kind>,
    /// The kind of the last cell that had one.
    last: usize,
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
    /// By the numbers that stand in these positions, with the cells of a shape.
    ByNumbers {
        /// The index of the shape.
        shape: usize,
        /// Where the numbers stand.
        positions: NumberPositions,
    },
}

impl Signatures {
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
        self.last = self
            .kinds
            .iter()
            .position(|kind| kind.signature.fits(text))?;
        Some(self.kinds[self.last].tallied)
    }

    /// Remembers how the cells are tallied that differ from `text` in their
    /// digits alone, unless one of them is a blank.
    pub(in crate::evidence) fn learn(&mut self, text: &str, tallied: Tallied, blanks: &Blanks) {
        // Without a digit, only the same text is like it.
        let has_digit = text.bytes().any(|byte| byte.is_ascii_digit());
        let is_full = self.kinds.len() == MOST;
        if is_full || !has_digit || text.trim() != text || self.find(text).is_some() {
            return;
        }
        // What is no day is never tallied by its numbers.
        let is_in_the_way = match tallied {
            Tallied::AsOthers => blanks.alike(text).next().is_some(),
            Tallied::ByNumbers { .. } => blanks.have_day_alike(text),
        };
        if !is_in_the_way && let Some(signature) = Signature::of(text.as_bytes()) {
            self.kinds.push(Kind { signature, tallied });
        }
    }
}
