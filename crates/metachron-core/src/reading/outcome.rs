//! Which readings of a cell are possible, packed into one number.

use super::MAX_READINGS;

/// For each candidate of a shape: whether it reads the cell, and which earlier
/// candidate reads it as the same stamp.
///
/// This is all that settling needs to know of a cell, so cells with equal
/// outcomes are counted together. It is a number so that counting is cheap:
/// four bits a candidate.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Outcome(u64);

const IMPOSSIBLE: u64 = 0xf;
const AWAITS_RULE: u64 = 0xe;
const SLIP: u64 = 0xd;

impl Default for Outcome {
    /// No candidate reads the cell.
    fn default() -> Self {
        Outcome(u64::MAX)
    }
}

impl Outcome {
    pub(super) fn possible(&mut self, place: usize, same_as: usize) {
        self.put(place, same_as as u64);
    }

    pub(super) fn awaits_rule(&mut self, place: usize) {
        self.put(place, AWAITS_RULE);
    }

    pub(super) fn slip(&mut self, place: usize) {
        self.put(place, SLIP);
    }

    fn put(&mut self, place: usize, value: u64) {
        let shift = 4 * place;
        self.0 = self.0 & !(0xf << shift) | value << shift;
    }

    fn get(self, place: usize) -> u64 {
        self.0 >> (4 * place) & 0xf
    }

    /// The first candidate that reads the cell as the same stamp as candidate
    /// `place` does; `None` where that one does not read it.
    #[inline]
    pub fn class(self, place: usize) -> Option<usize> {
        match self.get(place) {
            IMPOSSIBLE | AWAITS_RULE | SLIP => None,
            class => Some(class as usize),
        }
    }

    /// Whether candidate `place` reads the cell.
    pub fn reads(self, place: usize) -> bool {
        self.class(place).is_some()
    }

    /// Whether candidate `place` understands the cell, but a rule has to say
    /// what it stands for (a leap second, say).
    pub fn needs_rule(self, place: usize) -> bool {
        self.get(place) == AWAITS_RULE
    }

    /// Whether no candidate makes anything of the cell.
    pub fn is_unreadable(self) -> bool {
        self.0 == u64::MAX
    }

    /// Whether candidate `place` may be the one that wrote the cell: it reads it,
    /// or would if a rule said how, or if it had no slip in it.
    pub fn may_be(self, place: usize) -> bool {
        self.reads(place) || self.needs_rule(place) || self.is_slip(place)
    }

    /// Whether candidate `place` would read the cell, which contradicts itself
    /// by a slip.
    fn is_slip(self, place: usize) -> bool {
        self.get(place) == SLIP
    }

    /// Whether some candidate among `places` reads the cell and another waits
    /// for a rule, or the cell is a slip by it: it may still turn out to be the
    /// right one.
    pub fn is_split(self, places: &[usize]) -> bool {
        let any = |test: fn(Outcome, usize) -> bool| places.iter().any(|&place| test(self, place));
        any(Outcome::reads) && (any(Outcome::needs_rule) || any(Outcome::is_slip))
    }

    /// Whether it matters which candidate among `places` is right.
    pub fn differs_among(self, places: &[usize]) -> bool {
        self.agree(places.iter().copied()) == Some(false) || self.is_split(places)
    }

    /// Whether all candidates among `places` that read the cell read it as
    /// one stamp; `None` where none of them reads it.
    pub fn agree(self, places: impl IntoIterator<Item = usize>) -> Option<bool> {
        let mut classes = places.into_iter().filter_map(|place| self.class(place));
        let first = classes.next()?;
        Some(classes.all(|class| class == first))
    }
}

impl std::fmt::Debug for Outcome {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let classes = (0..MAX_READINGS).map(|place| self.class(place));
        f.debug_list().entries(classes).finish()
    }
}
