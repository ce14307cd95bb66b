//! Converting rows: every row once, in order, its temporal cells typed.

use super::Request;
use super::answers::{Answered, Answers, CellAt};
use super::column::RowDecider;
use super::converted::{ConvertedRow, ConvertedRows};
use super::derive::Deriver;
use super::rows::{BlockStart, Row, Rows, each_row, is_row};
use super::schema::Extras;
use super::starts::Starts;
use crate::cell::Cell;
use crate::decide::{Decider, RowContext, Verdict};
use crate::derive::Kept;
use crate::phrase::{Track, Value};
use crate::row::{OutCell, OutPageColumn, OutRow, push_text};
use crate::stamp::Stamp;
use std::sync::Arc;

/// Converts rows, block after block. Each thread has its own.
#[derive(Clone, Debug)]
pub struct ConvertWorker {
    pub(super) deciders: Vec<RowDecider>,
    /// The zone that stands in a column of its own behind each decider's.
    has_zone_column: Vec<bool>,
    /// What the cell that was decided on last came to.
    stamp: Option<Stamp>,
    pub(super) deriver: Option<Deriver>,
    pub(super) answers: Arc<Answers>,
    extras: Extras,
    /// Whether columns are added.
    pub(super) adds: bool,
    /// How many columns the table has.
    pub(super) width: usize,
    files: Arc<[String]>,
    /// The converted columns of the page.
    pub(super) clean_columns: Vec<OutPageColumn>,
    /// The cells of the row.
    cells: Vec<OutCell>,
    /// Their texts.
    pub(super) text: Vec<u8>,
    pub(super) scratch: String,
    pub(super) done: ConvertedRows,
}

impl ConvertWorker {
    pub(super) fn new(
        request: &Request,
        deciders: Vec<RowDecider>,
        deriver: Option<Deriver>,
        answers: Arc<Answers>,
        extras: Extras,
    ) -> ConvertWorker {
        let zones = deciders.iter().map(RowDecider::has_zone_column);
        let has_zone_column: Vec<bool> = zones.collect();
        let derived = deriver.as_ref().map_or(0, Deriver::columns);
        let adds = extras.raw || extras.verdict || has_zone_column.contains(&true) || derived > 0;
        ConvertWorker {
            has_zone_column,
            stamp: None,
            deriver,
            answers,
            extras,
            adds,
            width: request.columns.len(),
            files: request.files.clone().into(),
            clean_columns: (deciders.iter())
                .map(|decider| OutPageColumn {
                    index: decider.index,
                    cells: Vec::new(),
                })
                .collect(),
            cells: Vec::new(),
            text: Vec::new(),
            scratch: String::new(),
            done: ConvertedRows::new(BlockStart { file: 0, line: 1 }, deciders.len(), derived),
            deciders,
        }
    }

    /// Puts what neighbours decide into those that decide by them.
    pub(super) fn map_deciders(&mut self, change: impl FnOnce(Vec<RowDecider>) -> Vec<RowDecider>) {
        self.deciders = change(std::mem::take(&mut self.deciders));
    }

    /// Tells what other rows say at the start of each block.
    pub(super) fn set_starts(&mut self, starts: Arc<Starts>) {
        if let Some(deriver) = &mut self.deriver {
            deriver.set_starts(starts);
        }
    }

    /// Makes it ready for the rows of a block.
    pub fn start(&mut self, at: BlockStart) {
        for decider in &mut self.deciders {
            decider.start(at);
        }
        if let Some(deriver) = &mut self.deriver {
            deriver.start(at);
        }
        let derived = self.deriver.as_ref().map_or(0, Deriver::columns);
        self.done = ConvertedRows::new(at, self.deciders.len(), derived);
    }

    /// Converts the next row of the block; `None` where it is left out. A line
    /// with nothing on it comes back without cells.
    pub fn row(&mut self, row: &(impl Row + ?Sized)) -> Option<ConvertedRow<'_>> {
        self.cells.clear();
        self.text.clear();
        let mut key = None;
        if is_row(row, self.width) {
            self.done.ragged.check(row, self.width, self.done.at.file);
            let kept = self.convert(row);
            self.done.rows += 1;
            if kept != Kept::Yes {
                self.done.dropped += 1;
                self.done.untold += u64::from(kept == Kept::Untold);
                return None;
            }
            key = self.deriver.as_ref().and_then(Deriver::key);
        }
        Some(ConvertedRow {
            out: OutRow {
                cells: &self.cells,
                text: &self.text,
            },
            key,
        })
    }

    /// What became of the rows since the start of the block.
    pub fn finish(&mut self) -> ConvertedRows {
        let empty = ConvertedRows::new(self.done.at, 0, 0);
        let mut done = std::mem::replace(&mut self.done, empty);
        let spans = self.deciders.iter().map(|decider| decider.decider.span());
        done.spans = spans.collect();
        done
    }

    /// What the rows of a block say to later ones. No more of them is read
    /// than that hangs on.
    pub(super) fn track(&mut self, at: BlockStart, rows: impl Rows) -> (u64, Vec<Track>) {
        self.start(at);
        let mut is_known = false;
        let rows = each_row(rows, self.width, |row, _| {
            if !is_known {
                self.track_row(row);
                is_known = self.deriver.as_ref().is_some_and(Deriver::knows_firsts);
            }
        });
        let tracks = self.deriver.as_ref().map(Deriver::tracks);
        (rows, tracks.unwrap_or_default().to_vec())
    }

    fn track_row(&mut self, row: &(impl Row + ?Sized)) {
        for column in 0..self.deciders.len() {
            let deriver = self.deriver.as_ref();
            if deriver.is_some_and(|deriver| deriver.tracks_by(column)) {
                self.decide(row, column);
            }
        }
        if let Some(deriver) = &mut self.deriver {
            deriver.track(row, &mut self.text, &mut self.done);
        }
        self.done.review.clear();
        self.text.clear();
    }

    fn convert(&mut self, row: &(impl Row + ?Sized)) -> Kept {
        let width = row.width();
        let mut from = 0;
        for column in 0..self.deciders.len() {
            let index = self.deciders[column].index;
            self.pass_through(from, index.min(width));
            if self.adds {
                // A short row is filled up, so that what is added stands
                // below its name.
                self.fill_up(width.max(from), index);
            }
            let (verdict, cell) = self.decide(row, column);
            self.done.counts[column].add(verdict, 1);
            if self.adds {
                let is_blank = cell == OutCell::Blank;
                self.cells.push(cell);
                self.add_extras(row, column, verdict, is_blank);
            } else if index < width {
                self.cells.push(cell);
            }
            from = index + 1;
        }
        let own = width.min(self.width).max(from);
        self.pass_through(from, own.min(width));
        let mut kept = Kept::Yes;
        if let Some(deriver) = &mut self.deriver {
            if deriver.columns() > 0 {
                for _ in own..self.width {
                    self.cells.push(OutCell::Blank);
                }
            }
            let out = (&mut self.cells, &mut self.text);
            kept = deriver.row(row, out, &mut self.done);
        }
        // What a row has too many of stands behind all columns.
        self.pass_through(own, width);
        kept
    }

    /// Passes cells of the source through.
    #[inline]
    fn pass_through(&mut self, from: usize, to: usize) {
        if from < to {
            self.cells.push(OutCell::Source(from..to));
        }
    }

    fn fill_up(&mut self, from: usize, to: usize) {
        for _ in from..to {
            self.cells.push(OutCell::Blank);
        }
    }

    /// Decides on a cell, and tells those who derive from it.
    pub(super) fn decide(
        &mut self,
        row: &(impl Row + ?Sized),
        column: usize,
    ) -> (Verdict, OutCell) {
        if !self.answers.is_empty()
            && let Some(answered) = self.answered(row, column)
        {
            return answered;
        }
        let decider = &mut self.deciders[column];
        let index = decider.index;
        let file = &self.files[self.done.at.file];
        let (done, text) = (&mut self.done, &mut self.text);
        let mut listed = |own: &mut Decider, raw: Cell<'_>, context: &RowContext<'_>| {
            done.list(row.line(), index, raw, own, context);
        };
        let scratch = &mut self.scratch;
        let decided = if decider.needs_no_context() {
            let cell = row.cell(index, scratch);
            let decided = decider.decider.convert(cell, text);
            if decided.0.needs_review() {
                listed(&mut decider.decider, cell, &RowContext::default());
            }
            decided
        } else if decider.decider.chooses() {
            decider.with_context(row, file, scratch, |own, cell, own_reading, context| {
                let decided = own.convert_reading(own_reading, context, text);
                if decided.0.needs_review() {
                    listed(own, cell, context);
                }
                decided
            })
        } else {
            decider.with_texts(row, file, scratch, |own, cell, context| {
                let decided = own.convert_in_context(cell, context, text);
                if decided.0.needs_review() {
                    listed(own, cell, context);
                }
                decided
            })
        };
        self.stamp = decider.decider.stamp();
        if let Some(deriver) = &mut self.deriver {
            deriver.take(column, decided.0, self.stamp);
        }
        decided
    }

    /// Lists a cell that waits, of a column that needs no context.
    pub(super) fn list(&mut self, row: &(impl Row + ?Sized), column: usize) {
        let RowDecider { index, decider, .. } = &mut self.deciders[column];
        let raw = row.cell(*index, &mut self.scratch);
        self.done
            .list(row.line(), *index, raw, decider, &RowContext::default());
    }

    /// What a reviewer answered of a cell, if there is an answer.
    fn answered(&mut self, row: &(impl Row + ?Sized), column: usize) -> Option<(Verdict, OutCell)> {
        let decider = &mut self.deciders[column];
        let at = CellAt {
            file: self.done.at.file,
            line: row.line(),
            column: decider.index,
        };
        let mut inner = String::new();
        let cell = row.cell(decider.index, &mut self.scratch);
        let value = match self.answers.find(at, cell.text(&mut inner))? {
            Answered::Value(value) => value,
            Answered::Changed => {
                self.done.changed += 1;
                return None;
            }
        };
        self.done.resolved += 1;
        let (verdict, stamp) = match value {
            Value::Stamp(stamp) => (Verdict::Settled, Some(*stamp)),
            _ => (Verdict::Blank, None),
        };
        self.stamp = stamp;
        if let Some(deriver) = &mut self.deriver {
            deriver.take(column, verdict, stamp);
        }
        // An answer that cannot be written is refused when it is read.
        let mut clean = decider.decider.renderer().clone();
        let cell = stamp.and_then(|stamp| clean.cell(&stamp, &mut self.text).ok());
        Some((verdict, cell.unwrap_or(OutCell::Blank)))
    }

    fn add_extras(
        &mut self,
        row: &(impl Row + ?Sized),
        column: usize,
        verdict: Verdict,
        is_blank: bool,
    ) {
        if self.has_zone_column[column] {
            let zone = match self.stamp {
                Some(Stamp::Instant(at)) if !is_blank => {
                    self.deciders[column].decider.ruling().write.zone_cell(at)
                }
                _ => String::new(),
            };
            let zone = push_text(&mut self.text, |out| out.extend_from_slice(zone.as_bytes()));
            self.cells.push(OutCell::Text(zone));
        }
        if self.extras.raw {
            let mut inner = String::new();
            let cell = row.cell(self.deciders[column].index, &mut self.scratch);
            let raw = cell.text(&mut inner).as_bytes();
            let raw = push_text(&mut self.text, |out| out.extend_from_slice(raw));
            self.cells.push(OutCell::Text(raw));
        }
        if self.extras.verdict {
            let name = verdict.name().as_bytes();
            let name = push_text(&mut self.text, |out| out.extend_from_slice(name));
            self.cells.push(OutCell::Text(name));
        }
    }
}
