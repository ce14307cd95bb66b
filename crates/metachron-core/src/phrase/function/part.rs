//! Parts of stamps: `year of due`, `month name of due in locale "fr"`.

use super::{Eval, Function, Parameter, no_part};
use crate::phrase::number::Number;
use crate::phrase::refusal::Refusal;
use crate::phrase::value::{Type, Value, mismatch};
use crate::stamp::{Kind, Stamp};
use jiff::civil::{Date, Time};

const OF_YEAR: &[Parameter] = &[of(&[
    Kind::Date,
    Kind::DateTime,
    Kind::Month,
    Kind::Quarter,
    Kind::Year,
])];
const OF_QUARTER: &[Parameter] = &[of(&[
    Kind::Date,
    Kind::DateTime,
    Kind::Month,
    Kind::Quarter,
])];
const OF_MONTH: &[Parameter] = &[of(&[Kind::Date, Kind::DateTime, Kind::Month])];
const OF_WEEK: &[Parameter] = &[of(&[Kind::Date, Kind::DateTime, Kind::Week])];
const OF_DAY: &[Parameter] = &[of(&[Kind::Date, Kind::DateTime])];
const OF_TIME: &[Parameter] = &[of(&[Kind::Time, Kind::DateTime])];

pub(super) static PARTS: [Function; 16] = [
    number(
        "year of",
        OF_YEAR,
        |value| value.year().unwrap_or(0).into(),
        "the year; 0 is the year before 1 (ISO 8601)",
    ),
    number(
        "quarter of",
        OF_QUARTER,
        |value| match *value {
            Stamp::Month(_, month) => month.div_ceil(3).into(),
            Stamp::Quarter(_, quarter) => quarter.into(),
            _ => (i64::from(date(value).month()) + 2) / 3,
        },
        "the quarter, 1 to 4",
    ),
    number(
        "month of",
        OF_MONTH,
        |value| match *value {
            Stamp::Month(_, month) => month.into(),
            _ => date(value).month().into(),
        },
        "the month, 1 to 12",
    ),
    written(
        "month name of",
        OF_MONTH,
        "MMMM",
        "the month's name, in English unless a locale is named",
    ),
    number(
        "week of",
        OF_WEEK,
        |value| match *value {
            Stamp::Week(_, week) => week.into(),
            _ => date(value).iso_week_date().week().into(),
        },
        "the week, 1 to 53: Monday to Sunday, week 1 has the year's first Thursday (ISO 8601)",
    ),
    number(
        "week year of",
        OF_WEEK,
        |value| match *value {
            Stamp::Week(year, _) => year.into(),
            _ => date(value).iso_week_date().year().into(),
        },
        "the year that this week belongs to (ISO 8601)",
    ),
    number(
        "day of",
        OF_DAY,
        |value| date(value).day().into(),
        "the day of the month, 1 to 31",
    ),
    number(
        "day of year of",
        OF_DAY,
        |value| date(value).day_of_year().into(),
        "the day of the year, 1 to 366",
    ),
    number(
        "weekday of",
        OF_DAY,
        |value| date(value).weekday().to_monday_one_offset().into(),
        "the day of the week, 1 (Monday) to 7 (ISO 8601)",
    ),
    written(
        "weekday name of",
        OF_DAY,
        "EEEE",
        "the name of the day of the week, in English unless a locale is named",
    ),
    number(
        "hour of",
        OF_TIME,
        |value| time(value).hour().into(),
        "the hour, 0 to 23",
    ),
    number(
        "minute of",
        OF_TIME,
        |value| time(value).minute().into(),
        "the minute, 0 to 59",
    ),
    number(
        "second of",
        OF_TIME,
        |value| time(value).second().into(),
        "the second, 0 to 59, without its fraction",
    ),
    Function::of_stamp(
        "fraction of",
        OF_TIME,
        Type::Number,
        Eval::Values(|values, _| {
            let nanoseconds = time(values[0].stamp()).subsec_nanosecond();
            let fraction = Number::ratio(nanoseconds.into(), 1_000_000_000);
            Ok(Value::Number(fraction.ok_or(Refusal::TooLarge)?))
        }),
        "the fraction of the second, from 0 to below 1",
    ),
    Function::of_stamp(
        "date of",
        OF_DAY,
        Type::Stamp(Kind::Date),
        Eval::Stamp(|value| Stamp::Date(date(value))),
        "the day, as a date: cut, never rounded",
    ),
    Function::of_stamp(
        "time of",
        OF_TIME,
        Type::Stamp(Kind::Time),
        Eval::Stamp(|value| Stamp::Time(time(value))),
        "the time of day",
    ),
];

const fn of(kinds: &'static [Kind]) -> Parameter {
    Parameter::stamp("VALUE", kinds, |function, kind, value| {
        no_part(kind, function.name(), value)
    })
}

const fn number(
    words: &'static str,
    parameters: &'static [Parameter],
    eval: fn(&Stamp) -> i64,
    doc: &'static str,
) -> Function {
    Function::of_stamp(words, parameters, Type::Number, Eval::Number(eval), doc)
}

const fn written(
    words: &'static str,
    parameters: &'static [Parameter],
    pattern: &'static str,
    doc: &'static str,
) -> Function {
    Function::of_stamp(words, parameters, Type::Text, Eval::Pattern(pattern), doc)
}

fn date(stamp: &Stamp) -> Date {
    match stamp.date() {
        Some(date) => date,
        None => mismatch("a day", stamp),
    }
}

fn time(stamp: &Stamp) -> Time {
    match *stamp {
        Stamp::Time(time) => time,
        Stamp::DateTime(at) => at.time(),
        _ => mismatch("a time of day", stamp),
    }
}
