//! Clean tables as an SQLite database: one `STRICT` table, and what made it in another.

use super::provenance::Provenance;
use super::typed::{
    CellView, ColumnType, DecimalsAs, NameRules, StampsAs, TypeRules, TypedColumns, read_chunk,
};
use super::{Commit, IfExists, RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use crate::database::quoted;
use metachron_core::row::Schema;
use rusqlite::types::{ToSqlOutput, Value, ValueRef};
use rusqlite::{Connection, ToSql, params_from_iter};
use std::fs::File;
use std::io::{self, Write};
use std::path::PathBuf;
use std::time::Duration;
use tempfile::NamedTempFile;

/// Another program that writes is waited for so long.
const PATIENCE: Duration = Duration::from_secs(10);

/// The tables that tell where the other comes from.
const COLUMNS: &str = "metachron_columns";
const ABOUT: &str = "metachron_about";

/// SQLite has no types for dates and times: its functions read ISO 8601 text (its
/// documentation, "Date And Time Functions").
fn rules(source: &SourceStyle) -> TypeRules {
    TypeRules {
        stamps: StampsAs::Text,
        decimals: DecimalsAs::Reals,
        others: source.others,
    }
}

/// Names of columns that differ in case only are one name.
const NAMES: NameRules = NameRules {
    most: None,
    ignore_case: true,
};

/// Writes an SQLite database, or into one.
pub(super) struct SqliteWriter<W> {
    source: SourceStyle,
    out: W,
    target: Target,
    begun: Option<Begun>,
}

/// Where the database is.
enum Target {
    /// A new one, which is copied to where it belongs when it is whole.
    New(NamedTempFile),
    /// One that may be there, and have other tables.
    There(PathBuf, IfExists),
}

struct Begun {
    database: Connection,
    columns: TypedColumns,
    types: Vec<ColumnType>,
    insert: String,
}

impl<W: Write> SqliteWriter<W> {
    pub(super) fn new(source: SourceStyle, out: W) -> io::Result<SqliteWriter<W>> {
        Ok(SqliteWriter {
            source,
            out,
            target: Target::New(NamedTempFile::new()?),
            begun: None,
        })
    }

    /// A writer into the database at `path`.
    pub(super) fn into(
        source: SourceStyle,
        path: PathBuf,
        if_exists: IfExists,
        out: W,
    ) -> SqliteWriter<W> {
        SqliteWriter {
            source,
            out,
            target: Target::There(path, if_exists),
            begun: None,
        }
    }
}

/// Makes the table, or checks that the one that is there has the columns that are written,
/// perhaps among others.
fn make_table(
    database: &Connection,
    table: &str,
    defined: &[(String, &str)],
    if_exists: IfExists,
) -> Result<(), WriteError> {
    let mut query = database.prepare("SELECT name, type FROM pragma_table_info(?)")?;
    let known = query.query_map([table], |row| Ok((row.get(0)?, row.get(1)?)))?;
    let known: Vec<(String, String)> = known.collect::<rusqlite::Result<_>>()?;
    let failed = |cause: String| {
        Err(WriteError::Database {
            database: database.path().unwrap_or_default().to_owned(),
            cause,
        })
    };
    if known.is_empty() {
        let columns = defined.iter();
        let columns = columns.map(|(name, of)| format!("  {} {of}", quoted(name)));
        let columns: Vec<String> = columns.collect();
        let create = format!(
            "CREATE TABLE {} (\n{}\n) STRICT;",
            quoted(table),
            columns.join(",\n")
        );
        return Ok(database.execute_batch(&create)?);
    }
    if if_exists == IfExists::Refuse {
        return failed(format!(
            "the table {table} is there; give --append to add rows to it, or another name"
        ));
    }
    let same = |(name, of): &(String, &str), (known, there): &(String, String)| {
        known.eq_ignore_ascii_case(name) && there.eq_ignore_ascii_case(of)
    };
    let lacking = defined
        .iter()
        .filter(|own| !known.iter().any(|known| same(own, known)));
    let lacking = lacking.map(|(name, of)| format!("it lacks `{name}` ({of})"));
    let differences: Vec<String> = lacking.collect();
    if differences.is_empty() {
        return Ok(());
    }
    failed(format!(
        "the table {table} has other columns: {}",
        differences.join("; ")
    ))
}

impl<W: Write + 'static> TableWriter<W> for SqliteWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let columns = TypedColumns::new(schema, rules(&self.source), &self.source, NAMES);
        let types = columns.types();
        let defined = columns.all().iter();
        let defined: Vec<(String, &str)> = defined
            .map(|column| (column.name.clone(), type_name(column.of)))
            .collect();
        let (database, if_exists) = match &self.target {
            Target::New(file) => {
                let database = Connection::open(file.path())?;
                // The file is thrown away where it is not finished: nothing has to be taken
                // back.
                database.pragma_update(None, "journal_mode", "OFF")?;
                database.pragma_update(None, "synchronous", "OFF")?;
                (database, IfExists::Refuse)
            }
            Target::There(path, if_exists) => {
                let database = Connection::open(path)?;
                database.busy_timeout(PATIENCE)?;
                (database, *if_exists)
            }
        };
        database.execute_batch("BEGIN IMMEDIATE")?;
        make_table(&database, &self.source.table, &defined, if_exists)?;
        let table = quoted(&self.source.table);
        let names: Vec<String> = defined.iter().map(|(name, _)| quoted(name)).collect();
        let places = vec!["?"; types.len()].join(", ");
        self.begun = Some(Begun {
            database,
            columns,
            types,
            insert: format!(
                "INSERT INTO {table} ({}) VALUES ({places})",
                names.join(", ")
            ),
        });
        Ok(())
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        let begun = self.begun.as_ref();
        let begun = begun.unwrap_or_else(|| unreachable!("the table has begun"));
        Box::new(begun.columns.encoder())
    }

    fn write(&mut self, mut rows: &[u8], _file: usize) -> Result<(), WriteError> {
        let Some(begun) = self.begun.as_ref().filter(|begun| begun.columns.fit()) else {
            return Ok(());
        };
        let mut insert = begun.database.prepare_cached(&begun.insert)?;
        let mut views = Vec::with_capacity(begun.types.len());
        while let Some(count) = read_chunk(&mut rows, &begun.types, &mut views) {
            for row in 0..count {
                let cells = views.iter().zip(&begun.types);
                insert.execute(params_from_iter(
                    cells.map(|(view, of)| view.cell(*of, row)),
                ))?;
            }
        }
        Ok(())
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        let Some(begun) = self.begun else {
            return Ok(Written::new(self.out));
        };
        begun.columns.check()?;
        let remarks = begun.columns.remarks();
        let database = begun.database;
        let commit: Option<Commit> = match self.target {
            Target::New(file) => {
                put_provenance(&database, provenance, &self.source)?;
                database.execute_batch("COMMIT")?;
                database.close().map_err(|(_, why)| why)?;
                io::copy(&mut File::open(file.path())?, &mut self.out)?;
                None
            }
            // Dropped without that, the connection takes all of it back.
            Target::There(..) => Some(Box::new(move || Ok(database.execute_batch("COMMIT")?))),
        };
        Ok(Written {
            remarks,
            commit,
            ..Written::new(self.out)
        })
    }
}

/// The type of a column of a `STRICT` table.
fn type_name(of: ColumnType) -> &'static str {
    match of {
        ColumnType::Boolean | ColumnType::Integer => "INTEGER",
        ColumnType::Real => "REAL",
        _ => "TEXT",
    }
}

/// Tells what made the table.
fn put_provenance(
    database: &Connection,
    provenance: &Provenance,
    source: &SourceStyle,
) -> rusqlite::Result<()> {
    let free = |name: &str| {
        let is_own = source.table.eq_ignore_ascii_case(name);
        quoted(&format!("{name}{}", if is_own { "_2" } else { "" }))
    };
    let (about, columns) = (free(ABOUT), free(COLUMNS));
    database.execute_batch(&format!(
        "CREATE TABLE {about} (tool TEXT, rulings TEXT) STRICT;\n\
         CREATE TABLE {columns} (source TEXT, kind TEXT, forms TEXT, certain INTEGER, \
         settled INTEGER, \"open\" INTEGER, unreadable INTEGER, blank INTEGER) STRICT;"
    ))?;
    database.execute(
        &format!("INSERT INTO {about} VALUES (?, ?)"),
        (&provenance.tool, &source.rulings),
    )?;
    for column in &provenance.columns {
        let parts = column.parts().map(|(_, text)| text);
        database.execute(
            &format!("INSERT INTO {columns} VALUES (?, ?, ?, ?, ?, ?, ?, ?)"),
            params_from_iter(parts),
        )?;
    }
    Ok(())
}

impl ToSql for CellView<'_> {
    fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
        Ok(match self {
            CellView::Blank => ToSqlOutput::Owned(Value::Null),
            CellView::Boolean(truth) => ToSqlOutput::Owned(Value::Integer((*truth).into())),
            CellView::Integer(number) => ToSqlOutput::Owned(Value::Integer(*number)),
            CellView::Real(number) => ToSqlOutput::Owned(Value::Real(*number)),
            CellView::Decimal(..) => unreachable!("SQLite has no decimals"),
            CellView::Text(text) => ToSqlOutput::Borrowed(ValueRef::Text(text.as_bytes())),
        })
    }
}
