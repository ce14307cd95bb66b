//! What the engine asks of a table: blocks of rows, and their cells.

use crate::cell::Cell;

/// Rows of one file that follow each other. A line with nothing on it is a
/// row without cells.
pub trait Rows {
    /// Some of the rows, as many as are at hand at once.
    type Page<'p>: Page
    where
        Self: 'p;

    /// The next rows; `None` behind the last.
    fn next_page(&mut self) -> Option<Self::Page<'_>>;
}

/// Some rows that are at hand at once.
pub trait Page {
    /// One of them.
    type Row: Row;

    /// The rows, in order; as often as they are asked for.
    fn rows(&self) -> impl Iterator<Item = Self::Row>;

    /// How many there are.
    fn count(&self) -> usize;

    /// Whether every row has so many cells, and all of them are text.
    fn is_text_of_width(&self, width: usize) -> bool;

    /// Hands every row's text of the column at `index` to `act`, where
    /// [`Page::is_text_of_width`] says that there is one.
    fn texts(&self, index: usize, scratch: &mut String, act: impl FnMut(&str));
}

/// A row of a table.
pub trait Row {
    /// How many cells it has.
    fn width(&self) -> usize;

    /// How many of its cells may hold something: those behind them do not.
    fn filled(&self) -> usize {
        self.width()
    }

    /// The line of its file that it starts on, from 1.
    fn line(&self) -> u64;

    /// The cell at `index`; the empty text where the row is too short.
    /// `scratch` is used where the cell's text has to be made first.
    fn cell<'c>(&'c self, index: usize, scratch: &'c mut String) -> Cell<'c>;
}

/// Where a block of rows stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct BlockStart {
    /// Which of the table's files it is from, from 0.
    pub file: usize,
    /// The line that its first row starts on, from 1.
    pub line: u64,
}

/// Hands every row of a block that is one to `act`, with its number from 0;
/// says how many there are. A line with nothing on it is a row only where
/// rows have one cell.
pub(super) fn each_row(
    mut rows: impl Rows,
    width: usize,
    mut act: impl FnMut(&dyn Row, u64),
) -> u64 {
    let mut number = 0;
    while let Some(page) = rows.next_page() {
        for row in page.rows().filter(|row| is_row(row, width)) {
            act(&row, number);
            number += 1;
        }
    }
    number
}

/// Whether a line holds a row of a table of so many columns.
#[inline]
pub(super) fn is_row(row: &(impl Row + ?Sized), width: usize) -> bool {
    row.width() > 0 || width <= 1
}

/// Rows that are shorter or longer than the header.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Ragged {
    /// How many there are.
    pub rows: u64,
    /// The first few.
    pub first: Vec<RaggedRow>,
}

/// A row that is shorter or longer than the header.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct RaggedRow {
    /// Which file, from 0.
    pub file: usize,
    /// The line it starts on.
    pub line: u64,
    /// How many cells it has.
    pub cells: usize,
}

impl Ragged {
    const KEPT: usize = 5;

    /// Takes a row of a table of `width` columns, which may be one of them.
    #[inline]
    pub(super) fn check(&mut self, row: &(impl Row + ?Sized), width: usize, file: usize) {
        if row.width() != width && row.width() > 0 {
            self.add(RaggedRow {
                file,
                line: row.line(),
                cells: row.width(),
            });
        }
    }

    #[cold]
    fn add(&mut self, row: RaggedRow) {
        self.rows += 1;
        if self.first.len() < Ragged::KEPT {
            self.first.push(row);
        }
    }

    /// Puts those of `later` rows behind these.
    pub fn merge(&mut self, later: Ragged) {
        self.rows += later.rows;
        let room = Ragged::KEPT - self.first.len();
        self.first.extend(later.first.into_iter().take(room));
    }
}

/// Rows of text in memory.
///
/// ```
/// use metachron_core::engine::{Page, Rows, TextRows};
///
/// let table = [vec!["31/12/2024", "vase"], vec!["05/01/2025", "lamp"]];
/// let mut rows = TextRows::new(&table);
/// assert_eq!(rows.next_page().expect("there are rows").count(), 2);
/// assert!(rows.next_page().is_none());
/// ```
#[derive(Clone, Copy, Debug)]
pub struct TextRows<'t, S> {
    rows: Option<&'t [Vec<S>]>,
}

/// All rows of a [`TextRows`].
#[derive(Clone, Copy, Debug)]
pub struct TextPage<'t, S>(&'t [Vec<S>]);

/// A row of a [`TextRows`].
#[derive(Clone, Copy, Debug)]
pub struct TextRow<'t, S> {
    cells: &'t [S],
    line: u64,
}

impl<'t, S> TextRows<'t, S> {
    /// These rows, the first of which is line 1.
    pub fn new(rows: &'t [Vec<S>]) -> TextRows<'t, S> {
        TextRows {
            rows: Some(rows).filter(|rows| !rows.is_empty()),
        }
    }
}

impl<'t, S: AsRef<str>> Rows for TextRows<'t, S> {
    type Page<'p>
        = TextPage<'t, S>
    where
        Self: 'p;

    fn next_page(&mut self) -> Option<TextPage<'t, S>> {
        self.rows.take().map(TextPage)
    }
}

impl<'t, S: AsRef<str>> Page for TextPage<'t, S> {
    type Row = TextRow<'t, S>;

    fn rows(&self) -> impl Iterator<Item = TextRow<'t, S>> {
        let numbered = self.0.iter().zip(1..);
        numbered.map(|(cells, line)| TextRow { cells, line })
    }

    fn count(&self) -> usize {
        self.0.len()
    }

    fn is_text_of_width(&self, width: usize) -> bool {
        self.0.iter().all(|row| row.len() == width)
    }

    fn texts(&self, index: usize, _: &mut String, mut act: impl FnMut(&str)) {
        for row in self.0 {
            act(row[index].as_ref());
        }
    }
}

impl<S: AsRef<str>> Row for TextRow<'_, S> {
    fn width(&self) -> usize {
        self.cells.len()
    }

    fn line(&self) -> u64 {
        self.line
    }

    fn cell<'c>(&'c self, index: usize, _: &'c mut String) -> Cell<'c> {
        Cell::Text(self.cells.get(index).map_or("", AsRef::as_ref))
    }
}
