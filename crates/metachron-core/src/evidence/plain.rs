//! Cells of plain numbers (`31/12/2024`, `2024-12-31 14:30`): which of their
//! orders are possible is known from the pair of day and month, whatever the
//! year and the time. So most cells are tallied without being read.

use super::moment::{Moment, TimeBits};
use super::shape::ShapeEvidence;
use super::steps::{Moments, Sources};
use crate::form::{First, Numbers};
use crate::lex::Lexed;
use crate::reading::Readings;
use jiff::civil::Time;

/// What the pairs of all columns of a surveyor may take, in bytes.
const MEMORY: usize = 4 << 20;

/// Whether the cells of so many columns are tallied so: in a wide table the
/// pairs would take more than they are worth.
pub(super) fn fits(columns: usize) -> bool {
    columns * size_of::<[Option<Met>; PAIR * PAIR]>() <= MEMORY
}

/// Day and month are below this.
const PAIR: usize = 32;

/// The pairs of a shape whose candidates are all plain, and differ in the
/// order of day and month alone.
#[derive(Debug)]
pub(super) struct PlainCells {
    numbers: Numbers,
    /// What the first number is, by candidate.
    firsts: Vec<First>,
    /// Tokens that some candidate wants to have two digits.
    pairs: u32,
    /// The tallies of pairs that were met, by both numbers.
    met: Vec<Option<Met>>,
}

/// Where cells with a pair are tallied.
#[derive(Clone, Copy, Debug)]
struct Met {
    tally: u16,
    sources: Sources,
}

impl PlainCells {
    /// Those of a shape, if its candidates leave it at that.
    pub(super) fn of(readings: &Readings) -> Option<PlainCells> {
        let mut candidates = readings.candidates().iter();
        let (numbers, first, pairs) = candidates.next()?.reader.numbers()?;
        let mut cells = PlainCells {
            numbers,
            firsts: vec![first],
            pairs,
            met: Vec::new(),
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

    /// Tallies a cell whose pair was met; hands back its moments.
    #[inline]
    pub(super) fn add(&self, cell: &Lexed<'_>, shape: &mut ShapeEvidence) -> Option<Moments> {
        let (place, year, time) = self.place(cell)?;
        let met = (*self.met.get(place)?)?;
        if !shape.has_examples(met.tally, cell.text()) {
            return None;
        }
        let tally = &mut shape.tallies[usize::from(met.tally)];
        tally.count += 1;
        let outcome = tally.outcome;
        let (one, other) = ((place / PAIR) as u8, (place % PAIR) as u8);
        let within = time.map(TimeBits::from);
        let moment = |first: First| {
            let day = match first {
                First::Month => Moment::midnight(year, one, other),
                First::Day => Moment::midnight(year, other, one),
            };
            within.map_or(day, |time| day.at(time))
        };
        for (candidate, (first, span)) in self.firsts.iter().zip(&mut shape.spans).enumerate() {
            if outcome.reads(candidate) {
                span.add_moment(moment(*first));
            }
        }
        shape.writing.add(cell.marks());
        let of = |candidate: usize| self.firsts.get(candidate).map(|first| moment(*first));
        Some(met.sources.moments(of))
    }

    /// Remembers that `cell` was read, and in which tally it is.
    pub(super) fn meet(&mut self, cell: &Lexed<'_>, shape: &ShapeEvidence, tally: u16) {
        let Some((place, ..)) = self.place(cell) else {
            return;
        };
        let outcome = shape.tallies[usize::from(tally)].outcome;
        let pair = [(place / PAIR) as u8, (place % PAIR) as u8];
        if outcome.is_unreadable() || depends_on_year(pair) {
            return;
        }
        if self.met.is_empty() {
            self.met = vec![None; PAIR * PAIR];
        }
        self.met[place] = Some(Met {
            tally,
            sources: Sources::of(&shape.readings, outcome),
        });
    }

    /// The place of the pair of `cell`, its year and its time; `None` where
    /// there is more to it. Midnight says more than other times.
    #[inline]
    fn place(&self, cell: &Lexed<'_>) -> Option<(usize, i16, Option<Time>)> {
        if self.pairs & !cell.marks().pairs != 0 {
            return None;
        }
        let parts = self.numbers.of(cell)?;
        let [one, other] = parts.pair.map(usize::from);
        let is_usual = one < PAIR && other < PAIR && parts.time != Some(Time::midnight());
        is_usual.then_some((one * PAIR + other, parts.year, parts.time))
    }
}

/// Whether the year has a say about the day: 29 February is not in every year,
/// and some days of some years mark empty cells.
fn depends_on_year([one, other]: [u8; 2]) -> bool {
    let leap = [one, other] == [2, 29] || [one, other] == [29, 2];
    leap || super::column::has_markers(one, other) || super::column::has_markers(other, one)
}
