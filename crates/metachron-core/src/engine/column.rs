//! One column's converter, and where in a row it finds what it needs.

use super::neighbour_choices::NeighbourChoices;
use super::rows::{BlockStart, Row};
use super::{EngineError, Request};
use crate::cell::Cell;
use crate::decide::{Decider, OwnReading, RowContext};
use crate::rulings::{FILE, Rulings};
use crate::stamp::Stamp;
use std::sync::Arc;

/// What all deciders of a thread may take to remember cells, in bytes.
const MEMORY: usize = 4 << 20;

/// Decides on the cells of one column, each given the whole row that it
/// stands in.
#[derive(Clone, Debug)]
pub(super) struct RowDecider {
    /// The column, from 0.
    pub index: usize,
    pub decider: Decider,
    texts: Vec<TextSource>,
    not_before: Option<Box<Other>>,
    not_after: Option<Box<Other>>,
    /// In the order of the needs.
    days_after: Vec<Option<Box<Other>>>,
    stamps: Vec<Option<Stamp>>,
    neighbours: Option<Arc<NeighbourChoices>>,
    /// Which of the neighbours' choices is the next.
    next: usize,
    said: Vec<String>,
    needs_no_context: bool,
}

/// Where a text stands that a cell is read by.
#[derive(Clone, Copy, Debug)]
enum TextSource {
    Column(usize),
    FileName,
}

/// Another column, read by itself.
#[derive(Clone, Debug)]
struct Other {
    index: usize,
    decider: Decider,
}

impl Request {
    /// Deciders of the columns that `rulings` rule and that are asked for, in
    /// the order of the table.
    pub(super) fn deciders(&self, rulings: &Rulings) -> Result<Vec<RowDecider>, EngineError> {
        self.deciders_of(rulings, |_| true)
    }

    /// The same, of the columns with an index that `is_needed`: a decider takes some
    /// kilobytes, which add up in a table of thousands of columns.
    pub(super) fn deciders_of(
        &self,
        rulings: &Rulings,
        is_needed: impl Fn(usize) -> bool,
    ) -> Result<Vec<RowDecider>, EngineError> {
        let mut deciders = Vec::new();
        for &index in self.asked.iter().filter(|&&index| is_needed(index)) {
            if let Some(decider) = decider_of(rulings, &self.columns[index])? {
                deciders.push(self.decider(index, decider, rulings)?);
            }
        }
        Ok(deciders)
    }

    fn decider(
        &self,
        index: usize,
        decider: Decider,
        rulings: &Rulings,
    ) -> Result<RowDecider, EngineError> {
        let name = &self.columns[index];
        let index_of =
            |column: &str, key: &str| self.index_of(column, &format!("read.{key} of `{name}`"));
        let needs = decider.needs();
        let mut texts = Vec::with_capacity(needs.texts.len());
        for column in &needs.texts {
            let is_file = column == FILE && !self.columns.contains(column);
            texts.push(if is_file {
                TextSource::FileName
            } else {
                TextSource::Column(index_of(
                    column,
                    "year-from, half-of-day-from, zone-from, forms or same",
                )?)
            });
        }
        let other =
            |column: &Option<String>, key: &str| -> Result<Option<Box<Other>>, EngineError> {
                let Some(column) = column else {
                    return Ok(None);
                };
                let index = index_of(column, key)?;
                // The other column may be ruled without being asked for.
                let given = self.rulings.as_ref().unwrap_or(rulings);
                let is_asked = rulings.column.contains_key(column);
                let decider = decider_of(if is_asked { rulings } else { given }, column)?;
                Ok(decider.map(|decider| Box::new(Other { index, decider })))
            };
        Ok(RowDecider {
            index,
            said: vec![String::new(); texts.len()],
            texts,
            not_before: other(&needs.not_before, "not-before")?,
            not_after: other(&needs.not_after, "not-after")?,
            days_after: (needs.days_after.iter())
                .map(|column| other(&Some(column.clone()), "days-after"))
                .collect::<Result<_, _>>()?,
            stamps: Vec::new(),
            neighbours: None,
            next: 0,
            needs_no_context: decider.needs().is_nothing(),
            decider,
        })
    }
}

/// The decider of a column, with its share of the memory for cells.
fn decider_of(rulings: &Rulings, column: &str) -> Result<Option<Decider>, EngineError> {
    let memory = MEMORY / rulings.column.len().max(1);
    let decider = Decider::new(rulings, column)?;
    Ok(decider.map(|decider| decider.with_memory(memory)))
}

impl RowDecider {
    /// Whether a column of its own behind the clean one tells the zone.
    pub fn has_zone_column(&self) -> bool {
        self.decider.ruling().write.has_zone_column()
    }

    /// Whether a cell is decided on by itself, whatever stands around it.
    #[inline]
    pub fn needs_no_context(&self) -> bool {
        self.needs_no_context
    }

    /// The same, with what the neighbours of its open cells choose.
    pub fn with_neighbours(self, choices: Arc<NeighbourChoices>) -> RowDecider {
        RowDecider {
            neighbours: Some(choices),
            ..self
        }
    }

    /// Makes it ready for the rows of a block.
    pub fn start(&mut self, at: BlockStart) {
        if let Some(choices) = &self.neighbours {
            self.next = choices.start(at);
        }
    }

    /// Hands the cell of `row`, with the texts of the row that it is read by, to `act`.
    pub fn with_texts<R>(
        &mut self,
        row: &(impl Row + ?Sized),
        file: &str,
        scratch: &mut String,
        act: impl FnOnce(&mut Decider, Cell<'_>, &RowContext<'_>) -> R,
    ) -> R {
        if self.texts.is_empty() {
            let cell = row.cell(self.index, scratch);
            return act(&mut self.decider, cell, &RowContext::default());
        }
        let mut inner = String::new();
        for (said, source) in self.said.iter_mut().zip(&self.texts) {
            said.clear();
            match source {
                TextSource::Column(index) => {
                    said.push_str(row.cell(*index, scratch).text(&mut inner));
                }
                TextSource::FileName => said.push_str(file),
            }
        }
        let context = RowContext {
            texts: &self.said,
            ..RowContext::default()
        };
        act(&mut self.decider, row.cell(self.index, scratch), &context)
    }

    /// What the cell of `row` is by itself.
    pub fn own_reading(
        &mut self,
        row: &(impl Row + ?Sized),
        file: &str,
        scratch: &mut String,
    ) -> OwnReading {
        let mut own = OwnReading::default();
        self.read_own(row, file, scratch, &mut own);
        own
    }

    /// The same, into what the caller uses again.
    pub fn read_own(
        &mut self,
        row: &(impl Row + ?Sized),
        file: &str,
        scratch: &mut String,
        own: &mut OwnReading,
    ) {
        self.with_texts(row, file, scratch, |decider, cell, context| {
            decider.read_own(cell, context, own);
        });
    }

    /// Hands the cell of `row`, what it is by itself, and what the row says about it,
    /// to `act`. Other cells are read only where they may choose among readings.
    pub fn with_context<R>(
        &mut self,
        row: &(impl Row + ?Sized),
        file: &str,
        scratch: &mut String,
        act: impl FnOnce(&mut Decider, Cell<'_>, &OwnReading, &RowContext<'_>) -> R,
    ) -> R {
        let own_reading = self.own_reading(row, file, scratch);
        self.stamps.clear();
        let mut context = RowContext {
            texts: &self.said,
            ..RowContext::default()
        };
        if let OwnReading::Several(_) = own_reading {
            let mut stamp = |other: &mut Option<Box<Other>>| -> Option<Stamp> {
                let other = other.as_mut()?;
                let cell = row.cell(other.index, scratch);
                other.decider.read(cell, &RowContext::default()).1
            };
            self.stamps
                .extend(self.days_after.iter_mut().map(&mut stamp));
            context.not_before = stamp(&mut self.not_before);
            context.not_after = stamp(&mut self.not_after);
            context.days_after = &self.stamps;
            if let Some(choices) = &self.neighbours {
                context.by_neighbours = choices.choice(self.next);
                self.next += 1;
            }
        }
        let cell = row.cell(self.index, scratch);
        act(&mut self.decider, cell, &own_reading, &context)
    }
}
