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

/// A part of a date that another column may repeat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum DatePart {
    /// The year, in four digits.
    Year,
    /// The quarter: `2`, `Q2`.
    Quarter,
    /// The month, as a number or an English name.
    Month,
    /// The day of the month.
    Day,
    /// The weekday's English name.
    Weekday,
}

impl DatePart {
    /// All of them.
    pub const ALL: [DatePart; 5] = [
        DatePart::Year,
        DatePart::Quarter,
        DatePart::Month,
        DatePart::Day,
        DatePart::Weekday,
    ];

    /// The name used in rulings files.
    pub fn name(self) -> &'static str {
        match self {
            DatePart::Year => "year",
            DatePart::Quarter => "quarter",
            DatePart::Month => "month",
            DatePart::Day => "day",
            DatePart::Weekday => "weekday",
        }
    }

    /// The part of `date`, as a number; weekdays count from Monday, 1.
    pub fn of(self, date: jiff::civil::Date) -> i16 {
        match self {
            DatePart::Year => date.year(),
            DatePart::Quarter => i16::from((date.month() - 1) / 3 + 1),
            DatePart::Month => i16::from(date.month()),
            DatePart::Day => i16::from(date.day()),
            DatePart::Weekday => i16::from(date.weekday().to_monday_one_offset()),
        }
    }

    /// The part that `text` repeats: the same numbers as [`DatePart::of`] gives;
    /// `None` where it is something else.
    ///
    /// ```
    /// use metachron_core::rulings::DatePart;
    ///
    /// assert_eq!(DatePart::Month.read("Sept"), Some(9));
    /// assert_eq!(DatePart::Month.read("09"), Some(9));
    /// assert_eq!(DatePart::Weekday.read("Tue"), Some(2));
    /// assert_eq!(DatePart::Quarter.read("Q3"), Some(3));
    /// assert_eq!(DatePart::Day.read("32"), None);
    /// ```
    pub fn read(self, text: &str) -> Option<i16> {
        let text = text.trim();
        let digits = match self {
            DatePart::Quarter => text.strip_prefix(['Q', 'q']).unwrap_or(text),
            _ => text,
        };
        let is_number = !digits.is_empty() && digits.bytes().all(|byte| byte.is_ascii_digit());
        let number = || digits.parse::<i16>().ok().filter(|_| is_number);
        match self {
            DatePart::Year => number().filter(|_| digits.len() == 4),
            DatePart::Quarter => number().filter(|number| (1..=4).contains(number)),
            DatePart::Day => number().filter(|number| (1..=31).contains(number)),
            DatePart::Month => number()
                .filter(|number| (1..=12).contains(number))
                .or_else(|| named(text, 12, crate::locale::month_name)),
            DatePart::Weekday => named(text, 7, |day| {
                crate::locale::weekday_name(day.unsigned_abs())
            }),
        }
    }
}

/// The number of the name that `text` is, in full or shortened to at least
/// three letters.
fn named(text: &str, last: i8, name: fn(i8) -> &'static str) -> Option<i16> {
    let text = text.trim_end_matches('.');
    let fits = |number: &i8| {
        let start = name(*number).get(..text.len());
        text.len() >= 3 && start.is_some_and(|start| start.eq_ignore_ascii_case(text))
    };
    (1..=last).find(fits).map(i16::from)
}
