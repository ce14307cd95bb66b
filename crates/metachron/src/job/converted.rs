//! What a conversion goes by, and what comes of a block.

use super::deriving::DerivedCounts;
use super::pipeline::Counted;
use super::resolved::Resolved;
use super::sort::SortBy;
use super::survey::Ragged;
use metachron_core::derive::Derivations;
use metachron_core::outlook::Counts;
use metachron_core::phrase::Track;
use metachron_core::rulings::Rulings;
use metachron_core::stamp::Stamp;
use metachron_core::verdict::Note;
use metachron_table::{Block, Dialect, OutCell};

/// Columns that are added beside each converted one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Extras {
    /// The source text, as NAME_raw.
    pub raw: bool,
    /// The verdict, as NAME_verdict.
    pub verdict: bool,
    /// What each cell is, for a workbook.
    pub types: bool,
}

impl Extras {
    /// Whether a column is added.
    pub(super) fn any(self) -> bool {
        self.raw || self.verdict
    }
}

/// A block, converted.
pub struct Converted {
    /// The rows, as they are written.
    pub bytes: Vec<u8>,
    /// What their cells are, row by row, where that is asked for.
    pub cells: Vec<Vec<OutCell>>,
    /// How many rows.
    pub rows: u64,
    /// Which file they are from.
    pub source: usize,
    /// Verdicts by converted column.
    pub counts: Vec<Counts>,
    /// Cells that wait for a person; rows count from 0 in the block.
    pub review: Vec<ReviewEntry>,
    /// The earliest and the latest stamp of each converted column, in the rows
    /// that its thread has converted so far.
    pub spans: Vec<Option<(Stamp, Stamp)>>,
    /// Cells that a reviewer resolved.
    pub resolved: u64,
    /// Cells that a reviewer resolved and that say something else now.
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
    /// Where each row ends, and what it is sorted by, if they are sorted.
    pub sorted: Vec<(Vec<u8>, usize)>,
    read: u64,
}

/// A block of which it is only told what its rows say to later ones.
pub struct Tracked {
    /// Which file it is from.
    pub source: usize,
    /// The line that it starts on.
    pub line: u64,
    /// What its rows say.
    pub tracks: Vec<Track>,
    /// How many there are.
    pub rows: u64,
    /// How many bytes they take.
    pub read: u64,
}

impl Converted {
    /// Nothing of `block` yet.
    pub(super) fn of(block: &Block, columns: usize, derived: usize) -> Converted {
        Converted {
            bytes: Vec::new(),
            cells: Vec::new(),
            rows: 0,
            source: block.source(),
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
            sorted: Vec::new(),
            read: block.len() as u64,
        }
    }
}

/// A cell that waits for a person.
pub struct ReviewEntry {
    /// The row, from 0 in its block.
    pub row: u64,
    /// The line it starts on.
    pub line: u64,
    /// The place of its column; derived ones stand behind those of the table.
    pub column: usize,
    /// What it says.
    pub raw: String,
    /// Why it waits.
    pub note: Note,
}

impl Counted for Tracked {
    fn bytes(&self) -> u64 {
        self.read
    }

    fn rows(&self) -> u64 {
        self.rows
    }
}

impl Counted for Converted {
    fn bytes(&self) -> u64 {
        self.read
    }

    fn rows(&self) -> u64 {
        self.rows
    }
}

/// What a conversion goes by.
pub struct Conversion<'c> {
    /// How columns are read and written.
    pub rulings: &'c Rulings,
    /// What is derived from them, and which rows are kept.
    pub derivations: &'c Derivations,
    /// What rows are sorted by.
    pub sort: Option<&'c SortBy>,
    /// How the rows are written.
    pub dialect: Dialect,
    /// What is added beside columns.
    pub extras: Extras,
    /// What a reviewer resolved.
    pub resolved: &'c Resolved,
}
