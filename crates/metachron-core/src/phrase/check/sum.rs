//! Sums and products: numbers, lengths of time, and stamps that are moved.

use super::{Checked, Checker, no_ruling, source, unlike, wrong};
use crate::phrase::error::code;
use crate::phrase::error::{Span, Wrong};
use crate::phrase::expr::{Expr, Say, Scaling, Sign};
use crate::phrase::run::Op;
use crate::phrase::unit::Unit;
use crate::phrase::value::Type;
use crate::stamp::Kind;

impl Checker<'_> {
    pub(super) fn sum(&mut self, expr: &Expr, sign: Sign, one: &Expr, other: &Expr) -> Checked {
        let (left, left_op) = self.check(one)?;
        let (right, right_op) = self.check(other)?;
        let is_number = |of| matches!(of, Type::Number | Type::Cell | Type::Blank);
        const LENGTH: Type = Type::Stamp(Kind::Duration);
        let end = self.policies.month_end;
        match (left, right, sign) {
            (left, right, _) if is_number(left) && is_number(right) => {
                let one = self.as_number(one, (left, left_op))?;
                let other = self.as_number(other, (right, right_op))?;
                Ok((Type::Number, Op::Sum(sign, one.into(), other.into())))
            }
            (LENGTH, LENGTH, _) => Ok((LENGTH, Op::Sum(sign, left_op.into(), right_op.into()))),
            (Type::Stamp(kind), LENGTH, _) => {
                self.can_move(kind, one, other)?;
                let moved = Op::Moved(sign, left_op.into(), right_op.into(), end);
                Ok((left, moved))
            }
            (LENGTH, Type::Stamp(kind), Sign::Plus) => {
                self.can_move(kind, other, one)?;
                let moved = Op::Moved(sign, right_op.into(), left_op.into(), end);
                Ok((right, moved))
            }
            (
                Type::Stamp(Kind::Date | Kind::DateTime | Kind::Instant | Kind::Time),
                Type::Stamp(_),
                Sign::Minus,
            ) if left == right => Ok((LENGTH, Op::Difference(left_op.into(), right_op.into()))),
            (Type::Cell, Type::Stamp(_), _) => wrong(&one.at, no_ruling(one)),
            (Type::Stamp(_), Type::Cell | Type::Number, _) => wrong(
                &other.at,
                format!(
                    "{left} is moved by an amount of time, and this is {right}; write its unit \
                     behind it, such as {}",
                    code(&format!("{} days", source(other)))
                ),
            ),
            (Type::Stamp(Kind::Date), Type::Stamp(Kind::Time), _) => wrong(
                &expr.at,
                "a date and a time of day are put together by `datetime from DATE, TIME`; neither \
                 can be added to or taken from the other",
            ),
            (Type::Stamp(_), Type::Stamp(_), Sign::Minus) => wrong(&expr.at, unlike(left, right)),
            _ => {
                let verb = match sign {
                    Sign::Plus => "added to",
                    Sign::Minus => "taken from",
                };
                wrong(&expr.at, format!("{right} cannot be {verb} {left}"))
            }
        }
    }

    /// Whether stamps of `kind` can be moved by what `by` says.
    fn can_move(&self, kind: Kind, one: &Expr, by: &Expr) -> Result<(), Wrong> {
        let mut units = Vec::new();
        units_of(by, &mut units);
        let months = units.iter().find(|(unit, _)| unit.months().is_some());
        let hours = units.iter().find(|(unit, _)| *unit < Unit::Day);
        match kind {
            Kind::Date => match hours {
                Some((unit, at)) => wrong(
                    at,
                    format!(
                        "a date has no time of day to be moved by {}; {} is its midnight",
                        unit.name(),
                        code(&format!("{} as datetime", source(one)))
                    ),
                ),
                None => Ok(()),
            },
            Kind::DateTime => Ok(()),
            Kind::Instant => match months {
                Some((unit, at)) => wrong(
                    at,
                    format!(
                        "{} have no fixed length on the world's time line; say in which zone the \
                         calendar is meant: {}",
                        unit.name(),
                        code(&format!("{} in zone \"…\"", source(one)))
                    ),
                ),
                None => Ok(()),
            },
            Kind::Time => match units.iter().find(|(unit, _)| *unit >= Unit::Day) {
                Some((unit, at)) => wrong(
                    at,
                    format!("a time of day cannot be moved by {}", unit.name()),
                ),
                None => Ok(()),
            },
            _ => wrong(
                &one.at,
                format!(
                    "{} is not moved; move its first day: {}",
                    Type::Stamp(kind),
                    code(&format!("first day of {}", source(one)))
                ),
            ),
        }
    }

    pub(super) fn product(&mut self, scaling: Scaling, one: &Expr, other: &Expr) -> Checked {
        const LENGTH: Type = Type::Stamp(Kind::Duration);
        let left = self.check(one)?;
        let right = self.check(other)?;
        let (of, left, right) = match (left, right, scaling) {
            ((LENGTH, left), right, _) => (LENGTH, left, self.as_number(other, right)?),
            (left, (LENGTH, right), Scaling::By) => (LENGTH, self.as_number(one, left)?, right),
            (left, right, _) => (
                Type::Number,
                self.as_number(one, left)?,
                self.as_number(other, right)?,
            ),
        };
        Ok((of, Op::Product(scaling, left.into(), right.into())))
    }
}

/// The units of the amounts that `expr` adds up.
fn units_of<'e>(expr: &'e Expr, found: &mut Vec<(Unit, &'e Span)>) {
    match &expr.say {
        Say::Amount(_, unit) => found.push((*unit, &expr.at)),
        Say::Sum(_, one, other) => {
            units_of(one, found);
            units_of(other, found);
        }
        Say::Negated(one) => units_of(one, found),
        _ => {}
    }
}
