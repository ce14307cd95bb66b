//! The pass that counts how columns that their own cells leave open go with
//! the rest of the table.

use super::EngineError;
use super::Request;
use super::column::RowDecider;
use super::rows::{Rows, each_row};
use crate::decide::OwnReading;
use crate::forecast::TableFindings;
use crate::relations::{self, ComparedColumns, Tally};
use crate::rulings::{FILE, Rulings};
use std::collections::HashMap;

/// The pass over all columns of the table, for those that are open.
#[derive(Debug)]
pub(super) struct RelatePass {
    deciders: Vec<RowDecider>,
    compared: ComparedColumns,
    width: usize,
}

impl RelatePass {
    /// The pass for the columns `open`, by their names.
    pub fn new(
        request: &Request,
        rulings: &Rulings,
        open: &[String],
    ) -> Result<RelatePass, EngineError> {
        let deciders = request.deciders(rulings)?;
        let mut columns = request.columns.clone();
        columns.push(FILE.to_owned());
        let is_open = |decider: &RowDecider| open.contains(&columns[decider.index]);
        Ok(RelatePass {
            compared: ComparedColumns {
                temporal: deciders.iter().map(|decider| decider.index).collect(),
                open: (0..deciders.len())
                    .filter(|&number| is_open(&deciders[number]))
                    .collect(),
                pairs: Vec::new(),
                columns,
            },
            width: request.columns.len(),
            deciders,
        })
    }

    /// Makes it count by pairs of columns too, where the counts by one column
    /// say which pairs to try; says whether it has to be made again for that.
    pub fn add_pairs(&mut self, tally: &Tally) -> bool {
        if !self.compared.pairs.is_empty() {
            return false;
        }
        self.compared.pairs = tally.pairs_to_compare();
        !self.compared.pairs.is_empty()
    }

    pub fn start(&self) -> Tally {
        Tally::new(&self.compared)
    }

    pub fn worker(&self) -> RelateWorker<'_> {
        RelateWorker {
            pass: self,
            deciders: self.deciders.clone(),
            texts: vec![String::new(); self.compared.columns.len()],
            scratch: String::new(),
        }
    }

    /// Puts what the counts prove into the rulings; says what was found of each
    /// column.
    pub fn settle(
        &self,
        mut tally: Tally,
        rulings: &mut Rulings,
    ) -> HashMap<String, TableFindings> {
        tally.finish();
        let mut found = HashMap::new();
        for column in &tally.columns {
            let name = &self.compared.columns[column.index];
            if let Some(ruling) = rulings.column.get_mut(name) {
                let findings = TableFindings {
                    attempts: relations::attempts(column, &self.compared),
                    justifications: relations::settle(ruling, column, &self.compared),
                    by_row: None,
                };
                found.insert(name.clone(), findings);
            }
        }
        found
    }
}

/// Counts the rows of blocks; each thread has its own.
#[derive(Debug)]
pub(super) struct RelateWorker<'p> {
    pass: &'p RelatePass,
    deciders: Vec<RowDecider>,
    /// The row's texts, and the name of its file behind them.
    texts: Vec<String>,
    scratch: String,
}

impl RelateWorker<'_> {
    pub fn block(&mut self, file: &str, rows: impl Rows) -> (u64, Tally) {
        let RelatePass {
            compared, width, ..
        } = self.pass;
        let mut tally = Tally::new(compared);
        file.clone_into(&mut self.texts[*width]);
        let mut own_readings: Vec<OwnReading> = Vec::with_capacity(self.deciders.len());
        let mut inner = String::new();
        let rows = each_row(rows, *width, |row, _| {
            for (index, text) in self.texts[..*width].iter_mut().enumerate() {
                text.clear();
                text.push_str(row.cell(index, &mut self.scratch).text(&mut inner));
            }
            own_readings.clear();
            for decider in &mut self.deciders {
                let own_reading =
                    decider.with_context(row, file, &mut self.scratch, |own, cell, context| {
                        own.own_reading(cell, context)
                    });
                own_readings.push(own_reading);
            }
            tally.row(compared, &own_readings, &self.texts);
        });
        (rows, tally)
    }
}
