//! Level 5: rows that stand in time order.

use super::form_cells::IN_FOLD;
use super::justification::Premise;
use super::observed::Observed;
use super::source::{Conclusion, EvidenceSource, HeldPremise, Question, holds, same_type};
use super::votes::Votes;
use crate::decide::{NeighbourResolver, OwnReading, is_before};
use crate::form::Order;
use crate::rulings::TimeOrder;
use crate::settle::{LEAST_IN_ORDER, is_kept};
use crate::stamp::Stamp;
use crate::words::{count, number};
use std::any::Any;

/// A column's cells in the order of the rows.
#[derive(Debug)]
pub(super) struct RowOrder {
    /// What the rows hold, in order, as far as it is not arranged yet.
    cells: Vec<OrderedCell>,
    ascending: Direction,
    descending: Direction,
}

/// What stands in a row.
#[derive(Debug)]
enum OrderedCell {
    Known(Stamp),
    Several(usize, Vec<Stamp>, Vec<Option<Order>>),
}

/// The rows in one direction of time.
#[derive(Debug)]
struct Direction {
    steps: u64,
    exceptions: u64,
    votes: Votes,
    last: Option<Stamp>,
    /// Open cells that have one reading between their neighbours.
    resolver: NeighbourResolver<(usize, Vec<Option<Order>>)>,
}

impl RowOrder {
    pub fn new() -> RowOrder {
        RowOrder {
            cells: Vec::new(),
            ascending: Direction::new(TimeOrder::Ascending),
            descending: Direction::new(TimeOrder::Descending),
        }
    }
}

impl EvidenceSource for RowOrder {
    fn observe(&mut self, row: &Observed<'_>) {
        match row.as_settled() {
            OwnReading::Nothing(_) => {}
            OwnReading::One { stamp, .. } => self.cells.push(OrderedCell::Known(stamp)),
            OwnReading::Several {
                form,
                stamps,
                orders,
            } => {
                let form = form.unwrap_or(IN_FOLD);
                self.cells.push(OrderedCell::Several(form, stamps, orders));
            }
        }
    }

    fn merge(&mut self, later: Box<dyn EvidenceSource>) {
        self.cells.extend(same_type::<RowOrder>(later).cells);
    }

    fn start_again(&self) -> Box<dyn EvidenceSource> {
        Box::new(RowOrder::new())
    }

    fn arrange(&mut self) {
        for mark in self.cells.drain(..) {
            self.ascending.add(&mark);
            self.descending.add(&mark);
        }
    }

    fn finish(&mut self) {
        self.arrange();
        self.ascending.finish();
        self.descending.finish();
    }

    fn conclude<'s>(&'s self, _question: &Question<'_>) -> Vec<Conclusion<'s>> {
        let both = [&self.ascending, &self.descending].into_iter();
        let held = both.filter(|direction| direction.is_kept());
        let premise = |direction: &'s Direction| HeldPremise {
            premise: Premise::InTimeOrder {
                order: direction.order(),
                steps: direction.steps,
                exceptions: direction.exceptions,
            },
            votes: &direction.votes,
            by_chance: 0.0,
        };
        held.map(premise).map(Conclusion::Premise).collect()
    }

    fn attempts(&self, _question: &Question<'_>) -> Vec<String> {
        let best = if self.ascending.steps >= self.descending.steps {
            &self.ascending
        } else {
            &self.descending
        };
        vec![format!(
            "time order of the rows: {} {}, {} break it; {}",
            count(best.steps, "step"),
            best.order().name(),
            number(best.exceptions),
            holds(
                best.is_kept(),
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
            steps: 0,
            exceptions: 0,
            votes: Votes::default(),
            last: None,
            resolver: NeighbourResolver::new(order),
        }
    }

    fn order(&self) -> TimeOrder {
        self.resolver.order()
    }

    fn is_kept(&self) -> bool {
        self.steps >= LEAST_IN_ORDER && is_kept(self.steps, self.exceptions)
    }

    fn finish(&mut self) {
        let next = NeighbourResolver::new(self.order());
        let resolver = std::mem::replace(&mut self.resolver, next);
        resolver.finish(count_resolved(&mut self.votes));
    }

    fn add(&mut self, mark: &OrderedCell) {
        let resolved = count_resolved(&mut self.votes);
        match mark {
            OrderedCell::Known(stamp) => {
                if let Some(last) = self.last.replace(*stamp) {
                    let (up, down) = (is_before(last, *stamp), is_before(*stamp, last));
                    let (keeps, breaks) = match self.resolver.order() {
                        TimeOrder::Ascending => (up, down),
                        TimeOrder::Descending => (down, up),
                    };
                    self.steps += u64::from(keeps);
                    self.exceptions += u64::from(breaks);
                }
                self.resolver.known(*stamp, resolved);
            }
            OrderedCell::Several(form, stamps, orders) => {
                self.resolver
                    .several(stamps.clone(), (*form, orders.clone()));
                self.resolver.shed(resolved);
            }
        }
    }
}

/// Counts the order of each open cell that has one reading left.
fn count_resolved(votes: &mut Votes) -> impl FnMut((usize, Vec<Option<Order>>), Option<usize>) {
    |(form, orders), choice| {
        if let Some(choice) = choice {
            votes.vote(form, orders[choice]);
        }
    }
}
