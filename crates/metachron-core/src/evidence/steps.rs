//! Whether the rows of a column stand in time order.

use super::moment::Moment;
use crate::form::Order;
use crate::reading::{Outcome, Readings, Stamps};

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
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct InTime {
    /// Of the cells that all orders read alike.
    pub known: Steps,
    /// As day-month-year and as month-day-year would have them.
    by_order: [Steps; 2],
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

impl Moments {
    #[inline]
    pub(super) fn of(readings: &Readings, outcome: Outcome, stamps: &Stamps) -> Moments {
        let usual = || {
            let candidates = readings.candidates().iter().zip(stamps).enumerate();
            candidates.filter_map(|(place, (candidate, stamp))| {
                let stamp = stamp.ok().filter(|_| candidate.usual)?;
                Some((place, candidate, stamp))
            })
        };
        let Some((first, _, stamp)) = usual().next() else {
            return Moments::None;
        };
        let class = outcome.class(first);
        if usual().all(|(place, _, _)| outcome.class(place) == class) {
            return Moment::of(stamp).map_or(Moments::None, Moments::One);
        }
        Moments::ByOrder(ORDERS.map(|order| {
            let own = usual().find(|(_, candidate, _)| candidate.order() == Some(order));
            own.and_then(|(_, _, stamp)| Moment::of(stamp))
        }))
    }

    /// The same with each moment replaced by what `change` makes of it.
    #[inline]
    pub(super) fn map(self, change: impl Fn(Moment) -> Moment) -> Moments {
        match self {
            Moments::None => Moments::None,
            Moments::One(at) => Moments::One(change(at)),
            Moments::ByOrder(both) => Moments::ByOrder(both.map(|at| at.map(&change))),
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

impl InTime {
    /// The steps of all cells as `order` would have them.
    pub fn under(&self, order: Order) -> Option<&Steps> {
        let place = ORDERS.iter().position(|known| *known == order)?;
        Some(&self.by_order[place])
    }

    #[inline]
    pub(super) fn add(&mut self, moments: Moments) {
        match moments {
            Moments::None => {}
            Moments::One(at) => {
                self.known.add(at);
                for steps in &mut self.by_order {
                    steps.add(at);
                }
            }
            Moments::ByOrder(both) => {
                for (steps, at) in self.by_order.iter_mut().zip(both) {
                    if let Some(at) = at {
                        steps.add(at);
                    }
                }
            }
        }
    }

    pub(super) fn merge(&mut self, later: InTime) {
        self.known.merge(later.known);
        for (steps, more) in self.by_order.iter_mut().zip(later.by_order) {
            steps.merge(more);
        }
    }
}
