//! What can go wrong with a table.

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
        "{file} is not text: it has a NUL byte at offset {offset}. If it is a workbook, save \
         the sheet as CSV; if it is text all the same, name its encoding with --encoding \
         (utf-16le, say)"
    )]
    Binary {
        /// The file.
        file: String,
        /// Where the first NUL stands.
        offset: usize,
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
