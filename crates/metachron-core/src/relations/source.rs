//! What a source of evidence is.

use super::clock_doubt::ClockDoubt;
use super::compared_columns::ComparedColumns;
use super::form_cells::FormCells;
use super::justification::{Finding, Justification};
use super::observed::Observed;
use super::premise::Premise;
use super::votes::Votes;
use crate::form::{Form, Hypothesis};
use crate::rulings::GroupRuling;
use std::any::Any;
use std::fmt::Debug;

/// Something that the rest of the table may say about an open column: it is
/// counted row by row, merged, and concluded from.
///
/// To add one, write a file with a type that implements this, and put it into
/// the list of [`OpenColumn::new`](super::OpenColumn).
pub(super) trait EvidenceSource: Debug + Send {
    /// Counts a row.
    fn observe(&mut self, row: &Observed<'_>);

    /// Puts the counts of later rows, which are of the same type, behind these.
    fn merge(&mut self, later: Box<dyn EvidenceSource>);

    /// One without counts, for the rows of another block: what this one has
    /// ruled out, it need not look for.
    fn start_again(&self) -> Box<dyn EvidenceSource>;

    /// Whether it looks at the text of this column.
    fn wants_text(&self, _index: usize) -> bool {
        false
    }

    /// Whether it looks at the cells of this temporal column, if that is not the one
    /// in question.
    fn wants_reading(&self, _number: usize) -> bool {
        false
    }

    /// Whether everything is ruled out, whatever rows follow.
    fn is_out(&self) -> bool {
        false
    }

    /// The rows counted so far are the table's first: what depends on their
    /// order can be counted.
    fn arrange(&mut self) {}

    /// No row follows.
    fn finish(&mut self) {}

    /// What the counts prove.
    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>>;

    /// Whether more rows could prove something, where these are those of a part of the
    /// table. What has not been found in thousands of rows does not hold for all.
    fn may_follow(&self, question: &Question<'_>) -> bool {
        !self.conclude(question).is_empty()
    }

    /// What speaks against its times of day, without saying what they are.
    fn clock_doubt(&self, _question: &Question<'_>) -> Option<ClockDoubt> {
        None
    }

    /// What was looked for, and what was found, a sentence each.
    fn attempts(&self, question: &Question<'_>) -> Vec<String>;

    /// Pairs of columns that it has to count by too, in another pass.
    fn pairs_to_compare(&self, _index: usize, _cells: &FormCells) -> Vec<(usize, usize)> {
        Vec::new()
    }

    /// The type itself, for [`EvidenceSource::merge`].
    fn into_any(self: Box<Self>) -> Box<dyn Any>;
}

/// The counts of later rows, of the type that they are known to have.
pub(super) fn same_type<S: 'static>(later: Box<dyn EvidenceSource>) -> S {
    let Ok(later) = later.into_any().downcast::<S>() else {
        unreachable!("sources are merged in the order of one list")
    };
    *later
}

/// What is asked of a source.
pub(super) struct Question<'q> {
    /// The columns of the table.
    pub compared: &'q ComparedColumns,
    /// Its cells by form and hypothesis.
    pub cells: &'q FormCells,
    /// The forms whose order is open, by their number in the ruling.
    pub open_forms: &'q [(usize, Vec<Form>)],
    /// The column's number among the temporal ones.
    pub number: usize,
}

impl Question<'_> {
    /// The name of a temporal column, by its number.
    pub fn name_of(&self, number: usize) -> &str {
        &self.compared.columns[self.compared.temporal[number]]
    }

    /// What the own cells of `form` settled, where it is in question
    /// all the same.
    pub fn own_hypothesis(&self, form: usize) -> Option<Hypothesis> {
        self.compared.own_hypothesis(self.number, form)
    }
}

/// What a source proves.
pub(super) enum Conclusion<'s> {
    /// The order of a form follows from the group that a row belongs to.
    Group {
        /// The number of the form.
        form: usize,
        /// The ruling.
        group: GroupRuling,
        /// What it rests on.
        justification: Justification,
    },
    /// Something speaks against the order that a form's own cells settled, and
    /// nothing says which cells it does not hold for.
    Doubt {
        /// The number of the form.
        form: usize,
        /// What speaks against it.
        justification: Justification,
    },
    /// Clock-like cells are lengths of time.
    Lengths(Finding),
    /// Something holds for all cells that are known.
    Premise(HeldPremise<'s>),
}

/// Something that holds for all cells that are known, with what it says about
/// those that are not.
pub(super) struct HeldPremise<'s> {
    /// What holds.
    pub premise: Premise,
    /// What it leaves of open cells.
    pub votes: &'s Votes,
    /// How likely it leaves a cell an order that it does not have: what a cell
    /// that is an exception is left is chance.
    pub by_chance: f64,
}

/// Whether a premise holds, and what it takes, in words.
pub(super) fn holds(it_does: bool, wanted: &str) -> String {
    if it_does {
        "so it holds".to_owned()
    } else {
        format!("it takes {wanted}")
    }
}
