//! Why columns cannot be derived.

use crate::phrase::{PhraseError, Type};
use crate::rulings::{DeriveRuling, WriteError};

/// A derived column, or the choice of rows, that cannot be made.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{what}: {why}")]
pub struct DeriveError {
    /// What cannot be made: a derived column, or `--where`.
    pub what: String,
    /// Why.
    pub why: CannotDerive,
}

/// Why a column cannot be derived.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum CannotDerive {
    /// Its phrase cannot be used.
    #[error(transparent)]
    Phrase(#[from] PhraseError),
    /// The result cannot be written so.
    #[error(transparent)]
    Write(#[from] WriteError),
    /// Another column has its name.
    #[error("a column is called so already; give it another name")]
    NameTaken,
    /// It has no name.
    #[error("its name is empty")]
    NoName,
    /// It has a second name.
    #[error("write.name gives a column another name; its name is what `name` says")]
    Renamed,
    /// Its zone would need a column.
    #[error(
        "write.zone-as = \"column\" is for columns of the table; derive the zone as a column of its own"
    )]
    ZoneColumn,
    /// It is no stamp, and written as one.
    #[error("its values are {0}, which have no other way of being written; leave `write` out")]
    NotWritten(Type),
    /// Derived columns need each other.
    #[error("derived columns need each other in a circle: {0}")]
    Circle(String),
    /// Another row's value is wanted of what needs other rows itself.
    #[error(
        "`{0}` is made from other rows, so that no phrase can ask for other rows of it; convert \
         twice"
    )]
    ByRows(String),
}

impl DeriveError {
    /// What it calls the derived column `name`.
    pub fn of_column(name: &str) -> String {
        format!("derived column `{name}`")
    }
}

pub(super) fn of(ruling: &DeriveRuling, why: CannotDerive) -> DeriveError {
    DeriveError {
        what: DeriveError::of_column(&ruling.name),
        why,
    }
}

pub(super) fn of_keep(why: PhraseError) -> DeriveError {
    DeriveError {
        what: "--where".to_owned(),
        why: why.into(),
    }
}
