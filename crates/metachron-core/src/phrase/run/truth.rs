//! Tests, in the logic of three values: what is blank, or waits, is neither
//! true nor false.

use super::{Op, Ran, Row, both, known, part};
use crate::phrase::expr::{Comparison, Test};
use crate::phrase::refusal::Refusal;
use crate::phrase::value::Value;
use crate::stamp::{Duration, Stamp};
use std::cmp::Ordering;

impl Op {
    /// What a test says of a row.
    pub(super) fn truth(&mut self, row: Row<'_>) -> Ran {
        Ok(Value::Truth(match self {
            Op::Compared(comparison, one, other) => {
                let (one, other) = both!(one.run(row), other.run(row));
                holds(*comparison, order(&one, &other)?)
            }
            Op::Within(one, low, high) => {
                let one = known!(one.run(row));
                let (low, high) = both!(low.run(row), high.run(row));
                order(&one, &low)?.is_ge() && order(&one, &high)?.is_le()
            }
            Op::OneOf(one, all) => {
                let one = known!(one.run(row));
                return any(all, |other| {
                    Ok(match other.run(row)? {
                        Value::Blank => Value::Blank,
                        Value::Waits => Value::Waits,
                        other => Value::Truth(order(&one, &other)?.is_eq()),
                    })
                });
            }
            Op::Is(one, Test::Blank) => match one.run(row)? {
                // Nobody knows what the cell says.
                Value::Waits => return Ok(Value::Waits),
                value => value == Value::Blank,
            },
            Op::Is(one, test) => part::passes(super::stamp(&known!(one.run(row))), *test),
            Op::Not(one) => known!(one.run(row)) == Value::Truth(false),
            Op::Or(all) => return any(all, |one| one.run(row)),
            Op::And(all) => {
                let all = any(all, |one| {
                    Ok(match one.run(row)? {
                        Value::Truth(truth) => Value::Truth(!truth),
                        other => other,
                    })
                });
                known!(all) == Value::Truth(false)
            }
            _ => return Ok(Value::Blank),
        }))
    }
}

/// Whether one is true, whatever the others are; else whether that is known of
/// all.
fn any(all: &mut [Op], mut truth: impl FnMut(&mut Op) -> Ran) -> Ran {
    let (mut blank, mut waits) = (false, false);
    for one in all {
        match truth(one)? {
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

fn holds(comparison: Comparison, order: Ordering) -> bool {
    match comparison {
        Comparison::Equal => order.is_eq(),
        Comparison::Unequal => order.is_ne(),
        Comparison::Before => order.is_lt(),
        Comparison::BeforeOrEqual => order.is_le(),
        Comparison::After => order.is_gt(),
        Comparison::AfterOrEqual => order.is_ge(),
    }
}

/// How two values of one type stand to each other: numbers by size, stamps by
/// time, texts by their characters.
fn order(one: &Value, other: &Value) -> Result<Ordering, Refusal> {
    Ok(match (one, other) {
        (Value::Number(one), Value::Number(other)) => one.cmp(other),
        (Value::Text(one), Value::Text(other)) => one.cmp(other),
        (Value::Truth(one), Value::Truth(other)) => one.cmp(other),
        (Value::Stamp(Stamp::Duration(one)), Value::Stamp(Stamp::Duration(other))) => {
            lengths(*one, *other)?
        }
        (Value::Stamp(one), Value::Stamp(other)) => one.cmp(other),
        _ => Ordering::Equal,
    })
}

/// Lengths in months and exact ones cannot be compared.
fn lengths(one: Duration, other: Duration) -> Result<Ordering, Refusal> {
    let months = one.months().cmp(&other.months());
    let exact = one.nanoseconds().cmp(&other.nanoseconds());
    match (months, exact) {
        (Ordering::Equal, exact) => Ok(exact),
        (months, Ordering::Equal) => Ok(months),
        (months, exact) if months == exact => Ok(months),
        _ if one.months() != 0 => Err(Refusal::NoFixedLength(one)),
        _ => Err(Refusal::NoFixedLength(other)),
    }
}
