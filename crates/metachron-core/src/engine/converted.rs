//! What comes out of a conversion: rows, and what became of their cells.

use super::rows::{BlockStart, Ragged};
use crate::cell::Cell;
use crate::decide::{Decider, Decision, RowContext};
use crate::forecast::Counts;
use crate::row::OutRow;
use crate::stamp::Stamp;

/// A converted row.
#[derive(Debug)]
pub struct ConvertedRow<'w> {
    /// Its cells.
    pub out: OutRow<'w>,
    /// What it is sorted by, if rows are: keys compare as the rows are to
    /// stand.
    pub key: Option<Vec<u8>>,
}

/// What became of the rows of a block.
#[derive(Clone, Debug)]
pub struct ConvertedRows {
    /// The block.
    pub at: BlockStart,
    /// How many rows.
    pub rows: u64,
    /// Verdicts by converted column.
    pub counts: Vec<Counts>,
    /// Cells that wait for a person; rows count from 0 in the block.
    pub review: Vec<ReviewEntry>,
    /// The earliest and the latest stamp of each converted column, in the rows
    /// that the worker has converted so far.
    pub spans: Vec<Option<(Stamp, Stamp)>>,
    /// Cells that a reviewer answered for.
    pub resolved: u64,
    /// Cells that a reviewer answered for and that say something else now.
    pub changed: u64,
    /// Rows that are not as wide as the header.
    pub ragged: Ragged,
    /// What became of the cells of derived columns.
    pub derived: Vec<DerivedCounts>,
    /// Rows that are left out.
    pub dropped: u64,
    /// Of these, those of which it could not be told.
    pub untold: u64,
    /// Of these, those whose test has no result, which are listed.
    pub unkept: u64,
}

impl ConvertedRows {
    pub(super) fn new(at: BlockStart, columns: usize, derived: usize) -> ConvertedRows {
        ConvertedRows {
            at,
            rows: 0,
            counts: vec![Counts::default(); columns],
            review: Vec::new(),
            spans: Vec::new(),
            resolved: 0,
            changed: 0,
            ragged: Ragged::default(),
            derived: vec![DerivedCounts::default(); derived],
            dropped: 0,
            untold: 0,
            unkept: 0,
        }
    }

    /// Lists a cell of the row that is next.
    pub(super) fn list(
        &mut self,
        line: u64,
        column: usize,
        raw: Cell<'_>,
        decider: &mut Decider,
        context: &RowContext<'_>,
    ) {
        self.review.push(ReviewEntry {
            row: self.rows,
            line,
            column,
            decision: decider.decide(raw, context),
            raw: raw.text(&mut String::new()).to_owned(),
        });
    }
}

/// A cell that waits for a person.
#[derive(Clone, Debug)]
pub struct ReviewEntry {
    /// The row, from 0 in its block.
    pub row: u64,
    /// The line it starts on.
    pub line: u64,
    /// Its column; see [`CellAt::column`](super::CellAt::column).
    pub column: usize,
    /// What it says.
    pub raw: String,
    /// Why it waits.
    pub decision: Decision,
}

/// What became of the cells of a derived column.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct DerivedCounts {
    /// Cells that have a value.
    pub given: u64,
    /// Cells that are made from blank ones.
    pub blank: u64,
    /// Cells that are made from such as wait for a person.
    pub waiting: u64,
    /// Cells whose phrase gives no value: they are on the review list.
    pub refused: u64,
}

impl DerivedCounts {
    /// Counts those of other rows too.
    pub fn merge(&mut self, other: DerivedCounts) {
        self.given += other.given;
        self.blank += other.blank;
        self.waiting += other.waiting;
        self.refused += other.refused;
    }
}
