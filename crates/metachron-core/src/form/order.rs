//! The order of day, month and year.

use super::Field;
use serde::{Deserialize, Serialize};

/// The order in which day, month and year are written.
///
/// ```
/// use metachron_core::form::{Form, Order};
///
/// let form: Form = "d. MMMM yyyy".parse()?;
/// assert_eq!(form.order(), Some(Order::Dmy));
/// assert_eq!("ymd".parse::<Order>().unwrap().words(), "year-month-day");
/// # Ok::<(), metachron_core::form::PatternError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Order {
    /// Day, month, year.
    Dmy,
    /// Month, day, year.
    Mdy,
    /// Year, month, day.
    Ymd,
    /// Year, day, month.
    Ydm,
    /// Month, year, day.
    Myd,
    /// Day, year, month.
    Dym,
}

impl Order {
    /// All six.
    pub const ALL: [Order; 6] = [
        Order::Dmy,
        Order::Mdy,
        Order::Ymd,
        Order::Ydm,
        Order::Myd,
        Order::Dym,
    ];

    /// The name used on the command line and in rulings files.
    pub fn name(self) -> &'static str {
        match self {
            Order::Dmy => "dmy",
            Order::Mdy => "mdy",
            Order::Ymd => "ymd",
            Order::Ydm => "ydm",
            Order::Myd => "myd",
            Order::Dym => "dym",
        }
    }

    /// The same in words.
    pub fn words(self) -> &'static str {
        match self {
            Order::Dmy => "day-month-year",
            Order::Mdy => "month-day-year",
            Order::Ymd => "year-month-day",
            Order::Ydm => "year-day-month",
            Order::Myd => "month-year-day",
            Order::Dym => "day-year-month",
        }
    }

    /// Whether the year comes first.
    pub fn starts_with_year(self) -> bool {
        matches!(self, Order::Ymd | Order::Ydm)
    }

    /// Whether some country or standard writes all-number dates in this
    /// order. The other three are read only where nothing usual can be.
    pub fn is_usual(self) -> bool {
        matches!(self, Order::Dmy | Order::Mdy | Order::Ymd)
    }

    pub(super) fn of(fields: impl Iterator<Item = Field>) -> Option<Order> {
        let mut name = String::with_capacity(3);
        for field in fields {
            if field.has_day_and_month() {
                name.push_str("ymd");
            }
            name.extend(field.descriptor().order);
        }
        name.parse().ok()
    }
}

impl std::fmt::Display for Order {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.pad(self.name())
    }
}

/// The text names no [`Order`].
#[derive(Debug, thiserror::Error)]
#[error("no order is called `{0}`; use dmy, mdy, ymd, ydm, myd or dym")]
pub struct ParseOrderError(String);

impl std::str::FromStr for Order {
    type Err = ParseOrderError;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        Order::ALL
            .into_iter()
            .find(|order| order.name() == text)
            .ok_or_else(|| ParseOrderError(text.to_owned()))
    }
}
