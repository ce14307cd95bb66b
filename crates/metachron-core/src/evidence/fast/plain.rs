//! Cells of plain numbers (`31/12/2024`, `2024-12-31 14:30`): which of their
//! orders are possible is known from the pair of day and month, whatever the
//! year and the time. So most cells are tallied without being read.

use crate::evidence::TimesSeen;
use crate::evidence::column::has_markers;
use crate::evidence::moment::{Moment, TimeBits};
use crate::evidence::shape::ShapeEvidence;
use crate::evidence::time_steps::{Moments, Sources, TimeSteps};
use crate::form::Conventions;
use crate::lex::Lexed;
use crate::reading::{NumberPositions, Outcome, PairTable, PlainNumbers, Readings};

/// What the pairs of all columns of a surveyor may take, in bytes.
const MEMORY: usize = 4 << 20;

/// Whether the cells of so many columns are tallied so: in a wide table the
/// pairs would take more than they are worth.
pub(in crate::evidence) fn fits(columns: usize) -> bool {
    columns * PairTable::<Met>::BYTES <= MEMORY
}

/// The pairs of a shape whose candidates are all plain, and differ in the
/// order of day and month alone.
#[derive(Debug)]
pub(in crate::evidence) struct PlainCells {
    numbers: PlainNumbers,
    /// The tallies of pairs that were met.
    met: PairTable<Met>,
    /// The earliest and the latest moment of such cells, month first and day
    /// first.
    ends: [Option<(Moment, Moment)>; 2],
    /// The times of day of such cells.
    times: TimesSeen,
}

/// Where cells with a pair are tallied.
#[derive(Clone, Copy, Debug)]
struct Met {
    tally: u16,
    /// Whether the candidates with the month first read it, and those with the
    /// day first.
    reads: [bool; 2],
    in_time: When,
}

/// Which moment of a pair stands in time: 0 with the month first, 1 with the
/// day first.
#[derive(Clone, Copy, Debug)]
enum When {
    None,
    One(u8),
    ByOrder([Option<u8>; 2]),
}

impl PlainCells {
    /// Those of a shape, if its candidates leave it at that.
    pub(in crate::evidence) fn of(
        readings: &Readings,
        conventions: Conventions,
    ) -> Option<PlainCells> {
        Some(PlainCells {
            numbers: PlainNumbers::of(readings, conventions)?,
            met: PairTable::default(),
            ends: [None; 2],
            times: TimesSeen::default(),
        })
    }

    /// Where the numbers of `cell` stand, if the cells of its layout can be
    /// tallied by them.
    pub(in crate::evidence) fn positions(&self, cell: &Lexed<'_>) -> Option<NumberPositions> {
        self.numbers.positions_in_layout(cell)
    }

    /// Tallies a cell whose numbers stand in these `positions`, if its pair was met;
    /// says whether it was.
    #[inline]
    pub(in crate::evidence) fn add(
        &mut self,
        text: &str,
        positions: &NumberPositions,
        shape: &mut ShapeEvidence,
        in_time: &mut TimeSteps,
    ) -> bool {
        let Some(parts) = positions.of(text.as_bytes()) else {
            return false;
        };
        let Some(met) = self.met.get(parts) else {
            return false;
        };
        let tally = &mut shape.tallies[usize::from(met.tally)];
        if !tally.has_examples(text) {
            return false;
        }
        tally.count += 1;
        if let Some(clock) = parts.clock {
            self.times.add(clock);
        }
        let [one, other] = parts.pair;
        let within = parts.clock.map(TimeBits::whole);
        let moment = |month: u8, day: u8| {
            let day = Moment::midnight(parts.year, month, day);
            within.map_or(day, |time| day.at(time))
        };
        let moments = [moment(one, other), moment(other, one)];
        for ((ends, at), reads) in self.ends.iter_mut().zip(moments).zip(met.reads) {
            if reads {
                let (earliest, latest) = ends.unwrap_or((at, at));
                *ends = Some((earliest.min(at), latest.max(at)));
            }
        }
        let moment = |first: u8| moments[usize::from(first & 1)];
        match met.in_time {
            When::None => {}
            When::One(first) => in_time.add(Moments::One(moment(first))),
            When::ByOrder([one, other]) => {
                in_time.add(Moments::ByOrder([one.map(moment), other.map(moment)]));
            }
        }
        true
    }

    /// Remembers that `cell` was read, and in which tally it is.
    pub(in crate::evidence) fn meet(
        &mut self,
        cell: &Lexed<'_>,
        shape: &ShapeEvidence,
        tally: u16,
    ) {
        let positions = self.numbers.positions(cell);
        let Some(parts) = positions.and_then(|positions| positions.of(cell.text().as_bytes()))
        else {
            return;
        };
        let outcome = &shape.tallies[usize::from(tally)].outcome;
        // Some days of some years mark empty cells.
        let [one, other] = parts.pair;
        if has_markers(one, other) || has_markers(other, one) {
            return;
        }
        if let Some(met) = self.met(outcome, tally, shape) {
            self.met.put(parts, met);
        }
    }

    /// What is to be done with cells of this outcome; `None` where candidates
    /// of one order disagree.
    fn met(&self, outcome: &Outcome, tally: u16, shape: &ShapeEvidence) -> Option<Met> {
        let mut reads = [None; 2];
        for (candidate, first) in self.numbers.firsts().iter().enumerate() {
            let own = outcome.reads(candidate);
            if *reads[*first as usize].get_or_insert(own) != own {
                return None;
            }
        }
        let first = |candidate: u16| self.numbers.firsts()[usize::from(candidate)] as u8;
        Some(Met {
            tally,
            reads: reads.map(|reads| reads == Some(true)),
            in_time: match Sources::of(&shape.readings, outcome) {
                Sources::None => When::None,
                Sources::One(candidate) => When::One(first(candidate)),
                Sources::ByOrder(both) => When::ByOrder(both.map(|own| own.map(first))),
            },
        })
    }

    /// Puts what is known of all cells that were tallied by their pairs into the
    /// evidence on their shape: the ends into the spans of the candidates that
    /// read them.
    pub(in crate::evidence) fn hand_over(&self, shape: &mut ShapeEvidence) {
        shape.times.merge(&self.times);
        shape.hours |= self.times.hours;
        let spans = &mut shape.spans;
        for (first, span) in self.numbers.firsts().iter().zip(spans) {
            for at in self.ends[*first as usize]
                .iter()
                .flat_map(|ends| [ends.0, ends.1])
            {
                span.add_moment(at);
            }
        }
    }
}
