//! Functions at work on rows.

use super::step::Put;
use super::{Row, Step};
use crate::phrase::function::{Eval, Function, Settings};
use crate::phrase::value::{Value, mismatch};

/// A call of a function.
#[derive(Clone, Debug)]
pub(crate) struct Call {
    pub function: &'static Function,
    pub arguments: Vec<Step>,
    pub settings: Settings,
}

/// No function has more parameters.
const MOST_ARGUMENTS: usize = 3;

impl Call {
    /// Puts its value in a row into `out`: blank where an argument is blank,
    /// else waiting where one waits.
    #[inline(never)]
    pub(super) fn put(&mut self, row: Row<'_>, out: &mut Value) -> Put {
        let mut values = [&Value::Blank; MOST_ARGUMENTS];
        let mut waits = false;
        let count = self.arguments.len();
        for (argument, value) in self.arguments.iter_mut().zip(&mut values) {
            *value = argument.run(row)?;
            match value {
                Value::Blank => {
                    *out = Value::Blank;
                    return Ok(());
                }
                Value::Waits => waits = true,
                _ => {}
            }
        }
        if waits {
            *out = Value::Waits;
            return Ok(());
        }
        *out = match self.function.eval {
            Eval::Number(eval) => Value::Number(eval(values[0].stamp()).into()),
            Eval::Stamp(eval) => Value::Stamp(eval(values[0].stamp())),
            Eval::Values(eval) => eval(&values[..count], &self.settings)?,
            Eval::Pattern(pattern) => mismatch("no call of a pattern", &pattern),
        };
        Ok(())
    }
}
