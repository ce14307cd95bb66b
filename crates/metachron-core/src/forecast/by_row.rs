//! What becomes of a column whose ruling looks beyond the cell: counted row by
//! row, by the conversion itself.

use super::{Counts, Waiting};
use crate::cell::Cell;
use crate::decide::Verdict;
use crate::decide::{Decider, OwnReading, RowContext};
use crate::evidence::{Example, is_marker};
use crate::form::{Hypothesis, Order};
use crate::stamp::Stamp;
use std::collections::BTreeMap;

/// What becomes of the cells of a column, or of some of its rows.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct RowForecast {
    /// How many cells get which verdict.
    pub cells: Counts,
    /// Cells that their form leaves open, and the rest of the table does not.
    pub by_table: u64,
    /// Cells that stay open between several readings.
    pub open: u64,
    /// The first of them.
    pub first_open: Option<Example>,
    /// How many of them each order reads.
    pub converts: BTreeMap<Order, u64>,
    /// Cells that wait for a person, by reason.
    pub(super) waiting: Vec<Waiting>,
    /// The reasons of those without the numbers in them, which tell cells apart and
    /// not reasons.
    reasons: Vec<String>,
    /// The earliest stamp.
    pub earliest: Option<Stamp>,
    /// The latest stamp.
    pub latest: Option<Stamp>,
}

/// At most so many different reasons are told apart.
const REASONS: usize = 24;

impl RowForecast {
    /// Counts the cell `raw` of `row`.
    pub fn add(
        &mut self,
        decider: &mut Decider,
        raw: Cell<'_>,
        context: &RowContext<'_>,
        row: u64,
    ) {
        let own_reading = decider.own_reading(raw, context);
        let (verdict, stamp) = decider.choose(&own_reading, context);
        self.cells.add(verdict, 1);
        if let Some(stamp) = stamp
            && !stamp.date().is_some_and(is_marker)
        {
            self.span(stamp);
        }
        if let OwnReading::Several(several) = &own_reading {
            self.several(&several.hypotheses, verdict, raw, row);
        }
        if verdict.needs_review() {
            let decision = decider.decide(raw, context);
            let mut known = self.waiting.iter_mut();
            match known.find(|known| known.is_of(&decision)) {
                Some(known) => known.cells += 1,
                None => self.wait(Waiting::new(decision, 1, Example::of_cell(row, raw))),
            }
        }
    }

    fn several(
        &mut self,
        hypotheses: &[Option<Hypothesis>],
        verdict: Verdict,
        raw: Cell<'_>,
        row: u64,
    ) {
        if verdict == Verdict::Settled {
            self.by_table += 1;
            return;
        }
        self.open += 1;
        self.first_open
            .get_or_insert_with(|| Example::of_cell(row, raw));
        for order in hypotheses.iter().flatten().filter_map(|own| own.order()) {
            *self.converts.entry(order).or_default() += 1;
        }
    }

    /// Puts what was counted in later rows behind this; they start at row
    /// `by`.
    pub fn merge(&mut self, later: RowForecast, by: u64) {
        let moved = |example: Example| Example {
            row: example.row + by,
            ..example
        };
        self.cells.merge(later.cells);
        self.by_table += later.by_table;
        self.open += later.open;
        if self.first_open.is_none() {
            self.first_open = later.first_open.map(moved);
        }
        for (order, cells) in later.converts {
            *self.converts.entry(order).or_default() += cells;
        }
        for waiting in later.waiting {
            self.wait(Waiting {
                example: moved(waiting.example),
                ..waiting
            });
        }
        for stamp in [later.earliest, later.latest].into_iter().flatten() {
            self.span(stamp);
        }
    }

    fn span(&mut self, stamp: Stamp) {
        self.earliest = Some(self.earliest.map_or(stamp, |known| known.min(stamp)));
        self.latest = Some(self.latest.map_or(stamp, |known| known.max(stamp)));
    }

    fn wait(&mut self, waiting: Waiting) {
        let reason = waiting
            .reason
            .replace(|letter: char| letter.is_ascii_digit(), "");
        let mut known = self.waiting.iter().zip(&self.reasons);
        let known = known
            .position(|(known, of_known)| known.verdict == waiting.verdict && *of_known == reason);
        let is_full = self.waiting.len() >= REASONS;
        match known.or(is_full.then_some(REASONS - 1)) {
            Some(index) => self.waiting[index].cells += waiting.cells,
            None => {
                self.waiting.push(waiting);
                self.reasons.push(reason);
            }
        }
    }
}
