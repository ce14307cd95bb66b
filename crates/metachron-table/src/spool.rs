//! The rows of a sheet in a temporary file.

use super::CellType;
use crate::csv::{Block, Dialect, RowWriter, Types};
use crate::{Source, TableError};
use std::fs::File;
use std::io::{self, BufReader, BufWriter, Read, Seek, SeekFrom, Write};

/// Blocks are about this long, in bytes.
const BLOCK: usize = 256 << 10;

/// Blocks have about so many cells at most, those that hold nothing included: each is
/// written, a byte or more.
const CELLS_OF_BLOCK: usize = 4 << 20;

/// No sheet has more rows than this, and more columns than [`MOST_COLUMNS`]
/// (ECMA-376 part 1 §18.3.1.73): a cell beyond them is damage, or meant to fill
/// the disk.
pub(super) const MOST_ROWS: u32 = 1 << 20;

/// See [`MOST_ROWS`].
pub(super) const MOST_COLUMNS: u32 = 1 << 14;

/// Writes rows: for each the length of its text, the text, the length of its
/// types and these, as [`CellType::encode`] writes them.
pub(super) struct SpoolWriter {
    file: BufWriter<File>,
    row: Vec<u8>,
    types: Vec<u8>,
    /// How many cells the row has so far.
    cells: usize,
    /// The row, from 0, that is being written.
    number: u32,
    /// The most cells that a row has.
    width: usize,
    /// How many rows hold something.
    filled: u64,
}

/// The rows of a sheet.
#[derive(Debug)]
pub(super) struct Spool {
    file: File,
    /// The most cells that a row has.
    pub width: usize,
    /// How many rows hold something.
    pub filled: u64,
    /// The size in bytes.
    pub size: u64,
}

impl SpoolWriter {
    pub(super) fn new() -> io::Result<SpoolWriter> {
        Ok(SpoolWriter {
            file: BufWriter::new(tempfile::tempfile()?),
            row: Vec::new(),
            types: Vec::new(),
            cells: 0,
            number: 0,
            width: 0,
            filled: 0,
        })
    }

    /// Puts a cell; rows and cells come in order, but for those that hold
    /// nothing, which are left out.
    ///
    /// Says whether that is so, and within a sheet; a damaged file may hold
    /// anything.
    pub(super) fn cell(
        &mut self,
        (row, column): (u32, u32),
        text: &str,
        kind: CellType,
    ) -> io::Result<bool> {
        if row >= MOST_ROWS || column >= MOST_COLUMNS {
            return Ok(false);
        }
        while self.number < row {
            self.end_row()?;
        }
        let column = column as usize;
        if row < self.number || column < self.cells {
            return Ok(false);
        }
        let writer = RowWriter::new(Dialect::default());
        while self.cells < column {
            writer.delimit(self.cells, &mut self.row);
            CellType::Empty.encode(&mut self.types);
            self.cells += 1;
        }
        writer.cell(column, text, &mut self.row);
        kind.encode(&mut self.types);
        self.cells += 1;
        self.width = self.width.max(self.cells);
        Ok(true)
    }

    fn end_row(&mut self) -> io::Result<()> {
        self.file
            .write_all(&(self.row.len() as u32).to_le_bytes())?;
        self.file.write_all(&self.row)?;
        self.file
            .write_all(&(self.types.len() as u32).to_le_bytes())?;
        self.file.write_all(&self.types)?;
        self.filled += u64::from(self.cells > 0);
        self.row.clear();
        self.types.clear();
        self.cells = 0;
        self.number += 1;
        Ok(())
    }

    pub(super) fn finish(mut self) -> io::Result<Spool> {
        if self.cells > 0 {
            self.end_row()?;
        }
        let filled = self.filled;
        let mut file = self.file.into_inner().map_err(|error| error.into_error())?;
        let size = file.stream_position()?;
        Ok(Spool {
            file,
            width: self.width,
            filled,
            size,
        })
    }
}

/// Reads a spool row by row.
pub(super) struct SpoolReader {
    file: BufReader<File>,
    /// The text of the row that was read last.
    pub row: Vec<u8>,
    /// Its types, as they stand in the spool.
    encoded: Vec<u8>,
}

impl Spool {
    /// A reader from the first row on. One reads at a time: they share the
    /// place in the file.
    pub(super) fn read(&self) -> io::Result<SpoolReader> {
        let mut file = self.file.try_clone()?;
        file.seek(SeekFrom::Start(0))?;
        Ok(SpoolReader {
            file: BufReader::with_capacity(BLOCK, file),
            row: Vec::new(),
            encoded: Vec::new(),
        })
    }
}

impl SpoolReader {
    /// Reads the next row; says whether there is one.
    pub(super) fn next(&mut self) -> io::Result<bool> {
        let mut len = [0; 4];
        match self.file.read_exact(&mut len) {
            Err(error) if error.kind() == io::ErrorKind::UnexpectedEof => return Ok(false),
            result => result?,
        }
        self.row.resize(u32::from_le_bytes(len) as usize, 0);
        self.file.read_exact(&mut self.row)?;
        self.file.read_exact(&mut len)?;
        self.encoded.resize(u32::from_le_bytes(len) as usize, 0);
        self.file.read_exact(&mut self.encoded)?;
        Ok(true)
    }

    /// How many cells the row that was read last has, up to the last that holds
    /// something.
    pub(super) fn cells(&self) -> usize {
        self.types().count()
    }

    /// The types of the cells of the row that was read last.
    fn types(&self) -> impl Iterator<Item = CellType> {
        let mut rest = self.encoded.as_slice();
        std::iter::from_fn(move || CellType::decode(&mut rest))
    }
}

/// Reads the rows of a sheet, behind its header, as blocks.
pub(crate) struct SheetReader {
    rows: SpoolReader,
    name: std::sync::Arc<str>,
    source: usize,
    width: usize,
    /// The row, from 1, that comes next.
    line: u64,
}

impl SheetReader {
    pub(super) fn open(
        spool: &Spool,
        source: &Source,
        number: usize,
        first_line: u64,
    ) -> Result<SheetReader, TableError> {
        let mut reader = SheetReader {
            rows: spool.read().map_err(TableError::io(source.name()))?,
            name: source.name().into(),
            source: number,
            width: spool.width,
            line: 1,
        };
        while reader.line < first_line && reader.next_row()? {}
        Ok(reader)
    }

    fn next_row(&mut self) -> Result<bool, TableError> {
        let found = self.rows.next().map_err(TableError::io(&self.name))?;
        self.line += u64::from(found);
        Ok(found)
    }

    /// The next block; `None` at the end of the sheet.
    pub(crate) fn next_block(&mut self) -> Result<Option<Block>, TableError> {
        let mut bytes = Vec::with_capacity(BLOCK + BLOCK / 8);
        let mut types = Types::new(self.width);
        let line = self.line;
        let mut cells = 0;
        while bytes.len() < BLOCK && cells < CELLS_OF_BLOCK && self.next_row()? {
            if !self.rows.row.is_empty() {
                cells += self.width;
            }
            bytes.extend_from_slice(&self.rows.row);
            bytes.push(b'\n');
            types.push(self.rows.types());
        }
        Ok((!bytes.is_empty())
            .then(|| Block::of_sheet(bytes, types, line, self.source, self.name.clone())))
    }
}
