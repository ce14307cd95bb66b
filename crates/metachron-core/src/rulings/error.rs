//! What can be wrong with a rulings file, and how it is told.

use super::WriteError;
use crate::reading::MOST_FORMS;
use crate::stamp::Kind;
use crate::words::nearest;

/// A rulings file, or a setting, that cannot be used.
#[derive(Debug, thiserror::Error)]
pub enum RulingsError {
    /// No TOML, or not the TOML that is wanted.
    #[error("line {line}, column {column}: {message}")]
    Invalid {
        /// The line, from 1.
        line: usize,
        /// The column in it, in characters from 1.
        column: usize,
        /// What is wrong, and the nearest thing that would be right.
        message: String,
    },
    /// The layout is of another version.
    #[error("this file is of version {0}; this program reads version 1 (`metachron = 1`)")]
    Version(u32),
    /// A `--set` that cannot be used.
    #[error("--set {setting}: {message}")]
    Setting {
        /// As it was given.
        setting: String,
        /// What is wrong with it.
        message: String,
    },
}

/// Keys of a column that make no sense together.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ColumnError {
    /// The result cannot be written so.
    #[error(transparent)]
    Write(#[from] WriteError),
    /// More forms than cells can be tried by.
    #[error("read.forms names {0} forms; {MOST_FORMS} are the most that a column can have")]
    TooManyForms(usize),
    /// One year for all rows, and a column of years.
    #[error("read.sorted-by says how rows stand in time; give read.in-time-order too")]
    SortedForNothing,
    /// Two years.
    #[error("read.year and read.year-from contradict each other; give one of them")]
    TwoYears,
    /// One zone for all rows, and a column of zones.
    #[error("read.zone and read.zone-from contradict each other; give one of them")]
    TwoZones,
    /// A zone for what is no local time.
    #[error(
        "read.zone puts local times onto the world's time line, which makes instants, and the column's kind is {0}; set kind = \"instant\", or leave the zone out"
    )]
    ZoneOf(Kind),
}

impl RulingsError {
    pub(super) fn from_toml(text: &str, cause: &toml::de::Error) -> RulingsError {
        let start = cause.span().map_or(0, |span| span.start);
        let (line, column) = index(text, start);
        RulingsError::Invalid {
            line,
            column,
            message: with_nearest(cause.message()),
        }
    }
}

/// Line and column, from 1, of the byte at `offset`.
pub(super) fn index(text: &str, offset: usize) -> (usize, usize) {
    // Spans begin where something was read, which is never within a character.
    let before = text.get(..offset).unwrap_or(text);
    let line = before.matches('\n').count() + 1;
    let column = before.chars().rev().take_while(|&c| c != '\n').count() + 1;
    (line, column)
}

/// Adds the nearest valid name to serde's "unknown field `a`, expected one of
/// `b`, `c`".
pub(super) fn with_nearest(message: &str) -> String {
    let names: Vec<&str> = message.split('`').skip(1).step_by(2).collect();
    match (message.starts_with("unknown "), &names[..]) {
        (true, [wrong, valid @ ..]) => match nearest(wrong, valid.iter().copied()) {
            Some(near) => format!("{message}; did you mean `{near}`?"),
            None => message.to_owned(),
        },
        _ => message.to_owned(),
    }
}
