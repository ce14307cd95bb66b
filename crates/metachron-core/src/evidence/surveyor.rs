//! Looking at every cell.

use super::column::{MarkerCells, is_marker, reserve_first};
use super::fast::{DigitCells, DigitCellsOfColumn, MOST_KINDS, Signatures, Tallied};
use super::moment::Moment;
use super::time_steps::{Moments, Sources};
use super::{ColumnEvidence, Evidence, Example, ShapeEvidence};
use crate::cache::Cache;
use crate::cell::Cell;
use crate::form::{Conventions, Form, Impossible, RowFacts};
use crate::lex::{Key, Lexed, Lexer, Words};
use crate::locale::Names;
use crate::reading::{Readings, Stamps};
use crate::rulings::Blanks;
use crate::stamp::{Kind, Stamp};
use crate::zone::Zones;
use std::num::NonZeroU64;
use std::sync::Arc;

/// What is known of a column before it is surveyed.
#[derive(Clone, Debug)]
pub struct ColumnOptions {
    /// Forms that a ruling or the user names, besides those that the cells
    /// suggest.
    pub forms: Vec<Form>,
    /// The kind of its cells, where that is declared.
    pub kind: Option<Kind>,
    /// The forms of its locale.
    pub locale_forms: Vec<Form>,
    /// The names that its cells may hold.
    pub names: Names,
    /// What its cells leave unsaid, as far as it is given.
    pub conventions: Conventions,
    /// What stands for an empty cell.
    pub blanks: Blanks,
    /// The zones that names in the cells stand for.
    pub zones: Arc<Zones>,
}

impl Default for ColumnOptions {
    fn default() -> ColumnOptions {
        ColumnOptions {
            forms: Vec::new(),
            kind: None,
            locale_forms: Vec::new(),
            names: Names::Anywhere,
            conventions: Conventions::default(),
            blanks: Blanks::default(),
            zones: Arc::default(),
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
    pub fn new(column_options: &'w [ColumnOptions]) -> Surveyor<'w> {
        Surveyor {
            rows: 0,
            columns: column_options
                .iter()
                .map(|options| ColumnSurveyor::new(options, column_options.len()))
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
    pub fn cell<'c>(&mut self, column: usize, cell: impl Into<Cell<'c>>) {
        self.columns[column].cell(cell.into(), self.rows);
    }

    /// The same as [`Surveyor::cell`], given what other cells of the row say
    /// about this one.
    pub fn cell_in_row(&mut self, column: usize, cell: Cell<'_>, row_facts: RowFacts) {
        self.columns[column].cell_in_row(cell, self.rows, row_facts);
    }

    /// Tallies so many empty cells of a column, of rows that are behind or still to come.
    ///
    /// # Panics
    ///
    /// Where there is no such column.
    pub fn empty_cells(&mut self, column: usize, count: u64) {
        self.columns[column].evidence.empty += count;
    }

    /// Goes on to the next row.
    #[inline]
    pub fn end_row(&mut self) {
        self.end_rows(1);
    }

    /// One column of the current row and those behind it: what belongs to one
    /// column stays at hand while its cells are tallied one after another.
    /// [`Surveyor::end_rows`] then goes on, when all columns have had theirs.
    ///
    /// # Panics
    ///
    /// Where there is no such column.
    pub fn column(&mut self, column: usize) -> ColumnCells<'_, 'w> {
        ColumnCells {
            column: &mut self.columns[column],
            row: self.rows,
        }
    }

    /// Goes on by so many rows.
    pub fn end_rows(&mut self, count: u64) {
        self.rows += count;
    }

    /// The tally of the rows since this was called last. What was learned of
    /// the columns' cells is kept, and makes the next rows cheaper.
    pub fn take(&mut self) -> Evidence {
        let columns = self.columns.iter_mut();
        Evidence {
            rows: std::mem::take(&mut self.rows),
            columns: columns.map(ColumnSurveyor::take).collect(),
        }
    }
}

/// Takes the cells of one column, a row each.
#[derive(Debug)]
pub struct ColumnCells<'s, 'w> {
    column: &'s mut ColumnSurveyor<'w>,
    row: u64,
}

impl ColumnCells<'_, '_> {
    /// Tallies the text of the next row's cell.
    #[inline(always)]
    pub fn text(&mut self, text: &str) {
        self.column.text(text, self.row);
        self.row += 1;
    }

    /// Tallies the cell of the next row.
    #[inline(always)]
    pub fn cell(&mut self, cell: Cell<'_>) {
        self.column.cell(cell, self.row);
        self.row += 1;
    }
}

#[derive(Debug)]
struct ColumnSurveyor<'w> {
    options: &'w ColumnOptions,
    lexer: Lexer,
    evidence: ColumnEvidence,
    shapes: Shapes,
    stamps: Stamps,
    /// What becomes of cells that are like an earlier one.
    signatures: Signatures,
    /// Cells whose digits say all about them.
    digit_cells: DigitCellsOfColumn,
    /// What became of whole cells.
    seen: Cache<Key, Seen>,
    scratch: String,
}

/// At most twice so many texts are remembered of a column: the days of several
/// years, and the names of any number of partners.
const MOST_SLOTS: usize = 2048;

/// What all columns of a surveyor may take to remember texts, in bytes.
const MEMORY: usize = 4 << 20;

/// What all of them may take to remember the kinds of cells that they have.
const MEMORY_OF_KINDS: usize = 8 << 20;

/// About so many bytes are taken by what is known of a kind of cells.
const BYTES_OF_KIND: usize = 2048;

/// Where a cell was tallied.
#[derive(Clone, Copy, Debug)]
struct Seen {
    /// In which tally.
    at: At,
    /// The moment that it is.
    moments: Moments,
}

/// A tally of a column.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum At {
    /// That of a shape, by their indexes.
    Shape(u16, u16),
    /// That of the cells of all other shapes.
    Others,
}

/// Finds the shape of a cell among those that were met.
#[derive(Debug, Default)]
struct Shapes {
    /// The shape of the last cell that had one: cells of a kind follow each
    /// other.
    last: usize,
    /// The layout of a cell of that shape.
    layout: Option<NonZeroU64>,
    /// Hashes of shapes that no form could have written. Bounded, since free
    /// text has no end of shapes.
    formless: Vec<u64>,
}

/// How many shapes without forms are remembered.
const FORMLESS: usize = 64;

impl<'w> ColumnSurveyor<'w> {
    fn new(options: &'w ColumnOptions, columns: usize) -> ColumnSurveyor<'w> {
        ColumnSurveyor {
            options,
            lexer: Lexer::new(
                options.names.clone(),
                if options.forms.is_empty() && options.locale_forms.is_empty() {
                    Words::Refuse
                } else {
                    Words::Keep
                },
            ),
            evidence: ColumnEvidence::default(),
            shapes: Shapes::default(),
            stamps: Stamps::new(),
            signatures: Signatures::new(
                (MEMORY_OF_KINDS / columns.max(1) / BYTES_OF_KIND).min(MOST_KINDS),
            ),
            digit_cells: DigitCellsOfColumn::default(),
            seen: Cache::new(MOST_SLOTS, MEMORY / columns.max(1)),
            scratch: String::new(),
        }
    }

    #[inline(always)]
    fn cell(&mut self, cell: Cell<'_>, row: u64) {
        match cell {
            Cell::Text(text) | Cell::Number(text) | Cell::Error(text) => self.text(text, row),
            // What is remembered of cells is remembered by their text.
            Cell::Boolean(_) | Cell::Stamp(_) => {
                self.uncached(cell, row, RowFacts::default());
            }
        }
    }

    #[inline]
    fn text(&mut self, text: &str, row: u64) {
        let tallied = self.signatures.find(text);
        if let Some(Tallied::AsOthers) = tallied {
            self.evidence.others.add(row, text);
            return;
        }
        let key = if self.seen.is_in_use() {
            Key::of(text.as_bytes())
        } else {
            None
        };
        let again = key.and_then(|key| self.seen.get(&key).copied());
        if again.is_some_and(|seen| self.count_again(seen, text, row)) {
            return;
        }
        let by_digits = match tallied {
            Some(Tallied::ByDigits(number)) => self.tally_by_digits(number, text),
            _ => None,
        };
        let seen = match by_digits {
            Some(seen) => seen,
            None => self.uncached_text(text, None, row, RowFacts::default()),
        };
        if let Some((key, seen)) = key.zip(seen) {
            self.seen.put(key, seen);
        }
    }

    /// Tallies a cell by its digits, unless there is more to it; says where, unless it
    /// holds something that is counted by itself.
    #[inline]
    fn tally_by_digits(&mut self, number: u16, text: &str) -> Option<Option<Seen>> {
        let cells = self.digit_cells.find(number, text)?;
        let evidence = &mut self.evidence;
        let shape = cells.shape();
        let (tally, moments) =
            cells.add(text, &mut evidence.shapes[shape], &mut evidence.in_time)?;
        let at = At::Shape(u16::try_from(shape).ok()?, tally);
        Some((!cells.have_names()).then_some(Seen { at, moments }))
    }

    /// Counts a cell that was seen before; says whether that is all there is
    /// to it.
    #[inline]
    fn count_again(&mut self, seen: Seen, text: &str, row: u64) -> bool {
        match seen.at {
            At::Shape(shape, tally) => {
                let shape = &mut self.evidence.shapes[usize::from(shape)];
                let tally = &mut shape.tallies[usize::from(tally)];
                if !tally.has_examples(text) {
                    return false;
                }
                tally.count += 1;
            }
            At::Others => self.evidence.others.add(row, text),
        }
        self.evidence.in_time.add(seen.moments);
        true
    }

    fn cell_in_row(&mut self, cell: Cell<'_>, row: u64, row_facts: RowFacts) {
        if row_facts == RowFacts::default() {
            self.cell(cell, row);
        } else {
            self.uncached(cell, row, row_facts);
        }
    }

    /// Tallies a cell whatever was seen; says where, unless it stands for
    /// nothing, or holds something that is counted by itself.
    fn uncached(&mut self, cell: Cell<'_>, row: u64, row_facts: RowFacts) -> Option<Seen> {
        let mut scratch = std::mem::take(&mut self.scratch);
        let seen = self.uncached_text(cell.text(&mut scratch), cell.stamp(), row, row_facts);
        self.scratch = scratch;
        seen
    }

    /// `text` is what stands for the cell in a text file, `stamp` what a typed
    /// source says that it is.
    #[inline(never)]
    fn uncached_text(
        &mut self,
        text: &str,
        stamp: Option<Stamp>,
        row: u64,
        row_facts: RowFacts,
    ) -> Option<Seen> {
        if let Some(marker) = self.options.blanks.find(text) {
            self.evidence.add_blank(marker);
            return None;
        }
        let in_others = Seen {
            at: At::Others,
            moments: Moments::None,
        };
        let lexed = match stamp {
            None => self.lexer.lex(text),
            Some(stamp) => self.lexer.lex_stamp(stamp),
        };
        let Ok(cell) = lexed else {
            self.evidence.others.add_new(row, text);
            if self.lexer.refuses(text) {
                self.signatures
                    .learn(text, Tallied::AsOthers, &self.options.blanks);
            }
            return Some(in_others);
        };
        let shapes = &mut self.evidence.shapes;
        let Some(index) = self.shapes.number(&cell, shapes, self.options) else {
            self.lexer.refuse(text);
            self.evidence.others.add_new(row, text);
            return Some(in_others);
        };
        let shape = &mut shapes[index];
        let number = u16::try_from(index).ok();
        let said = (self.options.conventions, row_facts);
        let added = shape.add(&cell, said, row, &mut self.stamps);
        let sources = Sources::of(&shape.readings, &shape.tallies[added.tally].outcome);
        let moments = sources.moments(|number| Moment::of(self.stamps[number].ok()?));
        let marker = added.day.filter(|&day| is_marker(day));
        // Languages may differ about a part of the day, too.
        let has_names = shape.has_names || self.stamps.contains(&Err(Impossible::NameDiffers));
        let has_foreign = cell.marks().foreign != 0;
        // In another order it may be in another season, and its zone's name say nothing.
        let is_zone_open = self.stamps.contains(&Err(Impossible::WhichZone))
            && self.stamps.iter().all(Result::is_err);
        if is_zone_open {
            let conventions = self.options.conventions.in_row(row_facts);
            let example = || Example::new(row, text, row_facts);
            let names = &mut shape.zone_names;
            names.add(&cell, &shape.readings, conventions, example);
        }
        self.evidence.in_time.add(moments);
        if has_names || has_foreign {
            self.evidence.names.add(&cell, 1);
        }
        if let Some(day) = marker {
            self.evidence.add_marker(MarkerCells {
                day,
                count: 1,
                first: Example::of(row, &cell, row_facts),
            });
        }
        let (number, tally) = (number?, u16::try_from(added.tally).ok()?);
        if row_facts == RowFacts::default() && stamp.is_none() && !is_zone_open {
            self.meet_digits(text, index, tally, has_names || has_foreign);
        }
        // How many cells hold a name that languages differ about is counted, and
        // so are days that may mark an empty cell, and zones that are not known.
        let is_counted = has_names || has_foreign || marker.is_some() || is_zone_open;
        (!is_counted).then_some(Seen {
            at: At::Shape(number, tally),
            moments,
        })
    }

    /// Remembers that a cell was tallied, if its digits say all about it.
    fn meet_digits(&mut self, text: &str, shape: usize, tally: u16, has_names: bool) {
        let first = match self.signatures.find(text) {
            Some(Tallied::ByDigits(first)) => Some(first),
            None if self.signatures.have_room_for(text) => None,
            None | Some(Tallied::AsOthers | Tallied::Alone) => return,
        };
        let mut has_cells =
            |first| (self.digit_cells.find(first, text)).is_some_and(|cells| cells.have(text));
        if !first.is_some_and(&mut has_cells) {
            self.add_digit_cells(text, shape, first);
        }
        let Some(Tallied::ByDigits(first)) = self.signatures.find(text) else {
            return;
        };
        let evidence = &self.evidence.shapes[shape];
        if let Some(cells) = self.digit_cells.find(first, text)
            && cells.shape() == shape
        {
            cells.meet(text, evidence, tally, has_names);
        }
    }

    /// Remembers what there is to the digits of cells that have the layout of `text`.
    fn add_digit_cells(&mut self, text: &str, shape: usize, behind: Option<u16>) {
        let blanks = &self.options.blanks;
        let ShapeEvidence { readings, .. } = &self.evidence.shapes[shape];
        let has_hints = self.evidence.shapes[shape].has_hints_in_digits();
        let has_blanks = blanks.alike(text).next().is_some();
        let cells = self.lexer.lex(text).ok().and_then(|cell| {
            let conventions = self.options.conventions;
            let cells = DigitCells::of(&cell, (shape, readings), conventions, has_blanks);
            // Other digits than ASCII's have no signature.
            cells.filter(|_| cell.text() == text && !has_hints)
        });
        let number = cells
            .filter(|_| !blanks.have_day_alike(text))
            .and_then(|cells| self.digit_cells.add(cells, behind));
        if behind.is_none() {
            let tallied = number.map_or(Tallied::Alone, Tallied::ByDigits);
            self.signatures.learn(text, tallied, blanks);
        }
    }

    fn take(&mut self) -> ColumnEvidence {
        for cells in self.digit_cells.iter_mut() {
            let ColumnEvidence { shapes, names, .. } = &mut self.evidence;
            let conventions = self.options.conventions;
            cells.hand_over(
                &mut self.lexer,
                &mut shapes[cells.shape()],
                conventions,
                names,
            );
        }
        self.evidence.take()
    }
}

impl Shapes {
    /// The index of the cell's shape; `None` where no form could have written
    /// it.
    fn number(
        &mut self,
        cell: &Lexed<'_>,
        shapes: &mut Vec<ShapeEvidence>,
        options: &ColumnOptions,
    ) -> Option<usize> {
        if cell.layout().is_some() && cell.layout() == self.layout {
            return Some(self.last);
        }
        self.layout = cell.layout();
        let fits = |shape: &ShapeEvidence| shape.readings.shape().fits(cell);
        if shapes.get(self.last).is_some_and(fits) {
            return Some(self.last);
        }
        if self.formless.contains(&cell.hash()) {
            self.layout = None;
            return None;
        }
        if let Some(number) = shapes.iter().position(fits) {
            self.last = number;
            return Some(number);
        }
        let readings = Readings::new(cell.shape(), &options.forms).with(&options.locale_forms);
        let readings = match options.kind {
            Some(kind) => readings.of_kind(kind),
            None => readings,
        };
        let readings = readings.with_zones(&options.zones);
        if readings.is_empty() {
            if self.formless.len() == FORMLESS {
                self.formless.clear();
            }
            self.formless.push(cell.hash());
            self.layout = None;
            return None;
        }
        reserve_first(shapes);
        shapes.push(ShapeEvidence::new(readings.into()));
        self.last = shapes.len() - 1;
        Some(self.last)
    }
}
