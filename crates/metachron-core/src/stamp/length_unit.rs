//! Units that lengths of time are counted in.

use serde::{Deserialize, Serialize};

/// A unit that lengths of time are counted in, by its symbol (ISO 80000-3).
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum LengthUnit {
    /// Days of 24 hours.
    #[serde(rename = "d")]
    Day,
    /// Hours.
    #[serde(rename = "h")]
    Hour,
    /// Minutes.
    #[serde(rename = "min")]
    Minute,
    /// Seconds.
    #[serde(rename = "s")]
    Second,
    /// Thousandths of a second.
    #[serde(rename = "ms")]
    Millisecond,
}

impl LengthUnit {
    /// How many nanoseconds it has.
    pub fn nanoseconds(self) -> i128 {
        match self {
            LengthUnit::Day => 86_400_000_000_000,
            LengthUnit::Hour => 3_600_000_000_000,
            LengthUnit::Minute => 60_000_000_000,
            LengthUnit::Second => 1_000_000_000,
            LengthUnit::Millisecond => 1_000_000,
        }
    }
}
