//! What premises say about open cells, counted by form and hypothesis.

use super::counts::Counts;
use super::form_cells::form_of;
use crate::decide::SeveralReadings;
use crate::form::Hypothesis;

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
    left: Counts,
    /// Cells that it leaves no reading at all, by form.
    against: Counts,
}

impl Votes {
    /// Counts an open cell by those of its readings that fit.
    pub(super) fn add(&mut self, cell: &SeveralReadings, fits: impl Fn(usize) -> bool) {
        self.add_rows(form_of(cell), &cell.hypotheses, 1, fits);
    }

    /// The same of so many cells of `form`, whose readings rest on `hypotheses`.
    pub(super) fn add_rows(
        &mut self,
        form: usize,
        hypotheses: &[Option<Hypothesis>],
        rows: u64,
        fits: impl Fn(usize) -> bool,
    ) {
        let mut fitting = (0..hypotheses.len()).filter(|&index| fits(index));
        match (fitting.next(), fitting.next()) {
            (None, _) => self.against.add((form, None), rows),
            (Some(index), None) => self.left.add((form, hypotheses[index]), rows),
            _ => {}
        }
    }

    /// Counts an open cell for one of its readings.
    pub(super) fn vote(&mut self, cell: &SeveralReadings, index: usize) {
        self.left.add((form_of(cell), cell.hypotheses[index]), 1);
    }

    pub(super) fn merge(&mut self, other: &Votes) {
        self.left.merge(&other.left);
        self.against.merge(&other.against);
    }

    /// The votes on `form`, by hypothesis.
    pub fn on(&self, form: usize) -> impl Iterator<Item = (Hypothesis, u64)> + '_ {
        self.left.by_hypothesis(form)
    }

    /// The cells of `form` that fit none.
    pub fn against(&self, form: usize) -> u64 {
        self.against.of((form, None))
    }

    /// The cells of any form that fit none.
    pub fn all_against(&self) -> u64 {
        self.against.all()
    }

    /// Whether these are votes for all that `other` votes for, and more.
    pub(super) fn cover(&self, other: &Votes) -> bool {
        let mut others = other.left.iter();
        others.all(|(key, cells)| self.left.of(key) >= cells)
    }

    /// How many cells of any form are left one hypothesis.
    pub fn all(&self) -> u64 {
        self.left.all()
    }
}
