//! The cells of an open column by form, and by the one hypothesis that can read
//! them.

use super::counts::{CountKey, Counts};
use super::observed::Observed;
use super::reading_sets::{ReadingSet, ReadingSets};
use crate::decide::{OwnReading, SeveralReadings};
use crate::form::Hypothesis;

/// The number of the form of cells whose form is settled, and which lie in a
/// fold of their zone.
const IN_FOLD: usize = usize::MAX;

/// The number of the form of a cell with several readings.
pub(super) fn form_of(several: &SeveralReadings) -> usize {
    several.form.unwrap_or(IN_FOLD)
}

/// The cells of an open column by form and hypothesis.
#[derive(Clone, Debug, Default)]
pub(super) struct FormCells {
    counts: Counts,
    sets: ReadingSets,
    /// Cells with several readings, by the number of what those rest on.
    several: Vec<u64>,
}

/// The form of a cell, and the one hypothesis that can read it, where its form
/// leaves the order open.
pub(super) fn form_and_hypothesis(own: &OwnReading) -> Option<CountKey> {
    match own {
        OwnReading::One {
            decisive: Some((form, hypothesis)),
            ..
        } => Some((*form, Some(*hypothesis))),
        OwnReading::Several(several) => Some((several.form?, None)),
        _ => None,
    }
}

impl FormCells {
    /// The forms that have cells, by their number in the ruling.
    pub fn forms(&self) -> Vec<usize> {
        let mut forms: Vec<usize> = self.counts.iter().map(|((form, _), _)| form).collect();
        forms.dedup();
        forms
    }

    /// The hypotheses that some cell of `form` can only have, with their cells.
    pub fn decisive(&self, form: usize) -> impl Iterator<Item = (Hypothesis, u64)> + '_ {
        self.counts.by_hypothesis(form)
    }

    /// How many cells of `form` several hypotheses can read.
    pub fn open(&self, form: usize) -> u64 {
        self.counts.of((form, None))
    }

    /// How many of those it cannot read: what two orders read, a third may not.
    pub fn lacking(&self, form: usize, hypothesis: Hypothesis) -> u64 {
        let lacks =
            |set: &ReadingSet| set.form == form && !set.hypotheses.contains(&Some(hypothesis));
        let lacking = self.sets.iter().zip(&self.several);
        let lacking = lacking.filter(|(set, _)| lacks(set));
        lacking.map(|(_, cells)| cells).sum()
    }

    /// Counts the cell of a row.
    pub fn observe(&mut self, row: &Observed<'_>) {
        if let Some(key) = row.counted {
            self.counts.add(key, 1);
        }
        if let OwnReading::Several(several) = row.own()
            && let Some(form) = several.form
        {
            self.add_several(form, &several.hypotheses, 1);
        }
    }

    fn add_several(&mut self, form: usize, hypotheses: &[Option<Hypothesis>], cells: u64) {
        let number = self.sets.number_of(form, hypotheses);
        if number == self.several.len() {
            self.several.push(0);
        }
        self.several[number] += cells;
    }

    /// Puts the counts of later rows behind these.
    pub fn merge(&mut self, later: FormCells) {
        self.counts.merge(&later.counts);
        for (set, cells) in later.sets.iter().zip(later.several) {
            self.add_several(set.form, &set.hypotheses, cells);
        }
    }
}
