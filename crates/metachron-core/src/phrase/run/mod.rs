//! A checked phrase at work on rows.

mod call;
mod clock;
mod lengths;
mod round;
mod step;
mod truth;

pub(crate) use call::Call;
pub(crate) use clock::Clock;
pub(crate) use step::{Put, Step};

use super::calendar;
use super::expr::{Comparison, Scaling, Sign, Since};
use super::function::StampTest;
use super::number::{Number, Way};
use super::policy::MonthEnd;
use super::refusal::{Evaluated, Refusal};
use super::unit::{Counting, Unit};
use super::value::{Value, mismatch};
use crate::form::{Count, Writer};
use crate::stamp::{Duration, Kind, Stamp};
use crate::zone::WhichInstant;
use jiff::civil::Time;
use lengths::{amount, in_unit, product, product_of_numbers, sum, sum_of_numbers};
use step::{Ran, both, known};

/// What is done, on values of types that were checked.
#[derive(Clone, Debug)]
// So that what it is stands at one place, and need not be computed.
#[repr(u64)]
pub(crate) enum Op {
    Value(Value),
    /// The value of a column in the row.
    Slot(usize),
    /// The number that the cell in this slot is, whose text stands there if it
    /// is none.
    NumberIn(usize),
    /// The number that a text is.
    Number(Box<Step>),
    Call(Box<Call>),
    Written(Box<Step>, Box<Writer>),
    /// As ISO 8601, or as the number or text that it is.
    Text(Box<Step>),
    Counted(Box<Step>, Count),
    Amount(Box<Step>, Unit),
    Moved(Sign, Box<Step>, Box<Step>, MonthEnd),
    Difference(Box<Step>, Box<Step>),
    Between(Counting, Unit, Box<Step>, Box<Step>),
    InUnit(Box<Step>, Counting, Unit),
    /// The time since a row: of the column in this slot, told by this track.
    Since(Counting, Unit, Since, usize, usize),
    InZone(Box<Step>, Box<Clock>),
    AsInstant(Box<Step>, Box<Clock>, WhichInstant, WhichInstant),
    Kind(Box<Step>, Kind),
    Rounded(Box<Step>, Way, u32, Unit),
    RoundedNumber(Box<Step>, Way, u32),
    Negated(Box<Step>),
    /// Of numbers, or of lengths of time.
    Sum(Sign, Box<Step>, Box<Step>),
    Product(Scaling, Box<Step>, Box<Step>),
    Compared(Comparison, Box<Step>, Box<Step>),
    Within(Box<Step>, Box<Step>, Box<Step>),
    OneOf(Box<Step>, Vec<Step>),
    IsBlank(Box<Step>),
    Is(Box<Step>, &'static StampTest),
    Not(Box<Step>),
    And(Vec<Step>),
    Or(Vec<Step>),
    If(Vec<(Step, Step)>, Box<Step>),
    Otherwise(Vec<Step>),
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
        if self.first == Value::Blank {
            self.first.clone_from(value);
        }
        match (&mut self.earliest, value) {
            (Value::Waits, _) => {}
            (Value::Stamp(known), Value::Stamp(stamp)) => *known = *stamp.min(known),
            (earliest, value) => earliest.clone_from(value),
        }
        self.previous.clone_from(value);
    }

    /// Goes past the rows that `later` is of.
    pub fn append(&mut self, later: &Track) {
        for value in [&later.first, &later.earliest, &later.previous] {
            self.pass(value);
        }
    }
}

impl Op {
    /// Puts the value in a row into `out`: at once what most columns are made
    /// of, as to make room for all that there is took as long as to compute it.
    #[inline(never)]
    pub(crate) fn eval(&mut self, row: Row<'_>, out: &mut Value) -> Put {
        match self {
            Op::Number(one) => {
                let value = known!(one.run(row), out);
                give(out, || number_of(value).map(Value::Number))
            }
            Op::Call(call) => call.put(row, out),
            Op::Moved(sign, one, by, end) => {
                let (one, by) = both!(one.run(row), by.run(row), out);
                give(out, || {
                    let by = match sign {
                        Sign::Plus => by.length(),
                        Sign::Minus => -by.length(),
                    };
                    calendar::moved(one.stamp(), by, *end).map(Value::Stamp)
                })
            }
            Op::Difference(one, other) => {
                let (one, other) = both!(one.run(row), other.run(row), out);
                give(out, || {
                    let length = calendar::exact_between(other.stamp(), one.stamp());
                    Ok(length_of(Duration::new(0, length)))
                })
            }
            Op::Between(counting, unit, from, to) => {
                let (from, to) = both!(from.run(row), to.run(row), out);
                give(out, || {
                    calendar::between(from.stamp(), to.stamp(), *counting, *unit).map(Value::Number)
                })
            }
            Op::Since(counting, unit, since, slot, track) => {
                let here = known!(Ran::Ok(&row.slots[*slot]), out);
                let track = &row.tracks[*track];
                let from = match since {
                    Since::First if track.first == Value::Blank => here,
                    Since::First => &track.first,
                    Since::Earliest => &track.earliest,
                    Since::Previous => &track.previous,
                };
                let from = known!(Ran::Ok(from), out);
                give(out, || {
                    calendar::between(from.stamp(), here.stamp(), *counting, *unit)
                        .map(Value::Number)
                })
            }
            Op::InUnit(one, counting, unit) => {
                let value = known!(one.run(row), out);
                give(out, || {
                    in_unit(value.length(), *counting, *unit).map(Value::Number)
                })
            }
            Op::InZone(one, clock) => clock.shown(one.run(row), row, out),
            Op::AsInstant(one, clock, in_gap, in_overlap) => {
                clock.put(one.run(row), (*in_gap, *in_overlap), row, out)
            }
            Op::Kind(one, kind) => {
                let stamp = known!(one.run(row), out).stamp();
                give(out, || Ok(Value::Stamp(to_kind(stamp, *kind))))
            }
            Op::Rounded(one, way, amount, unit) => {
                let stamp = known!(one.run(row), out).stamp();
                give(out, || {
                    round::rounded(stamp, *way, *amount, *unit).map(Value::Stamp)
                })
            }
            Op::RoundedNumber(one, way, decimals) => {
                let value = known!(one.run(row), out);
                give(out, || {
                    Ok(Value::Number(value.number().rounded(*way, *decimals)))
                })
            }
            Op::Sum(sign, one, other) => {
                let (one, other) = both!(one.run(row), other.run(row), out);
                match (one, other) {
                    (Value::Number(one), Value::Number(other)) => {
                        give(out, || sum_of_numbers(*sign, one, other).map(Value::Number))
                    }
                    _ => give(out, || sum(*sign, one, other).map(length_of)),
                }
            }
            Op::Product(scaling, one, other) => {
                let (one, other) = both!(one.run(row), other.run(row), out);
                match (one, other) {
                    (Value::Number(one), Value::Number(other)) => give(out, || {
                        product_of_numbers(*scaling, one, other).map(Value::Number)
                    }),
                    _ => give(out, || product(*scaling, one, other).map(length_of)),
                }
            }
            Op::Compared(comparison, one, other) => {
                let (one, other) = both!(one.run(row), other.run(row), out);
                give(out, || {
                    truth::holds(*comparison, one, other).map(Value::Truth)
                })
            }
            _ => self.seldom(row, out),
        }
    }

    #[inline(never)]
    fn seldom(&mut self, row: Row<'_>, out: &mut Value) -> Put {
        match self {
            Op::Value(value) => out.clone_from(value),
            Op::Slot(slot) => out.clone_from(&row.slots[*slot]),
            Op::NumberIn(slot) => {
                let value = known!(Ran::Ok(&row.slots[*slot]), out);
                return give(out, || number_of(value).map(Value::Number));
            }
            Op::Written(one, writer) => {
                let stamp = *known!(one.run(row), out).stamp();
                let mut text = match std::mem::replace(out, Value::Blank) {
                    Value::Text(room) => room.into_bytes(),
                    _ => Vec::new(),
                };
                text.clear();
                writer.write(stamp, &mut text).map_err(Refusal::from)?;
                *out =
                    Value::Text(String::from_utf8(text).unwrap_or_else(|why| {
                        String::from_utf8_lossy(why.as_bytes()).into_owned()
                    }));
            }
            Op::Text(one) => match known!(one.run(row), out) {
                Value::Stamp(stamp) => out.set_text(&stamp.to_string()),
                Value::Number(number) => out.set_text(&number.to_string()),
                Value::Truth(truth) => out.set_text(&truth.to_string()),
                other => out.clone_from(other),
            },
            Op::Counted(one, count) => {
                let stamp = known!(one.run(row), out).stamp();
                let counted = count
                    .of(*stamp)
                    .map_err(|why| Refusal::Count(why.to_string()))?;
                let (numerator, denominator) = counted;
                let number = Number::ratio(numerator, denominator).ok_or(Refusal::TooLarge)?;
                *out = Value::Number(number);
            }
            Op::Amount(one, unit) => {
                let length = amount(known!(one.run(row), out).number(), *unit)?;
                *out = Value::Stamp(Stamp::Duration(length));
            }
            Op::Negated(one) => {
                *out = match known!(one.run(row), out) {
                    Value::Number(number) => Value::Number(-*number),
                    other => Value::Stamp(Stamp::Duration(-other.length())),
                }
            }
            Op::Within(..)
            | Op::OneOf(..)
            | Op::IsBlank(_)
            | Op::Is(..)
            | Op::Not(_)
            | Op::And(_)
            | Op::Or(_) => {
                return self.truth(row, out);
            }
            Op::If(cases, last) => {
                for (test, then) in cases {
                    if let Value::Truth(true) = known!(test.run(row), out) {
                        return then.put(row, out);
                    }
                }
                return last.put(row, out);
            }
            Op::Otherwise(all) => {
                for one in all {
                    match one.run(row)? {
                        Value::Blank => {}
                        other => {
                            out.clone_from(other);
                            return Ok(());
                        }
                    }
                }
                *out = Value::Blank;
            }
            Op::Number(_)
            | Op::Call(_)
            | Op::Moved(..)
            | Op::Difference(..)
            | Op::Between(..)
            | Op::Since(..)
            | Op::InUnit(..)
            | Op::InZone(..)
            | Op::AsInstant(..)
            | Op::Kind(..)
            | Op::Rounded(..)
            | Op::RoundedNumber(..)
            | Op::Sum(..)
            | Op::Product(..)
            | Op::Compared(..) => return self.eval(row, out),
        }
        Ok(())
    }
}

/// Puts what `compute` gives into `out`. Each use of it is a function of its own,
/// which puts what it gives there at once; those that share one first put it
/// where all can find it.
#[inline(never)]
fn give(out: &mut Value, eval: impl FnOnce() -> Evaluated<Value>) -> Put {
    *out = eval()?;
    Ok(())
}

fn length_of(length: Duration) -> Value {
    Value::Stamp(Stamp::Duration(length))
}

fn number_of(value: &Value) -> Evaluated<Number> {
    match value {
        Value::Text(text) => {
            Number::parse(text).ok_or_else(|| Refusal::NoNumber(text.to_string()).into())
        }
        other => Ok(other.number()),
    }
}

/// `stamp` as one of a kind that it can be shown as: cut, never rounded.
fn to_kind(stamp: &Stamp, kind: Kind) -> Stamp {
    if stamp.kind() == kind {
        return *stamp;
    }
    let date = match *stamp {
        Stamp::Month(year, month) => {
            return match kind {
                Kind::Quarter => Stamp::Quarter(year, month.div_ceil(3)),
                Kind::Year => Stamp::Year(year),
                _ => mismatch("what a month can be cut to", &kind),
            };
        }
        Stamp::Quarter(year, _) if kind == Kind::Year => return Stamp::Year(year),
        _ => match stamp.date() {
            Some(date) => date,
            None => mismatch("what has a day", stamp),
        },
    };
    let month = date.month().unsigned_abs();
    match (kind, stamp) {
        (Kind::Date, _) => Stamp::Date(date),
        (Kind::Time, Stamp::DateTime(at)) => Stamp::Time(at.time()),
        (Kind::DateTime, Stamp::Date(_)) => Stamp::DateTime(date.to_datetime(Time::midnight())),
        (Kind::Month, _) => Stamp::Month(date.year(), month),
        (Kind::Quarter, _) => Stamp::Quarter(date.year(), month.div_ceil(3)),
        (Kind::Week, _) => {
            let week = date.iso_week_date();
            Stamp::Week(week.year(), week.week().unsigned_abs())
        }
        (Kind::Year, _) => Stamp::Year(date.year()),
        _ => mismatch("a kind that it can be cut to", &(kind, stamp)),
    }
}
