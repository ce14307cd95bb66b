//! Files of typed columns: Apache Arrow, as files and streams, and Apache Parquet.
//!
//! They are read a record batch at a time, as rows of text with a type next to each cell, as
//! sheets are. Dates, times and lengths of time are taken as they are; texts and numbers
//! are surveyed as in any table.

mod cells;
mod ipc;
#[cfg(feature = "parquet")]
mod parquet;

use crate::contained::contained;
use crate::csv::{Block, Dialect, Layout, RowWriter, Types};
use crate::{CellType, Header, Source, TableError};
use arrow_array::RecordBatch;
use arrow_schema::{ArrowError, Schema};
use cells::ColumnOfCells;
use std::io::ErrorKind;
use std::sync::Arc;

/// Blocks are about this long, in bytes.
const BLOCK: usize = 256 << 10;

/// The format of a file of typed columns.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ColumnarFormat {
    /// Record batches with an index (the IPC file format).
    Arrow,
    /// Record batches behind each other (the IPC streaming format).
    ArrowStream,
    /// Row groups of compressed columns.
    #[cfg(feature = "parquet")]
    Parquet,
}

impl ColumnarFormat {
    /// The format of a file that starts with these bytes.
    pub(crate) fn of(head: &[u8]) -> Option<ColumnarFormat> {
        match head {
            _ if head.starts_with(ipc::MAGIC) => Some(ColumnarFormat::Arrow),
            // A stream starts with the mark of a message and its length, whose upper bytes
            // are zero.
            [0xff, 0xff, 0xff, 0xff, _, _, _, 0, ..] => Some(ColumnarFormat::ArrowStream),
            #[cfg(feature = "parquet")]
            _ if head.starts_with(b"PAR1") => Some(ColumnarFormat::Parquet),
            _ => None,
        }
    }

    /// The name of the format.
    pub fn name(self) -> &'static str {
        match self {
            ColumnarFormat::Arrow | ColumnarFormat::ArrowStream => "Arrow",
            #[cfg(feature = "parquet")]
            ColumnarFormat::Parquet => "Parquet",
        }
    }
}

/// The record batches of a file, one after the other.
trait Batches: Send {
    fn schema(&self) -> Arc<Schema>;

    fn next(&mut self) -> Result<Option<RecordBatch>, ArrowError>;
}

fn batches(source: &Source, format: ColumnarFormat) -> Result<Box<dyn Batches>, TableError> {
    let damaged = |cause| damaged(source.name(), format, cause);
    let file = source.open()?;
    let opened = contained(|| -> Result<Box<dyn Batches>, ArrowError> {
        Ok(match format {
            ColumnarFormat::Arrow => Box::new(ipc::Messages::of_file(file)?),
            ColumnarFormat::ArrowStream => Box::new(ipc::Messages::of_stream(file)?),
            #[cfg(feature = "parquet")]
            ColumnarFormat::Parquet => Box::new(parquet::RowGroups::open(file)?),
        })
    });
    opened.unwrap_or_else(|| Err(panicked())).map_err(damaged)
}

/// What stands for a panic of a reader that believes what a file states.
fn panicked() -> ArrowError {
    ArrowError::ParseError("a length or a place that it states leads nowhere".to_owned())
}

fn damaged(file: &str, format: ColumnarFormat, cause: ArrowError) -> TableError {
    match cause {
        ArrowError::IoError(_, cause) if cause.kind() != ErrorKind::UnexpectedEof => {
            TableError::io(file)(cause)
        }
        cause => TableError::Damaged {
            file: file.to_owned(),
            format: format.name(),
            cause: cause.to_string(),
        },
    }
}

/// Finds out which columns the file has.
pub(crate) fn layout(source: &Source, format: ColumnarFormat) -> Result<Layout, TableError> {
    let schema = batches(source, format)?.schema();
    let names: Vec<String> = cells::names(&schema).map_err(|column| TableError::NestedColumn {
        file: source.name().to_owned(),
        column,
    })?;
    if names.is_empty() {
        return Err(TableError::Empty {
            file: source.name().to_owned(),
        });
    }
    Ok(Layout {
        types: cells::types(&schema),
        ..Layout::of_schema(Header::of_schema(&names))
    })
}

/// Reads the rows of a file of typed columns as blocks.
pub(crate) struct ColumnarReader {
    batches: Box<dyn Batches>,
    format: ColumnarFormat,
    name: Arc<str>,
    source: usize,
    /// The batch that is being read, and its next row.
    batch: Option<(Vec<ColumnOfCells>, usize, usize)>,
    /// The row of the file, from 1, that comes next.
    line: u64,
}

impl ColumnarReader {
    pub(crate) fn open(
        source: &Source,
        number: usize,
        format: ColumnarFormat,
    ) -> Result<ColumnarReader, TableError> {
        Ok(ColumnarReader {
            batches: batches(source, format)?,
            format,
            name: source.name().into(),
            source: number,
            batch: None,
            line: 1,
        })
    }

    /// The next block; `None` at the end of the file.
    pub(crate) fn next_block(&mut self) -> Result<Option<Block>, TableError> {
        loop {
            if let Some((columns, row, rows)) = &mut self.batch
                && row < rows
            {
                let from = *row;
                let (bytes, types) = write_rows(columns, row, *rows);
                let line = self.line;
                self.line += (*row - from) as u64;
                let name = self.name.clone();
                return Ok(Some(Block::of_sheet(bytes, types, line, self.source, name)));
            }
            let batches = &mut self.batches;
            let next = contained(|| {
                let batch = batches.next()?;
                Ok(batch.map(|batch| (ColumnOfCells::all(&batch), 0, batch.num_rows())))
            });
            let next = next.unwrap_or_else(|| Err(panicked()));
            self.batch = next.map_err(|cause| damaged(&self.name, self.format, cause))?;
            if self.batch.is_none() {
                return Ok(None);
            }
        }
    }
}

/// Writes rows of a batch from `row` on as text, until they make a block.
fn write_rows(columns: &[ColumnOfCells], row: &mut usize, rows: usize) -> (Vec<u8>, Types) {
    let writer = RowWriter::new(Dialect::default());
    let mut bytes = Vec::with_capacity(BLOCK + BLOCK / 8);
    let mut types = Types::new(columns.len());
    let mut text = String::new();
    while *row < rows && bytes.len() < BLOCK {
        let start = bytes.len();
        types.push(columns.iter().enumerate().map(|(index, column)| {
            let of = column.put(*row, &mut text);
            writer.cell(index, &text, &mut bytes);
            if text.is_empty() { CellType::Empty } else { of }
        }));
        if bytes.len() == start {
            writer.only_blank(&mut bytes);
        }
        bytes.push(b'\n');
        *row += 1;
    }
    (bytes, types)
}
