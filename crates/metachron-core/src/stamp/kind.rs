//! The kinds of stamp, by the names that rulings files and JSON use.

use serde::{Deserialize, Serialize};

/// What sort of temporal value a column holds. A column has one kind.
///
/// ```
/// use metachron_core::stamp::Kind;
///
/// assert_eq!(Kind::DateTime.name(), "datetime");
/// assert_eq!(Kind::ALL.len(), 9);
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Kind {
    /// A calendar day: `2025-03-04`.
    Date,
    /// A time of day: `14:30:00`.
    Time,
    /// A day and a time of day, without a zone: `2025-03-04T14:30:00`.
    DateTime,
    /// A point on the world's time line: `2025-03-04T13:30:00Z`.
    Instant,
    /// A month of a year: `2025-03`.
    Month,
    /// A quarter of a year: `2025-Q1`.
    Quarter,
    /// A week of ISO 8601's calendar: `2025-W10`.
    Week,
    /// A year: `2025`.
    Year,
    /// A length of time: `P2DT3H4M5S`.
    Duration,
}

impl Kind {
    /// Every kind, in the order of this page.
    pub const ALL: [Kind; 9] = [
        Kind::Date,
        Kind::Time,
        Kind::DateTime,
        Kind::Instant,
        Kind::Month,
        Kind::Quarter,
        Kind::Week,
        Kind::Year,
        Kind::Duration,
    ];

    /// The name used in rulings files and JSON.
    pub fn name(self) -> &'static str {
        match self {
            Kind::Date => "date",
            Kind::Time => "time",
            Kind::DateTime => "datetime",
            Kind::Instant => "instant",
            Kind::Month => "month",
            Kind::Quarter => "quarter",
            Kind::Week => "week",
            Kind::Year => "year",
            Kind::Duration => "duration",
        }
    }
}

impl std::fmt::Display for Kind {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.pad(self.name())
    }
}
