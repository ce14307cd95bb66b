//! What the readings of open cells rest on: a handful of sets, each kept once and told by
//! its number.

use crate::form::Hypothesis;
use smallvec::SmallVec;

/// What the readings of a cell rest on, in their order.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct ReadingSet {
    /// The form's number in the ruling.
    pub form: usize,
    /// One for each reading.
    pub hypotheses: SmallVec<[Option<Hypothesis>; 2]>,
}

/// The sets that were met, in order of appearance.
#[derive(Clone, Debug, Default)]
pub(super) struct ReadingSets(Vec<ReadingSet>);

impl ReadingSets {
    /// The number of a set.
    #[inline]
    pub fn number_of(&mut self, form: usize, hypotheses: &[Option<Hypothesis>]) -> usize {
        let is_it = |own: &ReadingSet| own.form == form && own.hypotheses.as_slice() == hypotheses;
        self.0.iter().position(is_it).unwrap_or_else(|| {
            self.0.push(ReadingSet {
                form,
                hypotheses: hypotheses.into(),
            });
            self.0.len() - 1
        })
    }

    /// The set with this number.
    pub fn get(&self, number: usize) -> &ReadingSet {
        &self.0[number]
    }

    /// All of them.
    pub fn iter(&self) -> impl Iterator<Item = &ReadingSet> {
        self.0.iter()
    }
}
