//! Clean tables as a script for PostgreSQL, which `psql -f` loads as it is: it creates the
//! table and copies the rows into it, in one transaction.

use super::provenance::Provenance;
use super::typed::{
    CellView, ColumnType, DecimalsAs, NameRules, StampsAs, TypeRules, TypedColumns, read_chunk,
};
use super::{RowEncoder, SourceStyle, TableWriter, WriteError, Written};
use metachron_core::row::{Origin, Schema};
use metachron_core::stamp::Kind;
use std::io::Write;

/// Longer names are cut by the server (PostgreSQL's documentation, §4.1.1), and two may
/// become one.
const NAMES: NameRules = NameRules {
    most: Some(63),
    ignore_case: false,
};

/// Writes a script.
pub(super) struct SqlWriter<W> {
    source: SourceStyle,
    out: W,
    columns: Option<(TypedColumns, Vec<ColumnType>)>,
    line: Vec<u8>,
}

impl<W: Write> SqlWriter<W> {
    pub(super) fn new(source: SourceStyle, out: W) -> SqlWriter<W> {
        SqlWriter {
            source,
            out,
            columns: None,
            line: Vec::new(),
        }
    }
}

/// A name in SQL (ISO/IEC 9075-2 §5.2): between quotes, those in it doubled.
pub(super) fn quoted(name: &str) -> String {
    format!("\"{}\"", name.replace('"', "\"\""))
}

/// A text in SQL (ISO/IEC 9075-2 §5.3), whatever the server takes a backslash for.
fn literal(text: &str) -> String {
    format!("'{}'", text.replace('\'', "''"))
}

/// The name of the type of a column.
fn type_name(of: ColumnType) -> &'static str {
    match of {
        ColumnType::Boolean => "boolean",
        ColumnType::Integer => "bigint",
        ColumnType::Decimal(_) => "numeric",
        ColumnType::Real => "double precision",
        ColumnType::Date | ColumnType::Postgres(Kind::Date) => "date",
        ColumnType::Time(_) | ColumnType::Postgres(Kind::Time) => "time",
        ColumnType::DateTime(_) | ColumnType::Postgres(Kind::DateTime) => "timestamp",
        ColumnType::Instant(_) | ColumnType::Postgres(Kind::Instant) => "timestamptz",
        ColumnType::Duration(_) | ColumnType::Postgres(Kind::Duration) => "interval",
        ColumnType::Unknown | ColumnType::Text | ColumnType::Postgres(_) => "text",
    }
}

impl<W: Write> TableWriter<W> for SqlWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let rules = TypeRules {
            stamps: StampsAs::Postgres,
            decimals: DecimalsAs::Decimals,
            others: self.source.others,
        };
        let columns = TypedColumns::new(schema, rules, &self.source, NAMES);
        let table = quoted(&self.source.table);
        let defined = columns.all().iter();
        let defined =
            defined.map(|column| format!("  {} {}", quoted(&column.name), type_name(column.of)));
        let defined: Vec<String> = defined.collect();
        let types = columns.types();
        self.columns = Some((columns, types));
        // How text is read depends on these, which a server or a session may have set.
        Ok(write!(
            self.out,
            "BEGIN;\n\
             SET LOCAL client_encoding = 'UTF8';\n\
             SET LOCAL standard_conforming_strings = on;\n\
             SET LOCAL datestyle = 'ISO, YMD';\n\
             SET LOCAL intervalstyle = 'postgres';\n\
             CREATE TABLE {table} (\n{}\n);\n\
             COPY {table} FROM stdin;\n",
            defined.join(",\n")
        )?)
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        let columns = self.columns.as_ref();
        let (columns, _) = columns.unwrap_or_else(|| unreachable!("the table has begun"));
        Box::new(columns.encoder())
    }

    fn write(&mut self, mut rows: &[u8], _file: usize) -> Result<(), WriteError> {
        let Some((columns, types)) = self.columns.as_ref().filter(|(own, _)| own.fit()) else {
            return Ok(());
        };
        let mut views = Vec::with_capacity(types.len());
        let line = &mut self.line;
        line.clear();
        while let Some(count) = read_chunk(&mut rows, types, &mut views) {
            for row in 0..count {
                for (index, (view, of)) in views.iter().zip(types).enumerate() {
                    if index > 0 {
                        line.push(b'\t');
                    }
                    let cell = view.cell(*of, row);
                    if !put(cell, line) {
                        let column = columns.all()[index].name.clone();
                        return Err(WriteError::NulInText { column });
                    }
                }
                line.push(b'\n');
            }
        }
        Ok(self.out.write_all(line)?)
    }

    fn finish(mut self: Box<Self>, provenance: &Provenance) -> Result<Written<W>, WriteError> {
        let mut remarks = Vec::new();
        self.out.write_all(b"\\.\n")?;
        if let Some((columns, _)) = &self.columns {
            columns.check()?;
            remarks = columns.remarks();
            let table = quoted(&self.source.table);
            let about = literal(&format!("made by {}", provenance.tool));
            writeln!(self.out, "COMMENT ON TABLE {table} IS {about};")?;
            let converted = columns.all().iter().filter(|column| {
                let origin = column.origin.as_ref().map(|column| column.origin);
                matches!(origin, Some(Origin::Converted(_)))
            });
            for (column, from) in converted.zip(&provenance.columns) {
                let parts = from.parts();
                let parts = parts.iter().filter(|(_, text)| text != "0");
                let parts: Vec<String> = parts
                    .map(|(name, text)| format!("{name}: {text}"))
                    .collect();
                let (name, about) = (quoted(&column.name), literal(&parts.join(", ")));
                writeln!(self.out, "COMMENT ON COLUMN {table}.{name} IS {about};")?;
            }
        }
        self.out.write_all(b"COMMIT;\n")?;
        Ok(Written {
            remarks,
            ..Written::new(self.out)
        })
    }
}

/// Appends a cell as `COPY` reads it (PostgreSQL's documentation, `COPY`, "Text Format");
/// says whether PostgreSQL can hold it, which has no NUL in text.
fn put(cell: CellView<'_>, line: &mut Vec<u8>) -> bool {
    match cell {
        CellView::Blank => line.extend_from_slice(b"\\N"),
        CellView::Boolean(truth) => line.push(if truth { b't' } else { b'f' }),
        CellView::Integer(number) => line.extend_from_slice(number.to_string().as_bytes()),
        CellView::Decimal(number, scale) => {
            line.extend_from_slice(decimal_text(number, scale).as_bytes());
        }
        CellView::Real(number) => line.extend_from_slice(number.to_string().as_bytes()),
        CellView::Text(text) => {
            let mut rest = text.as_bytes();
            while let Some(at) = rest
                .iter()
                .position(|byte| matches!(byte, b'\\' | b'\n' | b'\r' | b'\t' | 0))
            {
                line.extend_from_slice(&rest[..at]);
                line.extend_from_slice(match rest[at] {
                    b'\\' => b"\\\\",
                    b'\n' => b"\\n",
                    b'\r' => b"\\r",
                    b'\t' => b"\\t",
                    _ => return false,
                });
                rest = &rest[at + 1..];
            }
            line.extend_from_slice(rest);
        }
    }
    true
}

/// A number of units of so many decimals.
fn decimal_text(number: i128, scale: u8) -> String {
    let width = usize::from(scale) + 1;
    let digits = format!("{:0width$}", number.unsigned_abs());
    let (whole, fraction) = digits.split_at(digits.len() - usize::from(scale));
    let sign = if number < 0 { "-" } else { "" };
    let point = if scale > 0 { "." } else { "" };
    format!("{sign}{whole}{point}{fraction}")
}
