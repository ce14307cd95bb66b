//! What is said about how files are written, before they are looked at.

use encoding_rs::Encoding;
use metachron_core::rulings::HeaderLine;

/// What the user or a ruling says about how the files are written.
#[derive(Clone, Debug, Default)]
pub struct ReadOptions {
    /// The byte between cells.
    pub delimiter: Option<u8>,
    /// The byte around cells; `Some(None)` if there is none.
    pub quote: Option<Option<u8>>,
    /// The character encoding.
    pub encoding: Option<&'static Encoding>,
    /// The sheet of a workbook, by its name or its number from 1.
    pub sheet: Option<String>,
    /// The format; else it is found out.
    pub format: Option<crate::SourceFormat>,
    /// Where the column names stand.
    pub header_line: Option<HeaderLine>,
}
