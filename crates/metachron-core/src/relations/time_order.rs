//! Level 5: rows that stand in time order.
//!
//! Known cells that stand in order say where the open ones between them belong.
//! And where all cells are in order as one way of writing would have them, and
//! in no other, that is how they are written: no cell needs to be known.

use super::form_cells::FormCells;
use super::observed::Observed;
use super::premise::Premise;
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::{CellInTime, NeighbourResolver, OwnReading, SeveralReadings, is_before};
use crate::form::Hypothesis;
use crate::rulings::TimeOrder;
use crate::settle::{LEAST_IN_ORDER, is_kept};
use crate::stamp::Stamp;
use crate::words::{count, number};
use std::any::Any;
use std::cmp::Ordering;
use std::collections::BTreeMap;

/// Where all cells are in time order as one order of day, month and year would
/// have them, every other one has to break it at least so often, and …
const OTHERS_BREAK: u64 = 5;

/// … once in so many steps. (Days of two-digit years, read as years, break it
/// once a month.)
const OTHERS_BREAK_ONE_IN: u64 = 50;

/// A column's cells in the order of the rows.
#[derive(Debug)]
pub(super) struct RowOrder {
    /// What the rows hold, in order, as far as it is not arranged yet, and the
    /// step of the text to it.
    cells: Vec<(CellInTime, Ordering)>,
    /// The steps of the cells that are known.
    known: Walk,
    ascending: Direction,
    descending: Direction,
    /// The steps of all cells, as each order would have them.
    hypotheses: BTreeMap<Hypothesis, AllCells>,
    last_text: String,
    /// The index of the column.
    index: usize,
    /// Whether cells are read as the column's own cells settled them.
    as_settled: bool,
    /// The index of the column that the rows are sorted by, unless they stand so.
    sorted_by: Option<usize>,
}

/// How many steps from one row to the next go up, and how many down.
#[derive(Clone, Copy, Debug, Default)]
struct Steps {
    up: u64,
    down: u64,
}

/// Cells in the order of the rows.
#[derive(Debug, Default)]
struct Walk {
    steps: Steps,
    last: Option<Stamp>,
}

/// All cells, as one order would have them.
#[derive(Debug, Default)]
struct AllCells {
    walk: Walk,
    votes: Votes,
    /// The steps of the texts inside a year: rows of one year that were sorted as
    /// text stand in time order as month-day-year, whatever they are, and so do
    /// years sorted so and set one after the other.
    texts: Steps,
}

/// The rows in one direction of time.
#[derive(Debug)]
struct Direction {
    votes: Votes,
    /// Open cells that have one reading between their neighbours.
    resolver: NeighbourResolver,
}

impl RowOrder {
    /// Of the column at `index`, with its cells as they settled themselves, or all
    /// in question.
    pub fn new(index: usize, as_settled: bool) -> RowOrder {
        RowOrder {
            cells: Vec::new(),
            known: Walk::default(),
            ascending: Direction::new(TimeOrder::Ascending),
            descending: Direction::new(TimeOrder::Descending),
            hypotheses: BTreeMap::new(),
            last_text: String::new(),
            index,
            as_settled,
            sorted_by: None,
        }
    }

    /// Of rows that are sorted by the column at `other`.
    pub fn sorted_by(index: usize, other: usize) -> RowOrder {
        RowOrder {
            sorted_by: Some(other),
            ..RowOrder::new(index, false)
        }
    }

    /// Takes in the cell of the next row, and its text.
    pub(super) fn add(&mut self, own: &OwnReading, text: &str) {
        let Some(cell) = CellInTime::of(own) else {
            return;
        };
        let text_step = if self.last_text.is_empty() {
            Ordering::Equal
        } else {
            self.last_text.as_str().cmp(text)
        };
        self.last_text.replace_range(.., text);
        self.cells.push((cell, text_step));
    }

    /// Tries the cell on each hypothesis.
    fn try_orders(&mut self, cell: &CellInTime, text_step: Ordering) {
        if let CellInTime::Several(several) = cell {
            for order in several.hypotheses.iter().flatten() {
                self.hypotheses.entry(*order).or_default();
            }
        }
        for (order, own) in &mut self.hypotheses {
            match cell {
                CellInTime::Known(stamp) => own.step(*stamp, text_step),
                CellInTime::Several(several) => {
                    own.votes
                        .add(several, |index| several.hypotheses[index] == Some(*order));
                    if let Some(stamp) = several.by(*order) {
                        own.step(stamp, text_step);
                    }
                }
            }
        }
    }

    /// The one order that has all cells in time order, and the direction.
    fn in_order(&self, cells: &FormCells) -> Option<(Hypothesis, TimeOrder, &AllCells)> {
        [TimeOrder::Ascending, TimeOrder::Descending]
            .into_iter()
            .find_map(|direction| {
                let hypotheses = self.hypotheses.iter();
                let mut kept = hypotheses.filter(|(_, own)| own.walk.steps.are_kept(direction));
                let (order, own) = kept.next()?;
                let others = self.hypotheses.iter().filter(|(other, _)| *other != order);
                let all_break = others
                    .into_iter()
                    .all(|(_, other)| other.walk.steps.are_broken(direction));
                let is_only = cells.forms().into_iter().all(|form| {
                    let mut decisive = cells.decisive(form);
                    decisive.all(|(decisive, _)| decisive == *order)
                });
                let (_, text_breaks) = own.texts.in_direction(direction);
                let is_by_time = text_breaks > own.walk.steps.in_direction(direction).1;
                (all_break && is_only && is_by_time).then_some((*order, direction, own))
            })
    }
}

impl Steps {
    fn add(&mut self, step: Ordering) {
        self.up += u64::from(step == Ordering::Less);
        self.down += u64::from(step == Ordering::Greater);
    }

    /// The steps that keep the direction, and those that break it.
    fn in_direction(self, direction: TimeOrder) -> (u64, u64) {
        match direction {
            TimeOrder::Ascending => (self.up, self.down),
            TimeOrder::Descending => (self.down, self.up),
        }
    }

    fn are_kept(self, direction: TimeOrder) -> bool {
        let (steps, breaks) = self.in_direction(direction);
        steps >= LEAST_IN_ORDER && is_kept(steps, breaks)
    }

    fn are_broken(self, direction: TimeOrder) -> bool {
        let (steps, breaks) = self.in_direction(direction);
        breaks >= OTHERS_BREAK && breaks * OTHERS_BREAK_ONE_IN > steps
    }
}

impl AllCells {
    fn step(&mut self, stamp: Stamp, text_step: Ordering) {
        let year = |stamp: Stamp| stamp.date().map(|date| date.year());
        if self.walk.last.and_then(year) == year(stamp) {
            self.texts.add(text_step);
        }
        self.walk.step(stamp);
    }
}

impl Walk {
    fn step(&mut self, stamp: Stamp) {
        if let Some(last) = self.last.replace(stamp) {
            self.steps.add(in_time(last, stamp));
        }
    }
}

/// Which of two stamps is earlier, as far as they say.
fn in_time(one: Stamp, other: Stamp) -> Ordering {
    if is_before(one, other) {
        Ordering::Less
    } else if is_before(other, one) {
        Ordering::Greater
    } else {
        Ordering::Equal
    }
}

impl EvidenceSource for RowOrder {
    fn observe(&mut self, row: &Observed<'_>) {
        let text = &row.texts[self.index];
        if self.as_settled {
            self.add(&row.as_settled(), text);
        } else {
            self.add(row.own(), text);
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        let later = same_type::<RowOrder>(later);
        self.cells.extend(later.cells);
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(RowOrder::new(self.index, self.as_settled))
    }

    fn wants_text(&self, index: usize) -> bool {
        index == self.index
    }

    fn arrange(&mut self) {
        for (cell, text_step) in std::mem::take(&mut self.cells) {
            if let CellInTime::Known(stamp) = cell {
                self.known.step(stamp);
            }
            self.ascending.add(&cell);
            self.descending.add(&cell);
            self.try_orders(&cell, text_step);
        }
    }

    fn finish(&mut self) {
        self.arrange();
        self.ascending.finish();
        self.descending.finish();
    }

    fn conclude<'s>(&'s self, question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let sorted_by = || {
            let column = &question.compared.columns[self.sorted_by?];
            Some(column.clone())
        };
        let both = [&self.ascending, &self.descending].into_iter();
        let kept = both.filter(|direction| self.known.steps.are_kept(direction.order()));
        let kept: Vec<&Direction> = kept.collect();
        if kept.is_empty()
            && let Some((order, direction, own)) = self.in_order(question.cells)
        {
            let (steps, exceptions) = own.walk.steps.in_direction(direction);
            return vec![Conclusion::Premise(HeldPremise {
                premise: Premise::InTimeOrder {
                    sorted_by: sorted_by(),
                    read_by: Some(order),
                    order: direction,
                    steps,
                    exceptions,
                },
                votes: &own.votes,
                by_chance: 0.0,
            })];
        }
        let premise = |direction: &'s Direction| {
            let (steps, exceptions) = self.known.steps.in_direction(direction.order());
            HeldPremise {
                premise: Premise::InTimeOrder {
                    sorted_by: sorted_by(),
                    read_by: None,
                    order: direction.order(),
                    steps,
                    exceptions,
                },
                votes: &direction.votes,
                by_chance: 0.0,
            }
        };
        let kept = kept.into_iter();
        kept.map(premise).map(Conclusion::Premise).collect()
    }

    fn attempts(&self, question: &Question<'_>) -> Vec<String> {
        let rows = self.sorted_by.map_or("rows".to_owned(), |other| {
            format!("rows by {}", question.compared.columns[other])
        });
        if let Some((order, direction, own)) = self.in_order(question.cells) {
            let (steps, breaks) = own.walk.steps.in_direction(direction);
            return vec![format!(
                "time order of the {rows}, all read as {}: {} {}, {} break it; {}",
                order,
                count(steps, "step"),
                direction.name(),
                number(breaks),
                holds(true, "")
            )];
        }
        let Steps { up, down } = self.known.steps;
        let direction = if up >= down {
            TimeOrder::Ascending
        } else {
            TimeOrder::Descending
        };
        let (steps, breaks) = self.known.steps.in_direction(direction);
        vec![format!(
            "time order of the {rows}: {} {}, {} break it; {}",
            count(steps, "step"),
            direction.name(),
            number(breaks),
            holds(
                self.known.steps.are_kept(direction),
                &format!("{LEAST_IN_ORDER} steps and no more than 1 break in 100")
            )
        )]
    }

    fn into_any(self: Box<Self>) -> Box<dyn Any> {
        self
    }
}

impl Direction {
    fn new(order: TimeOrder) -> Direction {
        Direction {
            votes: Votes::default(),
            resolver: NeighbourResolver::new(order),
        }
    }

    fn order(&self) -> TimeOrder {
        self.resolver.order()
    }

    fn finish(&mut self) {
        let next = NeighbourResolver::new(self.order());
        let resolver = std::mem::replace(&mut self.resolver, next);
        resolver.finish(count_resolved(&mut self.votes));
    }

    fn add(&mut self, cell: &CellInTime) {
        let resolved = count_resolved(&mut self.votes);
        self.resolver.take(cell.clone(), resolved);
    }
}

/// Counts the order of each open cell that has one reading left.
fn count_resolved(votes: &mut Votes) -> impl FnMut(&SeveralReadings, Option<usize>) {
    |cell, choice| {
        if let Some(choice) = choice {
            votes.vote(cell, choice);
        }
    }
}
