//! Looking at every cell.

use super::column::is_marker;
use super::seen::{At, Seen, SeenCells};
use super::steps::Moments;
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
            columns: watches
                .iter()
                .map(|watch| ColumnSurveyor::new(watch, watches.len()))
                .collect(),
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
    seen: SeenCells,
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
    fn new(watch: &'w Watch, columns: usize) -> ColumnSurveyor<'w> {
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
            seen: SeenCells::new(columns),
        }
    }

    #[inline]
    fn cell(&mut self, text: &str, row: u64) {
        let Some(seen) = self.seen.get(text) else {
            if let Some(seen) = self.anew(text, row, Beside::default()) {
                self.seen.put(text, seen);
            }
            return;
        };
        match seen.at {
            At::Shape(shape, tally) => {
                let shape = &mut self.evidence.shapes[usize::from(shape)];
                shape.tallies[usize::from(tally)].count += 1;
            }
            At::Others => self.evidence.others.count += 1,
        }
        self.evidence.in_time.add(seen.moments);
        if let Some(day) = seen.marker {
            self.evidence.add_marker(day);
        }
    }

    fn cell_beside(&mut self, text: &str, row: u64, beside: Beside) {
        self.anew(text, row, beside);
    }

    /// Tallies a cell whatever was seen; says where, unless it stands for
    /// nothing or holds a name, which is counted by itself.
    #[inline(never)]
    fn anew(&mut self, text: &str, row: u64, beside: Beside) -> Option<Seen> {
        if let Some(marker) = self.watch.blanks.find(text) {
            self.evidence.add_blank(marker);
            return None;
        }
        let in_others = Seen {
            at: At::Others,
            moments: Moments::None,
            marker: None,
        };
        let Ok(cell) = self.lexer.lex(text) else {
            self.evidence.others.add(row, text);
            return Some(in_others);
        };
        let shapes = &mut self.evidence.shapes;
        let Some(place) = self.shapes.place(&cell, shapes, self.watch) else {
            self.evidence.others.add(row, text);
            return Some(in_others);
        };
        let shape = &mut shapes[place];
        let said = (self.watch.conventions, beside);
        let added = shape.add(&cell, said, row, &mut self.stamps);
        let moments = Moments::of(&shape.readings, added.outcome, &self.stamps);
        let marker = added.day.filter(|&day| is_marker(day));
        let has_names = shape.has_names;
        self.evidence.in_time.add(moments);
        if has_names {
            self.evidence.names.add(&cell);
        }
        if let Some(day) = marker {
            self.evidence.add_marker(day);
        }
        let at = At::Shape(u16::try_from(place).ok()?, u16::try_from(added.tally).ok()?);
        // How many cells hold a name that languages differ about is counted.
        (!has_names).then_some(Seen {
            at,
            moments,
            marker,
        })
    }
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
