//! Rows and their cells.

use super::block::{Block, Types};
use super::dialect::{Dialect, behind_quotes};
use crate::workbook::CellType;
use metachron_core::lex::DATED;

/// Where a cell stands in a block, quotes included.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Span {
    start: u32,
    end: u32,
}

/// Goes over the rows of a text.
#[derive(Debug)]
pub struct Rows<'b> {
    text: &'b str,
    dialect: Dialect,
    at: usize,
    line: u64,
    spans: Vec<Span>,
    types: Option<&'b Types>,
    /// How many rows of a sheet are behind.
    behind: usize,
}

/// One row.
#[derive(Clone, Copy, Debug)]
pub struct Row<'r> {
    text: &'r str,
    dialect: Dialect,
    start: usize,
    end: usize,
    line: u64,
    spans: &'r [Span],
    /// What the cells are, of a sheet's row.
    types: &'r [u8],
}

impl<'b> Rows<'b> {
    /// The rows of `text`, the first of which starts on line `line`.
    pub fn new(text: &'b str, dialect: Dialect, line: u64) -> Rows<'b> {
        Rows {
            text,
            dialect,
            at: 0,
            line,
            spans: Vec::new(),
            types: None,
            behind: 0,
        }
    }

    /// The rows of a block, whose text is `text`.
    pub(super) fn of_block(text: &'b str, block: &'b Block) -> Rows<'b> {
        Rows {
            types: block.types.as_ref(),
            ..Rows::new(text, block.dialect, block.line)
        }
    }

    /// The next row. A line with nothing on it is a row without cells.
    #[inline]
    pub fn next_row(&mut self) -> Option<Row<'_>> {
        let bytes = self.text.as_bytes();
        let start = self.at;
        if start >= bytes.len() {
            return None;
        }
        self.spans.clear();
        let mut at = start;
        let mut breaks_in_quotes = 0;
        let end = loop {
            let cell = at;
            if self.dialect.quote.is_some() && bytes.get(at).copied() == self.dialect.quote {
                let quote = bytes[at];
                at = behind_quotes(bytes, at, quote).unwrap_or(bytes.len());
                breaks_in_quotes +=
                    memchr::memchr_iter(self.dialect.newline, &bytes[cell..at]).count();
            }
            let Dialect {
                delimiter, newline, ..
            } = self.dialect;
            match find_either(delimiter, newline, &bytes[at..]) {
                Some(ahead) if bytes[at + ahead] == delimiter => {
                    self.push(cell, at + ahead);
                    at += ahead + 1;
                }
                Some(ahead) => {
                    self.push(cell, behind_return(bytes, cell, at + ahead));
                    break at + ahead + 1;
                }
                None => {
                    self.push(cell, behind_return(bytes, cell, bytes.len()));
                    break bytes.len();
                }
            }
        };
        if let [only] = self.spans[..]
            && only.start == only.end
        {
            self.spans.clear();
        }
        let line = self.line;
        self.at = end;
        let types = match self.types {
            Some(types) => {
                // A row of a sheet is one line, whatever its cells hold.
                self.line += 1;
                let from = self.behind * types.width;
                self.behind += 1;
                types.codes.get(from..from + types.width).unwrap_or(&[])
            }
            None => {
                self.line += 1 + breaks_in_quotes as u64;
                &[]
            }
        };
        Some(Row {
            types,
            text: self.text,
            dialect: self.dialect,
            start,
            end,
            line,
            spans: &self.spans,
        })
    }

    /// The place of the next row in the text, in bytes.
    pub fn offset(&self) -> usize {
        self.at
    }

    /// The line that the next row starts on.
    pub fn line(&self) -> u64 {
        self.line
    }

    fn push(&mut self, start: usize, end: usize) {
        self.spans.push(Span {
            start: start as u32,
            end: end as u32,
        });
    }
}

/// Where the first of two bytes stands in `bytes`.
///
/// Most cells are a few bytes long: looked through eight at a time, in line,
/// they are passed sooner than `memchr2` is called and gets going.
#[inline]
fn find_either(one: u8, other: u8, bytes: &[u8]) -> Option<usize> {
    const ONES: u64 = u64::from_le_bytes([0x01; 8]);
    const TOPS: u64 = u64::from_le_bytes([0x80; 8]);
    let [one_each, other_each] = [one, other].map(|byte| ONES * u64::from(byte));
    // The top bit of each byte that is 0, and perhaps of some above the first
    // such byte.
    let zeros = |word: u64| word.wrapping_sub(ONES) & !word & TOPS;
    let mut at = 0;
    while let Some(word) = bytes.get(at..).and_then(|rest| rest.first_chunk()) {
        if at == LONG {
            return memchr::memchr2(one, other, &bytes[at..]).map(|ahead| at + ahead);
        }
        let word = u64::from_le_bytes(*word);
        let found = zeros(word ^ one_each) | zeros(word ^ other_each);
        if found != 0 {
            return Some(at + found.trailing_zeros() as usize / 8);
        }
        at += 8;
    }
    let rest = bytes[at..].iter();
    let mut rest = rest.zip(at..);
    rest.find(|(byte, _)| **byte == one || **byte == other)
        .map(|(_, at)| at)
}

/// Cells of more bytes than this are worth a call.
const LONG: usize = 32;

/// The end of a row's last cell: before the carriage return that may stand
/// before the line feed.
fn behind_return(bytes: &[u8], start: usize, end: usize) -> usize {
    match end > start && bytes[end - 1] == b'\r' {
        true => end - 1,
        false => end,
    }
}

impl<'r> Row<'r> {
    /// How many cells there are. A line with nothing on it has none.
    pub fn len(&self) -> usize {
        self.spans.len()
    }

    /// Whether the line has nothing on it.
    pub fn is_empty(&self) -> bool {
        self.spans.is_empty()
    }

    /// The line of the file that the row starts on, from 1.
    pub fn line(&self) -> u64 {
        self.line
    }

    /// The dialect it is written in.
    pub fn dialect(&self) -> Dialect {
        self.dialect
    }

    /// The cell as it stands in the file, quotes included; `""` where the row
    /// is too short to have it.
    #[inline]
    pub fn raw(&self, cell: usize) -> &'r str {
        match self.spans.get(cell) {
            Some(span) => &self.text[span.start as usize..span.end as usize],
            None => "",
        }
    }

    /// What the cell says: without quotes. `scratch` is used where quotes
    /// within have to be undone.
    #[inline]
    pub fn cell<'c>(&self, cell: usize, scratch: &'c mut String) -> &'c str
    where
        'r: 'c,
    {
        let raw = self.raw(cell);
        match self.dialect.quote {
            Some(quote) if raw.as_bytes().first() == Some(&quote) => unquote(raw, quote, scratch),
            _ => raw,
        }
    }

    /// What a workbook says the cell is; text, of a text file's.
    pub fn cell_type(&self, cell: usize) -> CellType {
        let code = self.types.get(cell).copied();
        code.map_or(CellType::Text, CellType::of_code)
    }

    /// What the cell says, as it is to be read: a date of a workbook is marked
    /// as one ([`DATED`]), so that no text is taken for it.
    #[inline]
    pub fn value<'c>(&self, cell: usize, scratch: &'c mut String) -> &'c str
    where
        'r: 'c,
    {
        if self.types.is_empty() || self.cell_type(cell) != CellType::Dated {
            return self.cell(cell, scratch);
        }
        scratch.clear();
        scratch.push(DATED);
        scratch.push_str(self.raw(cell));
        scratch
    }

    /// The text from the start of cell `from` to the end of cell `to`,
    /// delimiters between them included.
    pub(super) fn raw_range(&self, from: usize, to: usize) -> &'r str {
        match (self.spans.get(from), self.spans.get(to)) {
            (Some(from), Some(to)) => &self.text[from.start as usize..to.end as usize],
            _ => "",
        }
    }

    /// What ends the row: nothing, at the end of a file that ends without.
    pub(super) fn terminator(&self) -> &'r str {
        let end = self.spans.last().map_or_else(
            || {
                let line = self.text[self.start..self.end].trim_end_matches(['\r', '\n']);
                self.start + line.len()
            },
            |span| span.end as usize,
        );
        &self.text[end..self.end]
    }
}

fn unquote<'s>(raw: &'s str, quote: u8, scratch: &'s mut String) -> &'s str {
    let bytes = raw.as_bytes();
    let behind = behind_quotes(bytes, 0, quote).unwrap_or(bytes.len() + 1);
    let inner = &raw[1..(behind - 1).max(1)];
    let rest = raw.get(behind..).unwrap_or("");
    if rest.is_empty() && memchr::memchr(quote, inner.as_bytes()).is_none() {
        return inner;
    }
    let quote = char::from(quote);
    scratch.clear();
    scratch.push_str(&inner.replace(&format!("{quote}{quote}"), &quote.to_string()));
    scratch.push_str(rest);
    scratch
}
