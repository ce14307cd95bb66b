//! How a file of the CSV family is written.

use super::separators::{Separators, WINDOW};

/// How a file of the CSV family is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Dialect {
    /// The byte between cells.
    pub delimiter: u8,
    /// The byte around cells that hold delimiters or line ends.
    pub quote: Option<u8>,
    /// The byte that ends rows: a line feed (perhaps behind a carriage
    /// return), or a carriage return alone.
    pub newline: u8,
    /// Whether rows end in carriage return and line feed. What is written
    /// by the program, such as a header, ends the same way.
    pub crlf: bool,
}

impl Default for Dialect {
    fn default() -> Self {
        Dialect {
            delimiter: b',',
            quote: Some(b'"'),
            newline: b'\n',
            crlf: false,
        }
    }
}

impl Dialect {
    /// What ends a row.
    pub fn line_end(&self) -> &'static [u8] {
        match (self.newline, self.crlf) {
            (b'\r', _) => b"\r",
            (_, true) => b"\r\n",
            _ => b"\n",
        }
    }

    /// Whether cells of the other dialect can be copied into this one byte by
    /// byte.
    pub fn reads_alike(&self, other: &Dialect) -> bool {
        self.delimiter == other.delimiter
            && self.quote == other.quote
            && self.newline == other.newline
    }

    /// The delimiter in words.
    pub fn delimiter_name(&self) -> String {
        match self.delimiter {
            b'\t' => "tab".to_owned(),
            other => format!("`{}`", char::from(other)),
        }
    }

    /// The byte offset behind the last whole row of `bytes`, and whether a
    /// quote is open at their end. `bytes` start with a row.
    pub(crate) fn last_row_end(&self, bytes: &[u8]) -> (usize, Option<usize>) {
        let without_quotes = || memchr::memrchr(self.newline, bytes).map_or(0, |at| at + 1);
        let Some(quote) = self.quote else {
            return (without_quotes(), None);
        };
        if memchr::memchr(quote, bytes).is_none() {
            return (without_quotes(), None);
        }
        let mut separators = Separators::new(*self);
        let mut end = 0;
        for at in (0..bytes.len()).step_by(WINDOW) {
            let Some(window) = separators.next(&bytes[at..]) else {
                return self.last_row_end_by_cell(bytes, 0, quote);
            };
            let mut found = window.separators;
            while found != 0 {
                let last = WINDOW - 1 - found.leading_zeros() as usize;
                if bytes[at + last] == self.newline {
                    end = at + last + 1;
                    break;
                }
                found &= !(1 << last);
            }
        }
        if separators.is_inside() {
            return self.last_row_end_by_cell(bytes, end, quote);
        }
        (end, None)
    }

    /// The same from the row at `end` on, cell after cell.
    fn last_row_end_by_cell(
        &self,
        bytes: &[u8],
        mut end: usize,
        quote: u8,
    ) -> (usize, Option<usize>) {
        let mut at = end;
        while at < bytes.len() {
            if bytes[at] == quote {
                let open = at;
                match behind_quotes(bytes, at, quote) {
                    Some(behind) => at = behind,
                    None => return (end, Some(open)),
                }
            }
            match memchr::memchr2(self.delimiter, self.newline, &bytes[at..]) {
                Some(ahead) => {
                    at += ahead + 1;
                    if bytes[at - 1] == self.newline {
                        end = at;
                    }
                }
                None => break,
            }
        }
        (end, None)
    }
}

/// The place behind the quoted text that opens at `open`: behind the quote
/// that is not doubled.
pub(super) fn behind_quotes(bytes: &[u8], open: usize, quote: u8) -> Option<usize> {
    let mut at = open + 1;
    loop {
        at += memchr::memchr(quote, bytes.get(at..)?)? + 1;
        match bytes.get(at) {
            Some(&next) if next == quote => at += 1,
            _ => return Some(at),
        }
    }
}
