//! Fast ways to tally a cell: most cells of a column differ from an earlier one
//! in their digits alone, and what was found out about that one holds for them.
//!
//! Of cells of plain numbers, the pair of day and month decides; others go to
//! the cells of no form. Whatever the way, the tally is the same: a property
//! test compares it with that of surveys which have seen no cell before.

mod plain;
mod signatures;

pub(super) use plain::{PlainCells, fits};
pub(super) use signatures::{Signatures, Tallied};

#[cfg(test)]
mod tests;
