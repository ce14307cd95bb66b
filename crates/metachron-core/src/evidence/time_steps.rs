//! Whether the rows of a column stand in time order.

use super::moment::Moment;
use crate::form::Order;
use crate::reading::{Outcome, Readings};

/// How many steps from one row to the next go forwards in time, and how many
/// back.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Steps {
    /// Steps forwards.
    pub up: u64,
    /// Steps back.
    pub down: u64,
    ends: Option<(Moment, Moment)>,
}

/// The steps of a column: of the cells that all orders read alike, and of all
/// cells as each order would have them.
#[derive(Clone, Copy, Debug, Default)]
pub struct TimeSteps {
    /// Of the cells that all orders read alike.
    pub known: Steps,
    /// As day-month-year and as month-day-year would have them, from the first cell on
    /// that they do not read alike.
    by_order: Option<[Steps; 2]>,
}

impl PartialEq for TimeSteps {
    fn eq(&self, other: &TimeSteps) -> bool {
        self.known == other.known && self.of_orders() == other.of_orders()
    }
}

/// The moment that a cell is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Moments {
    /// None that stands in time.
    None,
    /// The same in every order.
    One(Moment),
    /// Another in each of [`ORDERS`] that reads it.
    ByOrder([Option<Moment>; 2]),
}

/// Which candidates say the moments of the cells of a tally, by their indexes.
/// Small, because there are a thousand of them for a shape.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Sources {
    /// None.
    None,
    /// All usual ones the same, and so this one.
    One(u16),
    /// For each of [`ORDERS`] its own, where it reads them.
    ByOrder([Option<u16>; 2]),
}

impl Sources {
    #[inline]
    pub(super) fn of(readings: &Readings, outcome: &Outcome) -> Sources {
        let usual = || {
            let candidates = readings.candidates().iter().enumerate();
            candidates.filter(|(index, own)| own.usual && outcome.reads(*index))
        };
        let Some((first, _)) = usual().next() else {
            return Sources::None;
        };
        let class = outcome.class(first);
        if usual().all(|(index, _)| outcome.class(index) == class) {
            return Sources::One(first as u16);
        }
        Sources::ByOrder(ORDERS.map(|order| {
            let mut own = usual().filter(|(_, candidate)| candidate.order() == Some(order));
            own.next().map(|(index, _)| index as u16)
        }))
    }

    /// The moments, given that of each candidate.
    #[inline]
    pub(super) fn moments(self, of: impl Fn(usize) -> Option<Moment>) -> Moments {
        match self {
            Sources::None => Moments::None,
            Sources::One(index) => of(index.into()).map_or(Moments::None, Moments::One),
            Sources::ByOrder(indexes) => Moments::ByOrder(indexes.map(|index| of(index?.into()))),
        }
    }
}

const ORDERS: [Order; 2] = [Order::Dmy, Order::Mdy];

impl Steps {
    #[inline]
    fn add(&mut self, at: Moment) {
        let (first, last) = self.ends.unwrap_or((at, at));
        self.up += u64::from(at > last);
        self.down += u64::from(at < last);
        self.ends = Some((first, at));
    }

    fn merge(&mut self, later: Steps) {
        let Some((first, last)) = later.ends else {
            return;
        };
        self.add(first);
        self.up += later.up;
        self.down += later.down;
        self.ends = self.ends.map(|(known, _)| (known, last));
    }

    /// How many steps break the direction that most keep.
    pub fn breaks(&self) -> u64 {
        self.up.min(self.down)
    }
}

impl TimeSteps {
    /// The steps of all cells as `order` would have them.
    pub fn under(&self, order: Order) -> Option<&Steps> {
        let index = ORDERS.iter().position(|known| *known == order)?;
        Some(match &self.by_order {
            Some(by_order) => &by_order[index],
            None => &self.known,
        })
    }

    /// The steps as each of [`ORDERS`] would have them.
    fn of_orders(&self) -> [Steps; 2] {
        self.by_order.unwrap_or([self.known; 2])
    }

    #[inline(always)]
    pub(super) fn add(&mut self, moments: Moments) {
        match moments {
            Moments::None => {}
            Moments::One(at) => {
                self.known.add(at);
                for steps in self.by_order.iter_mut().flatten() {
                    steps.add(at);
                }
            }
            Moments::ByOrder(both) => {
                let known = self.known;
                let by_order = self.by_order.get_or_insert([known; 2]);
                for (steps, at) in by_order.iter_mut().zip(both) {
                    if let Some(at) = at {
                        steps.add(at);
                    }
                }
            }
        }
    }

    pub(super) fn merge(&mut self, later: TimeSteps) {
        if self.by_order.is_some() || later.by_order.is_some() {
            let by_order = self.by_order.get_or_insert([self.known; 2]);
            for (steps, more) in by_order.iter_mut().zip(later.of_orders()) {
                steps.merge(more);
            }
        }
        self.known.merge(later.known);
    }
}
