//! Open cells between their neighbours in time.

use super::context::is_before;
use super::own_reading::{OwnReading, SeveralReadings, only};
use crate::rulings::TimeOrder;
use crate::stamp::Stamp;
use std::collections::HashSet;
use std::sync::Arc;

/// More open cells than this between two known ones are not waited for: they
/// are held in memory, and hardly ever placed.
const LONGEST_RUN: usize = 1 << 16;

/// Decides on open cells in rows that stand in time order: a cell has the one of
/// its readings that fits between the last known cell before it and the first
/// one behind it, where one alone does.
///
/// Cells between the same two known ones are placed together: where one of
/// them fits nowhere, or those that are placed are out of order themselves,
/// something is wrong with a neighbour, and all of them stay open.
#[derive(Debug)]
pub struct NeighbourResolver {
    order: TimeOrder,
    before: Option<Stamp>,
    run: Vec<Arc<SeveralReadings>>,
    /// The run was too long to be kept; what follows up to the next known
    /// cell belongs to it.
    is_overlong: bool,
}

/// A cell among its neighbours in time.
#[derive(Clone, Debug)]
pub enum CellInTime {
    /// It has one reading.
    Known(Stamp),
    /// It has several. Shared, since whole tables of such cells are held.
    Several(Arc<SeveralReadings>),
}

impl CellInTime {
    /// A cell that is `own` by itself; `None` where it is nothing.
    pub fn of(own: &OwnReading) -> Option<CellInTime> {
        match own {
            OwnReading::One { stamp, .. } => Some(CellInTime::Known(*stamp)),
            OwnReading::Several(several) => Some(CellInTime::Several(Arc::new(several.clone()))),
            OwnReading::Nothing(_) => None,
        }
    }
}

/// The readings of open cells, each kept once: whole tables of them are held.
#[derive(Debug, Default)]
pub(crate) struct SharedReadings(HashSet<Arc<SeveralReadings>>);

impl SharedReadings {
    /// At most so many different ones are kept.
    const MOST: usize = 1 << 14;

    /// The same cell, with its readings shared with those of an equal one.
    pub(crate) fn share(&mut self, cell: CellInTime) -> CellInTime {
        let CellInTime::Several(several) = cell else {
            return cell;
        };
        if let Some(known) = self.0.get(&several) {
            return CellInTime::Several(known.clone());
        }
        if self.0.len() == Self::MOST {
            self.0.clear();
        }
        self.0.insert(several.clone());
        CellInTime::Several(several)
    }
}

impl NeighbourResolver {
    /// For rows that stand in this order.
    pub fn new(order: TimeOrder) -> NeighbourResolver {
        NeighbourResolver {
            order,
            before: None,
            run: Vec::new(),
            is_overlong: false,
        }
    }

    /// The order of the rows.
    pub fn order(&self) -> TimeOrder {
        self.order
    }

    /// Takes the next cell. A known one hands every open cell before it to
    /// `by_neighbours`, in order, with the index of the reading that fits; so does an
    /// open one where the run has become too long to wait for its end.
    pub fn take(
        &mut self,
        cell: CellInTime,
        by_neighbours: impl FnMut(&SeveralReadings, Option<usize>),
    ) {
        match cell {
            CellInTime::Known(stamp) => {
                self.end_run(Some(stamp), by_neighbours);
                self.before = Some(stamp);
                self.is_overlong = false;
            }
            CellInTime::Several(several) => {
                self.run.push(several);
                if self.run.len() > LONGEST_RUN {
                    self.is_overlong = true;
                    self.end_run(None, by_neighbours);
                }
            }
        }
    }

    /// Hands over the open cells behind the last known one.
    pub fn finish(mut self, by_neighbours: impl FnMut(&SeveralReadings, Option<usize>)) {
        self.end_run(None, by_neighbours);
    }

    fn end_run(
        &mut self,
        after: Option<Stamp>,
        mut by_neighbours: impl FnMut(&SeveralReadings, Option<usize>),
    ) {
        // The first cells have a neighbour on one side only, and so have the
        // last: one bound may do.
        let (from, to) = match self.order {
            TimeOrder::Ascending => (self.before, after),
            TimeOrder::Descending => (after, self.before),
        };
        let in_order = match (from, to) {
            (Some(from), Some(to)) => !is_before(to, from),
            (None, None) => false,
            _ => true,
        };
        let choices = (in_order && !self.is_overlong).then(|| self.choices(from, to));
        let choices = choices.flatten();
        let choices = choices.unwrap_or_else(|| vec![None; self.run.len()]);
        for (cell, choice) in self.run.drain(..).zip(choices) {
            by_neighbours(&cell, choice);
        }
    }

    /// The reading of each open cell; `None` where they make no sense
    /// together.
    ///
    /// A reading is possible where the cells before it can all stand before it,
    /// and those behind it behind: to know that, the least that the cells before
    /// can come to and the most that those behind can are enough.
    fn choices(&self, from: Option<Stamp>, to: Option<Stamp>) -> Option<Vec<Option<usize>>> {
        let cells = || self.run.iter().map(|cell| cell.stamps.as_slice());
        let is_behind = |one, other| is_before(other, one);
        let (least, most) = match self.order {
            TimeOrder::Ascending => (
                bounds(cells(), from, is_before)?,
                bounds(cells().rev(), to, is_behind)?,
            ),
            TimeOrder::Descending => {
                let mut least = bounds(cells().rev(), from, is_before)?;
                let mut most = bounds(cells(), to, is_behind)?;
                least.reverse();
                most.reverse();
                (least, most)
            }
        };
        let context = least.iter().zip(most.iter().rev());
        let choices = cells().zip(context).map(|(readings, (from, to))| {
            let fits = |stamp: &Stamp| {
                let early = from.is_some_and(|from| is_before(*stamp, from));
                !early && !to.is_some_and(|to| is_before(to, *stamp))
            };
            only(readings, fits)
        });
        Some(choices.collect())
    }
}

/// What stands before each cell at least, where each is as early as it can be
/// behind `start`; `None` where one has no reading that is. With the opposite of
/// `is_before`, what stands behind each at most, from the other end.
fn bounds<'r>(
    cells: impl Iterator<Item = &'r [Stamp]>,
    start: Option<Stamp>,
    is_before: impl Fn(Stamp, Stamp) -> bool,
) -> Option<Vec<Option<Stamp>>> {
    let mut bound = start;
    let mut bounds = Vec::new();
    for readings in cells {
        bounds.push(bound);
        let fits = |stamp: &&Stamp| !bound.is_some_and(|bound| is_before(**stamp, bound));
        let next = readings.iter().filter(fits);
        let first = next.reduce(|known, stamp| {
            if is_before(*stamp, *known) {
                stamp
            } else {
                known
            }
        });
        bound = Some(*first?);
    }
    Some(bounds)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::zone::{Local, Zone};
    use jiff::Timestamp;
    use jiff::civil::date;
    use proptest::prelude::*;

    fn open(stamps: [Stamp; 2]) -> CellInTime {
        CellInTime::Several(Arc::new(SeveralReadings {
            form: Some(0),
            stamps: stamps.into(),
            hypotheses: [None; 2].into(),
        }))
    }

    proptest! {
        /// Whatever rows a logger has around the change of its clocks, each is
        /// placed where it belongs, or not at all.
        #[test]
        fn hours_that_were_twice_are_placed_where_they_belong(
            minutes in prop::collection::btree_set(-300..300_i64, 2..60),
            zone in prop::sample::select(vec!["Europe/Oslo", "Australia/Lord_Howe", "Africa/Casablanca"]),
            order in prop::sample::select(vec![TimeOrder::Ascending, TimeOrder::Descending]),
        ) {
            let zone: Zone = zone.parse().unwrap();
            // A change back, in each of the zones.
            let after: Timestamp = "2023-01-01T00:00:00Z".parse().unwrap();
            let is_back = |change: &jiff::tz::TimeZoneTransition| {
                let before = Timestamp::from_second(change.timestamp().as_second() - 1).unwrap();
                zone.offset_at(before) > change.offset()
            };
            let change = zone.rules().following(after).find(is_back).unwrap().timestamp();
            let mut rows: Vec<Timestamp> = minutes
                .iter()
                .map(|minute| Timestamp::from_second(change.as_second() + 60 * minute).unwrap())
                .collect();
            if order == TimeOrder::Descending {
                rows.reverse();
            }
            let mut resolver = NeighbourResolver::new(order);
            let (mut truths, mut choices) = (Vec::new(), Vec::new());
            for &row in &rows {
                match zone.local(zone.offset_at(row).to_datetime(row)) {
                    Local::Fold(both) => {
                        let truth = both.iter().position(|at| *at == row);
                        truths.push(truth);
                        resolver.take(open(both.map(Stamp::Instant)), |_, choice| choices.push(choice));
                    }
                    _ => resolver.take(CellInTime::Known(Stamp::Instant(row)), |_, choice| choices.push(choice)),
                }
            }
            resolver.finish(|_, choice| choices.push(choice));
            for (truth, choice) in truths.into_iter().zip(choices) {
                prop_assert!(choice.is_none() || choice == truth);
            }
        }
    }

    #[test]
    fn a_cell_has_the_reading_that_fits_between_its_neighbours() {
        let day = |month, day| Stamp::Date(date(2024, month, day));
        let mut placed = Vec::new();
        let mut resolver = NeighbourResolver::new(TimeOrder::Ascending);
        resolver.take(CellInTime::Known(day(3, 28)), |_, _| {});
        resolver.take(open([day(4, 5), day(5, 4)]), |_, _| {});
        resolver.take(CellInTime::Known(day(4, 13)), |_, reading| {
            placed.push(reading)
        });
        assert_eq!(placed, [Some(0)]);
    }
}
