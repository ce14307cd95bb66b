//! Where the cells of the next rows are.
//!
//! Rows are split many at a time: the delimiters and line ends among 64 bytes
//! are found at once, where a search for each of them would start again every
//! dozen bytes (docs/speed.md).

use super::dialect::{Dialect, behind_quotes};
use super::separators::{Separators, WINDOW};
use std::ops::Range;

/// A page ends with the row that ends behind so many bytes: few enough that
/// its text is still at hand when its last column is read.
const PAGE: usize = 1 << 15;

/// Where the cells of some rows that follow each other are, in bytes of their
/// text.
#[derive(Debug, Default)]
pub(super) struct Page {
    /// The end of each cell, quotes included.
    ends: Vec<u32>,
    /// The start of each row, and of the row behind the last.
    starts: Vec<Start>,
    /// How many cells each row has, where all have as many, and some.
    width: Option<usize>,
}

/// Where a row starts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(super) struct Start {
    /// The index of its first byte.
    pub at: u32,
    /// How many cells are before it on the page.
    pub cells: u32,
    /// How many line ends within quotes are before it on the page.
    pub breaks: u32,
}

/// Where the row and the cell start that are not ended.
#[derive(Clone, Copy)]
struct Open {
    row: usize,
    cell: usize,
}

impl Open {
    /// Both at this byte.
    fn at(byte: usize) -> Open {
        Open {
            row: byte,
            cell: byte,
        }
    }
}

impl Page {
    /// How many rows there are.
    pub fn rows(&self) -> usize {
        self.starts.len().saturating_sub(1)
    }

    /// Where a row starts, where the next one does, and the ends of its cells.
    #[inline]
    pub fn row(&self, row: usize) -> Option<(Start, Start, &[u32])> {
        let (start, next) = (*self.starts.get(row)?, *self.starts.get(row + 1)?);
        let ends = &self.ends[start.cells as usize..next.cells as usize];
        Some((start, next, ends))
    }

    /// Where a row starts, which may be the one behind the last.
    pub fn start(&self, row: usize) -> Start {
        self.starts.get(row).copied().unwrap_or_default()
    }

    /// How many cells each row has, where all have as many, and some.
    pub fn width(&self) -> Option<usize> {
        self.width
    }

    /// Where the cell at `index` of a row starts and ends; all rows have as many.
    #[inline]
    pub fn place(&self, row: usize, index: usize) -> Range<usize> {
        let end = row * self.width.unwrap_or(1) + index;
        let start = match index {
            0 => self.starts[row].at,
            _ => self.ends[end - 1] + 1,
        };
        start as usize..self.ends[end] as usize
    }

    /// Where the cells at `index` start and end, from the row `from` on; all rows have one.
    #[inline]
    pub fn column(&self, from: usize, index: usize) -> impl Iterator<Item = Range<usize>> {
        let width = self.width.unwrap_or(1);
        let starts = self.starts[from..].iter();
        let rows = self.ends[from * width..].chunks_exact(width);
        starts.zip(rows).map(move |(start, ends)| {
            let start = match index.checked_sub(1) {
                Some(before) => ends[before] + 1,
                None => start.at,
            };
            start as usize..ends[index] as usize
        })
    }

    /// Splits the rows of `text` from the byte `from` on, at which one starts.
    pub fn fill(&mut self, text: &[u8], from: usize, dialect: Dialect) {
        self.ends.clear();
        self.starts.clear();
        self.split(text, from, dialect);
        let cells = self
            .starts
            .windows(2)
            .map(|two| two[1].cells - two[0].cells);
        let (least, most) = cells.fold((u32::MAX, 0), |(least, most), cells| {
            (least.min(cells), most.max(cells))
        });
        self.width = (least == most && most > 0).then_some(most as usize);
    }

    fn split(&mut self, text: &[u8], from: usize, dialect: Dialect) {
        self.start_row(from, 0);
        let mut separators = Separators::new(dialect);
        let (mut open, mut breaks) = (Open::at(from), 0);
        let mut at = from;
        while at < text.len() {
            let Some(window) = separators.next(&text[at..]) else {
                return self.split_by_cell(text, from, dialect);
            };
            let mut found = window.separators;
            while found != 0 {
                let bit = found.trailing_zeros();
                let end = at + bit as usize;
                found &= found - 1;
                if !self.separate(text, end, dialect, &mut open) {
                    continue;
                }
                self.start_row(open.row, breaks + count(window.breaks & ((1 << bit) - 1)));
                if open.row >= from + PAGE {
                    return;
                }
            }
            breaks += count(window.breaks);
            at += WINDOW;
        }
        self.end_text(text, open, breaks);
    }

    /// Goes on with the row that started last, cell after cell, to the end of a page that
    /// starts at the byte `from`: for quotes that stand in cells.
    #[cold]
    fn split_by_cell(&mut self, text: &[u8], from: usize, dialect: Dialect) {
        let start = self.start(self.rows());
        self.ends.truncate(start.cells as usize);
        let (mut open, mut breaks) = (Open::at(start.at as usize), start.breaks);
        while open.cell < text.len() {
            let cell = open.cell;
            let behind = match dialect.quote {
                Some(quote) if text[cell] == quote => {
                    behind_quotes(text, cell, quote).unwrap_or(text.len())
                }
                _ => cell,
            };
            breaks += memchr::memchr_iter(dialect.newline, &text[cell..behind]).count() as u32;
            let ahead = memchr::memchr2(dialect.delimiter, dialect.newline, &text[behind..]);
            let Some(end) = ahead.map(|ahead| behind + ahead) else {
                break;
            };
            if self.separate(text, end, dialect, &mut open) {
                self.start_row(open.row, breaks);
                if open.row >= from + PAGE {
                    return;
                }
            }
        }
        self.end_text(text, open, breaks);
    }

    /// Ends a cell, and its row if a line end stands at `end`; says whether one does.
    #[inline(always)]
    fn separate(&mut self, text: &[u8], end: usize, dialect: Dialect, open: &mut Open) -> bool {
        let is_row_end = text[end] != dialect.delimiter;
        if is_row_end {
            self.end_row(text, *open, end);
            *open = Open::at(end + 1);
        } else {
            self.ends.push(end as u32);
            open.cell = end + 1;
        }
        is_row_end
    }

    /// Ends the row that the text ends with, if there is one.
    fn end_text(&mut self, text: &[u8], open: Open, breaks: u32) {
        if open.row < text.len() {
            self.end_row(text, open, text.len());
            self.start_row(text.len(), breaks);
        }
    }

    fn start_row(&mut self, at: usize, breaks: u32) {
        self.starts.push(Start {
            at: at as u32,
            cells: self.ends.len() as u32,
            breaks,
        });
    }

    /// Ends a row and its last cell with the line end at `end`.
    #[inline]
    fn end_row(&mut self, text: &[u8], Open { row, cell }: Open, end: usize) {
        // The carriage return that may stand before the line feed is not of
        // the cell.
        let end = if end > cell && text[end - 1] == b'\r' {
            end - 1
        } else {
            end
        };
        // A line with nothing on it is a row without cells.
        if end > row {
            self.ends.push(end as u32);
        }
    }
}

/// How many bits are set. Most often none is, and to count them takes a dozen instructions
/// where the processor has none for it.
#[inline(always)]
fn count(bits: u64) -> u32 {
    if bits == 0 { 0 } else { bits.count_ones() }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// As rows are split cell after cell.
        #[test]
        fn places_are_the_same_however_they_are_found(
            text in "[ab,\"\n\r]{0,40}|([ab,\n]{0,9}|\"([ab,\n]|\"\"){0,50}\"[,\n]){0,30}[ab\"]?",
            skipped in 0..40_usize,
        ) {
            let text = text.as_bytes();
            let from = skipped.min(text.len());
            let (mut page, mut by_cell) = (Page::default(), Page::default());
            page.split(text, from, Dialect::default());
            by_cell.start_row(from, 0);
            by_cell.split_by_cell(text, from, Dialect::default());
            prop_assert_eq!(page.ends, by_cell.ends);
            prop_assert_eq!(page.starts, by_cell.starts);
        }
    }
}
