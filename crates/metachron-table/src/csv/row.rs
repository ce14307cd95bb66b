//! Rows and their cells.

use super::block::{Block, Types};
use super::dialect::{Dialect, behind_quotes};
use super::page::Page;
use crate::CellType;
use metachron_core::cell::Cell;
use metachron_core::engine;
use std::ops::Range;

/// Goes over the rows of a text.
#[derive(Debug)]
pub struct Rows<'b> {
    text: &'b str,
    dialect: Dialect,
    /// The line that the page starts on.
    line: u64,
    page: Page,
    /// How many rows of the page are behind.
    next: usize,
    types: Option<&'b Types>,
    /// How many rows of a sheet are before the page.
    before: usize,
}

/// Some rows that follow each other.
#[derive(Clone, Copy, Debug)]
pub struct PageRows<'p> {
    rows: &'p Rows<'p>,
    from: usize,
}

/// One row.
#[derive(Clone, Copy, Debug)]
pub struct Row<'r> {
    text: &'r str,
    dialect: Dialect,
    start: usize,
    end: usize,
    line: u64,
    /// The end of each cell, quotes included. Cells are a byte apart.
    ends: &'r [u32],
    /// How many cells a sheet's row has, if it has any: those behind the last that
    /// stands there hold nothing.
    width: usize,
    /// What the cells are, of a sheet's row.
    types: &'r [CellType],
}

impl<'b> Rows<'b> {
    /// The rows of `text`, the first of which starts on line `line`.
    pub fn new(text: &'b str, dialect: Dialect, line: u64) -> Rows<'b> {
        Rows {
            text,
            dialect,
            line,
            page: Page::default(),
            next: 0,
            types: None,
            before: 0,
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
        if self.next >= self.page.rows() {
            self.turn_over();
        }
        let at = self.next;
        self.next = (at + 1).min(self.page.rows());
        self.row(at)
    }

    /// The next rows: as many as are split at once, which goes well with
    /// reading them column by column. `None` behind the last.
    pub fn next_page(&mut self) -> Option<PageRows<'_>> {
        if self.next >= self.page.rows() {
            self.turn_over();
        }
        let from = std::mem::replace(&mut self.next, self.page.rows());
        (from < self.next).then_some(PageRows { rows: self, from })
    }

    /// Goes on to the next page.
    fn turn_over(&mut self) {
        let (offset, line) = (self.offset(), self.line());
        self.before += self.page.rows();
        self.line = line;
        self.page.fill(self.text.as_bytes(), offset, self.dialect);
        self.next = 0;
    }

    /// A row of the page.
    #[inline]
    fn row(&self, row: usize) -> Option<Row<'_>> {
        let (start, next, ends) = self.page.row(row)?;
        let types = self.types.map(|types| types.of(self.before + row));
        Some(Row {
            text: self.text,
            dialect: self.dialect,
            start: start.at as usize,
            end: next.at as usize,
            line: self.line_of(row),
            ends,
            width: self.types.map_or(0, |types| types.width),
            types: types.unwrap_or(&[]),
        })
    }

    /// The line that a row of the page starts on.
    #[inline]
    fn line_of(&self, row: usize) -> u64 {
        // A row of a sheet is one line, whatever its cells hold.
        let breaks = match self.types {
            Some(_) => 0,
            None => self.page.start(row).breaks,
        };
        self.line + row as u64 + u64::from(breaks)
    }

    /// The index of the next row in the text, in bytes.
    pub fn offset(&self) -> usize {
        self.page.start(self.next).at as usize
    }

    /// The line that the next row starts on.
    pub fn line(&self) -> u64 {
        self.line_of(self.next)
    }
}

impl<'p> PageRows<'p> {
    /// The rows, in order; as often as they are asked for.
    #[inline]
    pub fn iter(&self) -> impl Iterator<Item = Row<'p>> + use<'p> {
        let rows = self.rows;
        (self.from..rows.page.rows()).filter_map(|row| rows.row(row))
    }

    /// How many there are, lines with nothing on them included.
    pub fn len(&self) -> usize {
        self.rows.page.rows() - self.from
    }

    /// Whether there is none. No page that is handed out is empty.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Whether each row has so many cells, all of them text.
    pub fn are_text_of_width(&self, width: usize) -> bool {
        self.rows.page.width() == Some(width) && self.rows.types.is_none()
    }

    /// The text that they stand in.
    pub(crate) fn bytes(&self) -> &'p [u8] {
        self.rows.text.as_bytes()
    }

    /// The dialect they are written in.
    pub(crate) fn dialect(&self) -> Dialect {
        self.rows.dialect
    }

    /// Where they stand in the text, in bytes, line ends included.
    pub(crate) fn offsets(&self) -> Range<usize> {
        let page = &self.rows.page;
        page.start(self.from).at as usize..page.start(page.rows()).at as usize
    }

    /// Where the cell at `index` of row `number` stands in the text, quotes included, in
    /// bytes. All rows have as many cells.
    #[inline]
    pub(crate) fn place(&self, number: usize, index: usize) -> Range<usize> {
        self.rows.page.place(self.from + number, index)
    }

    /// Hands each row's text of the column at `index` to `act`.
    #[inline]
    pub fn texts(&self, index: usize, scratch: &mut String, mut act: impl FnMut(&str)) {
        let rows = self.rows;
        for place in rows.page.column(self.from, index) {
            act(said(&rows.text[place], rows.dialect, scratch));
        }
    }
}

impl<'r> Row<'r> {
    /// How many cells there are. A line with nothing on it has none.
    pub fn len(&self) -> usize {
        match self.ends.len() {
            0 => 0,
            there => there.max(self.width),
        }
    }

    /// Whether the line has nothing on it.
    pub fn is_empty(&self) -> bool {
        self.ends.is_empty()
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
        match self.ends.get(cell) {
            Some(&end) => &self.text[self.start_of(cell)..end as usize],
            None => "",
        }
    }

    /// Where a cell starts that is there.
    #[inline]
    fn start_of(&self, cell: usize) -> usize {
        match cell.checked_sub(1) {
            Some(before) => self.ends[before] as usize + 1,
            None => self.start,
        }
    }

    /// What the cell says: without quotes. `scratch` is used where quotes
    /// within have to be undone.
    #[inline]
    pub fn text<'c>(&self, cell: usize, scratch: &'c mut String) -> &'c str
    where
        'r: 'c,
    {
        said(self.raw(cell), self.dialect, scratch)
    }

    /// What a workbook says the cell is; text, of a text file's.
    pub fn cell_type(&self, cell: usize) -> CellType {
        let behind = if self.width > 0 {
            CellType::Empty
        } else {
            CellType::Text
        };
        self.types.get(cell).copied().unwrap_or(behind)
    }

    /// The cell: its text, or the typed value that the source says it is.
    #[inline]
    pub fn cell<'c>(&self, cell: usize, scratch: &'c mut String) -> Cell<'c>
    where
        'r: 'c,
    {
        if self.types.is_empty() {
            return Cell::Text(self.text(cell, scratch));
        }
        match self.cell_type(cell) {
            CellType::Text | CellType::Empty => Cell::Text(self.text(cell, scratch)),
            CellType::Number => Cell::Number(self.text(cell, scratch)),
            CellType::Boolean => Cell::Boolean(self.raw(cell) == "TRUE"),
            CellType::Error => Cell::Error(self.text(cell, scratch)),
            CellType::Stamp(stamp) => Cell::Stamp(stamp),
        }
    }

    /// The text from the start of the first of `cells` to the end of the last that
    /// stands there, delimiters between them included; and how many do.
    pub(super) fn raw_range(&self, cells: Range<usize>) -> (&'r str, usize) {
        let to = cells.end.min(self.ends.len());
        match self.ends.get(cells.start..to) {
            Some(ends @ [.., end]) => {
                let text = &self.text[self.start_of(cells.start)..*end as usize];
                (text, ends.len())
            }
            _ => ("", 0),
        }
    }

    /// What ends the row: nothing, at the end of a file that ends without.
    pub(super) fn terminator(&self) -> &'r str {
        let end = self.ends.last().map_or_else(
            || {
                let line = self.text[self.start..self.end].trim_end_matches(['\r', '\n']);
                self.start + line.len()
            },
            |&end| end as usize,
        );
        &self.text[end..self.end]
    }
}

/// What a cell says.
#[inline]
fn said<'s>(raw: &'s str, dialect: Dialect, scratch: &'s mut String) -> &'s str {
    match dialect.quote {
        Some(quote) if raw.as_bytes().first() == Some(&quote) => match raw.as_bytes() {
            [_, inner @ .., last] if *last == quote && !inner.contains(&quote) => {
                &raw[1..raw.len() - 1]
            }
            _ => unquote(raw, quote, scratch),
        },
        _ => raw,
    }
}

#[cold]
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

impl engine::Rows for Rows<'_> {
    type Page<'p>
        = PageRows<'p>
    where
        Self: 'p;

    fn next_page(&mut self) -> Option<PageRows<'_>> {
        Rows::next_page(self)
    }
}

impl<'p> engine::Page for PageRows<'p> {
    type Row = Row<'p>;

    fn rows(&self) -> impl Iterator<Item = Row<'p>> {
        self.iter()
    }

    fn count(&self) -> usize {
        self.len()
    }

    fn is_text_of_width(&self, width: usize) -> bool {
        self.are_text_of_width(width)
    }

    #[inline]
    fn texts(&self, index: usize, scratch: &mut String, act: impl FnMut(&str)) {
        PageRows::texts(self, index, scratch, act);
    }
}

impl engine::Row for Row<'_> {
    fn width(&self) -> usize {
        self.len()
    }

    fn filled(&self) -> usize {
        self.ends.len()
    }

    fn line(&self) -> u64 {
        self.line
    }

    #[inline]
    fn cell<'c>(&'c self, index: usize, scratch: &'c mut String) -> Cell<'c> {
        Row::cell(self, index, scratch)
    }
}
