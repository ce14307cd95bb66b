//! Where the cells of the next rows are.
//!
//! Rows are split many at a time: the delimiters and line ends among 64 bytes
//! are found at once, where a search for each of them would start again every
//! dozen bytes (docs/speed.md).

use super::dialect::{Dialect, behind_quotes};
use std::ops::Range;
use wide::u8x64;

/// A page ends with the row that ends behind so many bytes: few enough that
/// its text is still at hand when its last column is read.
const PAGE: usize = 1 << 15;

/// How many bytes are looked through at once.
const WINDOW: usize = 64;

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
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Start {
    /// The index of its first byte.
    pub at: u32,
    /// How many cells are before it on the page.
    pub cells: u32,
    /// How many line ends within quotes are before it on the page.
    pub breaks: u32,
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
        (from..self.rows()).map(move |row| self.place(row, index))
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
        let Dialect {
            delimiter, newline, ..
        } = dialect;
        let quoted = |cell: usize| match dialect.quote {
            Some(quote) if text.get(cell) == Some(&quote) => {
                Some(behind_quotes(text, cell, quote).unwrap_or(text.len()))
            }
            _ => None,
        };
        // Most quoted cells are short: to look for line ends takes longer than to count.
        let line_ends = |from: usize, to: usize| {
            let bytes = text[from..to].iter();
            bytes.filter(|byte| **byte == newline).count() as u32
        };
        let (mut row, mut cell, mut breaks) = (from, from, 0);
        let mut at = from;
        if let Some(behind) = quoted(cell) {
            breaks += line_ends(cell, behind);
            at = behind;
        }
        'windows: while at < text.len() {
            let mut found = indexes(delimiter, newline, &text[at..]);
            while found != 0 {
                let end = at + found.trailing_zeros() as usize;
                found &= found - 1;
                cell = if text[end] == delimiter {
                    self.ends.push(end as u32);
                    end + 1
                } else {
                    self.end_row(text, row, cell, end);
                    row = end + 1;
                    self.start_row(row, breaks);
                    if row >= from + PAGE {
                        return;
                    }
                    row
                };
                if let Some(behind) = quoted(cell) {
                    breaks += line_ends(cell, behind);
                    at = behind;
                    continue 'windows;
                }
            }
            at += WINDOW;
        }
        if row < text.len() {
            self.end_row(text, row, cell, text.len());
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

    /// Ends the row that starts at `row`, and its last cell, which starts at
    /// `cell`, with the line end at `end`.
    #[inline]
    fn end_row(&mut self, text: &[u8], row: usize, cell: usize, end: usize) {
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

/// Where either of two bytes stands among the first [`WINDOW`] of `text`, a
/// bit each.
#[inline]
fn indexes(one: u8, other: u8, text: &[u8]) -> u64 {
    let either = |window: [u8; WINDOW]| {
        let window = u8x64::from(window);
        (window.simd_eq(u8x64::splat(one)) | window.simd_eq(u8x64::splat(other))).to_bitmask()
    };
    match text.first_chunk() {
        Some(window) => either(*window),
        None => {
            let mut window = [0; WINDOW];
            window[..text.len()].copy_from_slice(text);
            // What is behind the text is no byte of it.
            either(window) & ((1 << text.len()) - 1)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn places_are_those_of_either_byte(text in "[a,\n\0é]{0,80}") {
            for other in [b'\n', 0] {
                let mut expected = 0_u64;
                for (index, byte) in text.bytes().take(WINDOW).enumerate() {
                    expected |= u64::from(byte == b',' || byte == other) << index;
                }
                prop_assert_eq!(indexes(b',', other, text.as_bytes()), expected);
            }
        }
    }
}
