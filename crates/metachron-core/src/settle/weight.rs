//! How much a form says about its column being temporal.

use crate::form::{Elapsed, Field, Form, Item, Order};
use crate::stamp::Kind;

/// How much a form says about the column being temporal.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Weight {
    /// Digits without any sign: as likely a number.
    Bare,
    /// Might be something else: a clock time is a ratio, `1.10.12` a version.
    Faint,
    /// Hardly anything but a date.
    Plain,
}

impl Weight {
    /// The weight of `form`.
    pub fn of(form: &Form) -> Weight {
        let has = |test: fn(&Field) -> bool| form.fields().any(|field| test(&field));
        let literals = || {
            form.items().iter().filter_map(|item| match item {
                Item::Literal(text) => Some(text.as_str()),
                Item::Field(_) | Item::Optional(_) => None,
            })
        };
        let date = form.order().is_some();
        let time = has(|field| matches!(field, Field::Hour(_) | Field::Hour12(_)));
        let words = has(|field| {
            matches!(
                field,
                Field::MonthName(_) | Field::Weekday(_) | Field::DayPeriod | Field::Offset(_)
            )
        });
        let slash_or_hyphen =
            literals().any(|text| text.contains(['/', '-', '–', '—', '_', '|', '\\']));
        let slash = literals().any(|text| text.contains('/'));
        let year_last_dotted = literals().any(|text| text.contains('.'))
            && matches!(form.order(), Some(Order::Dmy | Order::Mdy));
        let lettered = literals().any(|text| text.contains(char::is_alphabetic));
        // `1200M8` may be a part, `@639858145` a person, `5551234567 -1115` a telephone.
        let is_part = form.kind() == Kind::Month && literals().all(|text| text.ends_with('m'));
        let is_number = form.count().is_some() && literals().all(|text| ["@", " "].contains(&text));
        if form.typed().is_some() {
            Weight::Plain
        } else if let Some(elapsed) = form.elapsed() {
            match elapsed {
                Elapsed::Units | Elapsed::NamedUnits | Elapsed::Iso => Weight::Plain,
                _ => Weight::Faint,
            }
        } else if is_number {
            Weight::Bare
        } else if words {
            Weight::Plain
        } else if form.is_bare() {
            Weight::Bare
        } else if is_part {
            Weight::Faint
        } else if date && time || lettered && form.kind() != Kind::Time {
            Weight::Plain
        } else if !date || is_numbered_day(form) {
            Weight::Faint
        } else if form.has_two_digit_year() {
            if slash { Weight::Plain } else { Weight::Faint }
        } else if slash_or_hyphen || year_last_dotted {
            Weight::Plain
        } else {
            Weight::Faint
        }
    }
}

/// Whether `form` is a year and the number of a day in it, and no more.
pub(super) fn is_numbered_day(form: &Form) -> bool {
    let has = |test: fn(&Field) -> bool| form.fields().any(|field| test(&field));
    has(|field| matches!(field, Field::DayOfYear(_))) && form.kind() == Kind::Date
}
