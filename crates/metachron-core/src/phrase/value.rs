//! What phrases compute with.

use super::number::Number;
use crate::stamp::{Duration, Kind, Stamp};
use std::fmt::{self, Display, Formatter};

/// What a phrase, or a column that it names, gives.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Type {
    /// The text of a cell that no ruling reads: a number where one is wanted.
    Cell,
    /// Text.
    Text,
    /// A decimal number.
    Number,
    /// Whether something holds.
    Truth,
    /// A stamp of this kind.
    Stamp(Kind),
    /// Nothing: a type that fits every other.
    Blank,
}

impl Display for Type {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Type::Cell => "a cell's text",
            Type::Text => "text",
            Type::Number => "a number",
            Type::Truth => "true or false",
            Type::Stamp(kind) => match kind {
                Kind::Date => "a date",
                Kind::Time => "a time of day",
                Kind::DateTime => "a datetime",
                Kind::Instant => "an instant",
                Kind::Month => "a month",
                Kind::Quarter => "a quarter",
                Kind::Week => "a week",
                Kind::Year => "a year",
                Kind::Duration => "a duration",
            },
            Type::Blank => "blank",
        })
    }
}

impl Type {
    /// The name in JSON.
    pub fn name(self) -> &'static str {
        match self {
            Type::Cell | Type::Text => "text",
            Type::Number => "number",
            Type::Truth => "truth",
            Type::Stamp(kind) => kind.name(),
            Type::Blank => "blank",
        }
    }
}

/// A value of a row.
#[derive(Debug, PartialEq)]
// Whatever it holds starts at one place, and is moved as a whole.
#[repr(u64)]
pub enum Value {
    /// None: the cell is blank.
    Blank,
    /// Not known yet: a cell that it is made from waits for a person. It is
    /// not blank, so that nothing is concluded from it.
    Waits,
    /// A number.
    Number(Number),
    /// Text.
    Text(String),
    /// Whether something holds.
    Truth(bool),
    /// A stamp.
    Stamp(Stamp),
}

impl Value {
    pub(super) fn stamp(&self) -> &Stamp {
        match self {
            Value::Stamp(stamp) => stamp,
            other => mismatch("a stamp", other),
        }
    }

    pub(super) fn length(&self) -> Duration {
        match self {
            Value::Stamp(Stamp::Duration(length)) => *length,
            other => mismatch("a length of time", other),
        }
    }

    pub(super) fn number(&self) -> Number {
        match self {
            Value::Number(number) => *number,
            other => mismatch("a number", other),
        }
    }

    /// Makes it this text, in the room that it has.
    pub fn set_text(&mut self, text: &str) {
        match self {
            Value::Text(room) => {
                room.clear();
                room.push_str(text);
            }
            other => *other = Value::Text(text.to_owned()),
        }
    }
}

impl Clone for Value {
    fn clone(&self) -> Value {
        match self {
            Value::Blank => Value::Blank,
            Value::Waits => Value::Waits,
            Value::Number(number) => Value::Number(*number),
            Value::Text(text) => Value::Text(text.clone()),
            Value::Truth(truth) => Value::Truth(*truth),
            Value::Stamp(stamp) => Value::Stamp(*stamp),
        }
    }

    /// Texts go into the room of the one that was there: a column has one in
    /// every row.
    fn clone_from(&mut self, other: &Value) {
        match other {
            Value::Blank => *self = Value::Blank,
            Value::Waits => *self = Value::Waits,
            Value::Number(number) => *self = Value::Number(*number),
            Value::Text(text) => self.set_text(text),
            Value::Truth(truth) => *self = Value::Truth(*truth),
            Value::Stamp(stamp) => *self = Value::Stamp(*stamp),
        }
    }
}

/// Types are checked before a row is read: a value of another type is a bug of
/// the checker, and never becomes a value of the result.
#[cold]
pub(super) fn mismatch(wanted: &str, met: &dyn fmt::Debug) -> ! {
    unreachable!("phrases are checked to have {wanted} here, and this has {met:?}")
}
