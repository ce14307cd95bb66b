//! What an import may have rewritten with day and month swapped.

use crate::form::{Field, Form, Order};

/// The forms that swap day and month back in dates that a program wrote:
/// those that name the month, or begin with the year, and the days that a
/// workbook counts. Where `suggested` holds
/// year, day, month, that does it already.
pub(super) fn swapped(suggested: &[(Form, bool)]) -> Vec<(Form, bool)> {
    let undone = |form: &Form| {
        let mut others = suggested.iter().map(|(other, _)| other);
        others.any(|other| other.is_swapped() && other.kind() == form.kind())
    };
    // What an import rewrites names no zone.
    let names_zone = |form: &Form| {
        form.fields()
            .any(|field| matches!(field, Field::ZoneName | Field::ZoneId))
    };
    let by_program = |form: &Form| match form.order() {
        None => form.count().is_some(),
        Some(_) if names_zone(form) => false,
        Some(_) if form.has_month_name() => true,
        Some(Order::Ymd) => !form.has_two_digit_year() && !undone(form),
        _ => false,
    };
    let may_be = suggested.iter();
    may_be
        .filter(|(form, usual)| *usual || form.count().is_some())
        .filter(|(form, _)| by_program(form))
        .filter_map(|(form, _)| Some((form.swapped()?, false)))
        .collect()
}
