//! Tests, in the logic of three values: what is blank, or waits, is neither
//! true nor false.

use super::step::{both, known};
use super::{Op, Put, Row, Step};
use crate::phrase::expr::Comparison;
use crate::phrase::refusal::{Evaluated, Refusal};
use crate::phrase::value::{Value, mismatch};
use crate::stamp::{Duration, Stamp};
use std::cmp::Ordering;

impl Op {
    /// Puts what a test says of a row into `out`.
    pub(super) fn truth(&mut self, row: Row<'_>, out: &mut Value) -> Put {
        *out = match self {
            Op::Within(one, low, high) => {
                let one = known!(one.run(row), out);
                let (low, high) = both!(low.run(row), high.run(row), out);
                Value::Truth(order(one, low)?.is_ge() && order(one, high)?.is_le())
            }
            Op::OneOf(one, all) => {
                let one = known!(one.run(row), out);
                any(all, row, |other| {
                    Ok(match other {
                        Value::Blank => Value::Blank,
                        Value::Waits => Value::Waits,
                        other => Value::Truth(order(one, other)?.is_eq()),
                    })
                })?
            }
            Op::IsBlank(one) => match one.run(row)? {
                // Nobody knows what the cell says.
                Value::Waits => Value::Waits,
                value => Value::Truth(*value == Value::Blank),
            },
            Op::Is(one, test) => Value::Truth((test.eval)(known!(one.run(row), out).stamp())),
            Op::Not(one) => not(one.run(row)?),
            Op::Or(all) => any(all, row, |one| Ok(one.clone()))?,
            Op::And(all) => not(&any(all, row, |one| Ok(not(one)))?),
            other => mismatch("a test", other),
        };
        Ok(())
    }
}

fn not(truth: &Value) -> Value {
    match truth {
        Value::Truth(truth) => Value::Truth(!truth),
        other => other.clone(),
    }
}

/// Whether one is true, whatever the others are; else whether that is known of
/// all.
fn any(
    all: &mut [Step],
    row: Row<'_>,
    truth: impl Fn(&Value) -> Evaluated<Value>,
) -> Evaluated<Value> {
    let (mut blank, mut waits) = (false, false);
    for one in all {
        match truth(one.run(row)?)? {
            Value::Truth(true) => return Ok(Value::Truth(true)),
            Value::Blank => blank = true,
            Value::Waits => waits = true,
            _ => {}
        }
    }
    Ok(match (waits, blank) {
        (true, _) => Value::Waits,
        (false, true) => Value::Blank,
        (false, false) => Value::Truth(false),
    })
}

/// Whether a comparison holds.
pub(super) fn holds(comparison: Comparison, one: &Value, other: &Value) -> Evaluated<bool> {
    let order = order(one, other)?;
    Ok(match comparison {
        Comparison::Equal => order.is_eq(),
        Comparison::Unequal => order.is_ne(),
        Comparison::Before => order.is_lt(),
        Comparison::BeforeOrEqual => order.is_le(),
        Comparison::After => order.is_gt(),
        Comparison::AfterOrEqual => order.is_ge(),
    })
}

/// How two values of one type stand to each other: numbers by size, stamps by
/// time, texts by their characters.
fn order(one: &Value, other: &Value) -> Evaluated<Ordering> {
    Ok(match (one, other) {
        (Value::Number(one), Value::Number(other)) => one.compare(*other),
        (Value::Text(one), Value::Text(other)) => one.cmp(other),
        (Value::Truth(one), Value::Truth(other)) => one.cmp(other),
        (Value::Stamp(Stamp::Duration(one)), Value::Stamp(Stamp::Duration(other))) => {
            lengths(*one, *other)?
        }
        (Value::Stamp(one), Value::Stamp(other)) => one.cmp(other),
        both => mismatch("two values of one type", &both),
    })
}

/// Lengths in months and exact ones cannot be compared.
fn lengths(one: Duration, other: Duration) -> Evaluated<Ordering> {
    let months = one.months().cmp(&other.months());
    let exact = one.nanoseconds().cmp(&other.nanoseconds());
    match (months, exact) {
        (Ordering::Equal, exact) => Ok(exact),
        (months, Ordering::Equal) => Ok(months),
        (months, exact) if months == exact => Ok(months),
        _ if one.months() != 0 => Err(Refusal::NoFixedLength(one).into()),
        _ => Err(Refusal::NoFixedLength(other).into()),
    }
}
