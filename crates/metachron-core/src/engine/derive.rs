//! Derived columns at work: where their values come from, row by row.

use super::answers::{Answered, Answers, CellAt};
use super::column::RowDecider;
use super::converted::{ConvertedRows, ReviewEntry};
use super::rows::{BlockStart, Row};
use super::sort::SortBy;
use super::starts::Starts;
use crate::decide::{Alternative, Decision, Reason, Verdict};
use crate::derive::{CellUse, Derivations, Given, Kept};
use crate::phrase::{Number, Refusal, RowScope, Track, Value};
use crate::row::{OutCell, push_text};
use crate::rulings::Blanks;
use crate::stamp::Stamp;
use jiff::civil::Date;
use std::sync::Arc;

/// A column of the source whose cells no decider reads.
#[derive(Clone, Copy, Debug)]
struct Unruled {
    /// Its index among the columns.
    index: usize,
    /// Its index among the values.
    slot: usize,
    cell_use: CellUse,
}

/// Derived columns at work.
#[derive(Clone, Debug)]
pub(super) struct Deriver {
    derivations: Derivations,
    /// The index among the values of what each decider decides.
    decided: Vec<Option<usize>>,
    unruled: Vec<Unruled>,
    /// Which values others are tracked by.
    tracked: Vec<bool>,
    sort: Option<SortBy>,
    blanks: Blanks,
    answers: Arc<Answers>,
    /// How many columns stand before the derived ones.
    width: usize,
    /// Which other rows are asked.
    row_scope: RowScope,
    tracks: Vec<Track>,
    starts: Arc<Starts>,
    /// This row's values: those of the source columns, then derived ones.
    values: Vec<Value>,
    scratch: String,
}

impl Deriver {
    pub fn new(
        derivations: &Derivations,
        columns: &[String],
        deciders: &[RowDecider],
        blanks: Blanks,
        sort: Option<SortBy>,
        answers: Arc<Answers>,
    ) -> Deriver {
        let mut decided = vec![None; deciders.len()];
        let mut unruled = Vec::new();
        for (slot, name) in derivations.sources().iter().enumerate() {
            let index = columns.iter().position(|column| column == name);
            match deciders.iter().position(|own| Some(own.index) == index) {
                Some(decider) => decided[decider] = Some(slot),
                None => unruled.extend(index.map(|index| Unruled {
                    index,
                    slot,
                    // What is a number may be blank.
                    cell_use: if blanks.have_numbers() {
                        CellUse::Text
                    } else {
                        derivations.cell_use(slot)
                    },
                })),
            }
        }
        let values = derivations.sources().len() + derivations.columns().len();
        Deriver {
            decided,
            unruled,
            tracked: derivations.tracked(),
            sort,
            blanks,
            answers,
            width: columns.len(),
            row_scope: derivations.row_scope(),
            tracks: vec![Track::default(); derivations.tracks()],
            starts: Arc::default(),
            values: vec![Value::Blank; values],
            scratch: String::new(),
            derivations: derivations.clone(),
        }
    }

    /// Tells it what other rows say at the start of each block.
    pub fn set_starts(&mut self, starts: Arc<Starts>) {
        self.starts = starts;
    }

    /// How many derived columns there are.
    pub fn columns(&self) -> usize {
        self.values.len() - self.derivations.sources().len()
    }

    /// Makes it ready for the rows of a block.
    pub fn start(&mut self, at: BlockStart) {
        match self.starts.at(at) {
            Some(tracks) => self.tracks.clone_from_slice(tracks),
            None => self.tracks.fill(Track::default()),
        }
    }

    /// What the rows since the start say.
    pub fn tracks(&self) -> &[Track] {
        &self.tracks
    }

    /// Whether all is known that later rows ask for: no more than the first
    /// value of each column is, and these are there.
    pub fn knows_firsts(&self) -> bool {
        let mut firsts = self.tracks.iter().map(|track| &track.first);
        self.row_scope == RowScope::First && firsts.all(|first| *first != Value::Blank)
    }

    /// Whether what rows say to later ones hangs on this decider.
    pub fn tracks_by(&self, decider: usize) -> bool {
        self.decided[decider].is_some_and(|slot| self.tracked[slot])
    }

    /// Takes what a decider made of its cell of the row.
    #[inline]
    pub fn take(&mut self, decider: usize, verdict: Verdict, stamp: Option<Stamp>) {
        if let Some(slot) = self.decided[decider] {
            self.values[slot] = match (verdict, stamp) {
                (Verdict::Blank, _) => Value::Blank,
                (_, Some(stamp)) => Value::Stamp(stamp),
                (_, None) => Value::Waits,
            };
        }
    }

    /// Goes past `row`, whose cells the deciders have read: takes what it says
    /// to later ones, and nothing else.
    pub fn track(
        &mut self,
        row: &(impl Row + ?Sized),
        text: &mut Vec<u8>,
        done: &mut ConvertedRows,
    ) {
        self.read(row);
        let sources = self.derivations.sources().len();
        for derived in 0..self.values.len() - sources {
            if self.tracked[sources + derived] {
                self.derive(derived, row, text, done);
            }
        }
        self.derivations.track(&self.values, &mut self.tracks);
    }

    /// Derives the cells of `row`, whose other cells the deciders have read,
    /// and appends them; whether the row is kept.
    pub fn row(
        &mut self,
        row: &(impl Row + ?Sized),
        (cells, text): (&mut Vec<OutCell>, &mut Vec<u8>),
        done: &mut ConvertedRows,
    ) -> Kept {
        if !self.unruled.is_empty() {
            self.read(row);
        }
        for derived in 0..self.columns() {
            let given = self.derive(derived, row, text, done);
            let counts = &mut done.derived[derived];
            *match given {
                Some(Given::Value(_)) => &mut counts.given,
                Some(Given::Blank) => &mut counts.blank,
                Some(Given::Waits) => &mut counts.waiting,
                None => &mut counts.refused,
            } += 1;
            cells.push(match given {
                Some(Given::Value(cell)) => cell,
                Some(Given::Blank | Given::Waits) | None => OutCell::Blank,
            });
        }
        let kept = match self.derivations.keeps(&self.values, &self.tracks) {
            Ok(kept) => kept,
            Err(refusal) => self.answer_where(&refusal, row, done),
        };
        // What the first row says was found beforehand.
        if self.row_scope == RowScope::All {
            self.derivations.track(&self.values, &mut self.tracks);
        }
        kept
    }

    /// What the row is sorted by, if rows are.
    pub fn key(&self) -> Option<Vec<u8>> {
        Some(self.sort.as_ref()?.key(&self.values))
    }

    /// Takes the cells that no decider reads.
    fn read(&mut self, row: &(impl Row + ?Sized)) {
        let mut inner = String::new();
        for Unruled {
            index,
            slot,
            cell_use,
        } in &self.unruled
        {
            let cell = row.cell(*index, &mut self.scratch);
            let text = cell.text(&mut inner);
            let value = &mut self.values[*slot];
            let number = match cell_use {
                CellUse::Number => Number::parse(text),
                CellUse::Text => None,
            };
            match number {
                Some(number) => *value = Value::Number(number),
                None => take_text(text, &self.blanks, value),
            }
        }
    }

    /// Takes their texts instead of the numbers that they are: a reviewer is
    /// shown what stands there.
    fn show(&mut self, row: &(impl Row + ?Sized)) {
        let mut inner = String::new();
        for Unruled { index, slot, .. } in &self.unruled {
            let cell = row.cell(*index, &mut self.scratch);
            take_text(cell.text(&mut inner), &self.blanks, &mut self.values[*slot]);
        }
    }

    /// Puts the value of a derived column among the row's; what it is, unless
    /// it is refused.
    #[inline]
    fn derive(
        &mut self,
        derived: usize,
        row: &(impl Row + ?Sized),
        text: &mut Vec<u8>,
        done: &mut ConvertedRows,
    ) -> Option<Given> {
        let values = &mut self.values;
        match self.derivations.run(derived, values, &self.tracks, text) {
            Ok(given) => Some(given),
            Err(refusal) => self.answer(derived, &refusal, row, text, done),
        }
    }

    /// Takes the answer of a reviewer instead; what it is, if there is one.
    #[cold]
    fn answer(
        &mut self,
        derived: usize,
        refusal: &Refusal,
        row: &(impl Row + ?Sized),
        text: &mut Vec<u8>,
        done: &mut ConvertedRows,
    ) -> Option<Given> {
        self.show(row);
        let made_from = self.derivations.made_from(derived, &self.values);
        let answer = self.answered(derived, made_from, refusal, row, done);
        let value = &mut self.values[self.derivations.sources().len() + derived];
        *value = Value::Waits;
        value.clone_from(&answer?);
        Some(match &*value {
            Value::Blank | Value::Waits => Given::Blank,
            Value::Text(own) => Given::Value(OutCell::Text(push_text(text, |out| {
                out.extend_from_slice(own.as_bytes());
            }))),
            Value::Number(number) => {
                Given::Value(OutCell::Number(push_text(text, |out| number.write(out))))
            }
            Value::Truth(truth) => Given::Value(OutCell::Boolean(*truth)),
            Value::Stamp(stamp) => {
                // An answer that cannot be written is refused when it is read.
                let mut clean = self.derivations.renderer(derived).clone();
                Given::Value(clean.cell(stamp, text).unwrap_or(OutCell::Blank))
            }
        })
    }

    /// Whether the row is kept, whose test has no result, by the answer of a
    /// reviewer.
    #[cold]
    fn answer_where(
        &mut self,
        refusal: &Refusal,
        row: &(impl Row + ?Sized),
        done: &mut ConvertedRows,
    ) -> Kept {
        self.show(row);
        let made_from = self.derivations.kept_by(&self.values);
        match self.answered(self.columns(), made_from, refusal, row, done) {
            Some(Value::Truth(true)) => Kept::Yes,
            Some(Value::Truth(false)) => Kept::No,
            _ => {
                done.unkept += 1;
                Kept::Untold
            }
        }
    }

    /// What a reviewer answered of a derived cell that has no value; without
    /// an answer, it is listed. Behind the derived columns stands what tells
    /// whether a row is kept.
    fn answered(
        &self,
        derived: usize,
        made_from: String,
        refusal: &Refusal,
        row: &(impl Row + ?Sized),
        done: &mut ConvertedRows,
    ) -> Option<Value> {
        let at = CellAt {
            file: done.at.file,
            line: row.line(),
            column: self.width + derived,
        };
        match self.answers.find(at, &made_from) {
            Some(Answered::Value(value)) => {
                done.resolved += 1;
                return Some(value.clone());
            }
            Some(Answered::Changed) => done.changed += 1,
            None => {}
        }
        done.review.push(ReviewEntry {
            row: done.rows,
            line: row.line(),
            column: at.column,
            raw: made_from,
            decision: refused(refusal),
        });
        None
    }
}

/// Makes `value` the text of a cell.
fn take_text(cell: &str, blanks: &Blanks, value: &mut Value) {
    match blanks.find(cell) {
        Some(_) => *value = Value::Blank,
        None => value.set_text(cell),
    }
}

/// The decision on a derived cell that has no value.
fn refused(refusal: &Refusal) -> Decision {
    let alternatives = match refusal {
        Refusal::InGap { both, .. } | Refusal::InOverlap { both, .. } => Alternative::both(*both),
        Refusal::MonthEnd { year, month, .. } => {
            let first = Date::new(*year, *month, 1);
            let last = first.map(|first| Alternative::LastOfMonth(first.last_of_month()));
            last.into_iter().collect()
        }
        _ => Vec::new(),
    };
    Decision::open(Reason::NoValue(Box::new(refusal.clone())), alternatives)
}
