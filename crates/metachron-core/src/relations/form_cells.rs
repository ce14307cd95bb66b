//! The cells of an open column by form, and by the one hypothesis that can read
//! them.

use super::observed::Observed;
use crate::decide::OwnReading;
use crate::form::Hypothesis;
use std::collections::BTreeMap;

/// How many cells each form has, by the one hypothesis that can read them; none
/// for those that several can.
pub(super) type CellCounts = BTreeMap<(usize, Option<Hypothesis>), u64>;

/// The number of the form of cells whose form is settled, and which lie in a
/// fold of their zone.
pub(super) const IN_FOLD: usize = usize::MAX;

/// The cells of an open column by form and hypothesis.
#[derive(Clone, Debug, Default)]
pub(super) struct FormCells {
    counts: CellCounts,
}

/// The form of a cell, and the one hypothesis that can read it, where its form
/// leaves the order open.
pub(super) fn form_and_hypothesis(own: &OwnReading) -> Option<(usize, Option<Hypothesis>)> {
    match own {
        OwnReading::One {
            decisive: Some((form, hypothesis)),
            ..
        } => Some((*form, Some(*hypothesis))),
        OwnReading::Several {
            form: Some(form), ..
        } => Some((*form, None)),
        _ => None,
    }
}

impl FormCells {
    /// The forms that have cells, by their number in the ruling.
    pub fn forms(&self) -> Vec<usize> {
        let mut forms: Vec<usize> = self.counts.keys().map(|(form, _)| *form).collect();
        forms.dedup();
        forms
    }

    /// The hypotheses that some cell of `form` can only have, with their cells.
    pub fn decisive(&self, form: usize) -> impl Iterator<Item = (Hypothesis, u64)> + '_ {
        let own = self.counts.iter();
        let own = own.filter(move |((known, _), _)| *known == form);
        own.filter_map(|((_, hypothesis), cells)| Some(((*hypothesis)?, *cells)))
    }

    /// Counts the cell of a row.
    pub fn observe(&mut self, row: &Observed<'_>) {
        if let Some(key) = form_and_hypothesis(row.own()) {
            *self.counts.entry(key).or_default() += 1;
        }
    }

    /// Puts the counts of later rows behind these.
    pub fn merge(&mut self, later: FormCells) {
        add_all(&mut self.counts, later.counts);
    }
}

/// Adds counts to others by their keys.
pub(super) fn add_all<K: Ord>(counts: &mut BTreeMap<K, u64>, more: BTreeMap<K, u64>) {
    for (key, count) in more {
        *counts.entry(key).or_default() += count;
    }
}
