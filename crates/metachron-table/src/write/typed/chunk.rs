//! Some rows of a table, column by column, as bytes: what goes from the threads that
//! convert to the one that writes, and waits in a file where rows are sorted.
//!
//! A chunk is the number of its rows (32 bits), and for each column a byte a row, 1 where
//! its cell holds something, and the values: of a fixed width, or, for text, the end of
//! each (32 bits) and all of them behind each other. All numbers are little-endian.

use super::column_type::{ColumnType, Stored};

/// Cells of one column.
#[derive(Clone, Debug, Default)]
pub(crate) struct ColumnCells {
    filled: Vec<u8>,
    /// Values of a fixed width, or where each text ends.
    values: Vec<u8>,
    texts: Vec<u8>,
}

/// How wide the values of a column are, in bytes; of text, its ends.
pub(crate) fn width(of: ColumnType) -> usize {
    match of {
        ColumnType::Unknown => 0,
        ColumnType::Boolean => 1,
        ColumnType::Date | ColumnType::Text | ColumnType::Postgres(_) => 4,
        ColumnType::Decimal(_) => 16,
        ColumnType::Integer
        | ColumnType::Real
        | ColumnType::Float
        | ColumnType::Time(_)
        | ColumnType::DateTime(_)
        | ColumnType::Instant(_)
        | ColumnType::Duration(_) => 8,
    }
}

/// Whether the values are text.
pub(crate) fn is_text(of: ColumnType) -> bool {
    matches!(of, ColumnType::Text | ColumnType::Postgres(_))
}

impl ColumnCells {
    /// Puts a cell behind the others; a text is `text`.
    #[inline]
    pub fn push(&mut self, value: Stored, text: &str) {
        self.filled.push(1);
        match value {
            Stored::Boolean(truth) => self.values.push(truth.into()),
            Stored::I32(number) => self.values.extend_from_slice(&number.to_le_bytes()),
            Stored::I64(number) => self.values.extend_from_slice(&number.to_le_bytes()),
            Stored::I128(number) => self.values.extend_from_slice(&number.to_le_bytes()),
            Stored::F64(number) => self.values.extend_from_slice(&number.to_le_bytes()),
            Stored::Text => self.put_text(text),
        }
    }

    /// Puts a text behind the others.
    #[inline]
    pub fn push_text(&mut self, text: &str) {
        self.filled.push(1);
        self.put_text(text);
    }

    #[inline]
    fn put_text(&mut self, text: &str) {
        self.texts.extend_from_slice(text.as_bytes());
        self.end_text();
    }

    #[inline]
    fn end_text(&mut self) {
        let end = self.texts.len() as u32;
        self.values.extend_from_slice(&end.to_le_bytes());
    }

    /// Puts a cell behind the others that holds nothing.
    #[inline]
    pub fn push_blank(&mut self, of: ColumnType) {
        self.filled.push(0);
        if is_text(of) {
            self.end_text();
        } else {
            let len = self.values.len();
            self.values.resize(len + width(of), 0);
        }
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.filled.len()
    }

    /// Moves the cells to `out`.
    fn drain_to(&mut self, out: &mut Vec<u8>) {
        for part in [&mut self.filled, &mut self.values, &mut self.texts] {
            out.append(part);
        }
    }
}

/// Appends the cells of all columns as one chunk, and takes them away.
pub(crate) fn write_chunk(columns: &mut [ColumnCells], out: &mut Vec<u8>) {
    let rows = columns.first().map_or(0, ColumnCells::len);
    if rows == 0 {
        return;
    }
    out.extend_from_slice(&(rows as u32).to_le_bytes());
    for column in columns {
        column.drain_to(out);
    }
}

/// The cells of one column of a chunk.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct ColumnView<'c> {
    /// 1 where a cell holds something.
    pub filled: &'c [u8],
    /// Values of a fixed width, or where each text ends.
    pub values: &'c [u8],
    pub texts: &'c [u8],
}

/// A cell of a chunk.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum CellView<'c> {
    Blank,
    Boolean(bool),
    Integer(i64),
    Real(f64),
    /// So many units of so many decimals.
    Decimal(i128, u8),
    Text(&'c str),
}

impl<'c> ColumnView<'c> {
    /// The bytes of a value that is not text.
    #[inline]
    fn value<const N: usize>(&self, row: usize) -> [u8; N] {
        let bytes = self
            .values
            .get(row * N..)
            .and_then(|rest| rest.first_chunk());
        *bytes.unwrap_or_else(|| unreachable!("a chunk is whole"))
    }

    /// The end of a text.
    #[inline]
    fn end(&self, row: usize) -> usize {
        u32::from_le_bytes(self.value(row)) as usize
    }

    /// The cell of a row, in a column of this type, which holds no dates and no counts.
    pub fn cell(&self, of: ColumnType, row: usize) -> CellView<'c> {
        if self.filled[row] == 0 {
            return CellView::Blank;
        }
        match of {
            ColumnType::Boolean => CellView::Boolean(self.value::<1>(row) != [0]),
            ColumnType::Integer => CellView::Integer(i64::from_le_bytes(self.value(row))),
            ColumnType::Decimal(scale) => {
                CellView::Decimal(i128::from_le_bytes(self.value(row)), scale)
            }
            ColumnType::Real | ColumnType::Float => {
                CellView::Real(f64::from_le_bytes(self.value(row)))
            }
            _ => {
                let start = row.checked_sub(1).map_or(0, |before| self.end(before));
                let text = std::str::from_utf8(&self.texts[start..self.end(row)]);
                CellView::Text(text.unwrap_or_else(|_| unreachable!("texts are UTF-8")))
            }
        }
    }
}

/// Takes a chunk of columns of these types from the start of `bytes`: how many rows it has,
/// and the cells of each column.
pub(crate) fn read_chunk<'c>(
    bytes: &mut &'c [u8],
    types: &[ColumnType],
    columns: &mut Vec<ColumnView<'c>>,
) -> Option<usize> {
    columns.clear();
    if bytes.is_empty() {
        return None;
    }
    let mut take = |len: usize| {
        let (taken, rest) = bytes.split_at(len);
        *bytes = rest;
        taken
    };
    let rows = ColumnView {
        values: take(4),
        ..ColumnView::default()
    };
    let rows = rows.end(0);
    for &of in types {
        let mut column = ColumnView {
            filled: take(rows),
            values: take(rows * width(of)),
            texts: &[],
        };
        if is_text(of) {
            column.texts = take(column.end(rows - 1));
        }
        columns.push(column);
    }
    Some(rows)
}
