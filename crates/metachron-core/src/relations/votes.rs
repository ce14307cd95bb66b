//! What premises say about open cells, counted by form and hypothesis.

use crate::form::Hypothesis;
use std::collections::BTreeMap;

/// A form whose cells all are open is settled where at least so many of them
/// leave one order only, and all the same.
///
/// Fewer may be slips: of a register with one date in fifty mistyped, two
/// that agree by mistake are not rare, and five are.
pub const LEAST_VOTES: u64 = 5;

/// For each form that is open, how many of its cells a premise leaves one
/// order only.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Votes {
    by_hypothesis: BTreeMap<(usize, Option<Hypothesis>), u64>,
    /// Cells that it leaves no reading at all, by form.
    against: BTreeMap<usize, u64>,
}

impl Votes {
    /// Counts an open cell of `form`, whose readings rest on `hypotheses`, as far as
    /// they fit.
    pub(super) fn add(
        &mut self,
        form: usize,
        hypotheses: &[Option<Hypothesis>],
        fits: impl Fn(usize) -> bool,
    ) {
        self.add_rows(form, hypotheses, 1, fits);
    }

    /// The same of so many cells.
    pub(super) fn add_rows(
        &mut self,
        form: usize,
        hypotheses: &[Option<Hypothesis>],
        rows: u64,
        fits: impl Fn(usize) -> bool,
    ) {
        let mut fitting = (0..hypotheses.len()).filter(|&index| fits(index));
        match (fitting.next(), fitting.next()) {
            (None, _) => *self.against.entry(form).or_default() += rows,
            (Some(index), None) => {
                *self
                    .by_hypothesis
                    .entry((form, hypotheses[index]))
                    .or_default() += rows;
            }
            _ => {}
        }
    }

    /// Counts a cell of `form` for `hypothesis`.
    pub(super) fn vote(&mut self, form: usize, hypothesis: Option<Hypothesis>) {
        *self.by_hypothesis.entry((form, hypothesis)).or_default() += 1;
    }

    pub(super) fn merge(&mut self, other: &Votes) {
        for (key, count) in &other.by_hypothesis {
            *self.by_hypothesis.entry(*key).or_default() += count;
        }
        for (form, count) in &other.against {
            *self.against.entry(*form).or_default() += count;
        }
    }

    /// The votes on `form`, by hypothesis.
    pub fn on(&self, form: usize) -> impl Iterator<Item = (Hypothesis, u64)> + '_ {
        let all = self
            .by_hypothesis
            .iter()
            .filter(move |((voted, _), _)| *voted == form);
        all.filter_map(|((_, hypothesis), count)| Some(((*hypothesis)?, *count)))
    }

    /// The cells of `form` that fit none.
    pub fn against(&self, form: usize) -> u64 {
        self.against.get(&form).copied().unwrap_or(0)
    }

    /// The cells of any form that fit none.
    pub fn all_against(&self) -> u64 {
        self.against.values().sum()
    }

    /// Whether these are votes for all that `other` votes for, and more.
    pub(super) fn cover(&self, other: &Votes) -> bool {
        let more = |key, count: &u64| self.by_hypothesis.get(key).is_some_and(|own| own >= count);
        other
            .by_hypothesis
            .iter()
            .all(|(key, count)| more(key, count))
    }

    /// How many cells of any form are left one hypothesis.
    pub fn all(&self) -> u64 {
        self.by_hypothesis.values().sum()
    }
}
