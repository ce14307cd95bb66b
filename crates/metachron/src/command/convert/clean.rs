//! The clean table, as text or as a workbook.

use super::targets::Targets;
use crate::cli::OutFormat;
use crate::job::{Converted, Job};
use crate::output::{Output, SortedRow};
use anyhow::Context;
use metachron_table::csv::Rows;
use metachron_table::{Dialect, OutCell, SheetWriter};
use std::io::{self, Seek, SeekFrom};

/// What a workbook's sheet has room for (ECMA-376).
const ROOM: &str = "a sheet holds 1,048,576 rows, 16,384 columns and 32,767 characters a cell; \
                    write CSV, which has no limits";

/// Where the clean table goes.
pub struct Clean {
    dialect: Dialect,
    out: Output,
    to: To,
}

enum To {
    Text(Tail),
    Sheet(Box<SheetWriter>),
}

impl Clean {
    /// The clean table in `out`, whose rows are handed over in `dialect`.
    pub fn new(
        targets: &Targets,
        job: &Job<'_>,
        dialect: Dialect,
        out: Output,
    ) -> anyhow::Result<Clean> {
        let to = match targets.format {
            Some(OutFormat::Xlsx) => To::Sheet(Box::new(SheetWriter::new(job.today)?)),
            _ => To::Text(Tail::default()),
        };
        Ok(Clean { dialect, out, to })
    }

    /// Puts the line of the names.
    pub fn header(&mut self, line: &[u8]) -> anyhow::Result<()> {
        match &mut self.to {
            To::Text(_) => self.out.put(line),
            To::Sheet(sheet) => {
                let text = String::from_utf8_lossy(line);
                let mut rows = Rows::new(&text, self.dialect, 1);
                while let Some(row) = rows.next_row() {
                    sheet.row(&row, &vec![OutCell::Text; row.len()])?;
                }
                Ok(())
            }
        }
    }

    /// Puts the rows of a block.
    pub fn block(&mut self, block: &Converted) -> anyhow::Result<()> {
        match &mut self.to {
            To::Text(tail) => {
                tail.before(block, self.dialect, &mut self.out)?;
                self.out.put(&block.bytes)
            }
            To::Sheet(sheet) => {
                let text = String::from_utf8_lossy(&block.bytes);
                let mut rows = Rows::new(&text, self.dialect, 1);
                let mut cells = block.cells.iter();
                while let Some(row) = rows.next_row() {
                    let cells = match row.is_empty() {
                        true => &[][..],
                        false => cells.next().map_or(&[][..], Vec::as_slice),
                    };
                    sheet.row(&row, cells).context(ROOM)?;
                }
                Ok(())
            }
        }
    }

    /// Puts a row from among sorted ones.
    pub fn row(&mut self, row: SortedRow<'_>) -> anyhow::Result<()> {
        match &mut self.to {
            To::Text(_) => self.out.put(row.bytes),
            To::Sheet(sheet) => {
                let text = String::from_utf8_lossy(row.bytes);
                let mut rows = Rows::new(&text, self.dialect, 1);
                while let Some(cells) = rows.next_row() {
                    sheet.row(&cells, &row.cells).context(ROOM)?;
                }
                Ok(())
            }
        }
    }

    /// Ends it; says how many stamps a workbook could only hold as text.
    pub fn finish(mut self) -> anyhow::Result<(Output, u64)> {
        let as_text = match self.to {
            To::Text(_) => 0,
            To::Sheet(sheet) => {
                let as_text = sheet.as_text;
                // A workbook is put together at its end, and may be large.
                let mut whole = tempfile::tempfile()?;
                sheet.finish(&mut whole)?;
                whole.seek(SeekFrom::Start(0))?;
                io::copy(&mut whole, &mut self.out)?;
                as_text
            }
        };
        Ok((self.out, as_text))
    }
}

/// Sees to it that the last row of a file that ends without a line end, and
/// the first of the next, stay two.
#[derive(Default)]
struct Tail {
    source: usize,
    last: Option<u8>,
}

impl Tail {
    fn before(
        &mut self,
        block: &Converted,
        dialect: Dialect,
        out: &mut Output,
    ) -> anyhow::Result<()> {
        let is_new = std::mem::replace(&mut self.source, block.source) != block.source;
        if is_new && self.last.is_some_and(|last| last != dialect.newline) {
            out.put(dialect.line_end())?;
        }
        self.last = block.bytes.last().copied().or(self.last);
        Ok(())
    }
}
