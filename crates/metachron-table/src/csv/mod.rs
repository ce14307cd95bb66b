//! The CSV family: cells between delimiters, rows between line ends.
//!
//! The rows are split here, and not by a package, because cells that no
//! ruling touches must be written as they came: quotes, spaces and line ends
//! included. For that, the index of each cell in the file must be known,
//! which packages do not tell. What the cells mean is checked against the
//! `csv` crate in this module's tests.

mod block;
mod buffer;
mod dialect;
mod page;
mod reader;
mod row;
mod separators;
mod sniff;
mod write;

pub use block::Block;
pub(crate) use block::Types;
pub use dialect::Dialect;
pub use row::{PageRows, Row, Rows};
pub use write::RowWriter;

pub(crate) use reader::CsvReader;
pub(crate) use sniff::{Layout, MOST_COLUMNS, sniff, sniff_head};

#[cfg(test)]
mod tests;
