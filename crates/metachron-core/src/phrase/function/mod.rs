//! The functions of the language, one descriptor each. Parser, checker and
//! evaluator go by them, and so does the table in docs/phrases.md.

mod edge;
mod make;
mod part;
mod test;

pub(crate) use test::{StampTest, TESTS};

use super::error::code;
use super::policy::Policies;
use super::refusal::Evaluated;
use super::value::{Type, Value};
use crate::locale::Names;
use crate::stamp::{Kind, Stamp};
use std::fmt::{self, Debug, Formatter};

/// A function or a test, as the documentation shows it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FunctionDoc {
    /// How it is written, with its parameters in capitals: `age of BORN on DAY`.
    pub usage: String,
    /// The type of its values.
    pub gives: Type,
    /// What it gives, in a line.
    pub doc: &'static str,
}

/// The functions of the language, and the tests behind `is`:
///
/// ```
/// use metachron_core::phrase::{Type, functions};
///
/// let age = functions().find(|function| function.usage == "age of BORN on DAY");
/// assert_eq!(age.unwrap().gives, Type::Number);
/// ```
pub fn functions() -> impl Iterator<Item = FunctionDoc> {
    let functions = Function::all().map(|function| FunctionDoc {
        usage: function.usage(),
        gives: function.gives,
        doc: function.doc,
    });
    functions.chain(TESTS.iter().map(|test| FunctionDoc {
        usage: format!("VALUE is {}", test.words),
        gives: Type::Truth,
        doc: test.doc,
    }))
}

/// All functions, a family in each file.
static FAMILIES: [&[Function]; 3] = [&part::PARTS, &edge::EDGES, &make::MAKERS];

/// A function: `age of BORN on DAY`.
pub(crate) struct Function {
    /// The words that call it, which end where its first argument begins.
    pub words: &'static str,
    pub parameters: &'static [Parameter],
    /// How many of its last arguments may be left out.
    pub optional: usize,
    /// What stands between its arguments.
    pub link: &'static str,
    /// Whether `in locale "fr"` may follow.
    pub localized: bool,
    /// The type of its values.
    pub gives: Type,
    pub eval: Eval,
    /// What it gives, in a line.
    pub doc: &'static str,
}

/// How a function is evaluated.
pub(crate) enum Eval {
    /// A whole number that its only argument always has.
    Number(fn(&Stamp) -> i64),
    /// A stamp that its only argument always has.
    Stamp(fn(&Stamp) -> Stamp),
    /// From its arguments, of which none is blank or waits.
    Values(fn(&[&Value], &Settings) -> Evaluated<Value>),
    /// As text, by this pattern.
    Pattern(&'static str),
}

/// What a function goes by besides its arguments.
#[derive(Clone, Debug)]
pub(crate) struct Settings {
    /// The names of months that it knows.
    pub names: Names,
    pub policies: Policies,
}

/// What a function is given.
pub(crate) struct Parameter {
    /// What it is called in the documentation.
    pub name: &'static str,
    pub takes: Takes,
}

/// The values that a parameter can have.
pub(crate) enum Takes {
    Number,
    /// The number of a month, or its name.
    Month,
    /// A stamp of one of these kinds.
    Stamp {
        kinds: &'static [Kind],
        /// Why one of another kind is refused, given as it is written.
        unfit: fn(&Function, Kind, &str) -> String,
    },
}

impl Parameter {
    const fn number(name: &'static str) -> Parameter {
        Parameter {
            name,
            takes: Takes::Number,
        }
    }

    const fn stamp(
        name: &'static str,
        kinds: &'static [Kind],
        unfit: fn(&Function, Kind, &str) -> String,
    ) -> Parameter {
        Parameter {
            name,
            takes: Takes::Stamp { kinds, unfit },
        }
    }
}

impl Function {
    /// A function of one stamp, called by these words.
    const fn of_stamp(
        words: &'static str,
        parameters: &'static [Parameter],
        gives: Type,
        eval: Eval,
        doc: &'static str,
    ) -> Function {
        Function {
            words,
            parameters,
            optional: 0,
            link: "",
            localized: matches!(eval, Eval::Pattern(_)),
            gives,
            eval,
            doc,
        }
    }

    /// All functions.
    pub(crate) fn all() -> impl Iterator<Item = &'static Function> {
        FAMILIES.iter().copied().flatten()
    }

    /// The parts of a value: what stands before `of`.
    pub(crate) fn parts() -> impl Iterator<Item = &'static str> {
        part::PARTS.iter().map(Function::name)
    }

    /// What it is called: its words but for the last, `of` or `from`.
    pub(crate) fn name(&self) -> &'static str {
        self.words
            .rsplit_once(' ')
            .map_or(self.words, |(name, _)| name)
    }

    /// How it is written: `age of BORN on DAY`.
    pub(crate) fn usage(&self) -> String {
        let mut usage = self.words.to_owned();
        let required = self.parameters.len() - self.optional;
        for (index, parameter) in self.parameters.iter().enumerate() {
            let link = match (index, self.link) {
                (0, _) => " ".to_owned(),
                (_, ",") => ", ".to_owned(),
                (_, word) => format!(" {word} "),
            };
            usage += &if index < required {
                format!("{link}{}", parameter.name)
            } else {
                format!("[{link}{}]", parameter.name)
            };
        }
        if self.localized {
            usage += " [in locale TEXT]";
        }
        usage
    }
}

/// One is the other if the same words call it.
impl PartialEq for Function {
    fn eq(&self, other: &Function) -> bool {
        self.words == other.words
    }
}

impl Debug for Function {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "Function({})", self.words)
    }
}

/// Why a stamp of `kind`, written `value`, has no part of this name.
pub(crate) fn no_part(kind: Kind, name: &str, value: &str) -> String {
    let of = Type::Stamp(kind);
    match kind {
        Kind::Instant => format!(
            "{of} has no {name} until it is said whose clocks are meant: {}, or \"UTC\"",
            code(&format!("{value} in zone \"Europe/Riga\""))
        ),
        Kind::Duration => format!(
            "{of} has no {name}; it is counted with `in hours`, `in whole days` and the like"
        ),
        _ => format!("{of} has no {name}"),
    }
}
