//! Cells that the source itself types as dates or times.
//!
//! | form | reads |
//! |---|---|
//! | `date cell` | a day |
//! | `datetime cell` | a day with a time of day |
//! | `time cell` | a time of day |
//! | `duration cell` | a length of time |
//! | `instant cell` | a point on the world's time line |
//!
//! Where an import has swapped day and month, `swapped date cell` and
//! `swapped datetime cell` undo it.

use super::{Field, Form, Item};
use crate::stamp::Kind;

/// The name of the form that reads typed cells of each kind.
const NAMES: [(Kind, &str); 5] = [
    (Kind::Date, "date cell"),
    (Kind::DateTime, "datetime cell"),
    (Kind::Time, "time cell"),
    (Kind::Duration, "duration cell"),
    (Kind::Instant, "instant cell"),
];

impl Form {
    /// The form of cells that their source types as `kind`; `None` for the
    /// kinds that no source has a type for.
    pub(crate) fn of_typed(kind: Kind) -> Option<Form> {
        let has_name = NAMES.iter().any(|(known, _)| *known == kind);
        has_name.then(|| Form::of(vec![Item::Field(Field::Typed(kind))]))
    }

    /// The kind of the typed cells that it reads, if it reads such.
    pub fn typed(&self) -> Option<Kind> {
        match self.items[..] {
            [Item::Field(Field::Typed(kind))] => Some(kind),
            _ => None,
        }
    }
}

/// The form of this name.
pub(super) fn named(name: &str) -> Option<Form> {
    let (kind, _) = NAMES.iter().find(|(_, known)| *known == name)?;
    Form::of_typed(*kind)
}

/// The name of the form of typed cells of `kind`.
pub(super) fn name(kind: Kind) -> &'static str {
    let known = NAMES.iter().find(|(known, _)| *known == kind);
    known.map_or("cell", |(_, name)| name)
}
