//! What a column held when its ruling was settled.

use serde::{Deserialize, Serialize};

/// What a column held when its ruling was settled: what later data are
/// compared with. It changes nothing about how cells are read. Files of
/// earlier versions call it `seen`.
///
/// ```toml
/// baseline = { cells = 1310, blank = 12, waiting = 3, earliest = "2019-01-04", latest = "2025-11-30" }
/// ```
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct Baseline {
    /// How many cells it had.
    pub cells: u64,
    /// How many of them stood for nothing.
    #[serde(default)]
    pub blank: u64,
    /// How many waited for a person.
    #[serde(default)]
    pub waiting: u64,
    /// The earliest stamp, in ISO 8601.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub earliest: Option<String>,
    /// The latest stamp.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub latest: Option<String>,
}
