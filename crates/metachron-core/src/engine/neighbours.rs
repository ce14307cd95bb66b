//! The pass that finds, of rows in time order, which reading of an open cell
//! fits between its neighbours.

use super::column::RowDecider;
use super::neighbour_choices::NeighbourChoices;
use super::rows::{BlockStart, Rows, each_row};
use super::rows_by_key::RowsByKey;
use super::{EngineError, Request};
use crate::decide::{CellInTime, NeighbourResolver, RowKey, SharedReadings};
use crate::rulings::{Rulings, TimeOrder};
use std::collections::HashMap;
use std::sync::Arc;

/// The pass over the columns whose rows stand in time order.
#[derive(Debug)]
pub(super) struct NeighbourPass {
    columns: Vec<ColumnInTime>,
    width: usize,
}

/// A column whose rows stand in time order.
#[derive(Clone, Debug)]
struct ColumnInTime {
    decider: RowDecider,
    order: TimeOrder,
    /// The index of the column that the rows are to be sorted by, unless they stand
    /// so.
    sorted_by: Option<usize>,
}

/// A cell of such a column, with what its row is sorted by.
#[derive(Debug)]
pub(super) struct NeighbourMark {
    key: Option<RowKey>,
    cell: CellInTime,
}

/// What is known of the rows so far.
#[derive(Debug)]
pub(super) struct NeighbourWhole {
    columns: Vec<ChosenSoFar>,
}

/// What is known of the rows of a column so far.
#[derive(Debug)]
struct ChosenSoFar {
    resolver: NeighbourResolver,
    /// The rows that have to be sorted first.
    by_key: Option<RowsByKey>,
    choices: NeighbourChoices,
    /// How many open cells were met, decided or still waiting.
    met: usize,
}

impl NeighbourPass {
    /// The pass over those of `deciders` whose columns the rulings say to be in time
    /// order; `None` where none is.
    pub fn new(
        deciders: &[RowDecider],
        request: &Request,
        rulings: &Rulings,
    ) -> Result<Option<NeighbourPass>, EngineError> {
        let mut columns = Vec::new();
        for decider in deciders {
            let name = &request.columns[decider.index];
            let Some(ruling) = rulings.column.get(name) else {
                continue;
            };
            if let Some(order) = ruling.read.in_time_order {
                let key = format!("read.sorted-by of `{name}`");
                let sorted_by = ruling.read.sorted_by.as_ref();
                columns.push(ColumnInTime {
                    decider: decider.clone(),
                    order,
                    sorted_by: sorted_by
                        .map(|column| request.index_of(column, &key))
                        .transpose()?,
                });
            }
        }
        let width = request.columns.len();
        Ok((!columns.is_empty()).then_some(NeighbourPass { columns, width }))
    }

    pub fn start(&self) -> NeighbourWhole {
        let columns = self.columns.iter();
        NeighbourWhole {
            columns: columns
                .map(|own| ChosenSoFar {
                    resolver: NeighbourResolver::new(own.order),
                    by_key: own.sorted_by.map(|_| RowsByKey::default()),
                    choices: NeighbourChoices::default(),
                    met: 0,
                })
                .collect(),
        }
    }

    pub fn worker(&self) -> NeighbourWorker {
        NeighbourWorker {
            columns: self.columns.clone(),
            shared: SharedReadings::default(),
            width: self.width,
            scratch: String::new(),
        }
    }

    /// The deciders, those in time order with what their neighbours choose.
    pub fn apply(self, whole: NeighbourWhole, deciders: Vec<RowDecider>) -> Vec<RowDecider> {
        let indexes = self.columns.iter().map(|own| own.decider.index);
        let mut choices: HashMap<usize, Arc<NeighbourChoices>> = indexes
            .zip(whole.columns)
            .map(|(index, chosen)| (index, Arc::new(chosen.finish())))
            .collect();
        let deciders = deciders.into_iter();
        deciders
            .map(|decider| match choices.remove(&decider.index) {
                Some(choices) => decider.with_neighbours(choices),
                None => decider,
            })
            .collect()
    }
}

impl NeighbourWhole {
    pub fn add(&mut self, at: BlockStart, marks: Vec<Vec<NeighbourMark>>) {
        for (column, marks) in self.columns.iter_mut().zip(marks) {
            column.choices.set_start(at, column.met);
            for mark in marks {
                column.add(mark);
            }
        }
    }
}

impl ChosenSoFar {
    fn add(&mut self, NeighbourMark { key, cell }: NeighbourMark) {
        let choices = &mut self.choices;
        let is_open = matches!(cell, CellInTime::Several(_));
        match &mut self.by_key {
            Some(by_key) => {
                if is_open {
                    choices.push(None);
                }
                by_key.add(key, cell, self.met);
            }
            None => self.resolver.take(cell, |_, choice| choices.push(choice)),
        }
        self.met += usize::from(is_open);
    }

    fn finish(mut self) -> NeighbourChoices {
        match self.by_key {
            Some(by_key) => by_key.choose(self.resolver.order(), &mut self.choices),
            None => self.resolver.finish(|_, choice| self.choices.push(choice)),
        }
        self.choices
    }
}

/// Looks at blocks of rows; each thread has its own.
#[derive(Debug)]
pub(super) struct NeighbourWorker {
    columns: Vec<ColumnInTime>,
    shared: SharedReadings,
    width: usize,
    scratch: String,
}

impl NeighbourWorker {
    pub fn block(&mut self, file: &str, rows: impl Rows) -> (u64, Vec<Vec<NeighbourMark>>) {
        let mut marks: Vec<Vec<NeighbourMark>> = self.columns.iter().map(|_| Vec::new()).collect();
        let rows = each_row(rows, self.width, |row, _| {
            for (column, marks) in self.columns.iter_mut().zip(&mut marks) {
                let scratch = &mut self.scratch;
                let decider = &mut column.decider;
                let own = decider.own_reading(row, file, scratch);
                let Some(cell) = CellInTime::of(&own) else {
                    continue;
                };
                let key = column.sorted_by.and_then(|index| {
                    let cell = row.cell(index, scratch);
                    RowKey::of_cell(cell.text(&mut String::new()))
                });
                let cell = self.shared.share(cell);
                marks.push(NeighbourMark { key, cell });
            }
        });
        (rows, marks)
    }
}
