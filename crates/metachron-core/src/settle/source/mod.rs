//! The sources of evidence in a column's own cells and in what is declared
//! about it. The rest of the table has sources of its own, in
//! [`relations`](crate::relations).

mod clock_kind;
mod declared;
mod elapsed;
mod example;
mod few_year_witnesses;
mod late_days;
mod locale;
mod named_order;
mod named_period;
mod own_cells;
mod plausible;
mod swapped;
mod time_order;
mod two_digit_years;

pub(crate) use few_year_witnesses::few_year_witnesses;
pub(crate) use late_days::missing_late_days;
pub(crate) use locale::{contradicted_locale, orders_of_editions};
pub(crate) use named_order::named_order;
pub(crate) use swapped::{Proof, swap, written_form};
pub(crate) use two_digit_years::spread;

use super::column::Column;

/// Something that says which forms the cells of a column have.
///
/// To add one, write a file with a type that implements this, and put it into
/// [`SOURCES`].
pub(super) trait FormSource: Sync {
    /// Decides on shapes that no source before it decided on; or takes up what
    /// those decided, to open it again, settle it or rule it out.
    fn conclude(&self, column: &mut Column<'_>);
}

/// All of them, the strongest first.
pub(super) const SOURCES: [&dyn FormSource; 15] = [
    &declared::DeclaredForms,
    &elapsed::LengthsOfTime,
    &declared::DeclaredOrder,
    &example::Examples,
    &locale::DeclaredLocale,
    &named_period::NamedPeriod,
    &own_cells::OwnCells,
    &named_order::NamedOrder,
    &few_year_witnesses::FewYearWitnesses,
    &two_digit_years::TwoDigitYears,
    &late_days::LateDays,
    &time_order::TimeOrder,
    &plausible::Plausible,
    &clock_kind::ClockKind,
    &swapped::Swapped,
];
