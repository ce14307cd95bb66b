//! What is done, and what came of it last.

use super::{Op, Row};
use crate::phrase::refusal::Refusal;
use crate::phrase::value::Value;

/// A part of a phrase, with the value that it gave last: whoever needs that
/// looks at it where it is. To hand values up from part to part took longer
/// than to compute them.
#[derive(Clone, Debug)]
pub(crate) struct Step {
    op: Op,
    given: Value,
}

/// The value of a part in a row.
// Boxed: it is rare and large, and every part of a phrase hands one back.
pub(crate) type Ran<'v> = Result<&'v Value, Box<Refusal>>;

/// Whether there is a value, which was put where it was wanted.
pub(crate) type Put = Result<(), Box<Refusal>>;

impl From<Op> for Step {
    fn from(op: Op) -> Step {
        Step {
            op,
            given: Value::Blank,
        }
    }
}

impl From<Op> for Box<Step> {
    fn from(op: Op) -> Box<Step> {
        Box::new(op.into())
    }
}

impl Step {
    /// The value in a row.
    #[inline]
    pub(crate) fn run<'v>(&'v mut self, row: Row<'v>) -> Ran<'v> {
        match &mut self.op {
            Op::Slot(slot) => Ok(&row.slots[*slot]),
            Op::Value(value) => Ok(value),
            Op::NumberIn(slot) if !matches!(row.slots[*slot], Value::Text(_)) => {
                Ok(&row.slots[*slot])
            }
            op => {
                op.eval(row, &mut self.given)?;
                Ok(&self.given)
            }
        }
    }

    /// Puts the value in a row into `out`.
    #[inline]
    pub(crate) fn put(&mut self, row: Row<'_>, out: &mut Value) -> Put {
        match &mut self.op {
            Op::Slot(slot) => out.clone_from(&row.slots[*slot]),
            Op::Value(value) => out.clone_from(value),
            op => op.eval(row, out)?,
        }
        Ok(())
    }
}

/// The value of a part. If there is none, none is put into `out`, and that is
/// all.
macro_rules! known {
    ($value:expr, $out:expr) => {
        match $value? {
            Value::Blank => {
                *$out = Value::Blank;
                return Ok(());
            }
            Value::Waits => {
                *$out = Value::Waits;
                return Ok(());
            }
            value => value,
        }
    };
}

/// The same of two parts. What is blank stays so, whatever waits.
macro_rules! both {
    ($one:expr, $other:expr, $out:expr) => {
        match ($one?, $other?) {
            (Value::Blank, _) | (_, Value::Blank) => {
                *$out = Value::Blank;
                return Ok(());
            }
            (Value::Waits, _) | (_, Value::Waits) => {
                *$out = Value::Waits;
                return Ok(());
            }
            both => both,
        }
    };
}

pub(super) use {both, known};
