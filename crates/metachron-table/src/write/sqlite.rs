//! Clean tables as an SQLite database: one `STRICT` table, and what made it in another.

use super::provenance::Provenance;
use super::sql::quoted;
use super::typed::{
    CellView, ColumnType, DecimalsAs, NameRules, StampsAs, TypeRules, TypedColumns, read_chunk,
};
use super::{RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use metachron_core::row::Schema;
use rusqlite::types::{ToSqlOutput, Value, ValueRef};
use rusqlite::{Connection, ToSql, params_from_iter};
use std::fs::File;
use std::io::{self, Write};
use tempfile::NamedTempFile;

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

/// Writes an SQLite database.
pub(super) struct SqliteWriter<W> {
    source: SourceStyle,
    out: W,
    file: NamedTempFile,
    begun: Option<Begun>,
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
            file: NamedTempFile::new()?,
            begun: None,
        })
    }
}

impl<W: Write> TableWriter<W> for SqliteWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let columns = TypedColumns::new(schema, rules(&self.source), &self.source, NAMES);
        let database = Connection::open(self.file.path())?;
        // The file is thrown away where it is not finished: nothing has to be taken back.
        database.pragma_update(None, "journal_mode", "OFF")?;
        database.pragma_update(None, "synchronous", "OFF")?;
        let types = columns.types();
        let table = quoted(&self.source.table);
        let defined: Vec<String> = columns
            .all()
            .iter()
            .map(|column| format!("  {} {}", quoted(&column.name), type_name(column.of)))
            .collect();
        database.execute_batch(&format!(
            "BEGIN;\nCREATE TABLE {table} (\n{}\n) STRICT;",
            defined.join(",\n")
        ))?;
        let places = vec!["?"; types.len()].join(", ");
        self.begun = Some(Begun {
            database,
            columns,
            types,
            insert: format!("INSERT INTO {table} VALUES ({places})"),
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
        let mut remarks = Vec::new();
        if let Some(begun) = self.begun {
            begun.columns.check()?;
            remarks = begun.columns.remarks();
            put_provenance(&begun.database, provenance, &self.source)?;
            begun.database.execute_batch("COMMIT")?;
            begun.database.close().map_err(|(_, why)| why)?;
        }
        let mut whole = File::open(self.file.path())?;
        io::copy(&mut whole, &mut self.out)?;
        Ok(Written {
            remarks,
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
