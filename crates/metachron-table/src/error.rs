//! What can go wrong with a table.

use metachron_core::words;
use std::io;

/// A table that cannot be read. Every message names the file, the place and
/// the way out.
#[derive(Debug, thiserror::Error)]
pub enum TableError {
    /// The file cannot be opened or read.
    #[error("{file}: {cause}")]
    Io {
        /// The file.
        file: String,
        /// What the system says.
        cause: io::Error,
    },
    /// A folder, where a file is wanted.
    #[error("{file} is a folder; name the files in it")]
    Folder {
        /// The folder.
        file: String,
    },
    /// Nothing in it.
    #[error("{file} is empty: it has no header and no rows")]
    Empty {
        /// The file.
        file: String,
    },
    /// No text.
    #[error(
        "{file} is neither text nor of another format that is read (XLSX, XLSB, XLS, ODS, \
         Parquet, Arrow, SQLite): it has a NUL byte at offset {offset}. If it is text all the \
         same, name its encoding with --encoding (utf-16le, say)"
    )]
    Binary {
        /// The file.
        file: String,
        /// Where the first NUL stands.
        offset: usize,
    },
    /// A file of another format than text that cannot be read.
    #[error("{file} cannot be read as {format}, it may be damaged or cut off: {cause}")]
    Damaged {
        /// The file.
        file: String,
        /// The format.
        format: &'static str,
        /// What is wrong with it.
        cause: String,
    },
    /// A database that cannot be read.
    #[error("{database}: {cause}")]
    Database {
        /// Where it is, without a password.
        database: String,
        /// What is wrong.
        cause: String,
    },
    /// A column whose cells are no single values.
    #[error(
        "{file}: column `{column}` holds lists, maps or the like, which no cell of a table can; \
         leave it out, or make columns of its parts first"
    )]
    NestedColumn {
        /// The file.
        file: String,
        /// The column.
        column: String,
    },
    /// A workbook that wants a password.
    #[error("{file} is protected by a password; save it without one, and try again")]
    Protected {
        /// The file.
        file: String,
    },
    /// A part of a workbook that asks for too much.
    #[error(
        "{file} is not opened: its part {part} asks for too much: {cause}. Save the sheet as CSV, \
         which is read at any size"
    )]
    PartTooLarge {
        /// The file.
        file: String,
        /// The part.
        part: String,
        /// What is too much.
        cause: String,
    },
    /// A compressed file that fills the disk.
    #[error(
        "{file} grows to more than {times} times its size when it is decompressed; if that is \
         right, decompress it first"
    )]
    GrowsTooMuch {
        /// The file.
        file: String,
        /// How much is too much.
        times: u64,
    },
    /// No sheet is called so, or no table of a database.
    #[error("{file} has no {part} `{wanted}`; there are {sheets}")]
    NoSuchSheet {
        /// The file.
        file: String,
        /// What there is none of.
        part: &'static str,
        /// What was asked for.
        wanted: String,
        /// The sheets there are.
        sheets: String,
    },
    /// Nothing in any sheet that can be seen.
    #[error(
        "{file}: no sheet that is shown holds anything, of {looked_into} looked into; there are \
         {sheets}. Name another with --sheet"
    )]
    EmptyWorkbook {
        /// The file.
        file: String,
        /// How many were looked into.
        looked_into: usize,
        /// The sheets there are.
        sheets: String,
    },
    /// A sheet is asked for, of a file that has none.
    #[error("{file} is read as {format} and has no sheets; leave out --sheet")]
    NoSheets {
        /// The file.
        file: String,
        /// The format.
        format: &'static str,
    },
    /// Bytes that the encoding does not have.
    #[error(
        "{file}, line {line}: bytes that {encoding} does not have; name the right encoding \
         with --encoding (windows-1252, say)"
    )]
    Encoding {
        /// The file.
        file: String,
        /// The line, from 1.
        line: u64,
        /// The encoding that was used.
        encoding: &'static str,
    },
    /// A quoted cell that does not end.
    #[error(
        "{file}, line {line}: the quote that opens here is never closed; close it, or read \
         quotes as plain characters with --quote none"
    )]
    UnclosedQuote {
        /// The file.
        file: String,
        /// The line, from 1.
        line: u64,
    },
    /// A row too long to hold.
    #[error(
        "{file}, line {line}: a row of more than {limit} MiB starts here; if a quote that \
         opens in it is never closed, close it, or read quotes as plain characters with \
         --quote none"
    )]
    RowTooLong {
        /// The file.
        file: String,
        /// The line, from 1.
        line: u64,
        /// How many MiB a row may have.
        limit: usize,
    },
    /// More columns than a table may have.
    #[error(
        "{file}, line {line}: {} cells; a table has at most {} columns. If they are cut at the \
         wrong character, name the right one with --delimiter; else leave out columns first",
        words::number(*cells as u64),
        words::number(*most as u64)
    )]
    TooManyColumns {
        /// The file.
        file: String,
        /// The line, from 1.
        line: u64,
        /// How many cells it has.
        cells: usize,
        /// How many columns a table may have.
        most: usize,
    },
    /// The header line that was declared is not there.
    #[error("{file} has {lines} lines, so its header cannot be on line {wanted}")]
    NoSuchLine {
        /// The file.
        file: String,
        /// The line that was declared.
        wanted: u32,
        /// How many lines there are.
        lines: u32,
    },
    /// Files that are not one table.
    #[error("{file} has other columns than {first}: {difference}; give only files with one header")]
    OtherColumns {
        /// The file.
        file: String,
        /// The first file.
        first: String,
        /// What differs.
        difference: String,
    },
    /// A label that names no encoding.
    #[error(
        "no encoding is called `{0}`; use a label of the WHATWG Encoding Standard, such as utf-8, utf-16le or windows-1252"
    )]
    NoSuchEncoding(String),
}

impl TableError {
    pub(crate) fn io(file: &str) -> impl Fn(io::Error) -> TableError + '_ {
        |cause| TableError::Io {
            file: file.to_owned(),
            cause,
        }
    }
}
