//! Typed rows: what leaves the core for a writer.

use crate::stamp::{Kind, LengthUnit, Stamp};
use std::ops::Range;

/// The columns of a clean table, in order.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Schema {
    /// The columns.
    pub columns: Vec<OutColumn>,
}

/// A column of a clean table.
#[derive(Clone, Debug, PartialEq)]
pub struct OutColumn {
    /// Its name: no other column of the table has it.
    pub name: String,
    /// What stands for the name in the header of a text file: of a column
    /// that is passed through, what stood there.
    pub header: String,
    /// What its cells hold.
    pub holds: Holds,
    /// The unit that durations are counted in, where they are numbers.
    pub unit: Option<LengthUnit>,
    /// The zone whose clocks instants are shown by, where it is ruled.
    pub zone: Option<String>,
    /// Where its cells come from.
    pub origin: Origin,
}

/// What the cells of a column hold, blanks apart.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// Cells of the source, each of its own type.
    SourceCells,
    /// Stamps of one kind.
    Stamps(Kind),
    /// Decimal numbers.
    Numbers,
    /// Booleans.
    Booleans,
    /// Text.
    Text,
}

/// Where the cells of a column come from. Columns of the source are counted
/// from 0.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Origin {
    /// This column of the source, passed through.
    Source(usize),
    /// This column of the source, converted.
    Converted(usize),
    /// The zone of a converted column's local times.
    ZoneOf(usize),
    /// The source text of a converted column.
    RawOf(usize),
    /// The verdicts on a converted column.
    VerdictOf(usize),
    /// This derived column.
    Derived(usize),
}

/// A cell of a clean row, or several that stand side by side.
///
/// Texts stand in the row's [`OutRow::text`].
#[derive(Clone, Debug, PartialEq)]
pub enum OutCell {
    /// Cells of the source row, as they came: at least one.
    Source(Range<usize>),
    /// A cell that holds nothing.
    Blank,
    /// A stamp.
    Stamp(Stamp),
    /// A decimal number, by its text.
    Number(Range<u32>),
    /// A boolean.
    Boolean(bool),
    /// A text.
    Text(Range<u32>),
}

impl OutCell {
    /// The text of the cell, of which what is no stamp stands in `text`; none
    /// of cells of the source.
    ///
    /// ```
    /// use metachron_core::row::OutCell;
    /// use metachron_core::stamp::Stamp;
    ///
    /// let day = OutCell::Stamp(Stamp::Date(jiff::civil::date(2025, 3, 4)));
    /// assert_eq!(day.text(b""), "2025-03-04");
    /// assert_eq!(OutCell::Number(0..4).text(b"1.75"), "1.75");
    /// ```
    pub fn text(&self, text: &[u8]) -> String {
        match self {
            OutCell::Source(_) | OutCell::Blank => String::new(),
            OutCell::Stamp(stamp) => stamp.to_string(),
            OutCell::Boolean(truth) => truth.to_string(),
            OutCell::Number(range) | OutCell::Text(range) => {
                let own = &text[range.start as usize..range.end as usize];
                String::from_utf8_lossy(own).into_owned()
            }
        }
    }
}

/// A row of the clean table. Without cells, it is a line of the source with
/// nothing on it, which is no row.
#[derive(Clone, Copy, Debug)]
pub struct OutRow<'r> {
    /// Its cells, in order. A row of the source that is shorter or longer
    /// than the header is so here too.
    pub cells: &'r [OutCell],
    /// What texts and numbers stand in.
    pub text: &'r [u8],
}

impl<'r> OutRow<'r> {
    /// The text of a number or a text of the row.
    #[inline]
    pub fn text_of(&self, range: &Range<u32>) -> &'r [u8] {
        &self.text[range.start as usize..range.end as usize]
    }
}

/// The converted cells of rows that follow each other. All other cells of theirs pass
/// through as they came.
#[derive(Clone, Copy, Debug)]
pub struct OutPage<'p> {
    /// The converted columns, in order.
    pub columns: &'p [OutPageColumn],
    /// What texts and numbers stand in.
    pub text: &'p [u8],
}

/// A converted column of some rows.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct OutPageColumn {
    /// The index of the column in the source.
    pub index: usize,
    /// Its cell in each row.
    pub cells: Vec<OutCell>,
}

impl OutPage<'_> {
    /// Writes the cells of row `number`, which has so many in the source, over `cells`.
    pub fn put_row(&self, number: usize, width: usize, cells: &mut Vec<OutCell>) {
        cells.clear();
        let mut from = 0;
        let pass_through = |cells: &mut Vec<OutCell>, from, to| {
            if from < to {
                cells.push(OutCell::Source(from..to));
            }
        };
        for column in self.columns {
            pass_through(cells, from, column.index);
            cells.push(column.cells[number].clone());
            from = column.index + 1;
        }
        pass_through(cells, from, width);
    }
}

/// Appends a text by `write` to those of a row, and says where it stands.
#[inline]
pub(crate) fn push_text(text: &mut Vec<u8>, write: impl FnOnce(&mut Vec<u8>)) -> Range<u32> {
    let start = text.len() as u32;
    write(text);
    start..text.len() as u32
}
