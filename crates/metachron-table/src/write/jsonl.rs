//! Clean tables as JSON Lines: a JSON object (RFC 8259) for each row.
//!
//! | cell | JSON |
//! |---|---|
//! | blank, or empty in the source | `null` |
//! | stamp | its ISO 8601 text |
//! | number of a typed source, of a unit or derived | a number |
//! | boolean | `true`, `false` |
//! | text | a string |
//!
//! Cells of a text file that no ruling reads are text, whatever they look
//! like. A cell that its row has too many of stands under the name of a column
//! without a name: `column_6`, or `column_6_2` where a column is called that.

use super::{Provenance, RowEncoder, TableWriter, WriteError, Written};
use crate::CellType;
use crate::csv::Row;
use crate::header::{nameless_column, unique};
use metachron_core::row::{OutCell, OutRow, Schema};
use std::io::Write;
use std::sync::Arc;

/// Writes JSON Lines.
pub(super) struct JsonLinesWriter<W> {
    out: W,
    /// The names of the columns, as JSON strings with a colon behind.
    keys: Arc<[String]>,
}

impl<W: Write> JsonLinesWriter<W> {
    pub(super) fn new(out: W) -> JsonLinesWriter<W> {
        JsonLinesWriter {
            out,
            keys: Arc::default(),
        }
    }
}

impl<W: Write> TableWriter<W> for JsonLinesWriter<W> {
    fn begin(&mut self, schema: &Schema) -> Result<(), WriteError> {
        let keys = schema.columns.iter().map(|column| {
            let mut key = Vec::new();
            put_string(&column.name, &mut key);
            format!("{}:", String::from_utf8_lossy(&key))
        });
        self.keys = keys.collect();
        Ok(())
    }

    fn encoder(&self) -> Box<dyn RowEncoder> {
        Box::new(JsonLinesEncoder {
            keys: self.keys.clone(),
            scratch: String::new(),
        })
    }

    fn write(&mut self, rows: &[u8], _file: usize) -> Result<(), WriteError> {
        Ok(self.out.write_all(rows)?)
    }

    fn finish(self: Box<Self>, _provenance: &Provenance) -> Result<Written<W>, WriteError> {
        Ok(Written::new(self.out))
    }
}

/// Encodes rows as JSON objects.
#[derive(Clone)]
struct JsonLinesEncoder {
    keys: Arc<[String]>,
    scratch: String,
}

impl JsonLinesEncoder {
    fn key(&self, index: usize, out: &mut Vec<u8>) {
        out.push(if index == 0 { b'{' } else { b',' });
        if let Some(key) = self.keys.get(index) {
            out.extend_from_slice(key.as_bytes());
        }
    }

    /// The key of the source's cell `own`, which may be one too many. Parsers
    /// keep one of two equal keys (RFC 8259 §4), so it is no column's.
    fn source_key(&self, index: usize, own: usize, out: &mut Vec<u8>) {
        self.key(index, out);
        if index < self.keys.len() {
            return;
        }
        let wanted = nameless_column(own);
        let stem = wanted.clone();
        let key = |name: &str| format!("\"{name}\":");
        let name = unique(wanted, &stem, |name| self.keys.contains(&key(name)));
        out.extend_from_slice(key(&name).as_bytes());
    }
}

impl RowEncoder for JsonLinesEncoder {
    fn fork(&self) -> Box<dyn RowEncoder> {
        Box::new(self.clone())
    }

    fn row(&mut self, source: &Row<'_>, row: &OutRow<'_>, out: &mut Vec<u8>) {
        if row.cells.is_empty() && source.is_empty() && self.keys.len() > 1 {
            return;
        }
        let mut index = 0;
        for cell in row.cells {
            if let OutCell::Source(cells) = cell {
                for own in cells.clone() {
                    self.source_key(index, own, out);
                    let text = source.text(own, &mut self.scratch);
                    put_source(source.cell_type(own), text, out);
                    index += 1;
                }
                continue;
            }
            self.key(index, out);
            index += 1;
            match cell {
                OutCell::Source(_) | OutCell::Blank => out.extend_from_slice(b"null"),
                OutCell::Stamp(stamp) => {
                    out.push(b'"');
                    stamp.write_iso(out);
                    out.push(b'"');
                }
                OutCell::Number(range) => out.extend_from_slice(row.text_of(range)),
                OutCell::Boolean(truth) => out.extend_from_slice(name_of(*truth)),
                OutCell::Text(range) => {
                    put_string(&String::from_utf8_lossy(row.text_of(range)), out);
                }
            }
        }
        // What a short row lacks is nothing, so that all rows have all keys.
        for missing in index..self.keys.len() {
            self.key(missing, out);
            out.extend_from_slice(b"null");
        }
        out.extend_from_slice(b"}\n");
    }
}

fn put_source(of: CellType, text: &str, out: &mut Vec<u8>) {
    match of {
        _ if text.is_empty() => out.extend_from_slice(b"null"),
        CellType::Number if is_json_number(text) => out.extend_from_slice(text.as_bytes()),
        CellType::Boolean => out.extend_from_slice(name_of(text == "TRUE")),
        _ => put_string(text, out),
    }
}

fn name_of(truth: bool) -> &'static [u8] {
    if truth { b"true" } else { b"false" }
}

/// Whether JSON writes the number so (RFC 8259 §6). A workbook's may be
/// infinite.
fn is_json_number(text: &str) -> bool {
    serde_json::from_str::<serde_json::Number>(text).is_ok()
}

fn put_string(text: &str, out: &mut Vec<u8>) {
    // Writing a string into memory does not fail.
    let _ = serde_json::to_writer(out, text);
}
