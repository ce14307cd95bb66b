//! What the rest of the table says about a cell that its own text leaves open.
//!
//! ```toml
//! read = { forms = [["dd/MM/yyyy", "MM/dd/yyyy"]], not-before = "Loaned out", same = { month = "Month" } }
//! ```

use serde::{Deserialize, Serialize};

/// The direction in which the rows stand in time.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum TimeOrder {
    /// The earliest row first.
    Ascending,
    /// The latest row first.
    Descending,
}

impl TimeOrder {
    /// The name used in rulings files.
    pub fn name(self) -> &'static str {
        match self {
            TimeOrder::Ascending => "ascending",
            TimeOrder::Descending => "descending",
        }
    }
}
