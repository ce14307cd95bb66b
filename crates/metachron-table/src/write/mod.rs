//! Clean tables out: one file for each format.
//!
//! A [`TableWriter`] begins with the schema, takes encoded rows in order and
//! is finished, or dropped, which leaves nothing behind. Its [`RowEncoder`]s
//! turn typed rows into what it takes, one on each thread. To add a format,
//! add a file here, a variant to [`OutFormat`] and an arm to
//! [`OutFormat::writer`].

#[cfg(feature = "arrow")]
mod arrow;
mod jsonl;
#[cfg(feature = "parquet")]
mod parquet;
#[cfg(feature = "postgres")]
mod postgres;
mod postgres_table;
mod provenance;
mod sql;
#[cfg(feature = "sqlite")]
mod sqlite;
mod text;
mod typed;
mod workbook;

pub use provenance::{ColumnProvenance, Provenance};
pub use typed::{ColumnType, ColumnTypes, Others, Precision};

use crate::csv::{Dialect, PageRows, Row};
use crate::database::{DatabaseAddress, Server};
use jiff::civil::Date;
use metachron_core::row::{OutPage, OutRow, Schema};
use std::io::{self, Write};

/// The format of a clean table.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OutFormat {
    /// Cells between commas, or the source's own delimiter.
    Csv,
    /// Cells between tabs.
    Tsv,
    /// An Office Open XML workbook (ECMA-376).
    Xlsx,
    /// A JSON object for each row (RFC 8259), a row a line.
    JsonLines,
    /// Columns of values, compressed (Apache Parquet).
    #[cfg(feature = "parquet")]
    Parquet,
    /// Record batches with an index (Apache Arrow's IPC file format).
    #[cfg(feature = "arrow")]
    Arrow,
    /// Record batches behind each other (Apache Arrow's IPC streaming format).
    #[cfg(feature = "arrow")]
    ArrowStream,
    /// A database with one table (SQLite's file format).
    #[cfg(feature = "sqlite")]
    Sqlite,
    /// A script for PostgreSQL that makes and fills a table.
    Sql,
}

/// What there is to know of a format: the names that it goes by, which are the extensions
/// of its files, and what it is, in a few words.
type About = (&'static [&'static str], &'static str);

impl OutFormat {
    /// Every format.
    pub const ALL: &[OutFormat] = &[
        OutFormat::Csv,
        OutFormat::Tsv,
        OutFormat::Xlsx,
        OutFormat::JsonLines,
        #[cfg(feature = "parquet")]
        OutFormat::Parquet,
        #[cfg(feature = "arrow")]
        OutFormat::Arrow,
        #[cfg(feature = "arrow")]
        OutFormat::ArrowStream,
        #[cfg(feature = "sqlite")]
        OutFormat::Sqlite,
        OutFormat::Sql,
    ];

    fn about(self) -> About {
        match self {
            OutFormat::Csv => (&["csv", "txt"], "Cells between commas or the like"),
            OutFormat::Tsv => (&["tsv", "tab"], "Cells between tabs"),
            OutFormat::Xlsx => (
                &["xlsx"],
                "A workbook with real date, time and duration cells",
            ),
            OutFormat::JsonLines => (
                &["jsonl", "ndjson"],
                "A JSON object for each row, a row a line",
            ),
            #[cfg(feature = "parquet")]
            OutFormat::Parquet => (&["parquet"], "Typed columns, compressed"),
            #[cfg(feature = "arrow")]
            OutFormat::Arrow => (
                &["arrow"],
                "Typed columns as Arrow record batches, with an index",
            ),
            #[cfg(feature = "arrow")]
            OutFormat::ArrowStream => (&["arrows"], "The same as a stream"),
            #[cfg(feature = "sqlite")]
            OutFormat::Sqlite => (
                &["sqlite", "sqlite3", "db"],
                "An SQLite database with one table",
            ),
            OutFormat::Sql => (
                &["sql"],
                "A script for PostgreSQL that makes and fills a table",
            ),
        }
    }

    /// The name that it goes by, and the extensions of its files.
    pub fn names(self) -> &'static [&'static str] {
        self.about().0
    }

    /// What it is, in a few words.
    pub fn description(self) -> &'static str {
        self.about().1
    }

    /// Whether it has a type for instants, which says the zone that they are shown in.
    pub fn has_instants(self) -> bool {
        match self {
            #[cfg(feature = "parquet")]
            OutFormat::Parquet => true,
            #[cfg(feature = "arrow")]
            OutFormat::Arrow | OutFormat::ArrowStream => true,
            OutFormat::Sql => true,
            _ => false,
        }
    }

    /// The format of files with this extension, in lower case.
    ///
    /// ```
    /// use metachron_table::OutFormat;
    ///
    /// assert_eq!(OutFormat::by_extension("tab"), Some(OutFormat::Tsv));
    /// assert_eq!(OutFormat::by_extension("pdf"), None);
    /// ```
    pub fn by_extension(extension: &str) -> Option<OutFormat> {
        let mut all = OutFormat::ALL.iter().copied();
        all.find(|format| format.names().contains(&extension))
    }

    /// A writer of this format into `out`.
    ///
    /// # Errors
    ///
    /// Where no temporary file can be written.
    pub fn writer<W: Write + 'static>(
        self,
        source: SourceStyle,
        out: W,
    ) -> Result<Box<dyn TableWriter<W>>, WriteError> {
        Ok(match self {
            // Text of the CSV family keeps its delimiter, unless that is a tab.
            OutFormat::Csv => {
                let dialect = source.dialect_with(|delimiter| delimiter != b'\t', b',');
                Box::new(text::TextWriter::new(source, dialect, out))
            }
            OutFormat::Tsv => {
                let dialect = source.dialect_with(|delimiter| delimiter == b'\t', b'\t');
                Box::new(text::TextWriter::new(source, dialect, out))
            }
            OutFormat::Xlsx => Box::new(workbook::SheetWriter::new(&source, out)?),
            OutFormat::JsonLines => Box::new(jsonl::JsonLinesWriter::new(out)),
            #[cfg(feature = "parquet")]
            OutFormat::Parquet => Box::new(parquet::ParquetWriter::new(source, out)),
            #[cfg(feature = "arrow")]
            OutFormat::Arrow => {
                Box::new(arrow::ArrowWriter::new(source, arrow::ArrowAs::File, out))
            }
            #[cfg(feature = "arrow")]
            OutFormat::ArrowStream => {
                Box::new(arrow::ArrowWriter::new(source, arrow::ArrowAs::Stream, out))
            }
            #[cfg(feature = "sqlite")]
            OutFormat::Sqlite => Box::new(sqlite::SqliteWriter::new(source, out)?),
            OutFormat::Sql => Box::new(sql::SqlWriter::new(source, out)),
        })
    }

    /// A writer of text as the source is written.
    pub fn like_source<W: Write + 'static>(source: SourceStyle, out: W) -> Box<dyn TableWriter<W>> {
        let dialect = source.dialect;
        Box::new(text::TextWriter::new(source, dialect, out))
    }
}

impl DatabaseAddress {
    /// A writer into the database; `out` is not written to.
    pub fn writer<W: Write + 'static>(
        &self,
        source: SourceStyle,
        if_exists: IfExists,
        out: W,
    ) -> Box<dyn TableWriter<W>> {
        match &self.server {
            #[cfg(feature = "postgres")]
            Server::Postgres(server) => {
                let (address, server) = (self.clone(), server.clone());
                Box::new(postgres::PostgresWriter::new(
                    source, address, server, if_exists, out,
                ))
            }
            #[cfg(feature = "sqlite")]
            Server::Sqlite(path) => Box::new(sqlite::SqliteWriter::into(
                source,
                path.clone(),
                if_exists,
                out,
            )),
            #[allow(unreachable_patterns)]
            _ => unreachable!("an address of a database that is left out is none"),
        }
    }
}

/// How the source is written, as far as the result takes after it.
#[derive(Clone, Debug)]
pub struct SourceStyle {
    /// The dialect.
    pub dialect: Dialect,
    /// It starts with a UTF-8 byte order mark.
    pub has_utf8_mark: bool,
    /// The line of the names, if there is one.
    pub header: Option<HeaderLine>,
    /// Whether rows may end as in the source.
    pub row_ends: RowEnds,
    /// The day that it is written on.
    pub today: Date,
    /// What the table is called, in formats that give it a name.
    pub table: String,
    /// The program that writes it, and its version.
    pub tool: String,
    /// The rulings that it was made by, as their file has them.
    pub rulings: String,
    /// What becomes of columns that no ruling reads, in formats that have types.
    pub others: Others,
    /// The types that the columns have in the source, where it has types. Columns that no
    /// ruling reads keep them.
    pub source_types: Vec<ColumnType>,
    /// The types that the columns need, where that is known.
    pub types: Option<ColumnTypes>,
    /// How many threads may work on it at once.
    pub threads: usize,
}

/// The line of the column names.
#[derive(Clone, Debug)]
pub struct HeaderLine {
    /// The names of the columns.
    pub names: Vec<String>,
    /// The line as it came, with its end.
    pub raw: String,
}

/// How rows end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum RowEnds {
    /// As they end in the source: the last one, perhaps, without a line end.
    /// For rows that stay in their order.
    AsInSource,
    /// With a line end. For rows that are put into another order.
    Always,
}

impl SourceStyle {
    /// The dialect of the result, whose delimiter `fits`, or is `delimiter`.
    fn dialect_with(&self, fits: impl Fn(u8) -> bool, delimiter: u8) -> Dialect {
        if fits(self.dialect.delimiter) {
            return self.dialect;
        }
        Dialect {
            delimiter,
            quote: Some(b'"'),
            ..self.dialect
        }
    }
}

/// Turns typed rows into what a [`TableWriter`] takes. Each thread has its
/// own.
pub trait RowEncoder: Send + Sync {
    /// Another one of the same table, for another thread.
    fn fork(&self) -> Box<dyn RowEncoder>;

    /// Appends `row` to `out`; `source` is the row that it was made from.
    fn row(&mut self, source: &Row<'_>, row: &OutRow<'_>, out: &mut Vec<u8>);

    /// Appends the rows of a page; `source` are those that they were made from.
    fn page(&mut self, source: &PageRows<'_>, page: &OutPage<'_>, out: &mut Vec<u8>) {
        rows_of_page(self, source, page, out);
    }
}

/// The start of a text, so many bytes at most.
fn start_of(text: &str, most: usize) -> &str {
    let mut end = most.min(text.len());
    while !text.is_char_boundary(end) {
        end -= 1;
    }
    &text[..end]
}

/// Appends the rows of a page, one after the other.
fn rows_of_page(
    encoder: &mut (impl RowEncoder + ?Sized),
    source: &PageRows<'_>,
    page: &OutPage<'_>,
    out: &mut Vec<u8>,
) {
    let mut cells = Vec::new();
    for (number, source) in source.iter().enumerate() {
        page.put_row(number, source.len(), &mut cells);
        let (cells, text) = (&cells, page.text);
        encoder.row(&source, &OutRow { cells, text }, out);
    }
}

/// Writes a clean table in one format into a `W`. Where it is dropped and not
/// finished, what is in the `W` is no table.
pub trait TableWriter<W> {
    /// Begins the table.
    ///
    /// # Errors
    ///
    /// Where it cannot be written, or the format has no room for its columns.
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError>;

    /// One that encodes rows of the table, which has begun.
    fn encoder(&self) -> Box<dyn RowEncoder>;

    /// Takes encoded rows of one file of the source, counted from 0.
    ///
    /// # Errors
    ///
    /// Where they cannot be written, or the format has no room for them.
    fn write(&mut self, rows: &[u8], file: usize) -> Result<(), WriteError>;

    /// Ends the table, which came to be as `provenance` says.
    ///
    /// # Errors
    ///
    /// Where it cannot be written, or its columns need other types.
    fn finish(self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError>;
}

/// A table that is written.
pub struct Written<W> {
    /// What it was written into.
    pub out: W,
    /// Stamps of kinds that the format has a type for, but which it could only
    /// hold as text.
    pub as_text: u64,
    /// What is not in the table as one would expect it, in words.
    pub remarks: Vec<String>,
    /// What makes it last, of a table in a database; without it, nothing stays.
    pub commit: Option<Commit>,
}

/// Makes what was written into a database last.
pub type Commit = Box<dyn FnOnce() -> Result<(), WriteError>>;

/// What is done where a table of the database is called so.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum IfExists {
    /// Nothing is written, and the table is left as it is.
    #[default]
    Refuse,
    /// Rows are added to it, if its columns are those that are written.
    Append,
}

impl<W> Written<W> {
    /// As is usual.
    fn new(out: W) -> Written<W> {
        Written {
            out,
            as_text: 0,
            remarks: Vec::new(),
            commit: None,
        }
    }
}

/// Why a table cannot be written.
#[derive(Debug, thiserror::Error)]
pub enum WriteError {
    /// The target cannot be written.
    #[error(transparent)]
    Io(#[from] io::Error),
    /// A sheet has no room for it (ECMA-376).
    #[error(
        "a sheet holds 1,048,576 rows, 16,384 columns and 32,767 characters a cell; write CSV, \
         which has no limits"
    )]
    SheetIsFull(#[source] rust_xlsxwriter::XlsxError),
    /// A workbook cannot be written.
    #[error(transparent)]
    Workbook(#[from] rust_xlsxwriter::XlsxError),
    /// Cells do not fit the types of their columns. The table can be written again with
    /// those that it needs, unless it went into a stream.
    #[error(
        "{}; what a stream has sent cannot be written again: name a file with -o",
        match column {
            Some(column) => format!("column `{column}` needs another type than it began with"),
            None => "a row has more cells than the header".to_owned(),
        }
    )]
    OtherTypes {
        /// The first column that does.
        column: Option<String>,
        /// The types that all need.
        needed: Box<ColumnTypes>,
    },
    /// A database does not take it.
    #[error("{database}: {cause}")]
    Database {
        /// Where it is, without a password.
        database: String,
        /// What is wrong.
        cause: String,
    },
    /// A NUL in a text, for PostgreSQL.
    #[error("column `{column}` has a NUL character, which PostgreSQL's text cannot hold")]
    NulInText {
        /// The column.
        column: String,
    },
    /// Arrow data cannot be written.
    #[cfg(feature = "arrow")]
    #[error(transparent)]
    Arrow(arrow_schema::ArrowError),
    /// A Parquet file cannot be written.
    #[cfg(feature = "parquet")]
    #[error(transparent)]
    Parquet(#[from] ::parquet::errors::ParquetError),
    /// A database cannot be written.
    #[cfg(feature = "sqlite")]
    #[error(transparent)]
    Sqlite(#[from] rusqlite::Error),
}

#[cfg(feature = "arrow")]
impl From<arrow_schema::ArrowError> for WriteError {
    fn from(why: arrow_schema::ArrowError) -> WriteError {
        match why {
            // That of the system, so that a closed pipe is found.
            arrow_schema::ArrowError::IoError(_, why) => WriteError::Io(why),
            other => WriteError::Arrow(other),
        }
    }
}
