//! Functions, and what they are given.

use super::{Checked, Checker, source, steps, tag, wrong};
use crate::form::Form;
use crate::locale::Names;
use crate::phrase::expr::{Expr, Quoted};
use crate::phrase::function::{Eval, Function, Parameter, Settings, StampTest, Takes};
use crate::phrase::run::{Call, Op};
use crate::phrase::value::{Type, mismatch};

impl Checker<'_> {
    /// A call of `function`.
    pub(super) fn call(
        &mut self,
        function: &'static Function,
        arguments: &[Expr],
        locale: Option<&Quoted>,
    ) -> Checked {
        let of = function.gives;
        if let Eval::Pattern(pattern) = function.eval {
            let parameter = &function.parameters[0];
            let (Type::Stamp(kind), op) = self.argument(function, parameter, &arguments[0])? else {
                mismatch("a stamp", &function)
            };
            let tag = locale.map(tag).transpose()?;
            let writer = Form::for_writing(pattern)
                .map_err(|why| why.to_string())
                .and_then(|form| {
                    let writer = form.writer(kind, tag.as_ref());
                    writer.map_err(|why| why.to_string())
                });
            return match writer {
                Ok(writer) => Ok((of, Op::Written(op.into(), writer.into()))),
                Err(why) => wrong(locale.map_or(&arguments[0].at, |locale| &locale.at), why),
            };
        }
        let mut ops = Vec::with_capacity(arguments.len());
        for (parameter, argument) in function.parameters.iter().zip(arguments) {
            ops.push(self.argument(function, parameter, argument)?.1);
        }
        let names = match locale {
            Some(locale) => {
                let tag = tag(locale)?;
                let calendar = tag.calendar();
                Names::of(&[tag], calendar)
            }
            None => Names::English,
        };
        let call = Call {
            function,
            arguments: steps(ops),
            settings: Settings {
                names,
                policies: self.policies,
            },
        };
        Ok((of, Op::Call(call.into())))
    }

    /// An argument that its parameter takes.
    fn argument(&mut self, function: &Function, parameter: &Parameter, argument: &Expr) -> Checked {
        match parameter.takes {
            Takes::Number => Ok((Type::Number, self.number(argument)?)),
            Takes::Month => match self.check(argument)? {
                (of @ (Type::Number | Type::Cell | Type::Text | Type::Blank), op) => Ok((of, op)),
                (of, _) => wrong(
                    &argument.at,
                    format!("a month's number or name is wanted here, and this is {of}"),
                ),
            },
            Takes::Stamp { kinds, unfit } => match self.stamp(argument)? {
                (kind, op) if kinds.contains(&kind) => Ok((Type::Stamp(kind), op)),
                (kind, _) => wrong(&argument.at, unfit(function, kind, &source(argument))),
            },
        }
    }

    /// A test of a stamp.
    pub(super) fn is(&mut self, one: &Expr, test: &'static StampTest) -> Checked {
        let (kind, op) = self.stamp(one)?;
        match test.takes(kind, &source(one)) {
            Ok(()) => Ok((Type::Truth, Op::Is(op.into(), test))),
            Err(why) => wrong(&one.at, why),
        }
    }
}
