//! Looking at every cell.

use super::column::is_marker;
use super::shape::Seen;
use super::{ColumnEvidence, Evidence, ShapeEvidence};
use crate::form::{Beside, Conventions, Form};
use crate::lex::{Lexed, Lexer, Words};
use crate::locale::Names;
use crate::reading::{Readings, Stamps};
use crate::rulings::Blanks;

/// What is known of a column before it is surveyed.
#[derive(Clone, Debug)]
pub struct Watch {
    /// Forms that a ruling or the user names, beside those that the cells
    /// suggest.
    pub forms: Vec<Form>,
    /// The forms of its locale.
    pub locale_forms: Vec<Form>,
    /// The names that its cells may hold.
    pub names: Names,
    /// What its cells leave unsaid, as far as it is given.
    pub conventions: Conventions,
    /// What stands for an empty cell.
    pub blanks: Blanks,
}

impl Default for Watch {
    fn default() -> Watch {
        Watch {
            forms: Vec::new(),
            locale_forms: Vec::new(),
            names: Names::Anywhere,
            conventions: Conventions::default(),
            blanks: Blanks::default(),
        }
    }
}

/// Tallies cells, row by row.
#[derive(Debug)]
pub struct Surveyor<'w> {
    rows: u64,
    columns: Vec<ColumnSurveyor<'w>>,
}

impl<'w> Surveyor<'w> {
    /// A surveyor of a table with a column for each watch.
    pub fn new(watches: &'w [Watch]) -> Surveyor<'w> {
        Surveyor {
            rows: 0,
            columns: watches.iter().map(ColumnSurveyor::new).collect(),
        }
    }

    /// Tallies one cell of the current row. Cells that a row is too short to
    /// have are tallied as empty.
    ///
    /// # Panics
    ///
    /// Where there is no such column.
    #[inline]
    pub fn cell(&mut self, column: usize, text: &str) {
        self.columns[column].cell(text, self.rows);
    }

    /// The same as [`Surveyor::cell`], given what other cells of the row say
    /// about this one.
    pub fn cell_beside(&mut self, column: usize, text: &str, beside: Beside) {
        self.columns[column].cell_beside(text, self.rows, beside);
    }

    /// Goes on to the next row.
    #[inline]
    pub fn end_row(&mut self) {
        self.rows += 1;
    }

    /// The tally.
    pub fn finish(self) -> Evidence {
        Evidence {
            rows: self.rows,
            columns: self.columns.into_iter().map(|c| c.evidence).collect(),
        }
    }
}

#[derive(Debug)]
struct ColumnSurveyor<'w> {
    watch: &'w Watch,
    lexer: Lexer,
    evidence: ColumnEvidence,
    shapes: Shapes,
    stamps: Stamps,
    /// The last cell that was read, and where it was counted: dates repeat.
    seen: Option<(String, usize, Seen)>,
}

/// Finds the shape of a cell among those that were met.
#[derive(Debug, Default)]
struct Shapes {
    /// The shape of the last cell that had one: cells of a kind follow each
    /// other.
    last: usize,
    /// Hashes of shapes that no form could have written. Bounded, since free
    /// text has no end of shapes.
    formless: Vec<u64>,
}

/// How many shapes without forms are remembered.
const FORMLESS: usize = 64;

impl<'w> ColumnSurveyor<'w> {
    fn new(watch: &'w Watch) -> ColumnSurveyor<'w> {
        ColumnSurveyor {
            watch,
            lexer: Lexer::new(
                watch.names.clone(),
                match watch.forms.is_empty() && watch.locale_forms.is_empty() {
                    true => Words::Refuse,
                    false => Words::Keep,
                },
            ),
            evidence: ColumnEvidence::default(),
            shapes: Shapes::default(),
            stamps: Stamps::new(),
            seen: None,
        }
    }

    #[inline]
    fn cell(&mut self, text: &str, row: u64) {
        if let Some((known, shape, seen)) = &self.seen
            && known == text
        {
            let (shape, seen) = (*shape, *seen);
            return self.count_again(shape, seen);
        }
        self.cell_beside(text, row, Beside::default());
    }

    fn cell_beside(&mut self, text: &str, row: u64, beside: Beside) {
        if let Some(marker) = self.watch.blanks.find(text) {
            return self.evidence.add_blank(marker);
        }
        let Ok(cell) = self.lexer.lex(text) else {
            return self.evidence.others.add(row, text);
        };
        match self
            .shapes
            .place(&cell, &mut self.evidence.shapes, self.watch)
        {
            Some(place) => {
                let shape = &mut self.evidence.shapes[place];
                let said = (self.watch.conventions, beside);
                let seen = shape.add(&cell, said, row, &mut self.stamps);
                let in_time = &mut self.evidence.in_time;
                in_time.add(&shape.readings, seen.outcome, &self.stamps);
                if shape.has_names {
                    self.evidence.names.add(&cell);
                }
                if let Some(day) = seen.day.filter(|&day| is_marker(day)) {
                    self.evidence.add_marker(day);
                }
                remember(&mut self.seen, text, place, seen);
            }
            None => self.evidence.others.add(row, text),
        }
    }

    fn count_again(&mut self, shape: usize, seen: Seen) {
        self.evidence.shapes[shape].tallies[seen.tally].count += 1;
        if let Some(day) = seen.day.filter(|&day| is_marker(day)) {
            self.evidence.add_marker(day);
        }
    }
}

fn remember(last: &mut Option<(String, usize, Seen)>, text: &str, place: usize, now: Seen) {
    let (known, shape, seen) = last.get_or_insert_with(|| (String::new(), place, now));
    known.clear();
    known.push_str(text);
    *shape = place;
    *seen = now;
}

impl Shapes {
    /// The place of the cell's shape; `None` where no form could have written
    /// it.
    fn place(
        &mut self,
        cell: &Lexed<'_>,
        shapes: &mut Vec<ShapeEvidence>,
        watch: &Watch,
    ) -> Option<usize> {
        let fits = |shape: &ShapeEvidence| shape.readings.shape().fits(cell);
        if shapes.get(self.last).is_some_and(fits) {
            return Some(self.last);
        }
        if self.formless.contains(&cell.hash()) {
            return None;
        }
        if let Some(place) = shapes.iter().position(fits) {
            self.last = place;
            return Some(place);
        }
        let readings = Readings::new(cell.shape(), &watch.forms).with(&watch.locale_forms);
        if readings.is_empty() {
            if self.formless.len() == FORMLESS {
                self.formless.clear();
            }
            self.formless.push(cell.hash());
            return None;
        }
        shapes.push(ShapeEvidence::new(readings));
        self.last = shapes.len() - 1;
        Some(self.last)
    }
}
