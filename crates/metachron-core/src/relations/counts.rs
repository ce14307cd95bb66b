//! Cells counted by form and hypothesis.

use crate::form::Hypothesis;

/// A form's number in the ruling, and the hypothesis that a cell of it has; none for
/// a cell that may have several.
pub(super) type CountKey = (usize, Option<Hypothesis>);

/// Cells counted by form and hypothesis: a handful of keys, in order, and found
/// sooner one after another than in a tree.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub(super) struct Counts(Vec<(CountKey, u64)>);

impl Counts {
    /// Counts so many cells more.
    #[inline]
    pub fn add(&mut self, key: CountKey, cells: u64) {
        match self.0.iter_mut().find(|(known, _)| *known == key) {
            Some((_, count)) => *count += cells,
            None => self.insert(key, cells),
        }
    }

    #[cold]
    fn insert(&mut self, key: CountKey, cells: u64) {
        let place = self.0.partition_point(|(known, _)| *known < key);
        self.0.insert(place, (key, cells));
    }

    /// Adds other counts to these.
    pub fn merge(&mut self, more: &Counts) {
        for (key, cells) in more.iter() {
            self.add(key, cells);
        }
    }

    /// How many cells have this form and hypothesis.
    pub fn of(&self, key: CountKey) -> u64 {
        let mut known = self.iter();
        known
            .find(|(known, _)| *known == key)
            .map_or(0, |(_, cells)| cells)
    }

    /// The counts, in the order of forms and hypotheses.
    pub fn iter(&self) -> impl Iterator<Item = (CountKey, u64)> + '_ {
        self.0.iter().copied()
    }

    /// The counts of `form` by each hypothesis.
    pub fn by_hypothesis(&self, form: usize) -> impl Iterator<Item = (Hypothesis, u64)> + '_ {
        let own = self.iter().filter(move |((known, _), _)| *known == form);
        own.filter_map(|((_, hypothesis), cells)| Some((hypothesis?, cells)))
    }

    /// All cells.
    pub fn all(&self) -> u64 {
        self.iter().map(|(_, cells)| cells).sum()
    }
}
