//! Stamps put together, and ages: `date from y, m, d`, `age of born on day`.

use super::{Eval, Function, Parameter, Takes};
use crate::locale::{LexiconEntry, Names, Roles, english_word, month_of};
use crate::phrase::calendar;
use crate::phrase::number::Number;
use crate::phrase::refusal::Refusal;
use crate::phrase::value::{Type, Value, mismatch};
use crate::stamp::{Kind, Stamp};
use jiff::civil::{Date, Time};

pub(super) static MAKERS: [Function; 4] = [
    Function {
        words: "date from",
        parameters: &[
            Parameter::number("YEAR"),
            Parameter {
                name: "MONTH",
                takes: Takes::Month,
            },
            Parameter::number("DAY"),
        ],
        optional: 0,
        link: ",",
        localized: true,
        gives: Type::Stamp(Kind::Date),
        eval: Eval::Values(|values, settings| {
            let month = match values[1] {
                Value::Text(text) => month_from(text, &settings.names)?,
                other => whole(other)?,
            };
            let date = date_from(whole(values[0])?, month, whole(values[2])?)?;
            Ok(Value::Stamp(Stamp::Date(date)))
        }),
        doc: "a date; the month by its number or its name, in English unless a locale is named",
    },
    Function {
        words: "time from",
        parameters: &[
            Parameter::number("HOUR"),
            Parameter::number("MINUTE"),
            Parameter::number("SECOND"),
        ],
        optional: 1,
        link: ",",
        localized: false,
        gives: Type::Stamp(Kind::Time),
        eval: Eval::Values(|values, _| {
            let second = values.get(2).map_or(0.into(), |second| second.number());
            let time = time_from(whole(values[0])?, whole(values[1])?, second)?;
            Ok(Value::Stamp(Stamp::Time(time)))
        }),
        doc: "a time of day; the second may have decimals",
    },
    Function {
        words: "datetime from",
        parameters: &[
            Parameter::stamp("DATE", &[Kind::Date], |_, kind, _| {
                format!("a date is wanted here, and this is {}", Type::Stamp(kind))
            }),
            Parameter::stamp("TIME", &[Kind::Time], |_, kind, _| {
                let found = Type::Stamp(kind);
                format!("a time of day is wanted here, and this is {found}")
            }),
        ],
        optional: 0,
        link: ",",
        localized: false,
        gives: Type::Stamp(Kind::DateTime),
        eval: Eval::Values(|values, _| match (values[0].stamp(), values[1].stamp()) {
            (Stamp::Date(date), Stamp::Time(time)) => {
                Ok(Value::Stamp(Stamp::DateTime(date.to_datetime(*time))))
            }
            other => mismatch("a date and a time of day", &other),
        }),
        doc: "a date and a time of day put together",
    },
    Function {
        words: "age of",
        parameters: &[day("BORN"), day("DAY")],
        optional: 0,
        link: "on",
        localized: false,
        gives: Type::Number,
        eval: Eval::Values(
            |values, settings| match (values[0].stamp(), values[1].stamp()) {
                (Stamp::Date(born), Stamp::Date(on)) => {
                    let (born, on) = (*born, *on);
                    let age = calendar::age(born, on, settings.policies.leap_birthday);
                    let age = age.ok_or(Refusal::BeforeBirth { born, on })?;
                    Ok(Value::Number(age.into()))
                }
                other => mismatch("two days", &other),
            },
        ),
        doc: "the completed years on a day; of a birth on 29 February by the policy `leap-birthday`",
    },
];

const fn day(name: &'static str) -> Parameter {
    Parameter::stamp(name, &[Kind::Date], |_, kind, _| {
        let found = Type::Stamp(kind);
        format!(
            "a date is wanted here, and this is {found}; take the `date of` a datetime, and show \
             an instant `in zone \"…\"` first"
        )
    })
}

fn whole(value: &Value) -> Result<i64, Refusal> {
    let number = value.number();
    number.whole().ok_or(Refusal::NotWhole(number))
}

/// The day that a year, a month and a day name.
fn date_from(year: i64, month: i64, day: i64) -> Result<Date, Refusal> {
    let no_day = || Refusal::NoDay { year, month, day };
    if !(-9999..=9999).contains(&year) {
        return Err(Refusal::BeyondYears);
    }
    let small = |number: i64| i8::try_from(number).map_err(|_| no_day());
    Date::new(year as i16, small(month)?, small(day)?).map_err(|_| no_day())
}

/// The time of day that an hour, a minute and a second name.
fn time_from(hour: i64, minute: i64, second: Number) -> Result<Time, Refusal> {
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
fn month_from(text: &str, names: &Names) -> Result<i64, Refusal> {
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
