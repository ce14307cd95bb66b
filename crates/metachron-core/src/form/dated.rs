//! Cells that a workbook itself says are dates or times.
//!
//! | form | reads |
//! |---|---|
//! | `date cell` | a day |
//! | `datetime cell` | a day with a time of day |
//! | `time cell` | a time of day |
//! | `duration cell` | a length of time |
//!
//! Where an import has exchanged day and month, `exchanged date cell` and
//! `exchanged datetime cell` undo it.

use super::{Elapsed, Field, Form, Item, pattern};
use crate::lex::DATED;

/// The names of the forms, and the patterns behind the mark.
const PATTERNS: [(&str, &str); 3] = [
    ("date cell", "yyyy-MM-dd"),
    ("datetime cell", "yyyy-MM-dd'T'HH:mm:ss[.S]"),
    ("time cell", "HH:mm:ss[.S]"),
];

const DURATION: &str = "duration cell";

impl Form {
    /// Every form of cells that a workbook says are dates or times.
    pub(crate) fn of_dated_cells() -> impl Iterator<Item = Form> {
        let names = PATTERNS.iter().map(|(name, _)| *name);
        names.chain([DURATION]).filter_map(named)
    }

    /// Whether it reads cells that a workbook says are dates or times.
    pub fn is_dated_cell(&self) -> bool {
        matches!(self.items.first(), Some(Item::Literal(text)) if text.starts_with(DATED))
    }
}

/// The form of this name.
pub(super) fn named(name: &str) -> Option<Form> {
    let mark = Item::Literal(DATED.to_string());
    if name == DURATION {
        let length = Item::Field(Field::Elapsed(Elapsed::Iso));
        return Some(Form::of(vec![mark, length]));
    }
    let (_, text) = PATTERNS.iter().find(|(known, _)| *known == name)?;
    let mut items = vec![mark];
    items.extend(pattern::parse(text).ok()?);
    Some(Form::of(items))
}

/// The name of `form`, if it reads cells of a workbook.
pub(super) fn name(form: &Form) -> Option<&'static str> {
    if !form.is_dated_cell() {
        return None;
    }
    let names = PATTERNS.iter().map(|(name, _)| *name).chain([DURATION]);
    // A form that was loosened is still that of the same cells.
    let fields = |form: &Form| -> Vec<Field> { form.fields().map(Field::in_free_digits).collect() };
    names
        .into_iter()
        .find(|name| named(name).is_some_and(|known| fields(&known) == fields(form)))
}
