//! Units of time, and how they are counted.

/// A unit of time.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Unit {
    /// Thousand-millionths of a second.
    Nanosecond,
    /// Millionths of a second.
    Microsecond,
    /// Thousandths of a second.
    Millisecond,
    /// Seconds.
    Second,
    /// Minutes.
    Minute,
    /// Hours.
    Hour,
    /// Days of 24 hours.
    Day,
    /// Weeks of seven days.
    Week,
    /// Months of the calendar.
    Month,
    /// Three months of the calendar.
    Quarter,
    /// Years of the calendar.
    Year,
}

/// How units are counted.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Counting {
    /// With what is left over as a fraction.
    Exact,
    /// Those that have passed in full.
    Whole,
    /// The nearest whole number.
    Nearest,
}

impl Unit {
    pub(crate) const ALL: [(Unit, &'static str, &'static str); 11] = [
        (Unit::Nanosecond, "nanosecond", "nanoseconds"),
        (Unit::Microsecond, "microsecond", "microseconds"),
        (Unit::Millisecond, "millisecond", "milliseconds"),
        (Unit::Second, "second", "seconds"),
        (Unit::Minute, "minute", "minutes"),
        (Unit::Hour, "hour", "hours"),
        (Unit::Day, "day", "days"),
        (Unit::Week, "week", "weeks"),
        (Unit::Month, "month", "months"),
        (Unit::Quarter, "quarter", "quarters"),
        (Unit::Year, "year", "years"),
    ];

    /// The unit that `word` names, one or several of it.
    pub(crate) fn named(word: &str) -> Option<Unit> {
        let mut all = Unit::ALL.into_iter();
        all.find(|(_, one, several)| word == *one || word == *several)
            .map(|(unit, ..)| unit)
    }

    /// Several of it, in words.
    pub fn name(self) -> &'static str {
        Unit::ALL[self as usize].2
    }

    /// Its length in nanoseconds; `None` of units of the calendar.
    ///
    /// ```
    /// use metachron_core::phrase::Unit;
    ///
    /// assert_eq!(Unit::Minute.nanoseconds(), Some(60_000_000_000));
    /// assert_eq!((Unit::Quarter.nanoseconds(), Unit::Quarter.months()), (None, Some(3)));
    /// ```
    pub fn nanoseconds(self) -> Option<i128> {
        const SECOND: i128 = 1_000_000_000;
        Some(match self {
            Unit::Nanosecond => 1,
            Unit::Microsecond => 1_000,
            Unit::Millisecond => 1_000_000,
            Unit::Second => SECOND,
            Unit::Minute => 60 * SECOND,
            Unit::Hour => 3_600 * SECOND,
            Unit::Day => 86_400 * SECOND,
            Unit::Week => 7 * 86_400 * SECOND,
            Unit::Month | Unit::Quarter | Unit::Year => return None,
        })
    }

    /// Its length in months; `None` of exact units.
    pub fn months(self) -> Option<i64> {
        match self {
            Unit::Month => Some(1),
            Unit::Quarter => Some(3),
            Unit::Year => Some(12),
            _ => None,
        }
    }
}
