//! The pass that decides on every cell of columns whose rulings look beyond
//! the cell, and counts what becomes of them.

use super::column::RowDecider;
use super::rows::{BlockStart, Rows, each_row};
use crate::forecast::RowForecast;

/// The pass over such columns.
#[derive(Debug)]
pub(super) struct ForecastPass {
    deciders: Vec<RowDecider>,
    width: usize,
}

/// What was counted so far.
#[derive(Debug)]
pub(super) struct ForecastWhole {
    pub columns: Vec<RowForecast>,
    rows: u64,
}

impl ForecastPass {
    pub fn new(deciders: Vec<RowDecider>, width: usize) -> ForecastPass {
        ForecastPass { deciders, width }
    }

    /// The columns, by their index.
    pub fn columns(&self) -> impl Iterator<Item = usize> {
        self.deciders.iter().map(|decider| decider.index)
    }

    pub fn start(&self) -> ForecastWhole {
        ForecastWhole {
            columns: vec![RowForecast::default(); self.deciders.len()],
            rows: 0,
        }
    }

    pub fn worker(&self) -> ForecastWorker {
        ForecastWorker {
            deciders: self.deciders.clone(),
            width: self.width,
            scratch: String::new(),
        }
    }
}

impl ForecastWhole {
    pub fn add(&mut self, rows: u64, part: Vec<RowForecast>) {
        for (known, more) in self.columns.iter_mut().zip(part) {
            known.merge(more, self.rows);
        }
        self.rows += rows;
    }
}

/// Decides on the cells of blocks; each thread has its own.
#[derive(Debug)]
pub(super) struct ForecastWorker {
    deciders: Vec<RowDecider>,
    width: usize,
    scratch: String,
}

impl ForecastWorker {
    pub fn block(
        &mut self,
        at: BlockStart,
        file: &str,
        rows: impl Rows,
    ) -> (u64, Vec<RowForecast>) {
        let mut columns = vec![RowForecast::default(); self.deciders.len()];
        for decider in &mut self.deciders {
            decider.start(at);
        }
        let rows = each_row(rows, self.width, |row, number| {
            for (decider, by_row) in self.deciders.iter_mut().zip(&mut columns) {
                let scratch = &mut self.scratch;
                decider.with_context(row, file, scratch, |decider, cell, own, context| {
                    by_row.add(decider, cell, own, context, number);
                });
            }
        });
        (rows, columns)
    }
}
