//! A span of whole rows, ready to go to a thread.

use super::buffer::Buffer;
use super::{Dialect, Rows};
use crate::CellType;
use crate::TableError;
use metachron_core::engine::BlockStart;

/// A span of whole rows of one file.
#[derive(Debug)]
pub struct Block {
    /// UTF-8, if the file keeps what it promises.
    pub(super) bytes: Buffer,
    pub(super) dialect: Dialect,
    pub(super) line: u64,
    pub(super) source: usize,
    pub(super) name: std::sync::Arc<str>,
    /// What the cells of a sheet are, row by row.
    pub(super) types: Option<Types>,
}

/// What the cells of a sheet's rows are. A row ends with its last cell that holds
/// something, and has as many as the sheet is wide all the same: of a sheet with one
/// cell far to the right, what is not there takes no memory.
#[derive(Clone, Debug, Default)]
pub(crate) struct Types {
    cells: Vec<CellType>,
    /// How many cells stand before the end of each row.
    ends: Vec<usize>,
    /// How many cells the sheet is wide.
    pub width: usize,
}

impl Types {
    /// Of rows of a sheet that is so many cells wide.
    pub fn new(width: usize) -> Types {
        Types {
            width,
            ..Types::default()
        }
    }

    /// Puts the next row behind those that are there.
    pub fn push(&mut self, row: impl Iterator<Item = CellType>) {
        self.cells.extend(row);
        self.ends.push(self.cells.len());
    }

    /// What the cells of a row are, as far as it goes.
    pub fn of(&self, row: usize) -> &[CellType] {
        let start = row
            .checked_sub(1)
            .map_or(Some(0), |before| self.ends.get(before).copied());
        match (start, self.ends.get(row)) {
            (Some(start), Some(&end)) => &self.cells[start..end],
            _ => &[],
        }
    }
}

impl Block {
    /// A span of rows of a sheet, with the types of their cells.
    pub(crate) fn of_sheet(
        bytes: Vec<u8>,
        types: Types,
        line: u64,
        source: usize,
        name: std::sync::Arc<str>,
    ) -> Block {
        Block {
            bytes: bytes.into(),
            dialect: Dialect::default(),
            line,
            source,
            name,
            types: Some(types),
        }
    }

    /// The rows.
    ///
    /// # Errors
    ///
    /// Where the bytes are not UTF-8.
    pub fn rows(&self) -> Result<Rows<'_>, TableError> {
        match std::str::from_utf8(&self.bytes) {
            Ok(text) => Ok(Rows::of_block(text, self)),
            Err(error) => {
                let before = &self.bytes[..error.valid_up_to()];
                Err(TableError::Encoding {
                    file: self.name.to_string(),
                    line: self.line + memchr::memchr_iter(b'\n', before).count() as u64,
                    encoding: "UTF-8",
                })
            }
        }
    }

    /// Where it stands.
    pub fn start(&self) -> BlockStart {
        BlockStart {
            file: self.source,
            line: self.line,
        }
    }

    /// Its size in bytes.
    pub fn len(&self) -> usize {
        self.bytes.len()
    }

    /// Whether it holds nothing. No block that is read does.
    pub fn is_empty(&self) -> bool {
        self.bytes.is_empty()
    }
}
