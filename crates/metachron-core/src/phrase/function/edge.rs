//! First and last days of periods: `first day of month of due`.

use super::{Eval, Function, Parameter, Settings, no_part};
use crate::phrase::calendar::{Edge, Period, edge, edge_of};
use crate::phrase::error::code;
use crate::phrase::refusal::Evaluated;
use crate::phrase::value::{Type, Value, mismatch};
use crate::stamp::{Kind, Stamp};

pub(super) static EDGES: [Function; 10] = [
    of_period(
        "first day of week of",
        |values, _| around(values, Edge::First, Period::Week),
        "the Monday of a day's week (ISO 8601)",
    ),
    of_period(
        "last day of week of",
        |values, _| around(values, Edge::Last, Period::Week),
        "the Sunday of a day's week (ISO 8601)",
    ),
    of_period(
        "first day of month of",
        |values, _| around(values, Edge::First, Period::Month),
        "the first day of a day's month",
    ),
    of_period(
        "last day of month of",
        |values, _| around(values, Edge::Last, Period::Month),
        "the last day of a day's month",
    ),
    of_period(
        "first day of quarter of",
        |values, _| around(values, Edge::First, Period::Quarter),
        "the first day of a day's quarter",
    ),
    of_period(
        "last day of quarter of",
        |values, _| around(values, Edge::Last, Period::Quarter),
        "the last day of a day's quarter",
    ),
    of_period(
        "first day of year of",
        |values, _| around(values, Edge::First, Period::Year),
        "1 January of a day's year",
    ),
    of_period(
        "last day of year of",
        |values, _| around(values, Edge::Last, Period::Year),
        "31 December of a day's year",
    ),
    Function::of_stamp(
        "first day of",
        OF_PERIOD,
        Type::Stamp(Kind::Date),
        Eval::Values(|values, _| own(values, Edge::First)),
        "the first day of a month, a quarter, a week or a year",
    ),
    Function::of_stamp(
        "last day of",
        OF_PERIOD,
        Type::Stamp(Kind::Date),
        Eval::Values(|values, _| own(values, Edge::Last)),
        "the last day of a month, a quarter, a week or a year",
    ),
];

const DAYS: &[Kind] = &[Kind::Date, Kind::DateTime];
const PERIODS: &[Kind] = &[Kind::Month, Kind::Quarter, Kind::Week, Kind::Year];

const OF_DAY: &[Parameter] = &[Parameter::stamp("DAY", DAYS, |_, kind, value| {
    if PERIODS.contains(&kind) {
        let of = Type::Stamp(kind);
        let instead = code(&format!("first day of {value}"));
        format!("{of} has its own first and last day: write {instead}")
    } else {
        no_part(kind, "date", value)
    }
})];

const OF_PERIOD: &[Parameter] = &[Parameter::stamp("PERIOD", PERIODS, |_, kind, value| {
    if DAYS.contains(&kind) {
        let instead = code(&format!("first day of month of {value}"));
        format!("of which week, month, quarter or year? write {instead}")
    } else {
        no_part(kind, "date", value)
    }
})];

const fn of_period(
    words: &'static str,
    eval: fn(&[&Value], &Settings) -> Evaluated<Value>,
    doc: &'static str,
) -> Function {
    let gives = Type::Stamp(Kind::Date);
    Function::of_stamp(words, OF_DAY, gives, Eval::Values(eval), doc)
}

/// The first or last day of the period that a day is in.
fn around(values: &[&Value], which: Edge, period: Period) -> Evaluated<Value> {
    match values[0].stamp().date() {
        Some(date) => Ok(Value::Stamp(Stamp::Date(edge(date, which, period)?))),
        None => mismatch("a day", values[0]),
    }
}

/// The first or last day of a period.
fn own(values: &[&Value], which: Edge) -> Evaluated<Value> {
    match edge_of(values[0].stamp(), which) {
        Some(day) => Ok(Value::Stamp(Stamp::Date(day?))),
        None => mismatch("a period", values[0]),
    }
}
