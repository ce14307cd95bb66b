//! Tables of SQLite databases.

use super::quoted;
use crate::csv::Layout;
use crate::csv::MOST_COLUMNS;
use crate::spool::{Spool, SpoolWriter};
use crate::workbook::index_of;
use crate::{CellType, DatabaseAddress, Header, ReadOptions, SheetInfo, Source, TableError};
use rusqlite::types::ValueRef;
use rusqlite::{Connection, OpenFlags};
use std::fmt::Write;
use std::path::Path;

/// What a database starts with (SQLite's documentation, "Database File Format", §1.3.1).
pub(crate) const MAGIC: &[u8] = b"SQLite format 3\0";

/// A table of a database, read and spooled.
#[derive(Debug)]
pub(crate) struct SqliteTable {
    pub spool: Spool,
    /// All tables and views, in the order in which they were made.
    pub all: Vec<SheetInfo>,
    /// Which of them this is.
    pub index: usize,
}

/// Why a table cannot be read.
#[derive(Debug, thiserror::Error)]
enum Fault {
    #[error(transparent)]
    Sqlite(#[from] rusqlite::Error),
    #[error(transparent)]
    Io(#[from] std::io::Error),
    #[error("it has no table")]
    NoTable,
    #[error("{0} columns; a table has at most {MOST_COLUMNS}")]
    TooManyColumns(usize),
}

impl SqliteTable {
    /// Reads the table that is declared, else the first.
    pub(crate) fn open(
        source: &Source,
        declared: &ReadOptions,
    ) -> Result<(SqliteTable, Layout), TableError> {
        let damaged = |fault: Fault| match fault {
            Fault::Io(cause) => TableError::io(source.name())(cause),
            cause => TableError::Damaged {
                file: source.name().to_owned(),
                format: "SQLite",
                cause: cause.to_string(),
            },
        };
        let open = || -> Result<(Connection, Vec<SheetInfo>), Fault> {
            let database = open(source.disk_path())?;
            let all = tables(&database)?;
            Ok((database, all))
        };
        let (database, all) = open().map_err(damaged)?;
        let index = match &declared.sheet {
            Some(wanted) => index_of(wanted, &all).ok_or_else(|| TableError::NoSuchSheet {
                file: source.name().to_owned(),
                wanted: wanted.clone(),
                part: "table",
                sheets: crate::workbook::names(&all),
            })?,
            None => 0,
        };
        let table = all.get(index).ok_or(Fault::NoTable).map_err(damaged)?;
        let (spool, layout) = read(&database, &select(&table.name)).map_err(damaged)?;
        Ok((SqliteTable { spool, all, index }, layout))
    }
}

/// Opens a database to be read. Of a path with a `?`, no parameters are read.
fn open(path: &Path) -> rusqlite::Result<Connection> {
    Connection::open_with_flags(path, OpenFlags::SQLITE_OPEN_READ_ONLY)
}

/// The query for all of a table.
fn select(table: &str) -> String {
    format!("SELECT * FROM {}", quoted(table))
}

/// Reads the table or the query of an address; the first table, if it names none.
pub(crate) fn read_at(
    address: &DatabaseAddress,
    path: &Path,
) -> Result<(Spool, Layout), TableError> {
    let read = || {
        let database = open(path)?;
        let query = match (&address.table, &address.query) {
            (Some(table), _) => select(table),
            (None, Some(query)) => query.clone(),
            (None, None) => select(&tables(&database)?.first().ok_or(Fault::NoTable)?.name),
        };
        read(&database, &query)
    };
    read().map_err(|fault: Fault| TableError::Database {
        database: address.shown().to_owned(),
        cause: fault.to_string(),
    })
}

fn tables(database: &Connection) -> rusqlite::Result<Vec<SheetInfo>> {
    let mut query = database.prepare(
        "SELECT name FROM sqlite_schema WHERE type IN ('table', 'view') \
         AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY rowid",
    )?;
    let names = query.query_map([], |row| row.get(0))?;
    names
        .map(|name| {
            let is_hidden = false;
            Ok(SheetInfo {
                name: name?,
                is_hidden,
            })
        })
        .collect()
}

fn read(database: &Connection, query: &str) -> Result<(Spool, Layout), Fault> {
    let mut query = database.prepare(query)?;
    let names: Vec<String> = query.column_names().map(str::to_owned).collect();
    if names.len() > MOST_COLUMNS {
        return Err(Fault::TooManyColumns(names.len()));
    }
    let mut spool = SpoolWriter::of_rows_that_stay()?;
    let mut rows = query.query([])?;
    let (mut number, mut text) = (0, String::new());
    while let Some(row) = rows.next()? {
        for column in 0..names.len() {
            let of = put(row.get_ref(column)?, &mut text);
            if of != CellType::Empty {
                spool.cell((number, column as u32), &text, of)?;
            }
        }
        number += 1;
        spool.end_rows_before(number)?;
    }
    let layout = Layout::of_schema(Header::of_schema(&names));
    Ok((spool.finish(names.len())?, layout))
}

/// Writes the text that stands for a value over `text`, and says what it is.
fn put(value: ValueRef<'_>, text: &mut String) -> CellType {
    text.clear();
    // Writing to a string does not fail.
    match value {
        ValueRef::Null => return CellType::Empty,
        ValueRef::Integer(number) => {
            let _ = write!(text, "{number}");
            return CellType::Number;
        }
        ValueRef::Real(number) => {
            let _ = write!(text, "{number}");
            if number.is_finite() {
                return CellType::Number;
            }
        }
        ValueRef::Text(bytes) | ValueRef::Blob(bytes) => match std::str::from_utf8(bytes) {
            Ok(own) => text.push_str(own),
            Err(_) => bytes.iter().for_each(|byte| {
                let _ = write!(text, "{byte:02x}");
            }),
        },
    }
    if text.is_empty() {
        CellType::Empty
    } else {
        CellType::Text
    }
}
