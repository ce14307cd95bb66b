//! Tables in and out.
//!
//! A [`Table`] is one or several files with one header, read as one. It is
//! read in [`Block`]s of whole rows, which can go to threads; each cell is
//! the text that stands in the file, so that what is not converted can be
//! written as it came.
//!
//! ```
//! use metachron_table::{ReadOptions, Source, Table};
//!
//! let folder = tempfile::tempdir()?;
//! let path = folder.path().join("loans.csv");
//! std::fs::write(&path, "item;out\nvase;31/12/2024\n")?;
//!
//! let table = Table::open(vec![Source::file(&path)?], &ReadOptions::default())?;
//! assert_eq!(table.columns(), ["item", "out"]);
//! let mut blocks = table.read()?;
//! let block = blocks.next_block()?.expect("there is a row");
//! let mut rows = block.rows()?;
//! let row = rows.next_row().expect("there is a row");
//! assert_eq!(row.text(1, &mut String::new()), "31/12/2024");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

// Built without a format, what it alone needs is unused.
#![cfg_attr(
    not(all(
        feature = "compression",
        feature = "parquet",
        feature = "postgres",
        feature = "sqlite"
    )),
    allow(dead_code, unused_imports, unused_variables)
)]

mod cell_type;
#[cfg(feature = "arrow")]
mod columnar;
#[cfg(feature = "compression")]
mod compressed;
mod contained;
mod counts;
pub mod csv;
mod database;
mod encoding;
mod error;
mod header;
mod json;
mod read_options;
mod source;
mod source_format;
mod spool;
mod table;
pub mod temporary;
mod workbook;
mod write;

pub use cell_type::CellType;
#[cfg(feature = "arrow")]
pub use columnar::ColumnarFormat;
pub use csv::{Block, Dialect, PageRows, Row, Rows};
pub use database::{AddressError, DatabaseAddress};
pub use encoding::encoding_for_label;
pub use error::TableError;
pub use header::Header;
pub use read_options::ReadOptions;
pub use source::Source;
pub use source_format::SourceFormat;
pub use table::{OpenSheet, Table, TableReader, columns_difference};
pub use temporary::Temporary;
pub use workbook::{SheetInfo, WorkbookFormat};
pub use write::{
    ColumnProvenance, ColumnType, ColumnTypes, Commit, HeaderLine, IfExists, Others, OutFormat,
    Precision, Provenance, RowEncoder, RowEnds, SourceStyle, TableWriter, WriteError, Written,
};
