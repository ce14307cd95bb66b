//! Cutting a file into blocks of whole rows.

use super::buffer::{Buffer, Spares};
use super::{Block, Dialect, Layout};
use crate::encoding::{CHUNK, Utf8Reader};
use crate::{Source, TableError};
use std::sync::Arc;

/// The longest row that is read, in MiB. Beyond it, a quote is more likely left open
/// than meant.
pub(super) const LONGEST_ROW_MIB: usize = 32;

/// Reads a file of the CSV family, behind its header.
pub(crate) struct CsvReader {
    input: Utf8Reader,
    name: Arc<str>,
    dialect: Dialect,
    source: usize,
    /// What was read behind the last whole row.
    rest: Vec<u8>,
    spares: Spares,
    /// The line that the rest starts on.
    line: u64,
    ended: bool,
}

impl CsvReader {
    /// Opens file number `source` of a table and goes behind its header.
    pub(crate) fn open(
        source: &Source,
        number: usize,
        layout: &Layout,
    ) -> Result<CsvReader, TableError> {
        let mut reader = CsvReader {
            input: Utf8Reader::open(source, layout.encoding)?,
            name: source.name().into(),
            dialect: layout.dialect,
            source: number,
            rest: Vec::new(),
            spares: Spares::default(),
            line: 1,
            ended: false,
        };
        reader.skip(layout.data_offset)?;
        reader.line = layout.data_line;
        Ok(reader)
    }

    fn skip(&mut self, mut bytes: usize) -> Result<(), TableError> {
        let mut buffer = vec![0; CHUNK];
        while bytes > 0 {
            let read = self.input.read(&mut buffer)?;
            if read == 0 {
                return Ok(());
            }
            let skipped = read.min(bytes);
            bytes -= skipped;
            self.rest.extend_from_slice(&buffer[skipped..read]);
        }
        Ok(())
    }

    /// The next block; `None` at the end of the file.
    pub(crate) fn next_block(&mut self) -> Result<Option<Block>, TableError> {
        let mut bytes = self.spares.buffer();
        bytes.extend(&self.rest);
        self.rest.clear();
        let mut wanted = CHUNK;
        loop {
            self.fill(&mut bytes, wanted)?;
            let (mut end, open_quote) = self.dialect.last_row_end(&bytes);
            if self.ended {
                if let Some(open) = open_quote {
                    return Err(TableError::UnclosedQuote {
                        file: self.name.to_string(),
                        line: self.line + self.lines(&bytes[..open]),
                    });
                }
                end = bytes.len();
            }
            if end > 0 {
                self.rest.extend_from_slice(&bytes[end..]);
                bytes.truncate(end);
                let block = Block {
                    line: self.line,
                    dialect: self.dialect,
                    source: self.source,
                    name: self.name.clone(),
                    types: None,
                    bytes,
                };
                self.line += self.lines(&block.bytes);
                return Ok(Some(block));
            }
            if self.ended {
                return Ok(None);
            }
            if bytes.len() > LONGEST_ROW_MIB << 20 {
                return Err(TableError::RowTooLong {
                    file: self.name.to_string(),
                    line: self.line,
                    limit: LONGEST_ROW_MIB,
                });
            }
            wanted = bytes.len() * 2;
        }
    }

    /// Reads on until there are `wanted` bytes, or the file ends.
    fn fill(&mut self, bytes: &mut Buffer, wanted: usize) -> Result<(), TableError> {
        while bytes.len() < wanted && !self.ended {
            let read = self.input.read(bytes.room(wanted))?;
            self.ended = read == 0;
            bytes.grow(read);
        }
        Ok(())
    }

    fn lines(&self, bytes: &[u8]) -> u64 {
        memchr::memchr_iter(self.dialect.newline, bytes).count() as u64
    }
}
