//! Fast ways to tally a cell: most cells of a column differ from an earlier one
//! in their digits alone, and what was found out about that one holds for them.
//!
//! Of dates, times and counts, the digits say which tally the cell belongs to
//! ([`DigitCells`]); others go to the cells of no form. A cell that is unusual, or that
//! brings something new, is tallied the slow way, which alone knows what there is to
//! learn of it. Whatever the way, the tally is the same: a property test compares it
//! with that of surveys which have seen no cell before.

mod digit_cells;
mod ends;
mod signatures;

pub(super) use digit_cells::{DigitCells, DigitCellsOfColumn};
pub(super) use signatures::{MOST_KINDS, Signatures, Tallied};

#[cfg(test)]
mod tests;
