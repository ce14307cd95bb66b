//! Cells that differ from an earlier one in their digits alone: what was found
//! out about that one holds for them.

use crate::lex::BySignature;
use crate::rulings::Blanks;

/// How the kinds of cells that a column was found to have are tallied: cells that differ
/// in their digits alone are of one kind.
#[derive(Debug)]
pub(in crate::evidence) struct Signatures {
    kinds: BySignature<Tallied>,
    most: usize,
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

impl Signatures {
    /// None yet, and never more than so many.
    pub(in crate::evidence) fn new(most: usize) -> Signatures {
        Signatures {
            kinds: BySignature::default(),
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
        self.kinds.find(text.as_bytes()).copied()
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
        if !is_in_the_way {
            self.kinds.put(text.as_bytes(), tallied);
        }
    }
}
