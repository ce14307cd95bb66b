//! A checked phrase at work on rows.

mod calendar;
mod clock;
mod lengths;
mod part;
mod round;
mod truth;

pub(crate) use clock::Clock;
pub(crate) use part::has;

use super::expr::{
    Comparison, Counting, Edge, LeapBirthday, Made, MonthEnd, Part, Period, Scaling, Sign, Since,
    Test, Unit,
};
use super::number::{Number, Way};
use super::refusal::Refusal;
use super::value::Value;
use crate::form::{Count, Writer};
use crate::locale::Names;
use crate::stamp::{Duration, Kind, Stamp};
use crate::zone::WhichInstant;
use jiff::civil::Time;
use lengths::{amount, in_unit, negated, product, sum};

/// What is done, on values of types that were checked.
#[derive(Clone, Debug)]
pub(crate) enum Op {
    Value(Value),
    /// The value of a column in the row.
    Slot(usize),
    /// The number that a cell's text is.
    Number(Box<Op>),
    Part(Part, Box<Op>),
    Written(Box<Op>, Box<Writer>),
    /// As ISO 8601, or as the number or text that it is.
    Text(Box<Op>),
    Counted(Box<Op>, Count),
    /// Of the period around a day, or of a stretch of days.
    Edge(Edge, Option<Period>, Box<Op>),
    Made(Made, Vec<Op>, Names),
    Amount(Box<Op>, Unit),
    Moved(Sign, Box<Op>, Box<Op>, MonthEnd),
    Difference(Box<Op>, Box<Op>),
    Between(Counting, Unit, Box<Op>, Box<Op>),
    InUnit(Box<Op>, Counting, Unit),
    Age(Box<Op>, Box<Op>, LeapBirthday),
    /// The time since a row: of the column in this slot, told by this track.
    Since(Counting, Unit, Since, usize, usize),
    InZone(Box<Op>, Box<Clock>),
    AsInstant(Box<Op>, Box<Clock>, WhichInstant, WhichInstant),
    Kind(Box<Op>, Kind),
    Rounded(Box<Op>, Way, u32, Unit),
    RoundedNumber(Box<Op>, Way, u32),
    Negated(Box<Op>),
    /// Of numbers, or of lengths of time.
    Sum(Sign, Box<Op>, Box<Op>),
    Product(Scaling, Box<Op>, Box<Op>),
    Compared(Comparison, Box<Op>, Box<Op>),
    Within(Box<Op>, Box<Op>, Box<Op>),
    OneOf(Box<Op>, Vec<Op>),
    Is(Box<Op>, Test),
    Not(Box<Op>),
    And(Vec<Op>),
    Or(Vec<Op>),
    If(Vec<(Op, Op)>, Box<Op>),
    Otherwise(Vec<Op>),
}

/// A row: the values of its columns, and what other rows say.
#[derive(Clone, Copy, Debug)]
pub struct Row<'r> {
    /// The values of the columns, source columns first.
    pub slots: &'r [Value],
    /// What other rows say of the columns that are tracked.
    pub tracks: &'r [Track],
}

/// What the rows before a row say of a column, and all rows of its earliest
/// value.
#[derive(Clone, Debug, PartialEq)]
pub struct Track {
    /// The first value that is not blank.
    pub first: Value,
    /// The earliest of all rows.
    pub earliest: Value,
    /// The last value that is not blank.
    pub previous: Value,
}

impl Default for Track {
    fn default() -> Track {
        Track {
            first: Value::Blank,
            earliest: Value::Blank,
            previous: Value::Blank,
        }
    }
}

impl Track {
    /// Goes past a row with this value.
    pub fn pass(&mut self, value: &Value) {
        if *value == Value::Blank {
            return;
        }
        let value = value.clone();
        if self.first == Value::Blank {
            self.first = value.clone();
        }
        self.earliest = match (&self.earliest, &value) {
            (Value::Waits, _) | (_, Value::Waits) => Value::Waits,
            (Value::Stamp(known), Value::Stamp(stamp)) => Value::Stamp(*known.min(stamp)),
            _ => value.clone(),
        };
        self.previous = value;
    }

    /// Goes past the rows that `later` is of.
    pub fn append(&mut self, later: &Track) {
        for value in [&later.first, &later.earliest, &later.previous] {
            self.pass(value);
        }
    }
}

/// What comes out of a row.
// Boxed: it is rare and large, and every part of a phrase hands one back.
pub(crate) type Ran = Result<Value, Box<Refusal>>;

/// The value, unless there is none, which is then what comes out.
macro_rules! known {
    ($value:expr) => {
        match $value? {
            Value::Blank => return Ok(Value::Blank),
            Value::Waits => return Ok(Value::Waits),
            value => value,
        }
    };
}

/// Two values, unless one is none. What is blank stays so, whatever waits.
macro_rules! both {
    ($one:expr, $other:expr) => {
        match ($one?, $other?) {
            (Value::Blank, _) | (_, Value::Blank) => return Ok(Value::Blank),
            (Value::Waits, _) | (_, Value::Waits) => return Ok(Value::Waits),
            both => both,
        }
    };
}

pub(super) use {both, known};

impl Op {
    /// The value in a row.
    #[inline]
    pub(crate) fn run(&mut self, row: Row<'_>) -> Ran {
        // Half of all parts are these, and need no room for anything else.
        match self {
            Op::Slot(slot) => Ok(row.slots[*slot].clone()),
            Op::Value(Value::Stamp(stamp)) => Ok(Value::Stamp(*stamp)),
            Op::Value(Value::Number(number)) => Ok(Value::Number(*number)),
            _ => self.reckon(row),
        }
    }

    #[inline(never)]
    fn reckon(&mut self, row: Row<'_>) -> Ran {
        Ok(match self {
            Op::Value(value) => value.clone(),
            Op::Slot(slot) => row.slots[*slot].clone(),
            Op::Number(one) => number_of(known!(one.run(row)))?,
            Op::Part(part, one) => match part::part(*part, stamp(&known!(one.run(row)))) {
                part::PartOf::Number(number) => Value::Number(number),
                part::PartOf::Stamp(stamp) => Value::Stamp(stamp),
            },
            Op::Written(one, writer) => {
                let mut text = Vec::new();
                let stamp = stamp(&known!(one.run(row)));
                writer.write(stamp, &mut text).map_err(Refusal::from)?;
                owned(&String::from_utf8_lossy(&text))
            }
            Op::Text(one) => match known!(one.run(row)) {
                Value::Stamp(stamp) => owned(&stamp.to_string()),
                Value::Number(number) => owned(&number.to_string()),
                Value::Truth(truth) => owned(&truth.to_string()),
                other => other,
            },
            Op::Counted(one, count) => {
                let stamp = stamp(&known!(one.run(row)));
                let counted = count
                    .of(stamp)
                    .map_err(|why| Refusal::Count(why.to_string()))?;
                let (numerator, denominator) = counted;
                Value::Number(Number::ratio(numerator, denominator).ok_or(Refusal::TooLarge)?)
            }
            Op::Edge(edge, period, one) => {
                let stamp = stamp(&known!(one.run(row)));
                let day = match (period, stamp.date()) {
                    (Some(period), Some(date)) => calendar::edge(date, *edge, *period)?,
                    _ => match calendar::edge_of(stamp, *edge) {
                        Some(day) => day?,
                        None => return Ok(Value::Blank),
                    },
                };
                Value::Stamp(Stamp::Date(day))
            }
            Op::Made(made, parts, names) => return made_from(*made, parts, names, row),
            Op::Amount(one, unit) => {
                let number = number(&known!(one.run(row)));
                Value::Stamp(Stamp::Duration(amount(number, *unit)?))
            }
            Op::Moved(sign, one, by, end) => {
                let (one, by) = both!(one.run(row), by.run(row));
                let by = match sign {
                    Sign::Plus => length(&by),
                    Sign::Minus => negated(length(&by)),
                };
                Value::Stamp(calendar::moved(stamp(&one), by, *end)?)
            }
            Op::Difference(one, other) => {
                let (one, other) = both!(one.run(row), other.run(row));
                let length = calendar::exact_between(stamp(&other), stamp(&one));
                Value::Stamp(Stamp::Duration(Duration::new(0, length)))
            }
            Op::Between(counting, unit, from, to) => {
                let (from, to) = both!(from.run(row), to.run(row));
                let between = calendar::between(stamp(&from), stamp(&to), *counting, *unit)?;
                Value::Number(between)
            }
            Op::InUnit(one, counting, unit) => {
                let length = length(&known!(one.run(row)));
                Value::Number(in_unit(length, *counting, *unit)?)
            }
            Op::Age(born, on, leap) => match both!(born.run(row), on.run(row)) {
                (Value::Stamp(Stamp::Date(born)), Value::Stamp(Stamp::Date(on))) => {
                    let age = calendar::age(born, on, *leap);
                    Value::Number(age.ok_or(Refusal::BeforeBirth { born, on })?.into())
                }
                _ => Value::Blank,
            },
            Op::Since(counting, unit, since, slot, track) => {
                let here = known!(Ran::Ok(row.slots[*slot].clone()));
                let track = &row.tracks[*track];
                let from = match since {
                    Since::First if track.first == Value::Blank => here.clone(),
                    Since::First => track.first.clone(),
                    Since::Earliest => track.earliest.clone(),
                    Since::Previous => track.previous.clone(),
                };
                let from = known!(Ran::Ok(from));
                let between = calendar::between(stamp(&from), stamp(&here), *counting, *unit)?;
                Value::Number(between)
            }
            Op::InZone(one, clock) => return clock.shown(one.run(row), row),
            Op::AsInstant(one, clock, in_gap, in_overlap) => {
                return clock.put(one.run(row), (*in_gap, *in_overlap), row);
            }
            Op::Kind(one, kind) => Value::Stamp(to_kind(stamp(&known!(one.run(row))), *kind)),
            Op::Rounded(one, way, amount, unit) => {
                let stamp = stamp(&known!(one.run(row)));
                Value::Stamp(round::rounded(stamp, *way, *amount, *unit)?)
            }
            Op::RoundedNumber(one, way, decimals) => {
                let number = number(&known!(one.run(row)));
                Value::Number(number.rounded(*way, *decimals))
            }
            Op::Negated(one) => match known!(one.run(row)) {
                Value::Number(number) => Value::Number(-number),
                other => Value::Stamp(Stamp::Duration(negated(length(&other)))),
            },
            Op::Sum(sign, one, other) => {
                let (one, other) = both!(one.run(row), other.run(row));
                sum(*sign, &one, &other)?
            }
            Op::Product(scaling, one, other) => {
                let (one, other) = both!(one.run(row), other.run(row));
                product(*scaling, &one, &other)?
            }
            Op::Compared(..)
            | Op::Within(..)
            | Op::OneOf(..)
            | Op::Is(..)
            | Op::Not(_)
            | Op::And(_)
            | Op::Or(_) => return self.truth(row),
            Op::If(cases, last) => {
                for (test, then) in cases {
                    if let Value::Truth(true) = known!(test.run(row)) {
                        return then.run(row);
                    }
                }
                return last.run(row);
            }
            Op::Otherwise(all) => {
                for one in all {
                    match one.run(row)? {
                        Value::Blank => {}
                        other => return Ok(other),
                    }
                }
                Value::Blank
            }
        })
    }
}

fn owned(text: &str) -> Value {
    Value::Text(text.into())
}

// Types were checked: what stands for another type is never met.

fn stamp(value: &Value) -> Stamp {
    match value {
        Value::Stamp(stamp) => *stamp,
        _ => Stamp::Duration(Duration::default()),
    }
}

fn length(value: &Value) -> Duration {
    match value {
        Value::Stamp(Stamp::Duration(length)) => *length,
        _ => Duration::default(),
    }
}

fn number(value: &Value) -> Number {
    match value {
        Value::Number(number) => *number,
        _ => 0.into(),
    }
}

fn number_of(value: Value) -> Ran {
    match value {
        Value::Text(text) => match Number::parse(&text) {
            Some(number) => Ok(Value::Number(number)),
            None => Err(Refusal::NoNumber(text.to_string()).into()),
        },
        other => Ok(other),
    }
}

fn whole(value: &Value) -> Result<i64, Refusal> {
    let number = number(value);
    number.whole().ok_or(Refusal::NotWhole(number))
}

fn made_from(made: Made, parts: &mut [Op], names: &Names, row: Row<'_>) -> Ran {
    let mut values = Vec::with_capacity(3);
    let mut waits = false;
    for part in parts {
        match part.run(row)? {
            Value::Blank => return Ok(Value::Blank),
            Value::Waits => waits = true,
            value => values.push(value),
        }
    }
    if waits {
        return Ok(Value::Waits);
    }
    Ok(Value::Stamp(match (made, &values[..]) {
        (Made::Date, [year, month, day]) => {
            let month = match month {
                Value::Text(text) => part::month_from(text, names)?,
                other => whole(other)?,
            };
            Stamp::Date(part::date_from(whole(year)?, month, whole(day)?)?)
        }
        (Made::Time, [hour, minute, second @ ..]) => {
            let second = second.first().map_or(0.into(), number);
            Stamp::Time(part::time_from(whole(hour)?, whole(minute)?, second)?)
        }
        (
            _,
            [
                Value::Stamp(Stamp::Date(date)),
                Value::Stamp(Stamp::Time(time)),
            ],
        ) => Stamp::DateTime(date.to_datetime(*time)),
        _ => return Ok(Value::Blank),
    }))
}

/// `stamp` as one of a kind that it can be shown as: cut, never rounded.
fn to_kind(stamp: Stamp, kind: Kind) -> Stamp {
    let date = match stamp {
        Stamp::Month(year, month) => {
            return match kind {
                Kind::Quarter => Stamp::Quarter(year, month.div_ceil(3)),
                Kind::Year => Stamp::Year(year),
                _ => stamp,
            };
        }
        Stamp::Quarter(year, _) if kind == Kind::Year => return Stamp::Year(year),
        _ => match stamp.date() {
            Some(date) => date,
            None => return stamp,
        },
    };
    let month = date.month().unsigned_abs();
    let week = date.iso_week_date();
    match (kind, stamp) {
        (Kind::Date, _) => Stamp::Date(date),
        (Kind::Time, Stamp::DateTime(at)) => Stamp::Time(at.time()),
        (Kind::DateTime, Stamp::Date(_)) => Stamp::DateTime(date.to_datetime(Time::midnight())),
        (Kind::Month, _) => Stamp::Month(date.year(), month),
        (Kind::Quarter, _) => Stamp::Quarter(date.year(), month.div_ceil(3)),
        (Kind::Week, _) => Stamp::Week(week.year(), week.week().unsigned_abs()),
        (Kind::Year, _) => Stamp::Year(date.year()),
        _ => stamp,
    }
}
