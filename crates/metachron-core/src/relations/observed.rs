//! A row, as the sources of evidence see it.

use super::compared_columns::ComparedColumns;
use super::temporal_column::{TemporalCell, TemporalColumn};
use crate::decide::{OwnReading, Verdict};
use crate::stamp::Stamp;

/// A row, as a source sees it.
pub(super) struct Observed<'r> {
    /// The columns of the table.
    pub compared: &'r ComparedColumns,
    /// The number of the column in question among the temporal ones.
    pub number: usize,
    /// The temporal columns, at the cells of the row.
    pub temporal: &'r [TemporalColumn],
    /// The texts of all cells, and the name of the file behind them.
    pub texts: &'r [String],
}

impl<'r> Observed<'r> {
    /// The cell in question.
    pub fn cell(&self) -> &'r TemporalCell {
        self.temporal[self.number].cell()
    }

    /// What the cell in question is by itself.
    pub fn own(&self) -> &'r OwnReading {
        &self.cell().own
    }

    /// The same, where its form is read as the column's own cells settled it.
    pub fn as_settled(&self) -> OwnReading {
        match self.cell() {
            TemporalCell {
                own: OwnReading::Several(_),
                settled: Some(stamp),
                ..
            } => OwnReading::One {
                verdict: Verdict::Settled,
                stamp: *stamp,
                decisive: None,
            },
            cell => cell.own.clone(),
        }
    }

    /// A temporal cell of the row, unless it is of another column that may hold
    /// numbers.
    pub fn other(&self, number: usize) -> Option<&'r TemporalCell> {
        let says_nothing = number != self.number && self.compared.tentative.contains(&number);
        (!says_nothing).then(|| self.temporal[number].cell())
    }

    /// The stamp of a temporal cell, where it has one by itself or its column's
    /// own cells settled which; none of another column that may hold numbers.
    pub fn settled_stamp(&self, number: usize) -> Option<Stamp> {
        self.other(number)?.settled
    }

    /// The day of that.
    pub fn settled_day(&self, number: usize) -> Option<i32> {
        self.other(number)?.settled_day
    }
}
