//! What a survey found, and what was settled on it.

use super::column::Column;
use super::table::Table;
use crate::job::Job;
use metachron_core::engine::Settled;
use metachron_core::rulings::{Rulings, VERSION};
use serde::Serialize;

/// What `survey --json` prints.
#[derive(Serialize)]
pub struct Survey<'s> {
    metachron: u32,
    table: Table,
    columns: Vec<Column<'s>>,
    waits: bool,
}

/// What `settle --json` prints.
#[derive(Serialize)]
pub struct Settlement<'s> {
    rulings: &'s Rulings,
    columns: Vec<Column<'s>>,
    waits: bool,
}

impl<'s> Survey<'s> {
    pub fn new(job: &Job<'_>, settled: &'s Settled) -> Survey<'s> {
        let surveyed = &settled.surveyed;
        Survey {
            metachron: VERSION,
            table: Table::new(job, &surveyed.rows_by_file, &surveyed.ragged),
            columns: settled.columns.iter().map(Column::from).collect(),
            waits: settled.waits(),
        }
    }
}

impl<'s> From<&'s Settled> for Settlement<'s> {
    fn from(settled: &'s Settled) -> Settlement<'s> {
        Settlement {
            rulings: &settled.rulings,
            columns: settled.columns.iter().map(Column::from).collect(),
            waits: settled.waits(),
        }
    }
}
