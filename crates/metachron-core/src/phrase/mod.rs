//! The language of derived columns: what a column is made of, in plain words.
//!
//! A [`Phrase`] is parsed once, checked against what the columns hold, and
//! then run on row after row:
//!
//! ```
//! use metachron_core::phrase::{Phrase, Row, Scope, Type, Value};
//! use metachron_core::stamp::{Kind, Stamp};
//! use jiff::civil::date;
//!
//! let phrase: Phrase = "whole days from loaned to back".parse()?;
//! let scope = Scope {
//!     column: &|name| match name {
//!         "loaned" => Ok((0, Type::Stamp(Kind::Date))),
//!         "back" => Ok((1, Type::Stamp(Kind::Date))),
//!         _ => Err(format!("no column is called `{name}`")),
//!     },
//!     zones: Default::default(),
//!     now: "2026-11-24T12:00:00Z".parse().unwrap(),
//! };
//! let mut ready = phrase.check(&scope, &mut Vec::new())?;
//! assert_eq!(ready.of(), Type::Number);
//!
//! let day = |month, day| Value::Stamp(Stamp::Date(date(2024, month, day)));
//! let row = [day(1, 31), day(3, 1)];
//! let days = ready.run(Row { slots: &row, tracks: &[] });
//! assert_eq!(days, Ok(&Value::Number(30.into())));
//! # Ok::<(), metachron_core::phrase::PhraseError>(())
//! ```
//!
//! Its grammar, with an example for everything, is docs/phrases.md.

mod calendar;
mod check;
mod digits;
mod error;
mod expr;
mod function;
mod number;
mod parse;
mod policy;
mod refusal;
mod run;
mod token;
mod unit;
mod value;

pub use check::{LexiconEntry, Scope};
pub(crate) use digits::append;
pub use error::{PhraseError, Span};
pub use expr::RowScope;
pub use function::{FunctionDoc, functions};
pub use number::{Number, Way};
pub use refusal::Refusal;
pub use run::{Row, Track};
pub use unit::Unit;
pub use value::{Type, Value};

use expr::Expr;
use policy::Policies;
use run::Step;
use serde::{Deserialize, Serialize};
use std::str::FromStr;

/// A phrase that was parsed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub struct Phrase {
    text: String,
    expr: Expr,
    policies: Policies,
}

impl Phrase {
    /// The phrase as it was written.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// The columns that it names, each with its span in the phrase.
    pub fn columns(&self) -> Vec<(&str, &Span)> {
        let mut found = Vec::new();
        self.expr.columns(&mut found);
        found
    }

    /// Checks it against what can be named, and makes it ready. The indexes of
    /// columns of which it asks other rows are added to `tracked`, unless they
    /// are there: [`Row::tracks`] are wanted in that order.
    ///
    /// # Errors
    ///
    /// Where a column, zone or the like is unknown, or types do not fit.
    pub fn check(&self, scope: &Scope<'_>, tracked: &mut Vec<usize>) -> Result<Ready, PhraseError> {
        let checked = check::check(&self.expr, self.policies, scope, tracked);
        match checked {
            Ok((of, op, texts)) => Ok(Ready {
                of,
                step: op.into(),
                texts,
                row_scope: self.expr.row_scope(),
            }),
            Err(wrong) => Err(wrong.of(&self.text)),
        }
    }

    /// An error at a span of this phrase.
    pub fn error(&self, at: &Span, message: impl Into<String>) -> PhraseError {
        error::Wrong::new(at, message).of(&self.text)
    }

    /// All of it.
    pub fn span(&self) -> &Span {
        &self.expr.at
    }
}

impl FromStr for Phrase {
    type Err = PhraseError;

    fn from_str(text: &str) -> Result<Phrase, PhraseError> {
        let (expr, policies) = parse::parse(text).map_err(|wrong| wrong.of(text))?;
        Ok(Phrase {
            text: text.to_owned(),
            expr,
            policies,
        })
    }
}

impl TryFrom<String> for Phrase {
    type Error = PhraseError;

    fn try_from(text: String) -> Result<Phrase, PhraseError> {
        text.parse()
    }
}

impl From<Phrase> for String {
    fn from(phrase: Phrase) -> String {
        phrase.text
    }
}

/// A phrase that is ready to run.
#[derive(Clone, Debug)]
pub struct Ready {
    of: Type,
    step: Step,
    /// The slots of cells whose text it wants.
    texts: Vec<usize>,
    row_scope: RowScope,
}

impl Ready {
    /// The type of its values.
    pub fn of(&self) -> Type {
        self.of
    }

    /// Which other rows it asks.
    pub fn row_scope(&self) -> RowScope {
        self.row_scope
    }

    /// Whether it wants the text of the cell in this slot, and not only the
    /// number that it is.
    pub(crate) fn wants_text(&self, slot: usize) -> bool {
        self.texts.contains(&slot)
    }

    /// Its value in a row.
    ///
    /// # Errors
    ///
    /// Where it has none, although no cell that it needs is blank.
    pub fn run<'v>(&'v mut self, row: Row<'v>) -> Result<&'v Value, Box<Refusal>> {
        self.step.run(row)
    }

    /// The same, put into `out`.
    ///
    /// # Errors
    ///
    /// The same; what is in `out` then says nothing.
    #[inline]
    pub fn put(&mut self, row: Row<'_>, out: &mut Value) -> Result<(), Box<Refusal>> {
        self.step.put(row, out)
    }
}

#[cfg(test)]
mod tests;
