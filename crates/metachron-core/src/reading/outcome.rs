//! Which readings of a cell are possible.

/// For each candidate of a shape: whether it reads the cell, and which earlier
/// candidate reads it as the same stamp.
///
/// This is all that settling needs to know of a cell, so cells with equal
/// outcomes are counted together. Hardly any shape has more than thirteen
/// candidates, whose marks are packed into one number: making and comparing
/// outcomes is a twentieth of a survey.
#[derive(Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Outcome {
    /// Four bits for each of the first candidates.
    packed: u64,
    /// The marks of the others, if any of them is not impossible. What is
    /// behind the last such one is left out, so that equal outcomes are equal.
    /// Behind one pointer, so that an outcome is handed on in two registers.
    #[expect(clippy::box_collection)]
    more: Option<Box<Vec<u16>>>,
}

/// How many candidates are packed.
const PACKED: usize = 13;

/// The marks of candidates that do not read the cell; others are the number of
/// the candidate that reads it alike.
const IMPOSSIBLE: u16 = u16::MAX;
const AWAITS_RULE: u16 = u16::MAX - 1;
const SLIP: u16 = u16::MAX - 2;

/// At most this many forms may be declared for a column: an outcome numbers
/// them.
pub const MOST_FORMS: usize = 4096;

impl Default for Outcome {
    /// No candidate reads the cell.
    fn default() -> Outcome {
        Outcome {
            packed: u64::MAX,
            more: None,
        }
    }
}

impl Outcome {
    #[inline]
    pub(super) fn possible(&mut self, index: usize, same_as: usize) {
        self.put(index, same_as as u16);
    }

    pub(super) fn awaits_rule(&mut self, index: usize) {
        self.put(index, AWAITS_RULE);
    }

    pub(super) fn slip(&mut self, index: usize) {
        self.put(index, SLIP);
    }

    /// Candidates are put in their order.
    #[inline]
    fn put(&mut self, index: usize, mark: u16) {
        if index < PACKED {
            // A mark keeps its last four bits: no candidate that is packed is
            // alike a later one.
            let shift = 4 * index;
            self.packed = self.packed & !(0xf << shift) | u64::from(mark & 0xf) << shift;
        } else {
            self.put_more(index - PACKED, mark);
        }
    }

    #[cold]
    fn put_more(&mut self, index: usize, mark: u16) {
        let more = self.more.get_or_insert_default();
        more.resize(index, IMPOSSIBLE);
        more.push(mark);
    }

    #[cold]
    fn get_more(&self, index: usize) -> u16 {
        let mark = self.more.as_ref().and_then(|more| more.get(index));
        mark.copied().unwrap_or(IMPOSSIBLE)
    }

    /// Whether candidate `index` has `mark`.
    #[inline]
    fn has(&self, index: usize, mark: u16) -> bool {
        if index < PACKED {
            self.packed >> (4 * index) & 0xf == u64::from(mark & 0xf)
        } else {
            self.get_more(index - PACKED) == mark
        }
    }

    /// The first candidate that reads the cell as the same stamp as candidate
    /// `index` does; `None` where that one does not read it.
    #[inline]
    pub fn class(&self, index: usize) -> Option<usize> {
        let class = if index < PACKED {
            let class = (self.packed >> (4 * index) & 0xf) as usize;
            Some(class).filter(|class| *class < PACKED)
        } else {
            let class = self.get_more(index - PACKED);
            Some(usize::from(class)).filter(|_| class < SLIP)
        };
        debug_assert!(class.is_none_or(|class| class <= index));
        class
    }

    /// Whether candidate `index` reads the cell.
    pub fn reads(&self, index: usize) -> bool {
        self.class(index).is_some()
    }

    /// Whether candidate `index` understands the cell, but a rule has to say
    /// what it stands for (a leap second, say).
    pub fn needs_rule(&self, index: usize) -> bool {
        self.has(index, AWAITS_RULE)
    }

    /// Whether no candidate makes anything of the cell.
    pub fn is_unreadable(&self) -> bool {
        self.packed == u64::MAX && self.more.is_none()
    }

    /// Whether candidate `index` may be the one that wrote the cell: it reads it,
    /// or would if a rule said how, or if it had no slip in it.
    pub fn may_be(&self, index: usize) -> bool {
        self.reads(index) || self.needs_rule(index) || self.is_slip(index)
    }

    /// Whether candidate `index` would read the cell, which contradicts itself
    /// by a slip.
    fn is_slip(&self, index: usize) -> bool {
        self.has(index, SLIP)
    }

    /// Whether some candidate among `indexes` reads the cell and another waits
    /// for a rule, or the cell is a slip by it: it may still turn out to be the
    /// right one.
    pub fn is_split(&self, indexes: &[usize]) -> bool {
        let any =
            |test: fn(&Outcome, usize) -> bool| indexes.iter().any(|&index| test(self, index));
        any(Outcome::reads) && (any(Outcome::needs_rule) || any(Outcome::is_slip))
    }

    /// Whether it matters which candidate among `indexes` is right.
    pub fn differs_among(&self, indexes: &[usize]) -> bool {
        self.agree(indexes.iter().copied()) == Some(false) || self.is_split(indexes)
    }

    /// Whether all candidates among `indexes` that read the cell read it as
    /// one stamp; `None` where none of them reads it.
    pub fn agree(&self, indexes: impl IntoIterator<Item = usize>) -> Option<bool> {
        let mut classes = indexes.into_iter().filter_map(|index| self.class(index));
        let first = classes.next()?;
        Some(classes.all(|class| class == first))
    }
}

impl std::fmt::Debug for Outcome {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let classes = (0..PACKED + self.more.as_ref().map_or(0, |more| more.len()))
            .map(|index| self.class(index));
        f.debug_list().entries(classes).finish()
    }
}
