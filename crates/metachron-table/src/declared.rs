//! What is said about how files are written, before they are looked at.

use encoding_rs::Encoding;
use metachron_core::rulings::HeaderLine;

/// What the user or a ruling says about how the files are written.
#[derive(Clone, Copy, Debug, Default)]
pub struct Declared {
    /// The byte between cells.
    pub delimiter: Option<u8>,
    /// The byte around cells; `Some(None)` if there is none.
    pub quote: Option<Option<u8>>,
    /// The character encoding.
    pub encoding: Option<&'static Encoding>,
    /// Where the column names stand.
    pub header_line: Option<HeaderLine>,
}
