//! Which day a month, quarter, week or year is among dates.

use crate::stamp::Stamp;
use jiff::civil::{Date, ISOWeekDate, Weekday};
use serde::{Deserialize, Serialize};

/// Which day a month, quarter, week or year is among dates.
///
/// ```
/// use jiff::civil::date;
/// use metachron_core::rulings::PeriodAs;
/// use metachron_core::stamp::Stamp;
///
/// let month = Stamp::Month(2024, 2);
/// assert_eq!(PeriodAs::First.day_of(month), Some(date(2024, 2, 1)));
/// assert_eq!(PeriodAs::Last.day_of(month), Some(date(2024, 2, 29)));
/// assert_eq!(PeriodAs::Reject.day_of(month), None);
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PeriodAs {
    /// None: it stays open.
    #[default]
    Reject,
    /// Its first day.
    First,
    /// Its last day.
    Last,
}

impl PeriodAs {
    pub(crate) fn is_default(&self) -> bool {
        *self == PeriodAs::Reject
    }

    /// The day that `period` is; `None` where it is no period, or stays open.
    pub fn day_of(self, period: Stamp) -> Option<Date> {
        let first = match period {
            Stamp::Month(year, month) => Date::new(year, month as i8, 1),
            Stamp::Quarter(year, quarter) => Date::new(year, 3 * quarter as i8 - 2, 1),
            Stamp::Week(year, week) => {
                ISOWeekDate::new(year, week as i8, Weekday::Monday).map(ISOWeekDate::date)
            }
            Stamp::Year(year) => Date::new(year, 1, 1),
            _ => return None,
        };
        let first = first.ok()?;
        let months = |count: i8| first.checked_add(jiff::Span::new().months(count - 1));
        match (self, period) {
            (PeriodAs::Reject, _) => None,
            (PeriodAs::First, _) => Some(first),
            (PeriodAs::Last, Stamp::Week(..)) => first.checked_add(jiff::Span::new().days(6)).ok(),
            (PeriodAs::Last, Stamp::Quarter(..)) => Some(months(3).ok()?.last_of_month()),
            (PeriodAs::Last, Stamp::Year(..)) => Some(months(12).ok()?.last_of_month()),
            (PeriodAs::Last, _) => Some(first.last_of_month()),
        }
    }
}
