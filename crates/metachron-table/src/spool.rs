//! The rows of a source in a temporary file, each with the types of its cells: of a source
//! that can only be read from its start to its end.

use crate::csv::{Block, Dialect, RowWriter, Types};
use crate::{CellType, Source, TableError};
use std::fs::File;
use std::io::{self, BufReader, BufWriter, Read, Seek, SeekFrom, Write};

/// Blocks are about this long, in bytes.
const BLOCK: usize = 256 << 10;

/// Blocks have about so many cells at most, those that hold nothing included: each is
/// written, a byte or more.
const CELLS_OF_BLOCK: usize = 4 << 20;

/// Writes rows: for each the length of its text, the text, the length of its
/// types and these, as [`CellType::encode`] writes them.
pub(crate) struct SpoolWriter {
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
    /// Whether a row that holds nothing is one all the same, as it is not in a sheet.
    keeps_blank_rows: bool,
}

/// The rows of a source.
#[derive(Debug)]
pub(crate) struct Spool {
    file: File,
    /// The most cells that a row has.
    pub width: usize,
    /// How many rows hold something.
    pub filled: u64,
    /// The size in bytes.
    pub size: u64,
    keeps_blank_rows: bool,
}

impl SpoolWriter {
    pub(crate) fn new() -> io::Result<SpoolWriter> {
        Ok(SpoolWriter {
            file: BufWriter::new(tempfile::tempfile()?),
            row: Vec::new(),
            types: Vec::new(),
            cells: 0,
            number: 0,
            width: 0,
            filled: 0,
            keeps_blank_rows: false,
        })
    }

    /// A writer of rows each of which is one, whatever it holds.
    pub(crate) fn of_rows_that_stay() -> io::Result<SpoolWriter> {
        Ok(SpoolWriter {
            keeps_blank_rows: true,
            ..SpoolWriter::new()?
        })
    }

    /// Ends the rows before `row`, as far as they have not ended.
    pub(crate) fn end_rows_before(&mut self, row: u32) -> io::Result<()> {
        while self.number < row {
            self.end_row()?;
        }
        Ok(())
    }

    /// Puts a cell; rows and cells come in order, but for those that hold
    /// nothing, which are left out.
    ///
    /// Says whether that is so; a damaged file may hold anything.
    pub(crate) fn cell(
        &mut self,
        (row, column): (u32, u32),
        text: &str,
        kind: CellType,
    ) -> io::Result<bool> {
        self.end_rows_before(row)?;
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

    /// The rows, which have so many cells at least.
    pub(crate) fn finish(mut self, least_width: usize) -> io::Result<Spool> {
        if self.cells > 0 {
            self.end_row()?;
        }
        let filled = self.filled;
        let mut file = self.file.into_inner().map_err(|error| error.into_error())?;
        let size = file.stream_position()?;
        Ok(Spool {
            file,
            width: self.width.max(least_width),
            filled,
            size,
            keeps_blank_rows: self.keeps_blank_rows,
        })
    }
}

/// Reads a spool row by row.
pub(crate) struct SpoolReader {
    file: BufReader<File>,
    /// The text of the row that was read last.
    pub row: Vec<u8>,
    /// Its types, as they stand in the spool.
    encoded: Vec<u8>,
}

impl Spool {
    /// A reader of the rows from line `first` on, of the file with this number.
    pub(crate) fn blocks(
        &self,
        source: &Source,
        number: usize,
        first: u64,
    ) -> Result<SpooledReader, TableError> {
        SpooledReader::open(self, source, number, first)
    }

    /// A reader from the first row on. One reads at a time: they share the
    /// place in the file.
    pub(crate) fn read(&self) -> io::Result<SpoolReader> {
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
    pub(crate) fn next(&mut self) -> io::Result<bool> {
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
    pub(crate) fn cells(&self) -> usize {
        self.types().count()
    }

    /// The types of the cells of the row that was read last.
    fn types(&self) -> impl Iterator<Item = CellType> {
        let mut rest = self.encoded.as_slice();
        std::iter::from_fn(move || CellType::decode(&mut rest))
    }
}

/// Reads the rows of a spool, behind its header, as blocks.
pub(crate) struct SpooledReader {
    rows: SpoolReader,
    name: std::sync::Arc<str>,
    source: usize,
    width: usize,
    keeps_blank_rows: bool,
    /// The row, from 1, that comes next.
    line: u64,
}

impl SpooledReader {
    pub(crate) fn open(
        spool: &Spool,
        source: &Source,
        number: usize,
        first_line: u64,
    ) -> Result<SpooledReader, TableError> {
        let mut reader = SpooledReader {
            rows: spool.read().map_err(TableError::io(source.name()))?,
            name: source.name().into(),
            source: number,
            width: spool.width,
            keeps_blank_rows: spool.keeps_blank_rows,
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

    /// The next block; `None` behind the last.
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
            if self.rows.row.is_empty() && self.keeps_blank_rows {
                // A line with nothing on it would be no row.
                if self.width > 1 {
                    bytes.push(Dialect::default().delimiter);
                } else {
                    RowWriter::new(Dialect::default()).only_blank(&mut bytes);
                }
            }
            bytes.push(b'\n');
            types.push(self.rows.types());
        }
        Ok((!bytes.is_empty())
            .then(|| Block::of_sheet(bytes, types, line, self.source, self.name.clone())))
    }
}
