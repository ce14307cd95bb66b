//! The format of a source, found out.

#[cfg(feature = "arrow")]
use crate::columnar::ColumnarFormat;
use crate::json::is_json;
use crate::{Source, TableError, WorkbookFormat};
use std::io::Read;

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
        let workbook = WorkbookFormat::of(source, &head)?;
        Ok(workbook.map_or(SourceFormat::Text, SourceFormat::Workbook))
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
