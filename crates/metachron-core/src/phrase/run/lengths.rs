//! Lengths of time and numbers: put together, added up, scaled, counted.

use crate::phrase::calendar;
use crate::phrase::expr::{Scaling, Sign};
use crate::phrase::number::Number;
use crate::phrase::refusal::{Evaluated, Refusal};
use crate::phrase::unit::{Counting, Unit};
use crate::phrase::value::{Value, mismatch};
use crate::stamp::Duration;

pub(super) fn amount(number: Number, unit: Unit) -> Evaluated<Duration> {
    if let Some(months) = unit.months() {
        let count = number.whole().ok_or(Refusal::NotWholeUnits(number, unit))?;
        let months = count.checked_mul(months).ok_or(Refusal::TooLarge)?;
        return if months.abs() <= Duration::MOST_MONTHS {
            Ok(Duration::new(months, 0))
        } else {
            Err(Refusal::TooLarge.into())
        };
    }
    let Some(each) = unit.nanoseconds() else {
        mismatch("a unit of time", &unit)
    };
    let nanoseconds = number.times(each);
    exact(nanoseconds.ok_or(Refusal::TooLarge)?)
}

fn exact(nanoseconds: i128) -> Evaluated<Duration> {
    if nanoseconds.abs() <= Duration::MOST_NANOSECONDS {
        Ok(Duration::new(0, nanoseconds))
    } else {
        Err(Refusal::TooLarge.into())
    }
}

/// A length of time in `unit`s: of the calendar where it is in months, else
/// exact ones.
pub(super) fn in_unit(length: Duration, counting: Counting, unit: Unit) -> Evaluated<Number> {
    let (count, one) = match (unit.nanoseconds(), unit.months()) {
        (Some(_), _) if length.months() != 0 => return Err(Refusal::NoFixedLength(length).into()),
        (None, Some(_)) if length.nanoseconds() != 0 => {
            return Err(Refusal::NoMonths(length, unit).into());
        }
        (Some(unit), _) => (length.nanoseconds(), unit),
        (None, Some(months)) => (length.months().into(), months.into()),
        (None, None) => mismatch("a unit of time", &unit),
    };
    calendar::counted(count, one, counting)
}

/// The sum of two numbers.
pub(super) fn sum_of_numbers(sign: Sign, one: &Number, other: &Number) -> Evaluated<Number> {
    let sum = match sign {
        Sign::Plus => one.plus(*other),
        Sign::Minus => one.minus(*other),
    };
    sum.ok_or_else(|| Refusal::TooLarge.into())
}

/// The product of two numbers, or their quotient.
#[inline]
pub(super) fn product_of_numbers(
    scaling: Scaling,
    one: &Number,
    other: &Number,
) -> Evaluated<Number> {
    let product = match scaling {
        Scaling::By => one.by(*other),
        Scaling::Over if other.is_zero() => return Err(Refusal::ByZero.into()),
        Scaling::Over => one.over(*other),
    };
    product.ok_or_else(|| Refusal::TooLarge.into())
}

/// The sum of two lengths of time.
pub(super) fn sum(sign: Sign, one: &Value, other: &Value) -> Evaluated<Duration> {
    let (one, mut other) = (one.length(), other.length());
    if sign == Sign::Minus {
        other = -other;
    }
    let months = one.months() + other.months();
    let nanoseconds = one.nanoseconds() + other.nanoseconds();
    if months.signum() * nanoseconds.signum() as i64 == -1 {
        return Err(Refusal::MixedSigns.into());
    }
    if months.abs() > Duration::MOST_MONTHS || nanoseconds.abs() > Duration::MOST_NANOSECONDS {
        return Err(Refusal::TooLarge.into());
    }
    Ok(Duration::new(months, nanoseconds))
}

/// A length of time by a number, on whichever side.
pub(super) fn product(scaling: Scaling, one: &Value, other: &Value) -> Evaluated<Duration> {
    let (length, by) = match (one, other) {
        (Value::Number(number), other) | (other, Value::Number(number)) => {
            (other.length(), *number)
        }
        _ => (one.length(), 1.into()),
    };
    let scaled = |amount: i128| match scaling {
        Scaling::By => by.times(amount).ok_or(Refusal::TooLarge),
        Scaling::Over if by.is_zero() => Err(Refusal::ByZero),
        Scaling::Over => {
            let quotient = Number::ratio(amount, 1).and_then(|amount| amount.over(by));
            let quotient = quotient.and_then(|quotient| quotient.times(1));
            quotient.ok_or(Refusal::TooLarge)
        }
    };
    if length.months() != 0 {
        return Err(Refusal::NoFixedLength(length).into());
    }
    exact(scaled(length.nanoseconds())?)
}
