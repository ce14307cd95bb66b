//! Where a clean table comes from: what its file says of that, where the format has room.

use serde::Serialize;

/// What made a clean table.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct Provenance {
    /// The program and its version.
    pub tool: String,
    /// The converted columns.
    pub columns: Vec<ColumnProvenance>,
}

/// How one column was read, and what became of its cells.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize)]
pub struct ColumnProvenance {
    /// Its name in the source.
    pub source: String,
    /// Its kind.
    pub kind: &'static str,
    /// The forms that it was read by, as the rulings file writes them.
    pub forms: Vec<String>,
    /// Cells that could be read one way.
    pub certain: u64,
    /// Cells that could be read several ways, of which the ruling chose one.
    pub settled: u64,
    /// Cells that could be read several ways, and nothing tells which.
    pub open: u64,
    /// Cells that could not be read.
    pub unreadable: u64,
    /// Cells that held nothing.
    pub blank: u64,
}

impl Provenance {
    /// As a JSON object (RFC 8259).
    pub(super) fn to_json(&self) -> String {
        let json = serde_json::to_string(self);
        json.unwrap_or_else(|_| unreachable!("names and numbers can be written"))
    }
}

impl ColumnProvenance {
    /// The names of the parts, and each as text.
    pub(super) fn parts(&self) -> [(&'static str, String); 8] {
        [
            ("source", self.source.clone()),
            ("kind", self.kind.to_owned()),
            ("forms", self.forms.join("; ")),
            ("certain", self.certain.to_string()),
            ("settled", self.settled.to_string()),
            ("open", self.open.to_string()),
            ("unreadable", self.unreadable.to_string()),
            ("blank", self.blank.to_string()),
        ]
    }
}
