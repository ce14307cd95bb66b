//! The pass that finds, of rows in time order, which reading of an open cell
//! fits between its neighbours.

use super::column::RowDecider;
use super::neighbour_choices::NeighbourChoices;
use super::rows::{BlockStart, Rows, each_row};
use crate::decide::{NeighbourResolver, OwnReading, SeveralReadings};
use crate::rulings::TimeOrder;
use crate::stamp::Stamp;
use std::collections::HashMap;
use std::sync::Arc;

/// The pass over the columns whose rows stand in time order.
#[derive(Debug)]
pub(super) struct NeighbourPass {
    columns: Vec<(RowDecider, TimeOrder)>,
    width: usize,
}

/// What stands in a row of such a column.
#[derive(Debug)]
pub(super) enum NeighbourCell {
    Known(Stamp),
    Several(Arc<SeveralReadings>),
}

/// What is known of the rows so far.
#[derive(Debug)]
pub(super) struct NeighbourWhole {
    columns: Vec<(NeighbourResolver, NeighbourChoices)>,
    /// How many open cells were met of each column, decided or still waiting.
    met: Vec<usize>,
}

impl NeighbourPass {
    /// The pass over those of `deciders` whose columns `order_of` says to be in
    /// time order, by their index; `None` where none is.
    pub fn new(
        deciders: &[RowDecider],
        width: usize,
        order_of: impl Fn(usize) -> Option<TimeOrder>,
    ) -> Option<NeighbourPass> {
        let in_order = deciders
            .iter()
            .filter_map(|decider| Some((decider.clone(), order_of(decider.index)?)));
        let columns: Vec<(RowDecider, TimeOrder)> = in_order.collect();
        (!columns.is_empty()).then_some(NeighbourPass { columns, width })
    }

    pub fn start(&self) -> NeighbourWhole {
        let columns = self.columns.iter();
        NeighbourWhole {
            columns: columns
                .map(|(_, order)| (NeighbourResolver::new(*order), NeighbourChoices::default()))
                .collect(),
            met: vec![0; self.columns.len()],
        }
    }

    pub fn worker(&self) -> NeighbourWorker {
        NeighbourWorker {
            columns: self.columns.iter().map(|(own, _)| own.clone()).collect(),
            width: self.width,
            scratch: String::new(),
        }
    }

    /// The deciders, those in time order with what their neighbours choose.
    pub fn apply(self, whole: NeighbourWhole, deciders: Vec<RowDecider>) -> Vec<RowDecider> {
        let indexes = self.columns.iter().map(|(own, _)| own.index);
        let mut choices: HashMap<usize, Arc<NeighbourChoices>> = indexes
            .zip(whole.columns)
            .map(|(index, (resolver, mut choices))| {
                resolver.finish(|_, choice| choices.push(choice));
                (index, Arc::new(choices))
            })
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
    pub fn add(&mut self, at: BlockStart, marks: Vec<Vec<NeighbourCell>>) {
        for (column, marks) in marks.into_iter().enumerate() {
            let (resolver, choices) = &mut self.columns[column];
            choices.set_start(at, self.met[column]);
            for mark in marks {
                match mark {
                    NeighbourCell::Known(stamp) => {
                        resolver.known(stamp, |_, choice| choices.push(choice))
                    }
                    NeighbourCell::Several(several) => {
                        self.met[column] += 1;
                        resolver.several(several);
                        resolver.shed(|_, choice| choices.push(choice));
                    }
                }
            }
        }
    }
}

/// Looks at blocks of rows; each thread has its own.
#[derive(Debug)]
pub(super) struct NeighbourWorker {
    columns: Vec<RowDecider>,
    width: usize,
    scratch: String,
}

impl NeighbourWorker {
    pub fn block(&mut self, file: &str, rows: impl Rows) -> (u64, Vec<Vec<NeighbourCell>>) {
        let mut marks: Vec<Vec<NeighbourCell>> = self.columns.iter().map(|_| Vec::new()).collect();
        let rows = each_row(rows, self.width, |row, _| {
            for (column, marks) in self.columns.iter_mut().zip(&mut marks) {
                let own_reading =
                    column.with_context(row, file, &mut self.scratch, |own, cell, context| {
                        own.own_reading(cell, context)
                    });
                match own_reading {
                    OwnReading::One { stamp, .. } => marks.push(NeighbourCell::Known(stamp)),
                    OwnReading::Several(several) => marks.push(NeighbourCell::Several(several)),
                    OwnReading::Nothing(_) => {}
                }
            }
        });
        (rows, marks)
    }
}
