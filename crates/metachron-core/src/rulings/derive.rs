//! A column that is made from others.

use super::WriteRuling;
use crate::phrase::Phrase;
use serde::{Deserialize, Serialize};

/// A column that is made from others.
///
/// ```toml
/// [[derive]]
/// name = "days_away"
/// value = 'whole days from `Loaned out` to Returned'
/// ```
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub struct DeriveRuling {
    /// Its name, which no other column has.
    pub name: String,
    /// What it is made of.
    pub value: Phrase,
    /// How it is written.
    #[serde(default, skip_serializing_if = "WriteRuling::is_empty")]
    pub write: WriteRuling,
}
