//! Writing rows.

use super::{Dialect, Row};
use std::ops::Range;

/// Writes rows in one dialect. Cells that are not replaced are written as
/// they came.
#[derive(Clone, Copy, Debug)]
pub struct RowWriter {
    dialect: Dialect,
    /// The bytes that a cell may have only between quotes.
    special: [bool; 256],
    /// Cells of ISO 8601 text and numbers need no look: the delimiter is none
    /// of their characters.
    plain_is_safe: bool,
}

impl RowWriter {
    /// A writer in `dialect`.
    pub fn new(dialect: Dialect) -> RowWriter {
        let delimiter = dialect.delimiter;
        let mut special = [false; 256];
        for byte in [delimiter, b'\n', b'\r'].into_iter().chain(dialect.quote) {
            special[usize::from(byte)] = true;
        }
        RowWriter {
            dialect,
            special,
            plain_is_safe: !delimiter.is_ascii_alphanumeric() && !b"-:.+[]/_".contains(&delimiter),
        }
    }

    /// Whether cells of the other dialect are copied byte by byte.
    pub fn reads_alike(&self, other: Dialect) -> bool {
        self.dialect.reads_alike(&other)
    }

    /// Appends `cells` of `row`.
    pub fn copy(&self, row: &Row<'_>, cells: Range<usize>, out: &mut Vec<u8>) {
        if cells.is_empty() {
            return;
        }
        if self.reads_alike(row.dialect()) {
            let (text, there) = row.raw_range(cells.clone());
            out.extend_from_slice(text.as_bytes());
            let missing = cells.len() - there.max(1);
            out.resize(out.len() + missing, self.dialect.delimiter);
            return;
        }
        let mut scratch = String::new();
        for cell in cells.clone() {
            self.delimit(cell - cells.start, out);
            self.text_cell(row.text(cell, &mut scratch).as_bytes(), out);
        }
    }

    /// Appends a cell of ISO 8601 text or a number, which needs quotes only
    /// between odd delimiters.
    #[inline]
    pub fn plain_cell(&self, text: &[u8], out: &mut Vec<u8>) {
        let start = out.len();
        out.extend_from_slice(text);
        self.quote_plain(start, out);
    }

    /// Appends a cell that says `text`.
    #[inline]
    pub fn text_cell(&self, text: &[u8], out: &mut Vec<u8>) {
        let start = out.len();
        out.extend_from_slice(text);
        self.quote(start, out);
    }

    /// Appends a cell that holds nothing and is its row's only one: between
    /// quotes, as no reader takes a line with nothing on it for a row.
    pub fn only_blank(&self, out: &mut Vec<u8>) {
        out.extend(self.dialect.quote.into_iter().chain(self.dialect.quote));
    }

    /// Appends a cell that says `text`, with a delimiter before it unless it
    /// is the row's first.
    pub fn cell(&self, index: usize, text: impl AsRef<[u8]>, out: &mut Vec<u8>) {
        self.delimit(index, out);
        self.text_cell(text.as_ref(), out);
    }

    /// Puts the cell that `out` ends with, from `start` on, between quotes if
    /// it needs them.
    pub fn quote(&self, start: usize, out: &mut Vec<u8>) {
        let Some(quote) = self.dialect.quote else {
            return;
        };
        let needs_quotes = |byte: &u8| self.special[usize::from(*byte)];
        if !out[start..].iter().any(needs_quotes) {
            return;
        }
        let text = out.split_off(start);
        out.push(quote);
        for byte in text {
            if byte == quote {
                out.push(quote);
            }
            out.push(byte);
        }
        out.push(quote);
    }

    /// The same of ISO 8601 text or a number, which needs quotes only between
    /// odd delimiters.
    #[inline]
    pub fn quote_plain(&self, start: usize, out: &mut Vec<u8>) {
        if !self.plain_is_safe {
            self.quote(start, out);
        }
    }

    /// Appends the delimiter that stands before cell `place`.
    #[inline]
    pub fn delimit(&self, index: usize, out: &mut Vec<u8>) {
        if index > 0 {
            out.push(self.dialect.delimiter);
        }
    }

    /// Ends the row as `row` ends in its file.
    pub fn end_like(&self, row: &Row<'_>, out: &mut Vec<u8>) {
        if self.reads_alike(row.dialect()) {
            out.extend_from_slice(row.terminator().as_bytes())
        } else {
            self.end(out)
        }
    }

    /// Ends a row.
    pub fn end(&self, out: &mut Vec<u8>) {
        out.extend_from_slice(self.dialect.line_end());
    }
}
