//! What becomes of a column whose ruling looks beyond the cell: counted row by
//! row, by the conversion itself.

use super::{Counts, Waiting};
use crate::cell::Cell;
use crate::decide::Verdict;
use crate::decide::{Decider, Decision, OwnReading, RowContext};
use crate::evidence::{Example, is_marker};
use crate::form::{Hypothesis, Order};
use crate::stamp::Stamp;
use smallvec::SmallVec;
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
    /// What the last cell with several readings waits for.
    last_between: Option<Between>,
    /// The earliest stamp.
    pub earliest: Option<Stamp>,
    /// The latest stamp.
    pub latest: Option<Stamp>,
}

/// A form, and the hypotheses that read cells of it differently.
#[derive(Clone, Debug, PartialEq)]
struct Between {
    form: Option<usize>,
    hypotheses: SmallVec<[Option<Hypothesis>; 2]>,
    /// The index of the reason that such cells wait for.
    reason: usize,
}

/// At most so many different reasons are told apart.
const REASONS: usize = 24;

impl RowForecast {
    /// Counts the cell `raw` of `row`, which is `own_reading` by itself.
    pub fn add(
        &mut self,
        decider: &mut Decider,
        raw: Cell<'_>,
        own_reading: &OwnReading,
        context: &RowContext<'_>,
        row: u64,
    ) {
        let (verdict, stamp) = decider.choose(own_reading, context);
        self.cells.add(verdict, 1);
        if let Some(stamp) = stamp
            && !stamp.date().is_some_and(is_marker)
        {
            self.span(stamp);
        }
        if let OwnReading::Several(several) = own_reading {
            self.several(&several.hypotheses, verdict, raw, row);
        }
        if !verdict.needs_review() {
            return;
        }
        // What waits between the same hypotheses as the last such cell waits for the
        // same reason, unless its group has a say.
        let between = match own_reading {
            OwnReading::Several(several) if decider.needs().texts.is_empty() => Some(several),
            _ => None,
        };
        if let (Some(several), Some(last)) = (between, &self.last_between)
            && (several.form, &several.hypotheses) == (last.form, &last.hypotheses)
        {
            self.waiting[last.reason].cells += 1;
            return;
        }
        let reason = self.wait_for(decider.decide(raw, context), row, raw);
        if let Some(several) = between {
            self.last_between = Some(Between {
                form: several.form,
                hypotheses: several.hypotheses.clone(),
                reason,
            });
        }
    }

    /// Counts a cell by the reason that it waits for; says which that is.
    fn wait_for(&mut self, decision: Decision, row: u64, raw: Cell<'_>) -> usize {
        let known = self.waiting.iter().position(|known| known.is_of(&decision));
        match known {
            Some(index) => {
                self.waiting[index].cells += 1;
                index
            }
            None => self.wait(Waiting::new(decision, 1, Example::of_cell(row, raw))),
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

    fn wait(&mut self, waiting: Waiting) -> usize {
        let reason = waiting
            .reason
            .replace(|letter: char| letter.is_ascii_digit(), "");
        let mut known = self.waiting.iter().zip(&self.reasons);
        let known = known
            .position(|(known, of_known)| known.verdict == waiting.verdict && *of_known == reason);
        let is_full = self.waiting.len() >= REASONS;
        match known.or(is_full.then_some(REASONS - 1)) {
            Some(index) => {
                self.waiting[index].cells += waiting.cells;
                index
            }
            None => {
                self.waiting.push(waiting);
                self.reasons.push(reason);
                self.waiting.len() - 1
            }
        }
    }
}
