//! What scripts read: types of their own, apart from those that the program
//! works with. docs/json.md describes them. Fields are only ever added; where a
//! name of an earlier version was not clear, the field stands under its clear
//! name too.

mod column;
mod conversion;
mod evidence;
mod survey;
mod table;
mod zone;

pub use column::Difference;
pub use conversion::{
    Conversion, Conversions, ConvertedColumn, ConvertedFile, DerivedColumn, KeptRows, SortedRows,
};
pub use survey::{Settlement, Survey};
pub use table::Table;
pub use zone::Zone;

use crate::output::Output;
use serde::Serialize;

/// Puts `value` on `out` as indented JSON and ends the line.
pub fn put(out: &mut Output, value: &impl Serialize) -> anyhow::Result<()> {
    out.put(serde_json::to_string_pretty(value)?.as_bytes())?;
    out.put(b"\n")
}
