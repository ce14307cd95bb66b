//! The columns that are compared with those in question.

use crate::form::Hypothesis;

/// Which columns are compared.
#[derive(Clone, Debug, Default)]
pub struct ComparedColumns {
    /// The names of all columns, and what stands for the file, if there are several.
    pub columns: Vec<String>,
    /// The index of what stands for the file.
    pub file: Option<usize>,
    /// The indexes of the temporal columns among them, in their order.
    pub temporal: Vec<usize>,
    /// Which of the temporal columns are in question, and counted.
    pub in_question: Vec<InQuestion>,
    /// The numbers of all temporal columns whose times never pass 12:59.
    pub half_clocks: Vec<usize>,
    /// A column in question is compared with those that stand so near to it on either
    /// side; with all, if nothing is said.
    pub reach: Option<usize>,
    /// By the temporal column and the number of its form: what its own
    /// cells settled, where the form is read as open all the same. Columns and
    /// forms that are not named have none.
    pub own_hypotheses: Vec<Vec<Option<Hypothesis>>>,
    /// The numbers of temporal columns that may hold numbers, and no dates: they say
    /// nothing about others.
    pub tentative: Vec<usize>,
    /// Pairs of columns that may part the orders together.
    pub pairs: Vec<(usize, usize)>,
}

/// A temporal column that the rest of the table may settle, or contradict.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct InQuestion {
    /// Its number among the temporal columns.
    pub number: usize,
    /// What is in question.
    pub doubts: Doubts,
}

/// What is in question about a column.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Doubts {
    /// Whether it is open. If not, its own cells settled it.
    pub is_open: bool,
    /// Whether its own cells contradict each other: some have one order alone, and
    /// some another.
    pub is_mixed: bool,
    /// Whether its own cells say that an import swapped day and month.
    pub is_swapped: bool,
    /// Whether it has times of day that never pass 12:59.
    pub is_half_a_clock: bool,
    /// Whether it has clock-like cells that may be lengths of time, and two
    /// other columns have times.
    pub may_be_lengths: bool,
}

impl ComparedColumns {
    /// The indexes of the columns that the one at `index` is compared with.
    pub(super) fn near(&self, index: usize) -> Vec<usize> {
        let reach = self.reach.unwrap_or(self.columns.len());
        let end = (index + reach + 1).min(self.columns.len());
        let mut near: Vec<usize> = (index.saturating_sub(reach)..end)
            .filter(|&other| other != index)
            .collect();
        // What stands for the file is the last of all.
        near.extend(self.file.filter(|&file| file >= end));
        near
    }

    /// The numbers of the temporal columns among those.
    pub(super) fn near_temporal(&self, number: usize) -> Vec<usize> {
        let near = self.near(self.temporal[number]);
        let numbers = near.iter().map(|index| self.temporal.binary_search(index));
        numbers.filter_map(Result::ok).collect()
    }

    /// The numbers of the other columns whose times never pass 12:59, near this
    /// one.
    pub(super) fn near_half_clocks(&self, number: usize) -> Vec<usize> {
        let near = self.near_temporal(number);
        let others = self.half_clocks.iter().copied();
        others.filter(|other| near.contains(other)).collect()
    }

    /// What the own cells of `form` of a temporal column settled.
    pub(super) fn own_hypothesis(&self, number: usize, form: usize) -> Option<Hypothesis> {
        *self.own_hypotheses.get(number)?.get(form)?
    }
}
