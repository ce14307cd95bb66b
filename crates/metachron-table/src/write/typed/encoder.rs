//! Rows as chunks of typed cells.

use super::chunk::{ColumnCells, write_chunk};
use super::column_type::{ColumnType, TypeRules, Value};
use super::{ColumnTypes, Needed, TypedColumns};
use crate::csv::{PageRows, Row};
use crate::write::{RowEncoder, rows_of_page};
use metachron_core::cell::Cell;
use metachron_core::row::{Origin, OutCell, OutPage, OutRow};

/// Encodes rows as chunks of typed cells, for columns that have one type each.
#[derive(Clone)]
pub(in crate::write) struct TypedEncoder {
    types: Vec<ColumnType>,
    rules: TypeRules,
    /// Whether the columns are those of the source, in their order.
    are_own: bool,
    /// What the columns need, as far as this thread knows, and as all do.
    own_needed: ColumnTypes,
    needed: Needed,
    cells: Vec<ColumnCells>,
    scratch: String,
    text: String,
}

impl TypedEncoder {
    pub(super) fn new(columns: &TypedColumns) -> TypedEncoder {
        let types = columns.types();
        let is_own = |(index, column): (usize, &super::TypedColumn)| {
            let origin = column.origin.as_ref().map(|column| column.origin);
            matches!(origin, Some(Origin::Source(own) | Origin::Converted(own)) if own == index)
        };
        TypedEncoder {
            are_own: columns.all().iter().enumerate().all(is_own),
            rules: columns.rules,
            own_needed: columns.needed.with(|needed| needed.clone()),
            needed: columns.needed.clone(),
            cells: vec![ColumnCells::default(); types.len()],
            types,
            scratch: String::new(),
            text: String::new(),
        }
    }

    /// Puts a cell into a column.
    #[inline]
    fn put(&mut self, column: usize, value: Value<'_>) {
        let Some(&of) = self.types.get(column) else {
            return self.need_columns(column + 1 - self.types.len());
        };
        match of.store(value, &mut self.text) {
            Some(stored) => self.cells[column].push(stored, &self.text),
            None => {
                self.need(column, value);
                self.cells[column].push_blank(of);
            }
        }
    }

    #[inline]
    fn put_blank(&mut self, column: usize) {
        if let Some(&of) = self.types.get(column) {
            self.cells[column].push_blank(of);
        }
    }

    /// Puts the cell that stands for a text file's, or an empty one.
    #[inline]
    fn put_text(&mut self, column: usize, text: &str) {
        match self.types.get(column) {
            _ if text.is_empty() => self.put_blank(column),
            Some(ColumnType::Text) => self.cells[column].push_text(text),
            _ => self.put(column, Value::Text(text)),
        }
    }

    /// Says that the column cannot hold a cell.
    #[cold]
    fn need(&mut self, column: usize, value: Value<'_>) {
        let own = &mut self.own_needed.types[column];
        if own.store(value, &mut self.text).is_some() {
            return;
        }
        let wider = own.join(self.rules.wider(*own, value));
        *own = wider;
        self.needed
            .with(|all| all.types[column] = all.types[column].join(wider));
    }

    /// Says that rows have so many cells more than there are columns.
    #[cold]
    fn need_columns(&mut self, more: usize) {
        if self.own_needed.more < more {
            self.own_needed.more = more;
            self.needed.with(|all| all.more = all.more.max(more));
        }
    }
}

/// The value of a cell of the source; `None` where it holds nothing.
fn value_of(cell: Cell<'_>) -> Option<Value<'_>> {
    Some(match cell {
        Cell::Text("") => return None,
        Cell::Text(text) | Cell::Error(text) => Value::Text(text),
        Cell::Number(text) => Value::Number(text),
        Cell::Boolean(truth) => Value::Boolean(truth),
        Cell::Stamp(stamp) => Value::Stamp(stamp),
    })
}

/// The value of a cell of ours, of which what is no stamp stands in `text`; `None` where
/// it holds nothing, or several of the source.
#[inline]
fn value_of_ours<'v>(cell: &OutCell, text: &'v [u8]) -> Option<Value<'v>> {
    let text_of = |range: &std::ops::Range<u32>| {
        let text = std::str::from_utf8(&text[range.start as usize..range.end as usize]);
        text.unwrap_or_else(|_| unreachable!("what is written is UTF-8"))
    };
    Some(match cell {
        OutCell::Source(_) | OutCell::Blank => return None,
        OutCell::Stamp(stamp) => Value::Stamp(*stamp),
        OutCell::Number(range) => Value::Number(text_of(range)),
        OutCell::Boolean(truth) => Value::Boolean(*truth),
        OutCell::Text(range) => Some(text_of(range))
            .filter(|text| !text.is_empty())
            .map(Value::Text)?,
    })
}

impl RowEncoder for TypedEncoder {
    fn fork(&self) -> Box<dyn RowEncoder> {
        Box::new(self.clone())
    }

    fn page(&mut self, source: &PageRows<'_>, page: &OutPage<'_>, out: &mut Vec<u8>) {
        if !self.are_own || !source.are_text_of_width(self.types.len()) {
            return rows_of_page(self, source, page, out);
        }
        let mut converted = page.columns.iter().peekable();
        let mut scratch = std::mem::take(&mut self.scratch);
        for column in 0..self.types.len() {
            match converted.next_if(|converted| converted.index == column) {
                Some(converted) => {
                    for cell in &converted.cells {
                        match value_of_ours(cell, page.text) {
                            Some(value) => self.put(column, value),
                            None => self.put_blank(column),
                        }
                    }
                }
                None => source.texts(column, &mut scratch, |text| self.put_text(column, text)),
            }
        }
        self.scratch = scratch;
        write_chunk(&mut self.cells, out);
    }

    fn row(&mut self, source: &Row<'_>, row: &OutRow<'_>, out: &mut Vec<u8>) {
        // A line with nothing on it is a row only where a row is one cell.
        if row.cells.is_empty() && source.is_empty() && self.types.len() > 1 {
            return;
        }
        let mut column = 0;
        let mut scratch = std::mem::take(&mut self.scratch);
        for cell in row.cells {
            if let OutCell::Source(cells) = cell {
                for own in cells.clone() {
                    match source.cell(own, &mut scratch) {
                        Cell::Text(text) => self.put_text(column, text),
                        typed => match value_of(typed) {
                            Some(value) => self.put(column, value),
                            None => self.put_blank(column),
                        },
                    }
                    column += 1;
                }
                continue;
            }
            match value_of_ours(cell, row.text) {
                Some(value) => self.put(column, value),
                None => self.put_blank(column),
            }
            column += 1;
        }
        self.scratch = scratch;
        for missing in column..self.types.len() {
            self.put_blank(missing);
        }
        write_chunk(&mut self.cells, out);
    }
}
