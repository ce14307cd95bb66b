//! The tables of OpenDocument.

use super::budget::{CELL, Excess, Held};
use super::xml_scan::{Sink, local_name, number_of, value_of};
use crate::workbook::sheet::{MOST_COLUMNS, MOST_ROWS};

/// A sheet has so many columns at most.
const COLUMNS: u64 = MOST_COLUMNS as u64;

/// A sheet has so many rows at most.
const ROWS: u64 = MOST_ROWS as u64;

/// The tables of OpenDocument, which are all held, as rectangles: from the first cell
/// with something in it to the last (ISO/IEC 26300-3 §9.1).
pub struct Tables<'l> {
    held: Held<'l>,
    /// How often the row stands there.
    row_repeats: u64,
    /// How many cells of the row are behind.
    column: u64,
    /// How many of them end with one that holds something.
    filled: u64,
    /// How many of them are kept: an empty one only where another follows.
    kept: u64,
    is_in_cell: bool,
    /// How often the cell stands there.
    cell_repeats: u64,
    /// The rows since the last with something in it.
    rows: u64,
    /// The rows of the rectangle, and its columns.
    rectangle: (u64, u64),
}

impl Tables<'_> {
    pub fn new(left: &mut u64) -> Tables<'_> {
        Tables {
            held: Held::of(left),
            row_repeats: 1,
            column: 0,
            filled: 0,
            kept: 0,
            is_in_cell: false,
            cell_repeats: 1,
            rows: 0,
            rectangle: (0, 0),
        }
    }

    /// The cell that was opened holds something.
    fn fill(&mut self) {
        (self.filled, self.kept) = (self.column, self.column);
    }

    fn end_row(&mut self) -> Result<(), Excess> {
        // The cells of each row are held before they are put into the rectangle.
        self.held.take(self.kept * CELL)?;
        self.rows = (self.rows + self.row_repeats).min(ROWS);
        if self.filled > 0 {
            let (rows, columns) = self.rectangle;
            let grown = ((rows + self.rows).min(ROWS), columns.max(self.filled));
            let area = |(rows, columns): (u64, u64)| rows * columns;
            let more = area(grown) - area(self.rectangle);
            self.held.take(more.saturating_mul(CELL))?;
            (self.rectangle, self.rows) = (grown, 0);
        }
        Ok(())
    }
}

impl Sink for Tables<'_> {
    fn tag(&mut self, tag: &[u8]) -> Result<(), Excess> {
        let is_closed = tag.ends_with(b"/");
        match local_name(tag) {
            (b"table", true) => (self.rectangle, self.rows) = ((0, 0), 0),
            (b"table-row", true) => {
                let repeats = number_of(tag, "table:number-rows-repeated").unwrap_or(1);
                self.row_repeats = repeats.min(ROWS);
                (self.column, self.filled, self.kept) = (0, 0, 0);
                if is_closed {
                    self.end_row()?;
                }
            }
            (b"table-row", false) => self.end_row()?,
            (b"table-cell" | b"covered-table-cell", true) => {
                self.held.start_piece();
                let repeats = number_of(tag, "table:number-columns-repeated").unwrap_or(1);
                self.cell_repeats = repeats.min(COLUMNS);
                self.kept = self.column;
                self.is_in_cell = !is_closed;
                self.column = (self.column + self.cell_repeats).min(COLUMNS);
                let has = |name| value_of(tag, name).is_some();
                if has("office:value-type") || has("table:formula") {
                    self.fill();
                }
                // A value of many letters is held for each time that it stands there.
                let copies = self.cell_repeats.saturating_mul(self.row_repeats);
                if tag.len() > 256 {
                    self.held.take((tag.len() as u64).saturating_mul(copies))?;
                }
            }
            (b"table-cell" | b"covered-table-cell", false) => self.is_in_cell = false,
            (b"s", true) => {
                self.text_of(number_of(tag, "text:c").unwrap_or(1))?;
            }
            _ if !self.is_in_cell => self.held.start_piece(),
            _ => {}
        }
        Ok(())
    }

    fn text(&mut self, bytes: usize) -> Result<(), Excess> {
        self.text_of(bytes as u64)
    }
}

impl Tables<'_> {
    fn text_of(&mut self, bytes: u64) -> Result<(), Excess> {
        self.held.lengthen_piece(bytes)?;
        if !self.is_in_cell {
            return Ok(());
        }
        let copies = self.cell_repeats.saturating_mul(self.row_repeats);
        self.held.take(bytes.saturating_mul(copies))
    }
}
