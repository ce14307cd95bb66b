//! Workbooks: XLSX, XLSM, XLSB, XLS and ODS.
//!
//! A sheet is read once, from end to end, and spooled as rows of text with a
//! type next to each cell; from then on it is a table like any other. Of a
//! workbook of any size, no more is held in memory than its shared texts (and,
//! of XLS and ODS, the one sheet).

mod cell;
mod guard;
mod sheet;

pub(crate) use sheet::Sheet;
pub use sheet::SheetInfo;
#[cfg(feature = "sqlite")]
pub(crate) use sheet::{index_of, names};

use crate::{Source, TableError};
use std::io::BufReader;
use std::path::Path;
use zip::ZipArchive;

/// The file format of a workbook.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum WorkbookFormat {
    /// Office Open XML (ECMA-376), with or without macros.
    Xlsx,
    /// The same with binary parts (MS-XLSB).
    Xlsb,
    /// The binary format up to 2003 (MS-XLS).
    Xls,
    /// OpenDocument (ISO/IEC 26300).
    Ods,
}

/// What a zip archive starts with.
const ZIP: &[u8] = b"PK\x03\x04";

/// What a compound file (MS-CFB) starts with.
const COMPOUND: &[u8] = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1";

impl WorkbookFormat {
    /// The format of `source` by its extension and its first bytes, `head`;
    /// `None` where it is no workbook.
    pub(crate) fn of(source: &Source, head: &[u8]) -> Result<Option<WorkbookFormat>, TableError> {
        if !head.starts_with(ZIP) && !head.starts_with(COMPOUND) {
            return Ok(None);
        }
        let extension = Path::new(source.name()).extension();
        let extension = extension.map(|end| end.to_string_lossy().to_lowercase());
        let by_name = extension.as_deref().and_then(WorkbookFormat::by_extension);
        Ok(match by_name {
            // A protected workbook of any format is a compound file.
            Some(format) => Some(format),
            None if head.starts_with(COMPOUND) => Some(WorkbookFormat::Xls),
            None => WorkbookFormat::inside(source)?,
        })
    }

    /// The format of a zip archive, by the parts it has.
    fn inside(source: &Source) -> Result<Option<WorkbookFormat>, TableError> {
        let Ok(archive) = ZipArchive::new(BufReader::new(source.open()?)) else {
            return Ok(None);
        };
        let has = |name: &str| archive.index_for_name(name).is_some();
        Ok(match () {
            _ if has("xl/workbook.xml") => Some(WorkbookFormat::Xlsx),
            _ if has("xl/workbook.bin") => Some(WorkbookFormat::Xlsb),
            _ if has("content.xml") => Some(WorkbookFormat::Ods),
            _ => None,
        })
    }

    /// The format that files with this extension, in lower case, have.
    pub fn by_extension(extension: &str) -> Option<WorkbookFormat> {
        match extension {
            "xlsx" | "xlsm" | "xltx" | "xltm" => Some(WorkbookFormat::Xlsx),
            "xlsb" => Some(WorkbookFormat::Xlsb),
            "xls" | "xlt" => Some(WorkbookFormat::Xls),
            "ods" | "ots" => Some(WorkbookFormat::Ods),
            _ => None,
        }
    }

    /// The name of the format.
    pub fn name(self) -> &'static str {
        match self {
            WorkbookFormat::Xlsx => "XLSX",
            WorkbookFormat::Xlsb => "XLSB",
            WorkbookFormat::Xls => "XLS",
            WorkbookFormat::Ods => "ODS",
        }
    }
}
