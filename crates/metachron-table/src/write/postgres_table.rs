//! A table of PostgreSQL as a script and a connection both make it: its definition, its rows
//! as `COPY` reads them, and what stands in its comments.

use super::provenance::Provenance;
use super::typed::{
    CellView, ColumnType, DecimalsAs, NameRules, StampsAs, TypeRules, TypedColumns, read_chunk,
};
use super::{SourceStyle, WriteError};
use crate::database::quoted;
use metachron_core::row::{Origin, Schema};
use metachron_core::stamp::Kind;

/// Longer names are cut by the server (PostgreSQL's documentation, §4.1.1), and two may
/// become one.
const NAMES: NameRules = NameRules {
    most: Some(63),
    ignore_case: false,
};

/// A table of PostgreSQL.
pub(super) struct PostgresTable {
    /// Its name, as SQL has it.
    pub name: String,
    pub columns: TypedColumns,
    types: Vec<ColumnType>,
}

impl PostgresTable {
    pub fn new(name: String, schema: &Schema, source: &SourceStyle) -> PostgresTable {
        let rules = TypeRules {
            stamps: StampsAs::Postgres,
            decimals: DecimalsAs::Decimals,
            others: source.others,
        };
        let columns = TypedColumns::new(schema, rules, source, NAMES);
        PostgresTable {
            name,
            types: columns.types(),
            columns,
        }
    }

    /// The names of the columns and their types.
    pub fn defined(&self) -> impl Iterator<Item = (&str, &'static str)> {
        let columns = self.columns.all().iter();
        columns.map(|column| (column.name.as_str(), type_name(column.of)))
    }

    /// The statement that makes the table.
    pub fn create(&self) -> String {
        let defined = self.defined();
        let defined = defined.map(|(name, of)| format!("  {} {of}", quoted(name)));
        let defined: Vec<String> = defined.collect();
        format!(
            "CREATE TABLE {} (\n{}\n);\n",
            self.name,
            defined.join(",\n")
        )
    }

    /// The statement that the rows follow.
    pub fn copy(&self) -> String {
        let names = self.defined().map(|(name, _)| quoted(name));
        let names: Vec<String> = names.collect();
        format!("COPY {} ({}) FROM stdin", self.name, names.join(", "))
    }

    /// Appends encoded rows as the text that `COPY` reads (PostgreSQL's documentation, `COPY`,
    /// "Text Format").
    pub fn rows(&self, mut rows: &[u8], text: &mut Vec<u8>) -> Result<(), WriteError> {
        if !self.columns.fit() {
            return Ok(());
        }
        let mut views = Vec::with_capacity(self.types.len());
        while let Some(count) = read_chunk(&mut rows, &self.types, &mut views) {
            for row in 0..count {
                for (index, (view, of)) in views.iter().zip(&self.types).enumerate() {
                    if index > 0 {
                        text.push(b'\t');
                    }
                    if !put(view.cell(*of, row), text) {
                        let column = self.columns.all()[index].name.clone();
                        return Err(WriteError::NulInText { column });
                    }
                }
                text.push(b'\n');
            }
        }
        Ok(())
    }

    /// The statements that tell where the table comes from.
    pub fn comments(&self, provenance: &Provenance) -> String {
        let table = &self.name;
        let about = literal(&format!("made by {}", provenance.tool));
        let mut comments = format!("COMMENT ON TABLE {table} IS {about};\n");
        let converted = self.columns.all().iter().filter(|column| {
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
            comments.push_str(&format!("COMMENT ON COLUMN {table}.{name} IS {about};\n"));
        }
        comments
    }
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
        ColumnType::Real | ColumnType::Float => "double precision",
        ColumnType::Date | ColumnType::Postgres(Kind::Date) => "date",
        ColumnType::Time(_) | ColumnType::Postgres(Kind::Time) => "time",
        ColumnType::DateTime(_) | ColumnType::Postgres(Kind::DateTime) => "timestamp",
        ColumnType::Instant(_) | ColumnType::Postgres(Kind::Instant) => "timestamptz",
        ColumnType::Duration(_) | ColumnType::Postgres(Kind::Duration) => "interval",
        ColumnType::Unknown | ColumnType::Text | ColumnType::Postgres(_) => "text",
    }
}

/// Appends a cell as `COPY` reads it; says whether PostgreSQL can hold it, which has no NUL in text.
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
