//! A part of a date that another column may repeat.

use crate::locale::{LexiconEntry, Meaning, Roles, everywhere, month_name, month_of, weekday_name};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// A part of a date that another column may repeat, or all of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum DatePart {
    /// The year, in four digits.
    Year,
    /// The quarter: `2`, `Q2`, `2024-Q2`.
    Quarter,
    /// The month, as a number or a name.
    Month,
    /// The year and the month: `2024-05`, `202405`, `May 2024`.
    YearMonth,
    /// The week of ISO 8601: `18`, `W18`, `2024-W18`.
    Week,
    /// The day of the month.
    Day,
    /// The weekday's English name.
    Weekday,
    /// The day of the year: `123`, `2024-123`.
    DayOfYear,
    /// The whole date, year first, alone or among other text: `2024-05-02`,
    /// `scan_20240502_003.tif`.
    Date,
}

impl DatePart {
    /// All of them.
    pub const ALL: [DatePart; 9] = [
        DatePart::Year,
        DatePart::Quarter,
        DatePart::Month,
        DatePart::YearMonth,
        DatePart::Week,
        DatePart::Day,
        DatePart::Weekday,
        DatePart::DayOfYear,
        DatePart::Date,
    ];

    /// The name used in rulings files.
    pub fn name(self) -> &'static str {
        match self {
            DatePart::Year => "year",
            DatePart::Quarter => "quarter",
            DatePart::Month => "month",
            DatePart::YearMonth => "year-month",
            DatePart::Week => "week",
            DatePart::Day => "day",
            DatePart::Weekday => "weekday",
            DatePart::DayOfYear => "day-of-year",
            DatePart::Date => "date",
        }
    }

    /// The name in a sentence.
    pub fn words(self) -> &'static str {
        match self {
            DatePart::YearMonth => "year and month",
            DatePart::DayOfYear => "day of the year",
            other => other.name(),
        }
    }

    /// The part of `date`, as a number; weekdays count from Monday, 1.
    pub fn of(self, date: Date) -> i32 {
        let (year, month, day) = (
            i32::from(date.year()),
            i32::from(date.month()),
            i32::from(date.day()),
        );
        match self {
            DatePart::Year => year,
            DatePart::Quarter => (month - 1) / 3 + 1,
            DatePart::Month => month,
            DatePart::YearMonth => year * 12 + month,
            DatePart::Week => i32::from(date.iso_week_date().week()),
            DatePart::Day => day,
            DatePart::Weekday => i32::from(date.weekday().to_monday_one_offset()),
            DatePart::DayOfYear => i32::from(date.day_of_year()),
            DatePart::Date => (year * 100 + month) * 100 + day,
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
    /// assert_eq!(DatePart::Month.read("März"), Some(3));
    /// assert_eq!(DatePart::Weekday.read("Tue"), Some(2));
    /// assert_eq!(DatePart::Quarter.read("2024-Q3"), Some(3));
    /// assert_eq!(DatePart::Week.read("W18"), Some(18));
    /// assert_eq!(DatePart::Day.read("32"), None);
    /// let date = jiff::civil::date(2024, 5, 2);
    /// assert_eq!(DatePart::YearMonth.read("202405"), Some(DatePart::YearMonth.of(date)));
    /// assert_eq!(DatePart::Date.read("scan_20240502_003.tif"), Some(DatePart::Date.of(date)));
    /// ```
    pub fn read(self, text: &str) -> Option<i32> {
        self.read_plain(text).or_else(|| match self {
            DatePart::Month => foreign_month(text.trim()),
            _ => None,
        })
    }

    /// The same, of names only English ones: the index of all languages takes
    /// tens of milliseconds to build, which most columns are not worth.
    pub(crate) fn read_plain(self, text: &str) -> Option<i32> {
        let text = text.trim();
        match self {
            DatePart::Year => number_in(text, 4, 0, 9999),
            DatePart::Quarter => number_up_to(text, 4).or_else(|| behind(text, &["q"], 4)),
            DatePart::Month => number_up_to(text, 12).or_else(|| month_named(text)),
            DatePart::YearMonth => year_month(text),
            DatePart::Week => {
                number_up_to(text, 53).or_else(|| behind(text, &["kw", "wk", "w"], 53))
            }
            DatePart::Day => number_up_to(text, 31),
            DatePart::Weekday => named(text, 7, |day| weekday_name(day.unsigned_abs())),
            DatePart::DayOfYear => number_up_to(text, 366).or_else(|| day_of_year(text)),
            DatePart::Date => whole_date(text).map(|date| DatePart::Date.of(date)),
        }
    }
}

/// The number that `text` is in so many digits, from `least` to `most`.
fn number_in(text: &str, digits: usize, least: i32, most: i32) -> Option<i32> {
    let is_number = text.len() == digits && text.bytes().all(|byte| byte.is_ascii_digit());
    let number: i32 = text.parse().ok().filter(|_| is_number)?;
    (least..=most).contains(&number).then_some(number)
}

/// The number that `text` is in up to three digits, from 1 to `most`.
fn number_up_to(text: &str, most: i32) -> Option<i32> {
    (text.len() <= 3)
        .then(|| number_in(text, text.len(), 1, most))
        .flatten()
}

/// The number behind one of `signs`, the only letters of `text`: `2024-Q3`, `KW
/// 18`.
fn behind(text: &str, signs: &[&str], most: i32) -> Option<i32> {
    let mut letters = text.char_indices();
    let (start, _) = letters.find(|(_, letter)| letter.is_alphabetic())?;
    let word: &str = text[start..]
        .split(|letter: char| !letter.is_alphabetic())
        .next()?;
    if !signs.iter().any(|sign| sign.eq_ignore_ascii_case(word)) {
        return None;
    }
    let rest = text[start + word.len()..].trim_start();
    let digits = rest
        .bytes()
        .take_while(|byte| byte.is_ascii_digit())
        .count();
    let is_last = |rest: &str| !rest.contains(char::is_alphabetic);
    number_up_to(&rest[..digits], most).filter(|_| is_last(rest))
}

/// The number of the name that `text` is, in full or shortened to at least
/// three letters.
fn named(text: &str, last: i8, name: fn(i8) -> &'static str) -> Option<i32> {
    let text = text.trim_end_matches('.');
    let fits = |number: &i8| {
        let start = name(*number).get(..text.len());
        text.len() >= 3 && start.is_some_and(|start| start.eq_ignore_ascii_case(text))
    };
    (1..=last).find(fits).map(i32::from)
}

fn month_named(text: &str) -> Option<i32> {
    named(text, 12, month_name)
}

/// The month that `text` names in some language, where all that have the name
/// mean the same one.
fn foreign_month(text: &str) -> Option<i32> {
    let text = text.trim_end_matches('.');
    if text.len() < 3 || !text.chars().all(char::is_alphabetic) {
        return None;
    }
    let Some(LexiconEntry::Name(meaning)) = everywhere().get(&text.to_lowercase()) else {
        return None;
    };
    let month = month_of(meaning.value());
    let is_one = meaning.roles.has(Roles::MONTH) && month != Meaning::DIFFERS;
    is_one.then_some(i32::from(month))
}

/// The two parts of `text` that one sign stands between.
fn two_parts(text: &str) -> Option<(&str, &str)> {
    let at = text.find(['-', '/', '.', '_', ' '])?;
    Some((&text[..at], &text[at + 1..]))
}

fn year_month(text: &str) -> Option<i32> {
    let (year, month) = match two_parts(text) {
        None if text.len() == 6 && text.is_ascii() => text.split_at(4),
        None => return None,
        Some((month, year)) if year.len() == 4 => (year, month),
        Some(parts) => parts,
    };
    let month = number_up_to(month, 12)
        .filter(|_| month.len() <= 2)
        .or_else(|| month_named(month))?;
    Some(number_in(year, 4, 1000, 9999)? * 12 + month)
}

fn day_of_year(text: &str) -> Option<i32> {
    let (year, day) = two_parts(text)?;
    number_in(year, 4, 1000, 9999)?;
    number_in(day, 3, 1, 366)
}

/// The first date in `text` that is written year first: eight digits, or four,
/// two and two with a sign between them.
fn whole_date(text: &str) -> Option<Date> {
    let bytes = text.as_bytes();
    let is_digit = |at: usize| bytes.get(at).is_some_and(u8::is_ascii_digit);
    let number = |from: usize, digits: usize| -> Option<i16> {
        (from..from + digits)
            .all(is_digit)
            .then(|| text[from..from + digits].parse().ok())
            .flatten()
    };
    let starts = (0..bytes.len()).filter(|&at| is_digit(at) && (at == 0 || !is_digit(at - 1)));
    starts.into_iter().find_map(|at| {
        let run = (at..).take_while(|&at| is_digit(at)).count();
        let step = match (run, bytes.get(at + 4)) {
            // With a time of day behind it, or without.
            (8 | 12 | 14, _) => 0,
            (4, Some(b'-' | b'_' | b'.' | b'/')) if bytes.get(at + 4) == bytes.get(at + 7) => 1,
            _ => return None,
        };
        let (month, day) = (at + 4 + step, at + 6 + 2 * step);
        if step == 1 && is_digit(day + 2) {
            return None;
        }
        let [month, day] = [number(month, 2)?, number(day, 2)?].map(|number| number as i8);
        let date = Date::new(number(at, 4)?, month, day).ok()?;
        (1000..=2999).contains(&date.year()).then_some(date)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    #[test]
    fn parts_are_read_however_they_are_written() {
        let day = date(2024, 5, 2);
        for (part, texts) in [
            (DatePart::Year, &["2024", " 2024 "][..]),
            (
                DatePart::Quarter,
                &["2", "Q2", "q 2", "2024-Q2", "Q2/2024", "2024Q2"],
            ),
            (DatePart::Month, &["5", "05", "May", "may.", "Maj", "mayo"]),
            (
                DatePart::YearMonth,
                &[
                    "2024-05", "202405", "05/2024", "5.2024", "2024/5", "May 2024", "2024_05",
                ],
            ),
            (DatePart::Week, &["18", "W18", "KW 18", "2024-W18", "wk18"]),
            (DatePart::Day, &["2", "02"]),
            (DatePart::Weekday, &["Thursday", "Thu", "thurs."]),
            (DatePart::DayOfYear, &["123", "2024-123"]),
            (
                DatePart::Date,
                &[
                    "2024-05-02",
                    "20240502",
                    "2024-05-02T10:00",
                    "a-2024_05_02.log",
                    "x20240502101500",
                ],
            ),
        ] {
            for text in texts {
                assert_eq!(
                    part.read(text),
                    Some(part.of(day)),
                    "{} of {text}",
                    part.name()
                );
            }
        }
    }

    #[test]
    fn other_text_is_no_part() {
        for (part, texts) in [
            (DatePart::Year, &["24", "20245", "year"][..]),
            (DatePart::Quarter, &["5", "Q5", "Quebec 2", "Q2 B"]),
            (DatePart::Month, &["0", "13", "Ma", "Marble", "Odrava"]),
            (
                DatePart::YearMonth,
                &["2024-13", "24-05", "5/6", "2024", "20240502"],
            ),
            (DatePart::Week, &["54", "W54", "week", "2024-18"]),
            (
                DatePart::Date,
                &[
                    "2024-05-2",
                    "02-05-2024",
                    "120240502",
                    "2024-05_02",
                    "2024-05-021",
                ],
            ),
        ] {
            for text in texts {
                assert_eq!(part.read(text), None, "{} of {text}", part.name());
            }
        }
    }

    proptest! {
        #[test]
        fn any_text_is_read_without_fault(text in ".{0,24}") {
            for part in DatePart::ALL {
                part.read_plain(&text);
            }
        }

        #[test]
        fn a_date_is_found_in_what_stands_around_it(days in 0..20_000, sign in "[-_./]?", before in "[a-z]{0,3}[-_]", after in "[-_a-z]{0,3}") {
            let day = date(1970, 1, 1) + jiff::Span::new().days(days);
            let text = day.strftime(&format!("{before}%Y{sign}%m{sign}%d{after}")).to_string();
            prop_assert_eq!(DatePart::Date.read(&text), Some(DatePart::Date.of(day)), "{}", text);
        }
    }
}
