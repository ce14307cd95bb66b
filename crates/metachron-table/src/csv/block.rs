//! A span of whole rows, ready to go to a thread.

use super::buffer::Buffer;
use super::{Dialect, Rows};
use crate::TableError;
use crate::workbook::CellType;
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

/// What the cells of a sheet are, row by row.
#[derive(Clone, Debug)]
pub(super) struct Types {
    pub cells: Vec<CellType>,
    pub width: usize,
}

impl Block {
    /// A span of rows of a sheet, each of `width` cells, with their types.
    pub(crate) fn of_sheet(
        bytes: Vec<u8>,
        cells: Vec<CellType>,
        width: usize,
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
            types: Some(Types { cells, width }),
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
