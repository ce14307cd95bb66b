//! Tables of SQLite databases.

use crate::csv::Layout;
use crate::csv::MOST_COLUMNS;
use crate::spool::{Spool, SpoolWriter};
use crate::workbook::index_of;
use crate::{CellType, Header, ReadOptions, SheetInfo, Source, TableError};
use rusqlite::types::ValueRef;
use rusqlite::{Connection, OpenFlags};
use std::fmt::Write;

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
            // Of a path with a `?`, no parameters are read.
            let database =
                Connection::open_with_flags(source.disk_path(), OpenFlags::SQLITE_OPEN_READ_ONLY)?;
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
        let (spool, names) = read(&database, &table.name).map_err(damaged)?;
        if names.len() > MOST_COLUMNS {
            return Err(TableError::TooManyColumns {
                file: source.name().to_owned(),
                line: 1,
                cells: names.len(),
                most: MOST_COLUMNS,
            });
        }
        let layout = Layout::of_schema(Header::of_schema(&names));
        Ok((SqliteTable { spool, all, index }, layout))
    }
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

fn read(database: &Connection, table: &str) -> Result<(Spool, Vec<String>), Fault> {
    let table = table.replace('"', "\"\"");
    let mut query = database.prepare(&format!("SELECT * FROM \"{table}\""))?;
    let names: Vec<String> = query.column_names().map(str::to_owned).collect();
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
    Ok((spool.finish(names.len())?, names))
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
