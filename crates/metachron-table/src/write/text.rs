//! Clean tables as text of the CSV family.

use super::{
    HeaderLine, Provenance, RowEncoder, RowEnds, SourceStyle, TableWriter, WriteError, Written,
    rows_of_page,
};
use crate::csv::{Dialect, PageRows, Row, RowWriter};
use metachron_core::row::{Origin, OutCell, OutPage, OutRow, Schema};
use std::io::Write;
use std::ops::Range;

/// Writes text in one dialect. Cells that are passed through are written as
/// they came.
pub(super) struct TextWriter<W> {
    source: SourceStyle,
    dialect: Dialect,
    out: W,
    /// The file of the rows that were written last, and their last byte.
    file: usize,
    last: Option<u8>,
}

impl<W: Write> TextWriter<W> {
    pub(super) fn new(source: SourceStyle, dialect: Dialect, out: W) -> TextWriter<W> {
        TextWriter {
            source,
            dialect,
            out,
            file: 0,
            last: None,
        }
    }
}

impl<W: Write> TableWriter<W> for TextWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let mut line = Vec::new();
        if self.source.has_utf8_mark {
            line.extend_from_slice("\u{feff}".as_bytes());
        }
        if let Some(header) = &self.source.header {
            let is_own = self.dialect.reads_alike(&self.source.dialect);
            if is_own && keeps_columns(schema, header) {
                line.extend_from_slice(header.raw.as_bytes());
            } else {
                let writer = RowWriter::new(self.dialect);
                for (index, column) in schema.columns.iter().enumerate() {
                    writer.cell(index, &column.header, &mut line);
                }
                writer.end(&mut line);
            }
        }
        Ok(self.out.write_all(&line)?)
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        Box::new(TextEncoder {
            writer: RowWriter::new(self.dialect),
            row_ends: self.source.row_ends,
        })
    }

    fn write(&mut self, rows: &[u8], file: usize) -> Result<(), WriteError> {
        // The last row of a file that ends without a line end, and the first
        // of the next, stay two.
        let is_new = std::mem::replace(&mut self.file, file) != file;
        let Dialect { newline, .. } = self.dialect;
        if is_new && self.last.is_some_and(|last| last != newline) {
            self.out.write_all(self.dialect.line_end())?;
        }
        self.last = rows.last().copied().or(self.last);
        Ok(self.out.write_all(rows)?)
    }

    fn finish(self: Box<Self>, _provenance: &Provenance) -> Result<Written<W>, WriteError> {
        Ok(Written::new(self.out))
    }
}

/// Whether the clean table has the columns of the source, under their names.
fn keeps_columns(schema: &Schema, header: &HeaderLine) -> bool {
    let is_own = |origin| matches!(origin, Origin::Source(_) | Origin::Converted(_));
    let mut columns = schema.columns.iter();
    columns.all(|column| is_own(column.origin))
        && schema.columns.len() == header.names.len()
        && schema
            .columns
            .iter()
            .zip(&header.names)
            .all(|(column, name)| column.name == *name)
}

/// Encodes rows in one dialect.
#[derive(Clone)]
struct TextEncoder {
    writer: RowWriter,
    row_ends: RowEnds,
}

impl TextEncoder {
    /// Appends a cell that is not of the source. Texts and numbers stand in `text`.
    #[inline(always)]
    fn cell(&self, cell: &OutCell, text: &[u8], out: &mut Vec<u8>) {
        let writer = &self.writer;
        let text_of = |range: &Range<u32>| &text[range.start as usize..range.end as usize];
        match cell {
            OutCell::Source(_) | OutCell::Blank => {}
            OutCell::Stamp(stamp) => {
                let start = out.len();
                stamp.write_iso(out);
                writer.quote_plain(start, out);
            }
            OutCell::Number(range) => writer.plain_cell(text_of(range), out),
            OutCell::Boolean(true) => writer.plain_cell(b"true", out),
            OutCell::Boolean(false) => writer.plain_cell(b"false", out),
            OutCell::Text(range) => writer.text_cell(text_of(range), out),
        }
    }
}

impl RowEncoder for TextEncoder {
    fn fork(&self) -> Box<dyn RowEncoder> {
        Box::new(self.clone())
    }

    /// All between two converted cells, line ends included, is copied at once.
    fn page(&mut self, source: &PageRows<'_>, page: &OutPage<'_>, out: &mut Vec<u8>) {
        let is_alike = self.writer.reads_alike(source.dialect());
        if !is_alike || self.row_ends != RowEnds::AsInSource {
            return rows_of_page(self, source, page, out);
        }
        let is_only_column = source.are_text_of_width(1);
        let Range {
            start: mut from,
            end,
        } = source.offsets();
        for number in 0..source.len() {
            for column in page.columns {
                let (clean, cell) = (&column.cells[number], source.place(number, column.index));
                out.extend_from_slice(&source.bytes()[from..cell.start]);
                self.cell(clean, page.text, out);
                if is_only_column && *clean == OutCell::Blank {
                    self.writer.only_blank(out);
                }
                from = cell.end;
            }
        }
        out.extend_from_slice(&source.bytes()[from..end]);
    }

    fn row(&mut self, source: &Row<'_>, row: &OutRow<'_>, out: &mut Vec<u8>) {
        let writer = &self.writer;
        if row.cells.is_empty() && self.row_ends == RowEnds::Always && source.is_empty() {
            // A line with nothing on it has no place among sorted rows.
            return;
        }
        let start = out.len();
        for (number, cell) in row.cells.iter().enumerate() {
            writer.delimit(number, out);
            match cell {
                OutCell::Source(cells) => writer.copy(source, cells.clone(), out),
                made => self.cell(made, row.text, out),
            }
        }
        if out.len() == start && !row.cells.is_empty() {
            writer.only_blank(out);
        }
        match self.row_ends {
            RowEnds::AsInSource => writer.end_like(source, out),
            RowEnds::Always => writer.end(out),
        }
    }
}
