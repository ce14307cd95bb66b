//! What a conversion did.

use super::column::{Counts, Difference};
use super::table::Table;
use metachron_core::engine::DerivedCounts;
use serde::Serialize;
use serde_json::value::RawValue;

/// What `convert --summary` and `convert --json` write.
#[derive(Serialize)]
pub struct Conversion<'d> {
    pub metachron: u32,
    /// Which time zone database zones were looked up in.
    pub zone_data: String,
    pub table: Table,
    pub output: Option<String>,
    pub review: Option<String>,
    pub cells: Counts,
    /// Cells that a reviewer resolved, and answers that were not taken.
    pub resolved: u64,
    pub refused: u64,
    pub columns: Vec<ConvertedColumn<'d>>,
    pub derived: Vec<DerivedColumn<'d>>,
    /// Which rows were kept by `--where`.
    pub rows: Option<KeptRows>,
    pub sorted: Option<SortedRows<'d>>,
}

#[derive(Serialize)]
pub struct ConvertedColumn<'d> {
    pub name: &'d str,
    pub kind: &'static str,
    pub cells: Counts,
    pub differences: Vec<Difference<'d>>,
}

/// What became of a derived column.
#[derive(Serialize)]
pub struct DerivedColumn<'d> {
    pub name: &'d str,
    pub kind: &'static str,
    cells: DerivedCells,
}

#[derive(Serialize)]
struct DerivedCells {
    given: u64,
    blank: u64,
    waiting: u64,
    refused: u64,
}

/// Which rows were kept.
#[derive(Serialize)]
pub struct KeptRows {
    pub kept: u64,
    pub dropped: u64,
    pub untold: u64,
    pub refused: u64,
}

/// What rows were sorted by.
#[derive(Serialize)]
pub struct SortedRows<'d> {
    pub by: &'d [String],
    pub as_text: &'d [String],
    pub descending: bool,
    pub steps_back: u64,
}

impl<'d> DerivedColumn<'d> {
    pub fn new(name: &'d str, kind: &'static str, cells: DerivedCounts) -> DerivedColumn<'d> {
        DerivedColumn {
            name,
            kind,
            cells: DerivedCells {
                given: cells.given,
                blank: cells.blank,
                waiting: cells.waiting,
                refused: cells.refused,
            },
        }
    }
}

/// A run over many tables.
#[derive(Serialize)]
pub struct Conversions {
    pub metachron: u32,
    pub files: Vec<ConvertedFile>,
}

/// What became of one of them: counts, or an error.
#[derive(Serialize)]
pub struct ConvertedFile {
    pub input: String,
    pub error: Option<String>,
    pub counts: Option<Box<RawValue>>,
}
