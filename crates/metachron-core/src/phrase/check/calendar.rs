//! Differences and rounding.

use super::{Checked, Checker, source, unlike, wrong};
use crate::phrase::error::{Span, Wrong};
use crate::phrase::expr::{Expr, Say, Since};
use crate::phrase::function::no_part;
use crate::phrase::number::Way;
use crate::phrase::run::Op;
use crate::phrase::unit::{Counting, Unit};
use crate::phrase::value::Type;
use crate::stamp::Kind;

impl Checker<'_> {
    pub(super) fn between(
        &mut self,
        counting: Counting,
        unit: Unit,
        from: &Expr,
        to: &Expr,
    ) -> Checked {
        let (kind, from_op) = self.stamp(from)?;
        let (other, to_op) = self.stamp(to)?;
        if kind != other {
            return wrong(&to.at, unlike(Type::Stamp(kind), Type::Stamp(other)));
        }
        counts(kind, unit, &from.at)?;
        let between = Op::Between(counting, unit, from_op.into(), to_op.into());
        Ok((Type::Number, between))
    }

    pub(super) fn since(
        &mut self,
        counting: Counting,
        unit: Unit,
        since: Since,
        column: &Expr,
    ) -> Checked {
        let Say::Column(_) = column.say else {
            return wrong(
                &column.at,
                "other rows are asked for by a column's name alone; derive this as a column first",
            );
        };
        let (kind, op) = self.stamp(column)?;
        counts(kind, unit, &column.at)?;
        if kind == Kind::Time {
            return wrong(
                &column.at,
                "times of day start again at midnight, and no time can be counted since one of \
                 them; put them together with their dates: `datetime from DATE, TIME`",
            );
        }
        let Op::Slot(slot) = op else {
            return wrong(&column.at, "a column is wanted here");
        };
        let known = self.tracked.iter().position(|tracked| *tracked == slot);
        let track = known.unwrap_or_else(|| {
            self.tracked.push(slot);
            self.tracked.len() - 1
        });
        let since = Op::Since(counting, unit, since, slot, track);
        Ok((Type::Number, since))
    }

    pub(super) fn rounded(
        &mut self,
        expr: &Expr,
        one: &Expr,
        way: Way,
        amount: u32,
        unit: Unit,
    ) -> Checked {
        let (kind, op) = self.stamp(one)?;
        let of = Type::Stamp(kind);
        let is_exact = unit.nanoseconds().is_some() && unit <= Unit::Day;
        let fits = match kind {
            Kind::Date => unit >= Unit::Day,
            Kind::DateTime => true,
            Kind::Time => unit < Unit::Day,
            Kind::Duration => unit.nanoseconds().is_some(),
            Kind::Instant => return wrong(&one.at, no_part(kind, "date", &source(one))),
            _ => false,
        };
        if !fits {
            let name = unit.name();
            return wrong(&expr.at, format!("{of} is not rounded to {name}"));
        }
        // Steps from midnight that do not end with the day, or from January
        // that do not end with the year, would have an odd one each.
        let day = 86_400_000_000_000_i128;
        let of_day = unit
            .nanoseconds()
            .map_or(0, |unit| unit * i128::from(amount));
        let of_year = unit.months().unwrap_or(12) * i64::from(amount);
        let is_even = match kind {
            Kind::Duration => true,
            _ if is_exact => of_day <= day && day % of_day == 0,
            _ if unit == Unit::Week => amount == 1,
            _ => 12 % of_year == 0 || of_year % 12 == 0,
        };
        if is_even {
            Ok((of, Op::Rounded(op.into(), way, amount, unit)))
        } else {
            wrong(
                &expr.at,
                format!(
                    "steps of {amount} {} do not fill a {} evenly",
                    unit.name(),
                    if is_exact { "day" } else { "year" }
                ),
            )
        }
    }
}

/// Whether `unit`s can be counted between stamps of `kind`.
fn counts(kind: Kind, unit: Unit, at: &Span) -> Result<(), Wrong> {
    let name = unit.name();
    match (kind, unit.months()) {
        (Kind::Date | Kind::DateTime, _) => Ok(()),
        (Kind::Instant | Kind::Time, None) => Ok(()),
        (Kind::Instant, Some(_)) => wrong(
            at,
            format!(
                "{name} are counted on the calendar of a zone, and this is an instant; show it \
                 `in zone \"…\"`"
            ),
        ),
        (Kind::Duration, _) => wrong(
            at,
            format!("this is a duration already; count it with `in {name}`"),
        ),
        (other, _) => wrong(
            at,
            format!(
                "no {name} are counted between values of which each is {}; take the `first day \
                 of` each",
                Type::Stamp(other)
            ),
        ),
    }
}
