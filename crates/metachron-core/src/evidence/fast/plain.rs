//! Cells of plain numbers (`31/12/2024`, `2024-12-31 14:30`): which of their
//! orders are possible is known from the pair of day and month, whatever the
//! year and the time. So most cells are tallied without being read.

use super::positions::{NumberPositions, Parts};
use crate::calendar::is_far;
use crate::evidence::TimesSeen;
use crate::evidence::column::has_markers;
use crate::evidence::moment::{Moment, TimeBits};
use crate::evidence::shape::ShapeEvidence;
use crate::evidence::time_steps::{Moments, Sources, TimeSteps};
use crate::form::{First, NumberTokens};
use crate::lex::Lexed;
use crate::reading::{Outcome, Readings};

/// What the pairs of all columns of a surveyor may take, in bytes.
const MEMORY: usize = 4 << 20;

/// Whether the cells of so many columns are tallied so: in a wide table the
/// pairs would take more than they are worth.
pub(in crate::evidence) fn fits(columns: usize) -> bool {
    columns * size_of::<[Option<Met>; PAIR * PAIR]>() <= MEMORY
}

/// Day and month are below this.
const PAIR: usize = 32;

/// The pairs of a shape whose candidates are all plain, and differ in the
/// order of day and month alone.
#[derive(Debug)]
pub(in crate::evidence) struct PlainCells {
    numbers: NumberTokens,
    /// What the first number is, by candidate.
    firsts: Vec<First>,
    /// Tokens that some candidate wants to have two digits.
    pairs: u32,
    /// The tallies of pairs that were met, by both numbers.
    met: Vec<Option<Met>>,
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
    pub(in crate::evidence) fn of(readings: &Readings) -> Option<PlainCells> {
        let mut candidates = readings.candidates().iter();
        let (numbers, first, pairs) = candidates.next()?.reader.numbers()?;
        let mut cells = PlainCells {
            numbers,
            firsts: vec![first],
            pairs,
            met: Vec::new(),
            ends: [None; 2],
            times: TimesSeen::default(),
        };
        for candidate in candidates {
            let (numbers, first, pairs) = candidate.reader.numbers()?;
            if numbers != cells.numbers {
                return None;
            }
            cells.firsts.push(first);
            cells.pairs |= pairs;
        }
        Some(cells)
    }

    /// Where the numbers of `cell` stand, if the cells of its layout can be
    /// tallied by them.
    pub(in crate::evidence) fn positions(&self, cell: &Lexed<'_>) -> Option<NumberPositions> {
        // The texts of a layout are cut alike; other texts have none.
        let has_width = self.pairs & !cell.marks().pairs == 0;
        cell.layout().filter(|_| has_width)?;
        NumberPositions::in_cell(&self.numbers, cell)
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
        let met = index_of(parts).and_then(|index| *self.met.get(index)?);
        let Some(met) = met else { return false };
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
        let positions = NumberPositions::in_cell(&self.numbers, cell);
        let Some(parts) = positions.and_then(|positions| positions.of(cell.text().as_bytes()))
        else {
            return;
        };
        let outcome = &shape.tallies[usize::from(tally)].outcome;
        if depends_on_year(parts.pair) {
            return;
        }
        if let (Some(index), Some(met)) = (index_of(parts), self.met(outcome, tally, shape)) {
            if self.met.is_empty() {
                self.met = vec![None; PAIR * PAIR];
            }
            self.met[index] = Some(met);
        }
    }

    /// What is to be done with cells of this outcome; `None` where candidates
    /// of one order disagree.
    fn met(&self, outcome: &Outcome, tally: u16, shape: &ShapeEvidence) -> Option<Met> {
        let mut reads = [None; 2];
        for (candidate, first) in self.firsts.iter().enumerate() {
            let own = outcome.reads(candidate);
            if *reads[*first as usize].get_or_insert(own) != own {
                return None;
            }
        }
        let first = |candidate: u16| self.firsts[usize::from(candidate)] as u8;
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
        for (first, span) in self.firsts.iter().zip(spans) {
            for at in self.ends[*first as usize]
                .iter()
                .flat_map(|ends| [ends.0, ends.1])
            {
                span.add_moment(at);
            }
        }
    }
}

/// The index of the pair of a cell; `None` where there is more to it. Midnight
/// says more than other times.
#[inline]
fn index_of(parts: Parts) -> Option<usize> {
    let [one, other] = parts.pair.map(usize::from);
    let is_usual = one < PAIR && other < PAIR && parts.clock != Some([0; 3]) && !is_far(parts.year);
    is_usual.then_some(one * PAIR + other)
}

/// Whether the year has a say about the day: 29 February is not in every year,
/// and some days of some years mark empty cells.
fn depends_on_year([one, other]: [u8; 2]) -> bool {
    let leap = [one, other] == [2, 29] || [one, other] == [29, 2];
    leap || has_markers(one, other) || has_markers(other, one)
}
