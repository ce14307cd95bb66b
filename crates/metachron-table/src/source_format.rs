//! The format of a source, found out.

#[cfg(feature = "arrow")]
use crate::columnar::ColumnarFormat;
use crate::json::is_json;
use crate::{Source, TableError, WorkbookFormat};
use std::io::Read;
use std::path::Path;

/// The format of a source.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum SourceFormat {
    /// Text of the CSV family.
    Text,
    /// A workbook.
    Workbook(WorkbookFormat),
    /// A file of typed columns.
    #[cfg(feature = "arrow")]
    Columnar(ColumnarFormat),
    /// An SQLite database.
    #[cfg(feature = "sqlite")]
    Sqlite,
    /// A database of PostgreSQL.
    #[cfg(feature = "postgres")]
    Postgres,
    /// JSON Lines, or a JSON array of objects.
    Json,
}

/// As many bytes as tell any format.
const HEAD: u64 = 64;

/// The name of the format that files with this extension have, where no text is called so.
fn binary_format(extension: &str) -> Option<&'static str> {
    match extension {
        "parquet" => Some("Parquet"),
        "arrow" | "arrows" => Some("Arrow"),
        "sqlite" | "sqlite3" => Some("SQLite"),
        _ => None,
    }
}

impl SourceFormat {
    /// The format of a source, by its first bytes; its extension helps where these leave
    /// several.
    pub(crate) fn of(source: &Source) -> Result<SourceFormat, TableError> {
        let mut head = Vec::new();
        let read = source.open_text()?.take(HEAD).read_to_end(&mut head);
        read.map_err(TableError::io(source.name()))?;
        #[cfg(feature = "arrow")]
        if let Some(format) = ColumnarFormat::of(&head) {
            return Ok(SourceFormat::Columnar(format));
        }
        #[cfg(feature = "sqlite")]
        if head.starts_with(crate::database::sqlite::MAGIC) {
            return Ok(SourceFormat::Sqlite);
        }
        if is_json(&head) {
            return Ok(SourceFormat::Json);
        }
        if let Some(format) = WorkbookFormat::of(source, &head)? {
            return Ok(SourceFormat::Workbook(format));
        }
        let extension = Path::new(source.name()).extension();
        let extension = extension.map(|end| end.to_string_lossy().to_lowercase());
        let extension = extension.as_deref().unwrap_or_default();
        if matches!(extension, "json" | "jsonl" | "ndjson") {
            return Ok(SourceFormat::Json);
        }
        match binary_format(extension) {
            // What is left of a file that was cut off may look like text.
            Some(format) if !head.is_empty() => Err(TableError::Damaged {
                file: source.name().to_owned(),
                format,
                cause: "it does not begin as such a file; if it is text, say so with --from csv"
                    .to_owned(),
            }),
            _ => Ok(SourceFormat::Text),
        }
    }

    /// The name of the format.
    pub fn name(self) -> &'static str {
        match self {
            SourceFormat::Text => "CSV",
            SourceFormat::Workbook(format) => format.name(),
            #[cfg(feature = "arrow")]
            SourceFormat::Columnar(format) => format.name(),
            #[cfg(feature = "sqlite")]
            SourceFormat::Sqlite => "SQLite",
            #[cfg(feature = "postgres")]
            SourceFormat::Postgres => "PostgreSQL",
            SourceFormat::Json => "JSON",
        }
    }

    /// What a table of it is called, where a file has several.
    pub fn part(self) -> Option<&'static str> {
        match self {
            SourceFormat::Workbook(_) => Some("sheet"),
            #[cfg(feature = "sqlite")]
            SourceFormat::Sqlite => Some("table"),
            _ => None,
        }
    }
}
