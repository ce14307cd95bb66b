//! What is told where a phrase does not go on as it could.

use super::{DEEPEST, Parser};
use crate::phrase::error::Wrong;
use crate::phrase::token::What;
use crate::phrase::unit::Unit;
use crate::words::{list, nearest};

/// Words that what follows a value can begin with.
const LINKS: [&str; 9] = [
    "and",
    "or",
    "as",
    "in",
    "between",
    "is",
    "not",
    "otherwise",
    "rounded",
];

impl Parser<'_> {
    pub(super) fn wrong(&self, message: impl Into<String>) -> Wrong {
        Wrong::new(self.at(), message)
    }

    pub(super) fn wanted_because(&self, what: &str, why: &str) -> Wrong {
        let wrong = self.wanted(what);
        Wrong {
            message: format!("{}, {why}", wrong.message),
            ..wrong
        }
    }

    pub(super) fn wanted(&self, what: &str) -> Wrong {
        let found = match self.what() {
            What::End => "the phrase ends".to_owned(),
            What::Word(word) => format!("`{word}` stands"),
            What::Symbol(symbol) => format!("`{symbol}` stands"),
            What::Column(name) => format!("the column `{name}` stands"),
            What::Text(_) => "a text stands".to_owned(),
            What::Number(_) => "a number stands".to_owned(),
            What::Stamp(_) => "a date or time stands".to_owned(),
        };
        self.wrong(format!("{found} where {what} is wanted"))
    }

    /// What is left when the phrase could have ended.
    pub(super) fn left_over(&self) -> Wrong {
        let before = self
            .index
            .checked_sub(1)
            .map(|index| &self.tokens[index].what);
        match (before, self.what()) {
            (Some(What::Word(word)), What::Symbol("(")) => self.wrong(format!(
                "`{word}` is a column here, and nothing can follow it so; for a part of a value, \
                 write `{word} of (`"
            )),
            (Some(What::Number(_)), What::Word(word)) => Wrong::new(self.at(), no_unit(word)),
            (_, What::Symbol("=" | "!=" | "<" | "<=" | ">" | ">=")) => self.wrong(
                "two comparisons cannot follow each other; write `X between A and B`, or `and` \
                 between them",
            ),
            // What is said behind a value is about all that stands before it.
            (_, What::Symbol("+" | "-" | "*" | "/")) => self.wrong(
                "nothing can be computed with what is shown otherwise; put what stands before \
                 this between ( and )",
            ),
            (before, What::Word(word)) => {
                let name = match before {
                    Some(What::Word(name)) => format!(
                        "; a column's name of several words stands between backticks, as in \
                         `{name} {word}`"
                    ),
                    _ => String::new(),
                };
                let near = match nearest(word, LINKS) {
                    Some(near) => format!("; did you mean `{near}`?"),
                    None => String::new(),
                };
                self.wrong(format!("`{word}` cannot follow here{name}{near}"))
            }
            _ => self.wanted("the end of the phrase, or a word such as `and`,"),
        }
    }
}

pub(super) fn too_deep() -> String {
    format!("the phrase is nested more than {DEEPEST} deep here; derive a part of it on its own")
}

pub(super) fn no_unit(word: &str) -> String {
    let names = Unit::ALL.map(|(_, _, several)| several);
    match nearest(word, names) {
        Some(near) => format!("`{word}` is no unit; did you mean `{near}`?"),
        None => format!("`{word}` is no unit; there are {}", list(&names, "and")),
    }
}
