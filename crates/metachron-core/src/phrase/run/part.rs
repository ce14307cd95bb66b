//! Parts of stamps, and stamps put together from parts.

use super::mismatch;
use crate::locale::{LexiconEntry, Names, Roles, english_word, month_of};
use crate::phrase::expr::{Part, Test};
use crate::phrase::number::Number;
use crate::phrase::refusal::Refusal;
use crate::phrase::value::Value;
use crate::stamp::{Kind, Stamp};
use jiff::civil::{Date, Time};

/// A part of `stamp`, whose kind has it.
pub(super) fn part(part: Part, stamp: &Stamp) -> Value {
    let number = |number: i64| Value::Number(number.into());
    let (date, time) = match *stamp {
        Stamp::Date(date) => (date, Time::midnight()),
        Stamp::DateTime(at) => (at.date(), at.time()),
        Stamp::Time(time) => (Date::ZERO, time),
        Stamp::Month(year, month) => {
            return number(match part {
                Part::Year => year.into(),
                Part::Quarter => i64::from(month + 2) / 3,
                Part::Month => month.into(),
                other => mismatch("a part of a month", &other),
            });
        }
        Stamp::Quarter(year, quarter) => {
            return number(match part {
                Part::Year => year.into(),
                Part::Quarter => quarter.into(),
                other => mismatch("a part of a quarter", &other),
            });
        }
        Stamp::Week(year, week) => {
            return number(match part {
                Part::WeekYear => year.into(),
                Part::Week => week.into(),
                other => mismatch("a part of a week", &other),
            });
        }
        Stamp::Year(year) => return number(year.into()),
        Stamp::Instant(_) | Stamp::Duration(_) => mismatch("a local stamp", stamp),
    };
    number(match part {
        Part::Date => return Value::Stamp(Stamp::Date(date)),
        Part::Time => return Value::Stamp(Stamp::Time(time)),
        Part::Fraction => {
            let fraction = Number::ratio(time.subsec_nanosecond().into(), 1_000_000_000);
            return Value::Number(fraction.unwrap_or(0.into()));
        }
        Part::Year => date.year().into(),
        Part::Quarter => i64::from(date.month() + 2) / 3,
        Part::Month => date.month().into(),
        Part::Week => date.iso_week_date().week().into(),
        Part::WeekYear => date.iso_week_date().year().into(),
        Part::Day => date.day().into(),
        Part::DayOfYear => date.day_of_year().into(),
        Part::Weekday => date.weekday().to_monday_one_offset().into(),
        Part::Hour => time.hour().into(),
        Part::Minute => time.minute().into(),
        Part::Second => time.second().into(),
    })
}

/// Whether stamps of `kind` have a part.
pub(crate) fn has(kind: Kind, part: Part) -> bool {
    let is_date = matches!(kind, Kind::Date | Kind::DateTime);
    match part {
        Part::Year => is_date || matches!(kind, Kind::Month | Kind::Quarter | Kind::Year),
        Part::Quarter => is_date || matches!(kind, Kind::Month | Kind::Quarter),
        Part::Month => is_date || kind == Kind::Month,
        Part::Week | Part::WeekYear => is_date || kind == Kind::Week,
        Part::Day | Part::DayOfYear | Part::Weekday | Part::Date => is_date,
        Part::Hour | Part::Minute | Part::Second | Part::Fraction | Part::Time => {
            matches!(kind, Kind::Time | Kind::DateTime)
        }
    }
}

/// Whether a stamp passes a test on its day or its year.
pub(super) fn passes(stamp: &Stamp, test: Test) -> bool {
    let is_leap = |year: i16| Date::new(year, 1, 1).is_ok_and(Date::in_leap_year);
    let date = match *stamp {
        Stamp::Date(date) => date,
        Stamp::DateTime(at) => at.date(),
        Stamp::Month(year, _) | Stamp::Quarter(year, _) | Stamp::Year(year) => {
            return test == Test::LeapYear && is_leap(year);
        }
        other => mismatch("a day or a year", &other),
    };
    let is_weekend = date.weekday().to_monday_one_offset() > 5;
    match test {
        Test::LeapYear => date.in_leap_year(),
        Test::Weekend => is_weekend,
        Test::Weekday => !is_weekend,
        Test::Blank => mismatch("a test of a stamp", &test),
    }
}

/// The day that a year, a month and a day name.
pub(super) fn date_from(year: i64, month: i64, day: i64) -> Result<Date, Refusal> {
    let no_day = || Refusal::NoDay { year, month, day };
    if !(-9999..=9999).contains(&year) {
        return Err(Refusal::BeyondYears);
    }
    let small = |number: i64| i8::try_from(number).map_err(|_| no_day());
    Date::new(year as i16, small(month)?, small(day)?).map_err(|_| no_day())
}

/// The time of day that an hour, a minute and a second name.
pub(super) fn time_from(hour: i64, minute: i64, second: Number) -> Result<Time, Refusal> {
    let no_time = || Refusal::NoTime(format!("{hour}:{minute:02}:{second}"));
    let nanoseconds = second.times(1_000_000_000).ok_or_else(no_time)?;
    if !(0..60_000_000_000).contains(&nanoseconds) {
        return Err(no_time());
    }
    let small = |number: i64| i8::try_from(number).map_err(|_| no_time());
    Time::new(
        small(hour)?,
        small(minute)?,
        (nanoseconds / 1_000_000_000) as i8,
        (nanoseconds % 1_000_000_000) as i32,
    )
    .map_err(|_| no_time())
}

/// The month, 1–12, that a cell names by its number or by a name.
pub(super) fn month_from(text: &str, names: &Names) -> Result<i64, Refusal> {
    let text = text.trim();
    if let Some(number) = Number::parse(text) {
        return number.whole().ok_or(Refusal::NotWhole(number));
    }
    let of = |found| match found {
        Some(LexiconEntry::Name(name)) if name.roles.has(Roles::MONTH) => {
            Some(month_of(name.value()))
        }
        _ => None,
    };
    let word = text.trim_end_matches('.');
    let month = match names {
        Names::Of(lexicon) => of(lexicon.get(text)).or_else(|| of(lexicon.get(word))),
        Names::English | Names::Anywhere => of(english_word(word)),
    };
    match month.filter(|month| (1..=12).contains(month)) {
        Some(month) => Ok(month.into()),
        None => Err(Refusal::NoMonth(text.to_owned())),
    }
}
