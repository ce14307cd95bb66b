//! Tests.

use super::{Checked, Checker, wrong};
use crate::phrase::error::Wrong;
use crate::phrase::expr::{Comparison, Expr, Say};
use crate::phrase::run::Op;
use crate::phrase::value::Type;

impl Checker<'_> {
    pub(super) fn compared(
        &mut self,
        expr: &Expr,
        comparison: Comparison,
        one: &Expr,
        other: &Expr,
    ) -> Checked {
        for side in [one, other] {
            if side.say == Say::Blank {
                return wrong(&side.at, "whether a value is blank is tested by `is blank`");
            }
        }
        let (of, parts) = self.alike(&[one, other])?;
        if !matches!(comparison, Comparison::Equal | Comparison::Unequal) {
            has_order(expr, of)?;
        }
        match <[Op; 2]>::try_from(parts) {
            Ok([one, other]) => Ok((
                Type::Truth,
                Op::Compared(comparison, one.into(), other.into()),
            )),
            Err(_) => wrong(&expr.at, "two values are compared"),
        }
    }

    pub(super) fn within(&mut self, expr: &Expr, one: &Expr, low: &Expr, high: &Expr) -> Checked {
        let (of, parts) = self.alike(&[one, low, high])?;
        has_order(expr, of)?;
        match <[Op; 3]>::try_from(parts) {
            Ok([one, low, high]) => {
                Ok((Type::Truth, Op::Within(one.into(), low.into(), high.into())))
            }
            Err(_) => wrong(&expr.at, "a value stands between two others"),
        }
    }

    pub(super) fn truths(&mut self, all: &[Expr]) -> Result<Vec<Op>, Wrong> {
        all.iter().map(|one| self.truth(one)).collect()
    }
}

fn has_order(expr: &Expr, of: Type) -> Result<(), Wrong> {
    match of {
        Type::Truth => wrong(&expr.at, "true and false are in no order"),
        // As texts, 9 comes behind 10.
        Type::Cell => wrong(
            &expr.at,
            "are these cells compared as numbers or as texts? write `as number` or `as text` \
             behind one of them",
        ),
        _ => Ok(()),
    }
}
