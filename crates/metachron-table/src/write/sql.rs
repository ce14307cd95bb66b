//! Clean tables as a script for PostgreSQL, which `psql -f` loads as it is: it creates the
//! table and copies the rows into it, in one transaction.

use super::postgres_table::PostgresTable;
use super::provenance::Provenance;
use super::{RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use crate::database::quoted;
use metachron_core::row::Schema;
use std::io::Write;

/// Writes a script.
pub(super) struct SqlWriter<W> {
    source: SourceStyle,
    out: W,
    table: Option<PostgresTable>,
    text: Vec<u8>,
}

impl<W: Write> SqlWriter<W> {
    pub(super) fn new(source: SourceStyle, out: W) -> SqlWriter<W> {
        SqlWriter {
            source,
            out,
            table: None,
            text: Vec::new(),
        }
    }
}

impl<W: Write> TableWriter<W> for SqlWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let name = quoted(&self.source.table);
        let table = self
            .table
            .insert(PostgresTable::new(name, schema, &self.source));
        // How text is read depends on these, which a server or a session may have set.
        Ok(write!(
            self.out,
            "BEGIN;\n\
             SET LOCAL client_encoding = 'UTF8';\n\
             SET LOCAL standard_conforming_strings = on;\n\
             SET LOCAL datestyle = 'ISO, YMD';\n\
             SET LOCAL intervalstyle = 'postgres';\n\
             {}{};\n",
            table.create(),
            table.copy()
        )?)
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        let table = self.table.as_ref();
        let table = table.unwrap_or_else(|| unreachable!("the table has begun"));
        Box::new(table.columns.encoder())
    }

    fn write(&mut self, rows: &[u8], _file: usize) -> Result<(), WriteError> {
        self.text.clear();
        if let Some(table) = &self.table {
            table.rows(rows, &mut self.text)?;
        }
        Ok(self.out.write_all(&self.text)?)
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        let mut remarks = Vec::new();
        self.out.write_all(b"\\.\n")?;
        if let Some(table) = &self.table {
            table.columns.check()?;
            remarks = table.columns.remarks();
            self.out.write_all(table.comments(provenance).as_bytes())?;
        }
        self.out.write_all(b"COMMIT;\n")?;
        Ok(Written {
            remarks,
            ..Written::new(self.out)
        })
    }
}
